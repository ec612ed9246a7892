"""What a build takes, as a list to carry to the shop and the drawer: what must be got stands first."""

from __future__ import annotations

from collections.abc import Sequence

from strata.finish.supplies import Supply
from strata.formats.pdf.page import LEADING, PT_A_MM, QUIET, Flow, Page
from strata.optics.inks import one_of
from strata.swatchcard import PAPERS

MARGIN, HEAD, POINTS, SMALL = 16.0, 24.0, 10.0, 8.0
LINE = POINTS * LEADING / PT_A_MM * 1.25
# mm from line to line: room for a pencil's tick
TITLES = {"pad": "Pads", "stock": "Card", "foam": "Foam", "envelope": "Envelopes"}


def supplies_pdf(title: str, supplies: Sequence[Supply], paper: str = "A4") -> bytes:
    """One line with a box to tick for each supply. Raises BadValue for a paper that is not known."""
    list_ = _List(Page(PAPERS[one_of(paper, PAPERS, "paper")], title), title, MARGIN, HEAD)
    list_.head(title)
    groups = {"To be got first": [s for s in supplies if s.wanting]}
    for kind in dict.fromkeys(s.kind for s in supplies):
        groups[TITLES[kind]] = [s for s in supplies if s.kind == kind and not s.wanting]
    for called, own in groups.items():
        if own:
            list_.heading(called, POINTS, LINE)
        for supply in own:
            list_.line(supply)
    return list_.page.data()


class _List(Flow):
    def line(self, supply: Supply) -> None:
        """A box to tick, the name with what is wanting of it, how much, where it is kept."""
        self.room(LINE)
        name = f"{supply.name} {supply.wanting}".rstrip()
        self.page.box(MARGIN, self.y - 3, 3.4, 3.4, line=0.5)
        self.page.text(MARGIN + 7, self.y, name, POINTS, width=self.width * 0.52)
        # of a pad there is one, always
        amount = "" if supply.kind == "pad" else supply.amount
        self.page.text(
            MARGIN + 9 + self.width * 0.52, self.y, amount, POINTS, bold=True, width=self.width * 0.18
        )
        place = MARGIN + 11 + self.width * 0.7
        self.page.text(place, self.y, supply.place, SMALL, grey=QUIET, width=self.width * 0.3 - 11)
        self.y += LINE
