"""What a build takes, as a list to carry to the shop and the drawer: what must be got stands first."""

from __future__ import annotations

from collections.abc import Sequence

from strata.finish.supplies import Supply
from strata.formats.pdf.page import LEADING, PT_A_MM, QUIET, Page
from strata.optics.inks import one_of
from strata.swatchcard import PAPERS

MARGIN, POINTS, SMALL = 16.0, 10.0, 8.0
LINE = POINTS * LEADING / PT_A_MM * 1.25
# mm from line to line: room for a pencil's tick
TITLES = {"pad": "Pads", "stock": "Card", "foam": "Foam", "envelope": "Envelopes"}


def supplies_pdf(title: str, supplies: Sequence[Supply], paper: str = "A4") -> bytes:
    """One line with a box to tick for each supply. Raises BadValue for a paper that is not known."""
    page = _Pages(Page(PAPERS[one_of(paper, PAPERS, "paper")], title), title)
    wanting = [s for s in supplies if s.wanting]
    if wanting:
        page.heading("To be got first")
    for supply in wanting:
        page.line(f"{supply.name} {supply.wanting}", supply.amount, supply.place)
    for kind in dict.fromkeys(s.kind for s in supplies):
        there = [s for s in supplies if s.kind == kind and not s.wanting]
        if there:
            page.heading(TITLES.get(kind, kind.capitalize()))
        for supply in there:
            page.line(supply.name, supply.amount if kind != "pad" else "", supply.place)
    return page.page.data()


class _Pages:
    def __init__(self, page: Page, title: str) -> None:
        self.page, self.title, self.y = page, title, 0.0
        self._head()

    def _head(self) -> None:
        self.page.text(MARGIN, 18, self.title, 15, bold=True, width=self.page.size[0] - 2 * MARGIN)
        self.y = 27.0

    def _room(self, height: float) -> None:
        if self.y + height > self.page.size[1] - MARGIN:
            self.page.turn()
            self._head()

    def heading(self, words: str) -> None:
        self._room(3 * LINE)
        self.y += LINE * 0.5
        self.page.text(MARGIN, self.y, words, POINTS * 1.15, bold=True)
        self.y += LINE

    def line(self, name: str, amount: str, place: str) -> None:
        self._room(LINE)
        width = self.page.size[0] - 2 * MARGIN
        self.page.box(MARGIN, self.y - 3, 3.4, 3.4, line=0.5)
        self.page.text(MARGIN + 7, self.y, name, POINTS, width=width * 0.52)
        self.page.text(MARGIN + 9 + width * 0.52, self.y, amount, POINTS, bold=True, width=width * 0.18)
        self.page.text(MARGIN + 11 + width * 0.7, self.y, place, SMALL, grey=QUIET, width=width * 0.3 - 11)
        self.y += LINE
