"""Brushes and daubers: sizes, what opening they want, how far they stray, how fast they fill, how many there are."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

from strata.errors import BadValue, finite

USUAL_COUNT = 3
# brushes of each size on a table, until the maker says otherwise


@dataclass(frozen=True)
class Brush:
    """What lays the ink: contact diameter in mm, speed in mm2 of medium coat a minute.

    ``strays``: mm past the opening (None: a quarter of the diameter);
    ``softness``: width of a blended edge, in diameters.
    """

    key: str
    label: str
    diameter: float
    speed: float
    strays: float | None = None
    softness: float = 0.8

    @property
    def article(self) -> str:
        return "an" if self.label[0] in "aeiou" else "a"

    @property
    def wants(self) -> float:
        """The narrowest opening in mm that it fills without streaks: half its diameter."""
        return self.diameter / 2

    @property
    def spread(self) -> float:
        """How far in mm it strays past the opening it works on: a quarter of its diameter, if nothing else is known."""
        return self.diameter / 4 if self.strays is None else self.strays


BRUSHES: dict[str, Brush] = {
    b.key: b
    for b in (
        Brush("large", "large brush", 38.0, 2600.0),
        Brush("medium", "medium brush", 25.0, 1500.0),
        Brush("small", "small brush", 15.0, 750.0),
        Brush("detail", "detail brush", 8.0, 320.0),
        Brush("extra-fine", "extra-fine brush", 5.0, 170.0),
    )
}

DAUBERS: dict[str, Brush] = {
    b.key: b
    for b in (
        Brush("foam-dome", "foam dome", 30.0, 1900.0),
        Brush("sponge-wedge", "sponge wedge", 20.0, 1000.0),
        Brush("pouncer", "pouncer", 20.0, 900.0),
    )
}
# chosen by hand, or proposed where no brush is owned

OTHERS: dict[str, Brush] = {
    b.key: b
    for b in (
        Brush("knife", "palette knife", 40.0, 2500.0, 0.0, 0.0),
        Brush("stamp", "stamp pressed on the pad", 6.0, 4000.0, 0.0, 0.0),
        Brush("pen", "pen", 1.0, 120.0, 0.0, 0.0),
        Brush("wipe", "damp wipe", 30.0, 2000.0, 1.0, 0.1),
    )
}
# what is no brush: taken where the way of working asks for it
EVERY: dict[str, Brush] = {**BRUSHES, **DAUBERS, **OTHERS}
STREAKS = 2.5
# a brush so many times finer than the one that fits leaves streaks


@dataclass(frozen=True)
class Tool:
    """Brushes of one size: how many, and the family (line and name) they are kept for, if any."""

    brush: str
    count: int
    line: str = ""
    family: str = ""

    def __post_init__(self) -> None:
        brush(self.brush)
        finite(self.count, "count", 0, 200)


@dataclass(frozen=True)
class Tools:
    """The brushes of a house. With nothing recorded every size is taken to be there USUAL_COUNT times."""

    owned: tuple[Tool, ...] = ()

    def count(self, key: str) -> int:
        """How many of a size; a brush that a plan names must be somewhere, so never none."""
        if not any(t.count for t in self.owned):
            return USUAL_COUNT
        return max(1, sum(t.count for t in self.owned if t.brush == key))

    def kept(self, key: str) -> dict[tuple[str, str], int]:
        """How many of a size are kept for each (line, family)."""
        found: dict[tuple[str, str], int] = {}
        for tool in self.owned:
            if tool.brush == key and tool.family and tool.count:
                own = (tool.line, tool.family)
                found[own] = found.get(own, 0) + tool.count
        return found

    @property
    def _own(self) -> list[Brush]:
        keys = {t.brush for t in self.owned if t.count}
        own = [b for b in BRUSHES.values() if b.key in keys] or [b for b in DAUBERS.values() if b.key in keys]
        return own or list(BRUSHES.values())

    def fitting(self, width: float, room: float = math.inf) -> Brush:
        """The largest owned brush that an opening ``width`` mm wide can take and that needs no mask.

        ``room``: mm of sheet to the nearest neighbour, past which it must not
        stray. Where none stays within that without streaking, the largest that
        fits, else the finest owned.
        """
        best = fitting(width, self._own)
        near = [b for b in self._own if b.spread < room and STREAKS * b.diameter >= best.diameter]
        return max((b for b in near if b.diameter <= best.diameter), key=lambda b: b.diameter, default=best)


UNRECORDED = Tools()
# a house whose brushes nobody has written down


def brush(key: str) -> Brush:
    """The brush or dauber of that key; raises BadValue."""
    if not isinstance(key, str) or key not in EVERY:
        raise BadValue(f"“{key}” is not a brush; use one of {', '.join(EVERY)}.", "brush")
    return EVERY[key]


def fitting(width: float, among: Iterable[Brush] = BRUSHES.values()) -> Brush:
    """The largest brush that an opening ``width`` mm wide can take (else the finest)."""
    largest_first = sorted(among, key=lambda b: -b.diameter)
    return next((b for b in largest_first if b.wants <= width), largest_first[-1])
