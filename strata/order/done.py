"""Things done at the table, in ticks, and what they add up to: what every planner writes and everything else reads."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import NamedTuple

from strata.order.visits import BARE, Cover


class Did(NamedTuple):
    """One thing done, in ticks.

    ``i`` is the pass that it does or leads to, -1 for none; ``of`` the pass
    whose ink was there before, or the job that is done; ``who`` the pair of hands.
    """

    kind: str
    start: int
    length: int
    card: int
    sheet: int
    i: int = -1
    brush: int = -1
    cover: Cover = BARE
    of: int = -1
    who: int = 1


@dataclass
class Timed:
    """What was done when, and what it adds up to."""

    did: list[Did]
    end: int
    counts: dict[str, int] = field(default_factory=dict)

    @property
    def handled(self) -> int:
        """Ticks that the hands are busy."""
        return sum(d.length for d in self.did)

    @property
    def cleanings(self) -> int:
        return self.counts.get("clean", 0) + self.counts.get("wash", 0)

    @property
    def placements(self) -> int:
        return self.counts.get("place", 0)

    @property
    def masks(self) -> int:
        return self.counts.get("mask", 0)


def counted(did: Iterable[Did]) -> dict[str, int]:
    """How often each kind of thing is done."""
    return Counter(d.kind for d in did)
