"""Other work of the evening: what has to be cut, folded, printed and cleaned beside the inking, done in its waits."""

from __future__ import annotations

from collections.abc import Sequence

from strata.order.begun import NOT_YET, Begun
from strata.order.done import Did, Timed
from strata.order.ticks import Work, ticks
from strata.plan.wishes import OtherWork


def filled(work: Work, timed: Timed, begun: Begun = NOT_YET) -> Timed:
    """The plan with its other work put where the hands would wait; what fits in no wait is done at the end.

    What a pass cannot do without is done before it, in the first minutes
    where no wait comes earlier; what needs dry cards, when all are. A second
    pair of hands takes it all. Nothing is put into what was done before
    (``begun``).
    """
    past, did, end = list(begun.did), list(timed.did[len(begun.did) :]), timed.end
    who = work.instance.rules.hands
    there = {d.of for d in begun.done("prep")}
    jobs = [(n, job) for n, job in enumerate(work.instance.jobs) if n not in there]
    over = {work.instance.jobs[d.of].key: d.start + d.length for d in begun.done("prep")}
    for n, job in sorted(jobs, key=lambda found: (found[1].last, found[1].before is None, found[0])):
        length = ticks(job.minutes)
        until = _needed(work, did, job)
        since = max(begun.at, over.get(job.after or "", 0))
        start = end if job.last else _room(did, (since, end), length, until, who)
        if start is None and job.before is not None:
            # nothing waits before it is needed: everything else begins later
            did = [d._replace(start=d.start + length) for d in did]
            over = {key: at + length for key, at in over.items()}
            start, end = begun.at, end + length
        elif start is None:
            start = max((d.start + d.length for d in did if d.who == who), default=begun.at)
            start = max(start, since)
        did.append(Did("prep", start, length, 0, 0, of=n, who=who))
        over[job.key] = start + length
        end = max(end, start + length)
    did.sort(key=lambda d: (d.start, d.start + d.length))
    return Timed(work, [*past, *did], end)


def _needed(work: Work, did: Sequence[Did], job: OtherWork) -> int | None:
    """When a job must be done: before the sheet is seated for its pass, or for another of that group on any card."""
    if job.before is None:
        return None
    own = work.tasks[work.index[job.before]].group
    alike = (d.start for d in did if d.kind == "ink" and work.tasks[d.i].group == own)
    inked = min(alike, default=0)
    return max((d.start for d in did if d.kind == "place" and d.start <= inked), default=inked)


def _room(did: Sequence[Did], span: tuple[int, int], length: int, until: int | None, who: int) -> int | None:
    """The earliest moment in a span when those hands are free for so long, None where there is none in time."""
    clock, end = span
    limit = end if until is None else until
    for one in sorted((d for d in did if d.who == who), key=lambda d: d.start):
        if one.start - clock >= length and clock + length <= limit:
            return clock
        clock = max(clock, one.start + one.length)
    return clock if clock + length <= limit else None
