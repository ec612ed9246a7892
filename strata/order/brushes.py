"""Which brush takes which pass, once the order of the passes is known, and what care it needs between two."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from strata.order.ticks import CLEANED, NOTHING, WIPED, Work

_FRESH = 0.5
# a brush not yet inked is taken rather than one that needs a wipe, and kept rather than spoilt for nothing
_WEIGHT = {NOTHING: 0.0, WIPED: 2.0, CLEANED: 5.0}
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


def assigned(work: Work, order: Sequence[int]) -> list[Held | None]:
    """For each place of an order, the brush that is taken; None for a stamp inked from its pad.

    The brush that needs least care; of those alike the one whose own ink is
    wanted again latest, as one throws out of a cache what is needed last.
    """
    wanted = _wanted_again(work, order)
    carries: dict[str, list[int]] = {size: [-1] * len(pool) for size, pool in work.pools.items()}
    found: list[Held | None] = []
    for place, i in enumerate(order):
        size = work.size[i]
        if not size:
            found.append(None)
            continue
        own, best, least = carries[size], -1, float("inf")
        kin = work.tasks[i].family
        for which, (since, kept) in enumerate(zip(own, work.pools[size], strict=True)):
            if kept is not None and kept != kin:
                continue
            cost = _cost(work, order, since, i, wanted) - (0.25 if kept is not None else 0.0)
            if cost < least:
                best, least = which, cost
        since = own[best]
        care = NOTHING if since < 0 or order[since] == i else work.care[order[since]][i]
        found.append(Held(best, care, since))
        own[best] = place
    return found


def _cost(work: Work, order: Sequence[int], since: int, i: int, wanted: list[int]) -> float:
    if since < 0:
        return _FRESH
    last = order[since]
    if work.tasks[last].ink == work.tasks[i].ink:
        return 0.0
    # a brush whose own ink is wanted soon is better left alone
    return (
        _WEIGHT[work.care[last][i]]
        + (0.45 if wanted[since] < FAR else 0.2)
        + 0.1 / (1 + wanted[since] - since)
    )


def _wanted_again(work: Work, order: Sequence[int]) -> list[int]:
    """For each place, the next place that takes the same ink with the same size of brush."""
    upcoming: dict[tuple[str, str], int] = {}
    found = [FAR] * len(order)
    for place in range(len(order) - 1, -1, -1):
        known = work.size[order[place]], work.tasks[order[place]].ink
        found[place] = upcoming.get(known, FAR)
        upcoming[known] = place
    return found
