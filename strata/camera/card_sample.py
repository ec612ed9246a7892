"""A photograph of a card as the simulated camera takes it: the very page that is printed, inked and shot."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from strata.camera.card import CardShot, Laid, photograph_card
from strata.optics import layers
from strata.optics.inks import Ink
from strata.optics.stack import Coat, Stack, Stock
from strata.swatchcard import CardLayout, Field

PAGE_PER_MM = 10.0


def rendered(pdf: bytes, per_mm: float = PAGE_PER_MM) -> NDArray[np.uint8]:
    """The first page of a PDF as greys (h, w), by a PDF renderer."""
    import pypdfium2

    document = pypdfium2.PdfDocument(pdf)
    try:
        page = document[0].render(scale=per_mm * 25.4 / 72, grayscale=True)
        return np.asarray(page.to_numpy()[..., 0] if page.to_numpy().ndim == 3 else page.to_numpy())
    finally:
        document.close()


def laid_by(stock: Stock, field: Field, inks: Mapping[str, Ink]) -> Laid:
    """A field's passes at a strength, dry over dry."""

    def laid(strength: float) -> NDArray[np.float64]:
        coats = tuple(Coat(inks[key], strength * count) for key, count in field.passes)
        return np.asarray(layers.outside(Stack(stock, coats).internal, stock.finish))

    return laid


def card_photograph(
    pdf: bytes,
    layout: CardLayout,
    fields: Sequence[Field],
    stock: Stock,
    inks: Mapping[str, Ink],
    shot: CardShot,
) -> NDArray[np.uint8]:
    """RGB (h, w, 3) of the printed card, its fields inked with ``inks``."""
    boxes = [(box, laid_by(stock, f, inks)) for box, f in zip(layout.fields, fields, strict=True)]
    return photograph_card(rendered(pdf), layout.size, boxes, stock.lab, shot)
