"""Work that is under way: what was done of it, and what that leaves seated, covered, dirty, cleaned and finished."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

from strata.order.done import Did
from strata.order.ticks import CLEANED, OFF, WIPED, Work
from strata.order.visits import BARE, Cover

OUT = -1
# the make of a card that is spoilt: nothing more is done on it


@dataclass(frozen=True)
class Begun:
    """Things done, in their order, and when the work goes on (tick)."""

    did: tuple[Did, ...] = ()
    at: int = 0

    @cached_property
    def inked(self) -> tuple[Did, ...]:
        """The passes done, in their order."""
        return tuple(d for d in self.did if d.kind == "ink")

    @cached_property
    def pairs(self) -> frozenset[tuple[int, int]]:
        """(card, pass) done."""
        return frozenset((d.card, d.i) for d in self.inked)

    @cached_property
    def seated(self) -> tuple[int, int] | None:
        """(card, sheet) that lies on the card now."""
        now: tuple[int, int] | None = None
        for d in self.did:
            if d.kind in ("place", "ink", "mask"):
                now = (d.card, d.sheet)
            elif d.kind in OFF and now is not None and now[1] == d.sheet:
                now = None
        return now

    @cached_property
    def lying(self) -> int:
        """Passes (bits) that were done since a sheet was last placed."""
        found = 0
        for d in self.did:
            if d.kind == "place":
                found = 0
            elif d.kind == "ink":
                found |= 1 << d.i
        return found

    @cached_property
    def covers(self) -> dict[int, Cover]:
        """The mask that lies on each sheet."""
        found: dict[int, Cover] = {}
        for d in self.did:
            if d.kind in ("mask", "ink"):
                found[d.sheet] = d.cover
            elif d.kind in ("unmask", "damp", "wash"):
                found[d.sheet] = BARE
        return {s: cover for s, cover in found.items() if cover}

    def left(self, work: Work) -> dict[int, int]:
        """Passes (bits) whose ink is on each sheet since it was last clean."""
        clean = work.instance.lifted_clean
        found: dict[int, int] = {}
        for d in self.did:
            if d.kind == "ink":
                found[d.sheet] = found.get(d.sheet, 0) | 1 << d.i
            elif d.kind == "damp":
                found[d.sheet] = found.get(d.sheet, 0) & ~work.thin
            elif d.kind == "wash" or (d.kind == "lift" and d.sheet in clean):
                found[d.sheet] = 0
        return found

    def cared(self, work: Work) -> dict[tuple[str, int], int]:
        """What each brush was given since its last pass, by (size, which)."""
        found: dict[tuple[str, int], int] = {}
        for d in self.did:
            if d.i < 0:
                continue
            own = work.size[d.i], d.brush
            if d.kind == "ink":
                found[own] = 0
            elif d.kind in ("wipe", "clean"):
                found[own] = CLEANED if d.kind == "clean" else max(WIPED, found.get(own, 0))
        return found

    def done(self, kind: str) -> Iterable[Did]:
        """Things of a kind that were done."""
        return (d for d in self.did if d.kind == kind)


NOT_YET = Begun()
