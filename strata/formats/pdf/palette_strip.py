"""A colouring's palette as a strip to print: every element with its inks, to lie beside the work."""

from __future__ import annotations

from collections.abc import Sequence

from strata.formats.palette import Entry
from strata.formats.pdf.page import QUIET, Page, rgb_of
from strata.optics.colour import hex_of
from strata.optics.inks import one_of
from strata.swatchcard import PAPERS

MARGIN, HEAD, ROW, CELL = 14.0, 26.0, 15.0, 30.0
# mm
NAME = 34.0
# mm for the element's name, before its inks


def palette_strip_pdf(found: Sequence[Entry], title: str, card: str, paper: str = "A4") -> bytes:
    """As many pages as it takes; colours as a printer of screens makes them, not to measure by.

    Raises BadValue for a paper that is not known.
    """
    size = PAPERS[one_of(paper, PAPERS, "paper")]
    page = Page(size, title)
    columns = int((size[0] - 2 * MARGIN - NAME) // CELL)
    lines = _lines(found, columns)
    y = HEAD
    _head(page, title, card)
    for name, cells in lines:
        if y + ROW > size[1] - MARGIN:
            page.turn()
            _head(page, title, card)
            y = HEAD
        page.text(MARGIN, y + 5.2, name, 8, bold=True, width=NAME - 2)
        for i, entry in enumerate(cells):
            x = MARGIN + NAME + i * CELL
            page.blob(x, y, CELL - 5, 7.0, rgb_of(hex_of(entry.lab)[0]))
            page.text(x, y + 10.0, entry.name, 5.6, width=CELL - 3)
            page.text(x, y + 12.4, _how(entry), 4.8, grey=QUIET, width=CELL - 3)
        y += ROW
    return page.data()


def _head(page: Page, title: str, card: str) -> None:
    page.text(MARGIN, 15, title, 12, bold=True, width=page.size[0] - 2 * MARGIN)
    page.text(
        MARGIN, 20, f"On {card}. Printed colours only stand for the inks: go by the pads.", 7, grey=QUIET
    )


def _how(entry: Entry) -> str:
    coats = "1 coat" if entry.coats == 1 else f"{entry.coats} coats"
    hand = "" if entry.hand == "medium" else f", {entry.hand} hand"
    return f"sheet {entry.sheet}, {coats}{hand}"


def _lines(found: Sequence[Entry], columns: int) -> list[tuple[str, list[Entry]]]:
    """Elements in the order of the plan, cut to what stands in one row."""
    by_element: dict[str, list[Entry]] = {}
    for entry in found:
        by_element.setdefault(entry.element, []).append(entry)
    return [
        (name if at == 0 else "", entries[at : at + columns])
        for name, entries in by_element.items()
        for at in range(0, len(entries), columns)
    ]
