"""Work in whole ticks: what planners count with, by index instead of by key.

A tick is a hundredth of a second. With whole numbers a plan that is found,
timed anew or proven is the same to the last digit wherever it is made.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from graphlib import TopologicalSorter

from strata.order import times
from strata.order.instance import Instance

A_MINUTE = 6000
NOTHING, WIPED, CLEANED = 0, 1, 2
OFF = ("lift", "damp", "wash")
# ways in which a sheet comes off: as it is, gone over with a damp wipe, washed
CARE = {"nothing": NOTHING, "wipe": WIPED, "clean": CLEANED}


def ticks(minutes: float) -> int:
    """Minutes as whole ticks."""
    return round(minutes * A_MINUTE)


@dataclass(frozen=True)
class Minutes:
    """How long everything takes that is the same for all passes, in ticks."""

    place: int
    lift: int = ticks(times.LIFT)
    wash: int = ticks(times.WASH)
    wash_dry: int = ticks(times.WASH_DRY)
    damp: int = ticks(times.DAMP)
    damp_dry: int = ticks(times.DAMP_DRY)
    mask: int = ticks(times.MASK)
    unmask: int = ticks(times.UNMASK)
    wipe: int = ticks(times.WIPE)
    clean: int = ticks(times.CLEAN)
    seal: int = ticks(times.SEAL)
    seal_dry: int = ticks(times.SEAL_DRY)
    glue: int = ticks(times.GLUE)
    enough: int = ticks(times.DRY_ENOUGH)

    @cached_property
    def off(self) -> Mapping[str, int]:
        """How long taking a sheet off takes, in each of the ways."""
        return {"lift": self.lift, "damp": self.damp, "wash": self.wash}

    @cached_property
    def sheet_dry(self) -> Mapping[str, int]:
        """How long a sheet dries that was cleaned in one of the ways."""
        return {"damp": self.damp_dry, "wash": self.wash_dry}


class Work:
    """An instance by index: pass i is ``tasks[i]``; all minutes in ticks, sets of passes as bits."""

    def __init__(self, instance: Instance) -> None:
        self.instance = instance
        self.tasks = instance.tasks
        self.count = len(self.tasks)
        self.index = {t.key: i for i, t in enumerate(self.tasks)}
        self.minutes = Minutes(ticks(instance.place_minutes))
        self.brush_dry = ticks(instance.rules.brush_dry)
        self.length = [ticks(t.minutes) for t in self.tasks]
        self.dry = [ticks(t.dry) for t in self.tasks]
        self.heated = [None if t.heated is None else ticks(t.heated) for t in self.tasks]
        self.sheet = [t.sheet for t in self.tasks]
        self.element = [t.element for t in self.tasks]
        self.make = [t.make for t in self.tasks]
        self.pools = instance.brushes
        self.size = [t.brush.key if t.brush else "" for t in self.tasks]
        self.needs = [frozenset(instance.masks[t.key]) for t in self.tasks]
        self.before = [[(self.index[r.before], r.dry) for r in instance.before[t.key]] for t in self.tasks]
        self.clash = [self._bits(instance.clashes[t.key]) for t in self.tasks]
        self.thin = self._bits(instance.thin)
        # two passes that are never done in one seating: the sheet is washed between them, or they are kept apart
        self.split = [
            self.clash[i] | self._bits(instance.apart.get(t.key, frozenset()))
            for i, t in enumerate(self.tasks)
        ]
        self.blocked = {s: self._bits(keys) for s, keys in instance.blocked.items()}
        makes = sorted(set(instance.cards))
        # a make may have no pass yet
        self.of_make = {m: [i for i in range(self.count) if self.make[i] == m] for m in makes}
        self.sealed = {m for i, m in enumerate(self.make) if self.tasks[i].seal}

    def _bits(self, keys: frozenset[str]) -> int:
        return sum(1 << self.index[k] for k in keys)

    @cached_property
    def care(self) -> list[list[int]]:
        """What a brush needs between pass i and pass j; NOTHING where they share no size."""
        found = [[NOTHING] * self.count for _ in range(self.count)]
        for (a, b), meeting in self.instance.care.items():
            found[self.index[a]][self.index[b]] = CARE[meeting.care]
        return found

    @cached_property
    def care_ticks(self) -> Mapping[int, int]:
        """How long each kind of care takes."""
        return {NOTHING: 0, WIPED: self.minutes.wipe, CLEANED: self.minutes.clean}

    @cached_property
    def touching(self) -> list[int]:
        """For each pass, as bits, the passes that share ground with it."""
        found = [0] * self.count
        for pair in self.instance.touching:
            a, b = (self.index[k] for k in pair)
            found[a] |= 1 << b
            found[b] |= 1 << a
        return found

    @cached_property
    def below(self) -> list[int]:
        """For each pass, as bits, all that must be down before it, directly or not."""
        found = [0] * self.count
        for i in TopologicalSorter({i: [j for j, _ in b] for i, b in enumerate(self.before)}).static_order():
            for j, _ in self.before[i]:
                found[i] |= found[j] | 1 << j
        return found

    @cached_property
    def above(self) -> list[int]:
        """For each pass, as bits, all that can come only after it."""
        return [sum(1 << i for i in range(self.count) if self.below[i] >> j & 1) for j in range(self.count)]
