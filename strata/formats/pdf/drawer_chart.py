"""The drawer as a chart to hang over the table: families in rows, each ink as dabs of one, two and three coats."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from strata.formats.pdf.page import QUIET, Page, rgb_of
from strata.optics.colour import chroma, hex_of, hue
from strata.optics.dabs import Floats, dabs
from strata.optics.inks import Ink, one_of
from strata.optics.stack import Stock
from strata.swatchcard import PAPERS

MARGIN, ROW, CELL = 14.0, 21.0, 22.5
# mm
HEAD = 24.0
NEUTRAL = 12.0
# C*ab below which a family stands among the greys


def families(inks: Sequence[Ink], colours: Mapping[str, Floats]) -> list[tuple[str, list[Ink]]]:
    """Inks by line and family, each from light to deep; families by hue, greys last.

    ``colours``: CIELAB in one, two and three coats (3, 3), by the ink's key.
    """
    groups: dict[tuple[str, str], list[Ink]] = {}
    for ink in inks:
        groups.setdefault((ink.line, ink.family or ink.name), []).append(ink)
    lab = {key: (float(own[0, 0]), float(own[0, 1]), float(own[0, 2])) for key, own in colours.items()}

    def place(item: tuple[tuple[str, str], list[Ink]]) -> tuple[float, str]:
        strongest = max((lab[i.key] for i in item[1]), key=chroma)
        at = (hue(strongest) + 20) % 360 if chroma(strongest) >= NEUTRAL else 400 + strongest[0]
        return at, item[0][0]

    return [
        (f"{line} · {family}" if line else family, sorted(kin, key=lambda i: (i.depth, -lab[i.key][0])))
        for (line, family), kin in sorted(groups.items(), key=place)
    ]


def _dab(page: Page, ink: Ink, colours: Floats, x: float, y: float) -> None:
    """An ink with its name, and its colours (CIELAB) in one, two and three coats."""
    for i, (lab, width) in enumerate(zip(colours.tolist(), (18.0, 11.5, 5.5), strict=True)):
        height = 8.0 - 2.2 * i
        page.blob(
            x + 18.0 - width if i else x,
            y + 1.1 * i,
            width,
            height,
            rgb_of(hex_of((lab[0], lab[1], lab[2]))[0]),
        )
    page.text(x, y + 11.2, ink.name, 5.4, width=CELL - 1.5)
    said = ", ".join(v for v in (ink.place, "" if ink.state == "full" else ink.state) if v)
    page.text(x, y + 13.8, said, 4.6, grey=QUIET, width=CELL - 1.5)


def _blocks(inks: Sequence[Ink], colours: Mapping[str, Floats], columns: int) -> list[tuple[str, list[Ink]]]:
    """Families cut to what stands in one row."""
    return [
        (title if at == 0 else f"{title}, on", kin[at : at + columns])
        for title, kin in families(inks, colours)
        for at in range(0, len(kin), columns)
    ]


def drawer_chart_pdf(inks: Sequence[Ink], stock: Stock, paper: str = "A4") -> bytes:
    """As many pages as the drawer needs; colours as a printer of screens makes them, not to measure by.

    Raises BadValue for a paper that is not known.
    """
    size = PAPERS[one_of(paper, PAPERS, "paper")]
    page = Page(size, "The drawer")
    colours = dict(zip([ink.key for ink in inks], dabs(inks, stock), strict=True))
    columns = int((size[0] - 2 * MARGIN) // CELL)
    card = rgb_of(hex_of(stock.lab)[0])
    column, y, number = columns, size[1], 0
    for title, kin in _blocks(inks, colours, columns) or [("", [])]:
        if column + len(kin) > columns:
            column, y = 0, y + ROW + 2
        if y + ROW > size[1] - MARGIN:
            page.turn() if number else None
            number, y = number + 1, HEAD
            page.text(MARGIN, 15, "The drawer", 14, bold=True)
            said = f"{len(inks)} inks on {stock.name or 'card'}, in one, two and three coats. Page {number}"
            page.text(MARGIN + 38, 15, said, 7.5, grey=QUIET)
        x = MARGIN + column * CELL
        page.text(x, y + 3, title, 6.2, bold=True, width=max(1, len(kin)) * CELL - 2)
        page.box(x - 1.5, y + 4.5, len(kin) * CELL - 1.5, 11.0, fill=card)
        for i, ink in enumerate(kin):
            _dab(page, ink, colours[ink.key], x + i * CELL, y + 6)
        column += len(kin)
    return page.data()
