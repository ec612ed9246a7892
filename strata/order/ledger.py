"""What is wet, dirty or drying at each moment of a plan: from when a thing can be done, and what it waits for."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from strata.order.done import Did, Timed
from strata.order.found import Found
from strata.order.other_work import filled
from strata.order.schedule import Action, Schedule, Why
from strata.order.ticks import A_MINUTE, Work

NEAR = 4
# things after a wait among which is the one that it is for


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
            blocked = work.blocked[did.sheet]
            yield from (Cause(at, self._ink("ink", i, key)) for i, at in wet.items() if blocked >> i & 1)
        elif did.kind == "ink":
            for j, dry in work.before[did.i]:
                if dry and j in wet:
                    yield Cause(wet[j], self._ink("ground", j, key))
            yield Cause(self.brush_dry.get((work.size[did.i], did.brush), 0), Why("brush", serves=key))
        elif did.kind in ("seal", "glue", "end"):
            yield from (Cause(at, self._ink("panel", i, None)) for i, at in wet.items())
            yield Cause(self.sealed.get(did.card, 0), Why("seal"))

    def _ink(self, waits: str, i: int, serves: str | None) -> Why:
        return Why(waits, self.work.tasks[i].key, serves)  # type: ignore[arg-type]

    def note(self, did: Did) -> None:
        """A thing was done."""
        end = did.start + did.length
        if did.kind == "ink":
            self.dry_at.setdefault(did.card, {})[did.i] = end + self.work.dry[did.i]
        elif did.kind == "wash":
            self.sheet_dry[did.sheet] = end + self.work.minutes.wash_dry
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


def scheduled(work: Work, found: Found) -> Schedule:
    """A plan that was found as a schedule: in minutes, by keys, with a wait wherever the hands are idle.

    Its bound and proof are of the inking; with other work beside it a plan is
    proven only where that costs no minute.
    """
    whole = filled(work, found.timed)
    actions = tuple(sorted(_with_waits(work, whole), key=lambda a: a.starts))
    proven = found.proven and whole.end <= found.timed.end
    return Schedule(actions, found.by, found.bound / A_MINUTE, proven)


def _with_waits(work: Work, timed: Timed) -> Iterable[Action]:
    ledger, clock = Ledger(work), 0
    did = sorted(timed.did, key=lambda d: (d.start, d.start + d.length))
    last = [Did("end", timed.end, 0, card, 0) for card in range(1, len(work.instance.cards) + 1)]
    for n, one in enumerate(did):
        if one.who == 1 and one.start > clock:
            yield _wait(ledger, clock, one.start, did[n : n + NEAR])
        yield _action(work, one)
        ledger.note(one)
        if one.who == 1:
            clock = max(clock, one.start + one.length)
    if timed.end > clock:
        yield _wait(ledger, clock, timed.end, last)


def _wait(ledger: Ledger, clock: int, until: int, following: list[Did]) -> Action:
    causes = [(cause, one) for one in following for cause in ledger.causes(one)]
    reached = [(c, one) for c, one in causes if c.at <= until + ledger.work.minutes.enough]
    # the latest that is ready just then; of those alike, of what is done soonest
    cause, one = max(reached, key=lambda found: found[0].at, default=(Cause(0, Why("rest")), following[0]))
    sheet = one.sheet if cause.why.waits == "sheet" else None
    return Action("wait", clock / A_MINUTE, (until - clock) / A_MINUTE, one.card, sheet, why=cause.why)


def _action(work: Work, did: Did) -> Action:
    key = work.tasks[did.i].key if did.i >= 0 else None
    size = work.size[did.i] if did.i >= 0 else ""
    meeting = None
    of = work.tasks[did.of].key if did.of >= 0 and did.kind != "prep" else None
    if did.kind in ("ink", "wipe", "clean") and of is not None and key is not None:
        meeting = work.instance.care.get((of, key))
    if did.kind == "seal":
        of = next(t.key for t in work.tasks if t.seal and t.make == work.instance.cards[did.card - 1])
    return Action(
        did.kind,
        did.start / A_MINUTE,
        did.length / A_MINUTE,
        did.card or 1,
        None if did.kind in ("seal", "heat", "prep") else did.sheet,
        key if did.kind == "ink" else None,
        (size, did.brush) if did.brush >= 0 and size else None,
        tuple(sorted(did.cover)),
        Why(of=of, serves=key, meeting=meeting),
        did.who,
        work.instance.jobs[did.of].key if did.kind == "prep" else None,
    )
