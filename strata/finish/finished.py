"""A card as it is finished: everything that follows from how its maker wants it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from strata.errors import BadValue
from strata.finish.assembly import Cutting, Task, assembly_of
from strata.finish.cuts import Cut, CutUp, cut_up
from strata.finish.lay import Laid, Placed, Size, laid
from strata.finish.lengths import SIXTEENTH, mm, units
from strata.finish.pieces import Piece, Pieces, pieces_of
from strata.finish.stock_sheets import SHEETS, envelope_for
from strata.finish.thickness import Part, thickness_of, weight_of
from strata.measuring.trim import Trim, trim
from strata.panel.size import FORMATS, Format
from strata.plan.finish import LEAST_CARD, MOST_CARD, Finish
from strata.plan.scene import Scene

EDGE = 3.175
# mm of base that show around a panel as formats have it
UNEVEN, ALIKE = 4.0, 1.0
# mm by which margins may differ, both sides together; by which two sizes are the same
LOST = 0.002
# share of an element from which it is said to be cut into


@dataclass(frozen=True)
class FromStock:
    """What is cut from one stock: its sheet, the pieces laid on it, the cuts; or why it cannot be."""

    stock: str
    sheet: Format
    grain: str
    laid: Laid | None
    cut_up: tuple[CutUp, ...]
    problem: str = ""
    name: str = ""


class Finished:
    """All cards of a scene, finished by its plan's finish, or by the one proposed for it."""

    def __init__(self, scene: Scene) -> None:
        self.decided = scene.plan.finish is not None
        self.finish = scene.plan.finish or proposed(scene)
        self.scene = scene.with_plan(replace(scene.plan, finish=self.finish))

    @cached_property
    def pieces(self) -> Pieces:
        """Everything that is cut for one card."""
        return pieces_of(self.finish, self.scene.layer_set.size, self.scene.plan.stock)

    @cached_property
    def trimmed(self) -> Trim:
        """What the panel keeps of the image once it is cut to its size."""
        width, height = self.pieces.panel
        return trim(self.scene.layer_set, mm(max(units(5), width)), mm(max(units(5), height)))

    @cached_property
    def problems(self) -> list[str]:
        """What is wrong, in sentences."""
        found = list(self.pieces.problems)
        if not found:
            found += [
                f"The panel is cut into {element}: {1 - kept:.0%} of it goes."
                for element, kept in self.trimmed.cut.items()
                if kept < 1 - LOST
            ]
        return [*found, *(s.problem for s in self.from_stock if s.problem)]

    @cached_property
    def sound(self) -> bool:
        """Whether there is something to cut at all."""
        return all(p.width > 0 and p.height > 0 for p in self.pieces.pieces)

    @cached_property
    def from_stock(self) -> list[FromStock]:
        """For each stock the sheets to take, for all cards."""
        if not self.sound:
            return []
        stocks = dict.fromkeys(p.stock for p in self.pieces.pieces)
        return [self._from(stock) for stock in stocks]

    def _from(self, stock: str) -> FromStock:
        name = self.scene.stocks[stock].name or stock
        wished = next(((size, grain) for s, size, grain in self.finish.sheets if s == stock), None)
        own = [p for p in self.pieces.pieces if p.stock == stock]
        size, grain = wished or ("", "")
        sheet = SHEETS.get(size, SHEETS[self._usual(own)])
        kept = [(units(w), units(h)) for s, w, h in self.finish.offcuts if s == stock]
        blade, whole = units(self.finish.blade), (units(sheet.width), units(sheet.height))
        # a fold runs with the grain, where it is known: such a piece lies one way only
        along_height = (grain == "long") == (sheet.height >= sheet.width)
        problem = ""
        unknown = f"{name}: its sheets are of a size that is not known here; it is laid on {sheet.label}."
        odd = unknown if size and size not in SHEETS else ""
        for wished_grain in dict.fromkeys((grain, "")):
            sizes = [self._size(p, wished_grain, along_height) for p in own]
            try:
                found = laid(sizes, whole, kept, blade)
            except BadValue as error:
                problem = f"{name}: {error}"
                continue
            across = f"{name}: the fold lies across the grain and may crack; score it twice, or take a larger sheet."
            said = across if wished_grain != grain else odd
            cuts = tuple(cut_up(s, blade) for s in found.sheets)
            return FromStock(stock, sheet, grain, found, cuts, said, name)
        return FromStock(stock, sheet, grain, None, (), problem, name)

    def _size(self, piece: Piece, grain: str, along_height: bool) -> Size:
        count = self.scene.plan.cards
        if not grain or not piece.scores:
            return Size(piece.name, piece.width, piece.height, count)
        if piece.scores[0].down == along_height:
            return Size(piece.name, piece.width, piece.height, count, False)
        return Size(piece.name, piece.height, piece.width, count, False)

    def _usual(self, own: Sequence[Piece]) -> str:
        """The sheet that stock is mostly sold in where the card is known by its inches, or by its mm; else a larger one."""
        inches = units(self.finish.width) % SIXTEENTH == 0 and units(self.finish.height) % SIXTEENTH == 0
        first = "letter" if inches else "a4"
        for key in (first, *SHEETS):
            short, long = sorted((units(SHEETS[key].width), units(SHEETS[key].height)))
            if all(min(p.width, p.height) <= short and max(p.width, p.height) <= long for p in own):
                return key
        return first

    @cached_property
    def thickness(self) -> list[Part]:
        """mm, from the table up."""
        return thickness_of(self.scene)

    @cached_property
    def thick(self) -> float:
        """mm at the highest place."""
        return sum(p.amount for p in self.thickness)

    @cached_property
    def envelope(self) -> Format | None:
        """The smallest usual envelope that it goes into."""
        return envelope_for(self.finish.width, self.finish.height, self.thick)

    @cached_property
    def weight(self) -> list[Part]:
        """g, with its envelope."""
        return weight_of(self.scene, self.pieces.pieces if self.sound else (), self.envelope)

    @cached_property
    def grams(self) -> float:
        """All of it."""
        return sum(p.amount for p in self.weight)

    @cached_property
    def assembly(self) -> list[Task]:
        """What is to be done beside the inking."""
        return assembly_of(self.scene, self.finish, self._cutting)

    @property
    def _cutting(self) -> Cutting:
        inked = next((p.name for p in self.pieces.pieces if p.key == "panel"), self.pieces.pieces[0].name)
        panels = every = 0
        for stock in self.from_stock:
            for used, cut in zip(stock.laid.sheets if stock.laid else (), stock.cut_up, strict=True):
                own = [p for p in used.pieces if p.key == inked]
                panels += sum(any(_within(p, c) for p in own) for c in cut.cuts)
                every += len(cut.cuts)
        size = self.scene.layer_set.size
        planned = units(size.width - 2 * size.trim), units(size.height - 2 * size.trim)
        return Cutting(panels, every - panels, not self.finish.alone and self.pieces.panel != planned)


def _within(piece: Placed, cut: Cut) -> bool:
    """Whether a piece lies in the part that a cut goes through."""
    x, y, width, height = cut.box
    inside = x <= piece.x and y <= piece.y
    return inside and piece.x + piece.width <= x + width and piece.y + piece.height <= y + height


def proposed(scene: Scene) -> Finish:
    """A card for the panel as it is: of the panel's own stock, folded at its longer side.

    A usual one whose margins come out even; or one of the panel's own size,
    which is then cut a margin smaller, where that takes nothing of the image;
    else a card just a margin larger than the panel.
    """
    size = scene.layer_set.size
    width, height = size.width - 2 * size.trim, size.height - 2 * size.trim
    fronts = [(w, h) for f in FORMATS.values() for w, h in {(f.width, f.height), (f.height, f.width)}]
    even = [(w, h) for w, h in fronts if _even(w - width, h - height)]
    same = [(w, h) for w, h in fronts if abs(w - width) < ALIKE and abs(h - height) < ALIKE]
    less = width - 2 * EDGE, height - 2 * EDGE
    if even:
        way, (wide, high) = "panel", min(even, key=lambda c: c[0] * c[1])
    elif same and min(less) > ALIKE and not trim(scene.layer_set, *less).cut:
        way, (wide, high) = "card", same[0]
    else:
        way, (wide, high) = "panel", (width + 2 * EDGE, height + 2 * EDGE)
    wide, high = (min(max(side, LEAST_CARD), MOST_CARD) for side in (wide, high))
    return Finish(round(wide, 4), round(high, 4), scene.plan.stock, "side" if high >= wide else "top", way)


def _even(across: float, down: float) -> bool:
    """Whether what is left around a panel, both sides together, is a margin, and the same both ways."""
    return min(across, down) >= EDGE and abs(across - down) <= UNEVEN
