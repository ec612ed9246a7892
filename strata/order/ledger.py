"""What is wet, dirty or drying at each moment of a plan: from when a thing can be done, and what it waits for."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from strata.order.done import Did
from strata.order.schedule import Why
from strata.order.second_copy import told_apart
from strata.order.ticks import Work


class Cause(NamedTuple):
    """From when (tick) something can be done, and why not before."""

    at: int
    why: Why


class Ledger:
    """The table as the work goes on: ask it what a thing waits for, then tell it that the thing was done."""

    def __init__(self, work: Work) -> None:
        self.work = work
        self.dry_at: dict[int, dict[int, int]] = {}
        self.sheet_dry: dict[int, int] = {}
        self.brush_dry: dict[tuple[str, int], int] = {}
        self.sealed: dict[int, int] = {}

    def causes(self, did: Did) -> Iterator[Cause]:
        """Whatever keeps a thing from being done earlier, the hands apart."""
        work = self.work
        key = work.tasks[did.i].key if did.i >= 0 else None
        wet = self.dry_at.get(did.card, {})
        if did.kind == "place":
            yield Cause(self.sheet_dry.get(did.sheet, 0), Why("sheet", serves=key))
            yield Cause(self.place_free(did.card), Why("rack", serves=key))
            blocked = work.blocked[told_apart(did.sheet)[0]]
            yield from (Cause(at, self._ink("ink", i, key)) for i, at in wet.items() if blocked >> i & 1)
        elif did.kind == "ink":
            for j, dry in work.before[did.i]:
                if dry and j in wet:
                    yield Cause(wet[j], self._ink("ground", j, key))
            yield Cause(self.brush_dry.get((work.size[did.i], did.brush), 0), Why("brush", serves=key))
        elif did.kind in ("seal", "glue", "end"):
            yield from (Cause(at, self._ink("panel", i, None)) for i, at in wet.items())
            yield Cause(self.sealed.get(did.card, 0), Why("seal"))
        elif did.kind == "prep" and work.instance.jobs[did.of].last:
            # every card must be dry, not one
            wets = (pair for own in self.dry_at.values() for pair in own.items())
            yield from (Cause(at, self._ink("panel", i, None)) for i, at in wets)
            yield Cause(max(self.sealed.values(), default=0), Why("seal"))

    def place_free(self, card: int) -> int:
        """When no more of the other cards are wet than the rack has places for."""
        places = self.work.instance.rules.rack
        if not places:
            return 0
        wet = sorted((max(own.values()) for c, own in self.dry_at.items() if c != card and own), reverse=True)
        return wet[places] if len(wet) > places else 0

    def _ink(self, waits: str, i: int, serves: str | None) -> Why:
        return Why(waits, self.work.tasks[i].key, serves)  # type: ignore[arg-type]

    def note(self, did: Did) -> None:
        """A thing was done."""
        end = did.start + did.length
        if did.kind == "ink":
            self.dry_at.setdefault(did.card, {})[did.i] = end + self.work.dry[did.i]
        elif did.kind in self.work.minutes.sheet_dry:
            self.sheet_dry[did.sheet] = end + self.work.minutes.sheet_dry[did.kind]
        elif did.kind == "clean":
            self.brush_dry[self.work.size[did.i], did.brush] = end + self.work.brush_dry
        elif did.kind == "heat":
            wet = self.dry_at.get(did.card, {})
            for i, at in wet.items():
                heated = self.work.heated[i]
                if heated is not None and heated <= did.length:
                    wet[i] = min(at, end)
        elif did.kind == "seal":
            self.sealed[did.card] = end + self.work.minutes.seal_dry
