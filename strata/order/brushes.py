"""Which brush takes which pass, once the order of the passes is known, and what care it needs between two."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from strata.order.ticks import CLEANED, NOTHING, WIPED, Work

Rank = tuple[int, bool, bool, int]
_SAME, _KIN, _UNUSED, _WIPE, _CLEAN = range(5)
# what is best to take, from the brush that carries this ink to one that must be cleaned
_AFTER = {NOTHING: _KIN, WIPED: _WIPE, CLEANED: _CLEAN}
FAR = 10_000


@dataclass(frozen=True, slots=True)
class Held:
    """A brush for the pass at one place of the order.

    ``care`` is what it needs first; ``since`` the place of the pass whose ink
    it carries, -1 where it is unused.
    """

    which: int
    care: int
    since: int


def assigned(work: Work, order: Sequence[int], given: Sequence[int] = ()) -> list[Held | None]:
    """For each place of an order, the brush that is taken; None for a stamp inked from its pad.

    The brush that needs least care; of those alike the one whose own ink is
    wanted again latest, as one throws out of a cache what is needed last.
    ``given``: the brushes that the first passes were done with.
    """
    wanted = _wanted_again(work, order)
    carries: dict[str, list[int]] = {size: [-1] * len(pool) for size, pool in work.pools.items()}
    found: list[Held | None] = []
    for place, i in enumerate(order):
        size = work.size[i]
        if not size:
            found.append(None)
            continue
        own, kin = carries[size], work.tasks[i].family
        may = [n for n, kept in enumerate(work.pools[size]) if kept in (None, kin)]
        if place < len(given) and 0 <= given[place] < len(own):
            best = given[place]
        else:
            best = min(may, key=lambda n: _rank(work, order, own[n], i, wanted, work.pools[size][n] is None))
        since = own[best]
        care = NOTHING if since < 0 or order[since] == i else work.care[order[since]][i]
        found.append(Held(best, care, since))
        own[best] = place
    return found


def _rank(work: Work, order: Sequence[int], since: int, i: int, wanted: list[int], common: bool) -> Rank:
    """How good a brush is for a pass: by the care it needs, one kept for the family first, its own ink wanted latest."""
    if since < 0:
        return _UNUSED, common, False, 0
    last = order[since]
    same = work.tasks[last].ink == work.tasks[i].ink
    kind = _SAME if same else _AFTER[work.care[last][i]]
    return kind, common, wanted[since] < FAR, since - wanted[since]


def _wanted_again(work: Work, order: Sequence[int]) -> list[int]:
    """For each place, the next place that takes the same ink with the same size of brush."""
    upcoming: dict[tuple[str, str], int] = {}
    found = [FAR] * len(order)
    for place in range(len(order) - 1, -1, -1):
        known = work.size[order[place]], work.tasks[order[place]].ink
        found[place] = upcoming.get(known, FAR)
        upcoming[known] = place
    return found
