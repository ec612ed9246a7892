"""A plan to print: the picture with its pads and cut list, the steps with how the card looks after each, true sizes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from strata.formats.pdf.page import LEADING, PT_A_MM, QUIET, Flow, Page, rgb_of
from strata.optics.inks import one_of
from strata.swatchcard import PAPERS

MARGIN, HEAD = 14.0, 24.0
# mm
TYPES = {"normal": 8.0, "large": 11.0}
# points
PARTS = ("all", "helper", "true size")
SMALL = 0.82
# of the size of the type
NOW = 18.0
# mm, the width of a picture of "now"
TEXT = 28.0
# mm to where the sentences of steps begin
Ring = Sequence[tuple[float, float]]


@dataclass(frozen=True)
class PadLine:
    """A pad to pull: its name, its place, its colour on the card as a hex code."""

    name: str
    place: str
    colour: str


@dataclass(frozen=True)
class StepLine:
    """A step: its number among all, what is done in a sentence, why, what to mind, minutes as text.

    ``inks``: whether it lays ink; ``now``: how the card looks after it, a JPEG; ``who``: which pair of hands.
    """

    number: int
    inks: bool
    sentence: str
    reasons: tuple[str, ...] = ()
    caution: str = ""
    minutes: str = ""
    now: bytes | None = None
    who: int = 1


@dataclass(frozen=True)
class VisitLines:
    """Steps while one sheet is seated, with what stands over them."""

    title: str
    steps: tuple[StepLine, ...]


@dataclass(frozen=True)
class CutLine:
    """A piece of the cut list in words: what, how large, of which card, and what to mind."""

    name: str
    size: str
    card: str
    more: str = ""


@dataclass(frozen=True)
class TrueSize:
    """Outlines to cut along, mm from their own left upper corner."""

    title: str
    width: float
    height: float
    rings: tuple[Ring, ...]
    note: str = ""


@dataclass(frozen=True)
class PlanPages:
    """All that a printed plan says; ``picture``: the finished panel, ``shape`` its height by its width."""

    title: str
    said: str
    picture: bytes
    shape: float
    pads: tuple[PadLine, ...]
    fetch: tuple[tuple[str, tuple[str, ...]], ...]
    cuts: tuple[CutLine, ...]
    visits: tuple[VisitLines, ...]
    true_sizes: tuple[TrueSize, ...] = ()
    assembly: tuple[str, ...] = ()


def plan_pdf(
    plan: PlanPages, paper: str = "A4", type_: str = "normal", coloured: bool = True, part: str = "all"
) -> bytes:
    """``part``: ``all``, ``helper`` (what the second pair of hands does) or ``true size`` (outlines only).

    Not ``coloured``: black on white, pads by their names only. Raises BadValue
    for a paper, a type or a part that is not known.
    """
    size = PAPERS[one_of(paper, PAPERS, "paper")]
    points = TYPES[one_of(type_, TYPES, "type")]
    one_of(part, PARTS, "part")
    book = _Book(Page(size, plan.title), plan, points, coloured)
    if part == "all":
        book.first_page()
        book.steps(lambda s: True)
        book.together()
    if part == "helper":
        book.helper()
    if part in ("all", "true size"):
        book.true_sizes()
    return book.finished()


class _Book(Flow):
    def __init__(self, page: Page, plan: PlanPages, points: float, coloured: bool) -> None:
        super().__init__(page, plan.title, MARGIN, HEAD)
        self.plan, self.points, self.coloured = plan, points, coloured
        self.line = points * LEADING / PT_A_MM

    def _heading(self, words: str) -> None:
        self.heading(words, self.points, self.line)

    def first_page(self) -> None:
        """The picture, the pads by their place, what else to fetch, the cut list."""
        self.head(self.plan.title, self.plan.said)
        wide = min(self.width * 0.52, 135.0 / self.plan.shape)
        self.page.picture(MARGIN, self.y, wide, wide * self.plan.shape, self.plan.picture)
        below = self.y + wide * self.plan.shape
        self._pads(MARGIN + wide + 6, self.width - wide - 6)
        self.y = max(below, self.y) + 6
        for title, lines in self.plan.fetch:
            if lines:
                self._said(title, "; ".join(lines) + ".")
        if self.plan.cuts:
            self._heading("Cut list")
        for cut in self.plan.cuts:
            self._cut(cut)

    def _pads(self, x: float, width: float) -> None:
        page, y = self.page, self.y + 3
        page.text(x, y, "Pads", self.points * 1.1, bold=True)
        y += 2.5
        for pad in self.plan.pads:
            if y + 8 > self.foot:
                self.head(self.plan.title, "pads, continued")
                x, width, y = MARGIN, self.width, self.y
            if self.coloured:
                page.blob(x, y, 9, 5.2, rgb_of(pad.colour))
            else:
                page.box(x, y, 9, 5.2, line=0.4)
            page.text(x + 11, y + 2.6, pad.name, self.points * 0.95, width=width - 11)
            place = pad.place or "no place written down"
            page.text(
                x + 11, y + 2.6 + self.line * 0.8, place, self.points * SMALL, grey=QUIET, width=width - 11
            )
            y += max(7.4, self.line * 2)
        self.y = max(self.y, y)

    def _said(self, title: str, words: str) -> None:
        self.room(self.line * (1 + self.page.lines(words, self.points, self.width - 26)))
        self.page.text(MARGIN, self.y, title, self.points, bold=True)
        self.y = self.page.paragraph(MARGIN + 26, self.y, words, self.points, self.width - 26)

    def _cut(self, cut: CutLine) -> None:
        self.room(2 * self.line)
        self.page.box(MARGIN, self.y - 2.4, 2.6, 2.6, line=0.5)
        self.page.text(MARGIN + 5, self.y, cut.name, self.points, width=58)
        self.page.text(MARGIN + 65, self.y, cut.size, self.points, bold=True, width=62)
        self.page.text(MARGIN + 129, self.y, cut.card, self.points, width=self.width - 129)
        self.y += self.line
        if cut.more:
            self.y = self.page.paragraph(
                MARGIN + 5, self.y, cut.more, self.points * SMALL, self.width - 5, grey=QUIET
            )

    def steps(self, wanted: Callable[[StepLine], bool]) -> None:
        """The steps by sheet, each with a box to tick and, after ink, how the card looks now."""
        self.head(self.plan.title, "Step by step")
        for visit in self.plan.visits:
            own = [s for s in visit.steps if wanted(s)]
            if own:
                self._heading(visit.title)
            for step in own:
                self._step(step)

    def _step(self, step: StepLine) -> None:
        has = NOW + 3 if step.now else 0.0
        text = self.width - TEXT - 2 - has
        small = self.points * SMALL
        notes = [*step.reasons, *([step.caution] if step.caution else [])]
        height = self.line * self.page.lines(step.sentence, self.points, text)
        height += self.line * SMALL * sum(self.page.lines(n, small, text) for n in notes)
        shown = NOW * self.plan.shape if step.now else 0.0
        self.room(max(height, shown) + 2)
        top = self.y
        self.page.box(MARGIN, top - 2.6, 3, 3, line=0.5)
        self.page.text(MARGIN + 5, top, str(step.number), small, bold=True)
        self.page.text(MARGIN + 11.5, top, step.minutes, small, grey=QUIET, width=16)
        y = self.page.paragraph(MARGIN + TEXT, top, step.sentence, self.points, text, bold=step.inks)
        for reason in step.reasons:
            y = self.page.paragraph(MARGIN + TEXT, y, reason, small, text, grey=QUIET)
        if step.caution:
            y = self.page.paragraph(MARGIN + TEXT, y, step.caution, small, text, bold=True)
        if step.now:
            x = self.page.size[0] - MARGIN - NOW
            self.page.picture(x, top - 3, NOW, NOW * self.plan.shape, step.now)
        self.y = max(y, top + shown) + 1.5

    def together(self) -> None:
        """What is left when the ink is dry."""
        if self.plan.assembly:
            self._heading("Putting it together")
        for line in self.plan.assembly:
            self.room(self.line * 2)
            self.page.box(MARGIN, self.y - 2.4, 2.6, 2.6, line=0.5)
            self.y = self.page.paragraph(MARGIN + 5, self.y, line, self.points, self.width - 5) + 0.6

    def helper(self) -> None:
        """A page for whoever helps: her steps, what can be cut and folded meanwhile."""
        if any(s.who > 1 for v in self.plan.visits for s in v.steps):
            self.steps(lambda s: s.who > 1)
        else:
            self.head(self.plan.title, "For whoever helps")
        if self.plan.cuts:
            self._heading("Cut list")
        for cut in self.plan.cuts:
            self._cut(cut)
        self.together()

    def true_sizes(self) -> None:
        """Outlines at their true size, as many pages as they need; what is larger than the paper is said."""
        for shape in self.plan.true_sizes:
            room = self.page.size[0] - 2 * MARGIN, self.foot - HEAD - 14
            self.head(f"{shape.title}, true size", shape.note)
            self.page.rule(MARGIN, HEAD + 5)
            if shape.width > room[0] or shape.height > room[1]:
                said = "This is larger than the paper: print it on a larger one, or measure it."
                self.page.text(MARGIN, HEAD + 14, said, self.points)
                continue
            x, y = MARGIN, HEAD + 10
            self.page.outline([[(x + a, y + b) for a, b in ring] for ring in shape.rings])

    def finished(self) -> bytes:
        """The file; letters that cannot be printed are named on its last page."""
        if not self.turned:
            self.head(self.plan.title, "There is nothing to print at true size.")
        if self.page.missing:
            letters = " ".join(f"U+{ord(c):04X}" for c in sorted(self.page.missing))
            self.page.text(
                MARGIN,
                self.page.size[1] - 6,
                f"These letters have no glyph here and are missing: {letters}",
                6.5,
            )
        return self.page.data()
