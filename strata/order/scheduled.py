"""A plan that was found as a schedule: in minutes, by keys, with its waits and what they are for."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from strata.order.begun import OUT, Begun
from strata.order.done import Did, Timed
from strata.order.found import Found
from strata.order.ledger import Cause, Ledger
from strata.order.other_work import filled
from strata.order.schedule import Action, Schedule, Why
from strata.order.second_copy import told_apart
from strata.order.ticks import A_MINUTE, Work, ticks
from strata.order.wetness import laid_on_wet

NEAR = 4
# things after a wait among which is the one that it is for


def scheduled(work: Work, found: Found) -> Schedule:
    """A plan that was found as a schedule: in minutes, by keys, with a wait wherever the hands are idle.

    Its bound is of the inking and of what can only follow it; with other work
    beside it a plan is proven only where that costs no minute.
    """
    whole, told = told_of(work, found)
    actions = tuple(action for action, _ in told)
    least = found.bound + _after_all(work, found.begun)
    proven = found.proven and whole.end <= least
    wet = frozenset(work.tasks[i].key for i in laid_on_wet(work, whole.did))
    return Schedule(actions, found.by, least / A_MINUTE, proven, wet, len(found.begun.did))


def _after_all(work: Work, begun: Begun) -> int:
    """Ticks that work on dry cards takes at least, all hands together."""
    there = {d.of for d in begun.done("prep")}
    left = (ticks(j.minutes) for n, j in enumerate(work.instance.jobs) if j.last and n not in there)
    return sum(left) // work.instance.rules.hands


def told_of(work: Work, found: Found) -> tuple[Timed, list[tuple[Action, int | None]]]:
    """The whole plan in time, in its order, and its actions: each with its place among what is done, None for a wait.

    What was done before it was planned comes first, as it was done.
    """
    whole, past = filled(work, found.timed, found.begun), len(found.begun.did)
    did = sorted(whole.did[past:], key=lambda d: (d.start, d.start + d.length))
    whole = replace(whole, did=[*whole.did[:past], *did])
    told = list(_with_waits(work, whole, found.begun))
    return whole, [*told[:past], *sorted(told[past:], key=lambda pair: pair[0].starts)]


def _with_waits(work: Work, timed: Timed, begun: Begun) -> Iterable[tuple[Action, int | None]]:
    ledger, clock, did = Ledger(work), begun.at, timed.did
    last = [
        Did("end", timed.end, 0, card, 0) for card, make in enumerate(work.instance.cards, 1) if make != OUT
    ]
    for n, one in enumerate(did):
        if one.who == 1 and one.start > clock and n >= len(begun.did):
            yield _wait(ledger, clock, one.start, did[n : n + NEAR]), None
        yield _action(work, _told_why(work, one, did, n)), n
        ledger.note(one)
        if one.who == 1:
            clock = max(clock, one.start + one.length)
    if timed.end > clock and last:
        yield _wait(ledger, clock, timed.end, last), None


def _told_why(work: Work, one: Did, did: Sequence[Did], here: int) -> Did:
    """A cleaned sheet with the ink that is left on it (``of``) and the first that must not meet it (``i``)."""
    if one.kind not in work.minutes.sheet_dry:
        return one
    left: list[int] = []
    for d in did[:here]:
        if d.sheet == one.sheet and d.kind == "ink":
            left.append(d.i)
        elif d.sheet == one.sheet and d.kind in work.minutes.sheet_dry:
            left = [] if d.kind == "wash" else [j for j in left if not work.thin >> j & 1]
    if one.kind == "damp":
        left = [j for j in left if work.thin >> j & 1]
    for d in did[here + 1 :]:
        met = [j for j in left if d.kind == "ink" and d.sheet == one.sheet and work.clash[d.i] >> j & 1]
        if met:
            return one._replace(i=d.i, of=met[-1])
    return one


def _wait(ledger: Ledger, clock: int, until: int, following: list[Did]) -> Action:
    causes = [(cause, one) for one in following for cause in ledger.causes(one)]
    reached = [(c, one) for c, one in causes if c.at <= until + ledger.work.minutes.enough]
    # the latest that is ready just then; of those alike, of what is done soonest
    cause, one = max(reached, key=lambda found: found[0].at, default=(Cause(0, Why("rest")), following[0]))
    sheet, copy = told_apart(one.sheet) if cause.why.waits == "sheet" else (None, 1)
    length = (until - clock) / A_MINUTE
    return Action("wait", clock / A_MINUTE, length, one.card, sheet, why=cause.why, copy=copy)


def _action(work: Work, did: Did) -> Action:
    key = work.tasks[did.i].key if did.i >= 0 else None
    size = work.size[did.i] if did.i >= 0 else ""
    meeting = None
    of = work.tasks[did.of].key if did.of >= 0 and did.kind != "prep" else None
    if did.kind in ("ink", "wipe", "clean") and of is not None and key is not None:
        meeting = work.instance.care.get((of, key))
    if did.kind == "seal":
        own = work.instance.cards[did.card - 1]
        of = next((t.key for t in work.tasks if t.seal and t.make == own), None)
    sheet, copy = told_apart(did.sheet)
    return Action(
        did.kind,
        did.start / A_MINUTE,
        did.length / A_MINUTE,
        did.card or 1,
        None if did.kind in ("seal", "heat", "prep") else sheet,
        key if did.kind == "ink" else None,
        (size, did.brush) if did.brush >= 0 and size else None,
        tuple(sorted(did.cover)),
        Why(of=of, serves=key, meeting=meeting),
        did.who,
        work.instance.jobs[did.of].key if did.kind == "prep" else None,
        copy,
    )
