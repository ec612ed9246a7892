"""A class at one card: how many sets of pads it takes, who shares one, and when each is to begin.

Everybody follows the same order of work. Two who share a set of pads must
never want the same pad at once: the times by which their beginnings may not
lie apart are a union of open intervals, and the shortest that is none of them,
nor any of its multiples, is looked for.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from strata.errors import finite
from strata.order.steps import Step
from strata.plan.media import BOTTLES
from strata.plan.model import Plan

MOST_PEOPLE = 60
GRAIN = 0.5
# minutes: nobody begins by the second
LONGEST = 2.0
# times the length of the card, after which nobody waits for her turn

Used = Mapping[str, Sequence[tuple[float, float]]]


@dataclass(frozen=True)
class Kit:
    """So many sets of pads; at most ``sharing`` at each, beginning ``apart`` minutes after one another; until all are done."""

    sets: int
    sharing: int
    apart: float
    minutes: float


def pads_used(plan: Plan, steps: Sequence[Step]) -> dict[str, list[tuple[float, float]]]:
    """From when to when each pad is wanted, minutes, by key; bottles are no pads."""
    items = {p.key: p for p in plan.passes}
    found: dict[str, list[tuple[float, float]]] = defaultdict(list)
    for step in steps:
        if step.kind == "ink" and step.pass_key in items:
            for ink in items[step.pass_key].stripes:
                if ink not in BOTTLES:
                    found[ink].append((step.starts, step.starts + step.minutes))
    return dict(found)


def kits(used: Used, minutes: float, people: int) -> list[Kit]:
    """The ways to seat a class, fewest sets of pads first; the last needs one for everybody. Raises BadValue."""
    count = int(finite(people, "people", 1, MOST_PEOPLE))
    forbidden = _forbidden(used)
    found: list[Kit] = []
    for sets in range(1, count + 1):
        sharing = -(-count // sets)
        if found and found[-1].sharing == sharing:
            continue  # as many share with fewer sets
        apart = _apart(forbidden, sharing, LONGEST * minutes)
        if apart is not None:
            found.append(Kit(sets, sharing, apart, minutes + (sharing - 1) * apart))
    return found


def _forbidden(used: Used) -> list[tuple[float, float]]:
    """By how much the beginnings of two may not lie apart (open intervals, minutes, merged)."""
    clashes = sorted(
        (b0 - a1, b1 - a0) for spans in used.values() for a0, a1 in spans for b0, b1 in spans if b1 - a0 > 0
    )
    merged: list[tuple[float, float]] = []
    for low, high in clashes:
        if merged and low < merged[-1][1]:
            merged[-1] = (merged[-1][0], max(high, merged[-1][1]))
        else:
            merged.append((low, high))
    return merged


def _apart(forbidden: Sequence[tuple[float, float]], sharing: int, longest: float) -> float | None:
    if sharing == 1:
        return 0.0
    for n in range(int(longest / GRAIN) + 1):
        apart = n * GRAIN
        if not any(low < m * apart < high for m in range(1, sharing) for low, high in forbidden):
            return apart
    return None


@dataclass(frozen=True)
class Turn:
    """A pad in somebody's hands, minutes from the first beginning; ``seat`` counts from 1 at each set of pads."""

    ink: str
    seat: int
    begins: float
    ends: float


def turns(used: Used, kit: Kit) -> Iterator[Turn]:
    """Who has which pad when, at one set of pads: pad by pad."""
    for ink, spans in used.items():
        every = [
            Turn(ink, seat + 1, s + seat * kit.apart, e + seat * kit.apart)
            for seat in range(kit.sharing)
            for s, e in spans
        ]
        yield from sorted(every, key=lambda t: t.begins)
