"""Things done at the table, in ticks, and what they add up to: what every planner writes and everything else reads."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from functools import cached_property
from itertools import groupby
from typing import NamedTuple

from strata.order.ticks import Work
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


@dataclass(frozen=True)
class Timed:
    """What was done of a work and when, and what it adds up to."""

    work: Work
    did: list[Did]
    end: int

    @cached_property
    def counts(self) -> Counter[str]:
        """How often each kind of thing is done."""
        return Counter(d.kind for d in self.did)

    @property
    def handled(self) -> int:
        """Ticks that the hands are busy."""
        return sum(d.length for d in self.did)

    @property
    def cleanings(self) -> int:
        return self.counts["clean"] + self.counts["wash"]

    @property
    def placements(self) -> int:
        return self.counts["place"]

    @property
    def masks(self) -> int:
        return self.counts["mask"]

    @property
    def pads(self) -> int:
        """How often another pad is taken up than the one before, the first one included."""
        return sum(1 for _ in groupby(self.work.tasks[i].ink for i in self._inked))

    @property
    def elements(self) -> int:
        """How often another element is gone on with than the one before, the first one included."""
        return sum(1 for _ in groupby(self.work.element[i] for i in self._inked))

    @property
    def _inked(self) -> list[int]:
        return [d.i for d in sorted((d for d in self.did if d.kind == "ink"), key=lambda d: d.start)]
