"""Brushes: sizes, what opening they want, how far they stray, how fast they fill."""

from __future__ import annotations

from dataclasses import dataclass

from strata.errors import BadValue


@dataclass(frozen=True)
class Brush:
    """A blending brush: contact diameter in mm, speed in mm2 of medium coat a minute."""

    key: str
    label: str
    diameter: float
    speed: float

    @property
    def article(self) -> str:
        return "an" if self.label[0] in "aeiou" else "a"

    @property
    def wants(self) -> float:
        """The narrowest opening in mm that it fills without streaks: half its diameter."""
        return self.diameter / 2

    @property
    def spread(self) -> float:
        """How far in mm it strays past the opening it works on: a quarter of its diameter."""
        return self.diameter / 4


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


def brush(key: str) -> Brush:
    """The brush of that key; raises BadValue."""
    if key not in BRUSHES:
        raise BadValue(f"“{key}” is not a brush; use one of {', '.join(BRUSHES)}.", "brush")
    return BRUSHES[key]


def fitting(width: float) -> Brush:
    """The largest brush that an opening ``width`` mm wide can take (else the finest)."""
    for candidate in BRUSHES.values():
        if candidate.wants <= width:
            return candidate
    return BRUSHES["extra-fine"]
