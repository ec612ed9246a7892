"""The swatch card as PDF."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from strata.formats.pdf.page import QUIET, Page
from strata.swatchcard import CardLayout, Field
from strata.swatchcard.layout import FOOT, HEAD
from strata.swatchcard.marks import dictionary

_STEPS = (
    "Print at full size on the card that the swatches are for. Fill each box evenly, in as many coats as it says; let it dry.",
    "Keep the paper between the boxes clean: the light is measured on it. Photograph the whole card flat, in even daylight.",
)


def _mark(page: Page, number: int, corners: np.ndarray) -> None:
    """One mark as black modules; drawn a hair larger than a module so that no seam shows."""
    import cv2

    modules = cv2.aruco.generateImageMarker(dictionary(), number, 7)
    (x, y), side = corners[0], float(corners[1][0] - corners[0][0])
    page.box(x, y, side, side, fill=0)
    step = side / 7
    for row, column in zip(*np.nonzero(modules), strict=True):
        page.box(x + column * step, y + row * step, step, step, fill=1)


def swatch_card_pdf(
    layout: CardLayout, fields: Sequence[Field], stock: str, title: str = "Swatch card"
) -> bytes:
    """One page to print at full size: marks, code, fields with their names and coats."""
    page = Page(layout.size, f"{title} {layout.code + 1}")
    for number, corners in layout.marks.items():
        _mark(page, number, corners)
    middle = layout.size[0] - 2 * 30
    page.text(30, 17, f"{title} {layout.code + 1}", 13, bold=True, width=middle)
    page.text(30, 22.5, f"On {stock}", 8.5, width=middle)
    for i, step in enumerate(_STEPS):
        page.text(30, HEAD - 8.5 + 3.2 * i, step, 5.6, grey=QUIET, width=middle + 18)
    for i, (field, (x, y, width, height)) in enumerate(zip(fields, layout.fields, strict=True)):
        page.box(x, y, width, height, line=0.35, grey=0.7)
        coats = " + ".join(str(c) for _, c in field.passes)
        page.text(x, y - 3.6, f"{i + 1}  {field.label}", 6.2, bold=True, width=width + 2)
        page.text(x, y - 1.0, f"{coats} {'coat' if coats == '1' else 'coats'}", 5.6, grey=QUIET, width=width)
    foot = layout.size[1] - FOOT + 13
    page.text(30, foot, "Date ______________   Made by ______________________________", 7.5, grey=QUIET)
    return page.data()
