"""What a maker puts first in a plan, and how long may be searched for it."""

from __future__ import annotations

from dataclasses import dataclass

from strata.errors import BadValue, finite
from strata.order.done import Timed
from strata.plan.wishes import FIRST, First

MOST_BUDGET = 3600.0
FAR = 100_000_000
# ticks, more than any evening: one of what is put first outweighs all minutes
RETURN = 6000
# ticks: each seating is a chance of misregister, worth a minute
MINUTES = 10
# a minute of the evening weighs so much more than one of work in it


@dataclass(frozen=True)
class Wish:
    """``first``: what is kept least, minutes after it; ``budget``: deterministic seconds of search.

    ``spare``: minutes that may be given up for fewer returns to a sheet, masks
    and cleanings than the shortest plan has.
    """

    first: First = "time"
    budget: float = 5.0
    spare: float = 0.0

    def __post_init__(self) -> None:
        if self.first not in FIRST:
            raise BadValue(f"first must be one of {', '.join(FIRST)}.", "first")
        finite(self.budget, "budget", 0, MOST_BUDGET)
        finite(self.spare, "spare", 0, 60)

    def count(self, timed: Timed) -> int:
        """How much of what is put first a plan has; 0 where that is time."""
        return 0 if self.first == "time" else getattr(timed, self.first)

    def ease(self, timed: Timed) -> int:
        """What is kept least among plans that are short enough: minutes and returns, then work."""
        return FAR * self.count(timed) + MINUTES * (timed.end + RETURN * timed.placements) + timed.handled

    def price(self, timed: Timed) -> float:
        """What a plan costs by this wish, ticks."""
        return FAR * self.count(timed) + timed.end
