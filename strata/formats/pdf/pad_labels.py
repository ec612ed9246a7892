"""Labels for pads: a dab of one, two and three coats, the name, where it has its place; to cut edge to edge."""

from __future__ import annotations

from collections.abc import Sequence

from strata.formats.pdf.page import QUIET, Page, rgb_of
from strata.optics.colour import hex_of
from strata.optics.inks import Ink, one_of
from strata.optics.stack import Coat, Stock, predict
from strata.swatchcard import PAPERS

MARGIN, WIDTH, HEIGHT = 12.0, 46.0, 16.0
# mm; a label goes on the lid of a small pad


def pad_labels_pdf(inks: Sequence[Ink], stock: Stock, paper: str = "A4") -> bytes:
    """As many pages as it takes, pads by place and name; lines between labels are where to cut.

    Raises BadValue for a paper that is not known.
    """
    size = PAPERS[one_of(paper, PAPERS, "paper")]
    page = Page(size, "Labels for pads")
    columns, rows = int((size[0] - 2 * MARGIN) // WIDTH), int((size[1] - 2 * MARGIN - 8) // HEIGHT)
    ordered = sorted(inks, key=lambda ink: (not ink.place, ink.place, ink.line, ink.name))
    for n, ink in enumerate(ordered):
        at = n % (columns * rows)
        if n and not at:
            page.turn()
        if not at:
            page.rule(MARGIN, MARGIN + 2)
        _label(page, ink, stock, MARGIN + at % columns * WIDTH, MARGIN + 6 + at // columns * HEIGHT)
    if not ordered:
        page.text(MARGIN, MARGIN + 8, "There is no pad in the drawer yet.", 9)
    return page.data()


def _label(page: Page, ink: Ink, stock: Stock, x: float, y: float) -> None:
    page.box(x, y, WIDTH, HEIGHT, line=0.25, grey=0.6)
    for n in (1, 2, 3):
        code = hex_of(predict(stock, [Coat(ink, float(n))]))[0]
        page.blob(x + 2, y + 2 + 4.1 * (n - 1), 9, 3.6, rgb_of(code))
    room = WIDTH - 14.5
    points = next((p for p in (8.0, 7.0, 6.0) if page.wide(ink.name, p, bold=True) <= room), 5.4)
    page.text(x + 13, y + 5.2, ink.name, points, bold=True, width=room)
    kind = " · ".join(v for v in (ink.line, ink.family) if v)
    page.text(x + 13, y + 9.2, kind, 5.8, grey=QUIET, width=WIDTH - 14.5)
    page.text(x + 13, y + 13, ink.place, 5.8, width=WIDTH - 14.5)
