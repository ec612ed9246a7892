"""Why a step stands where it does, and what it would cost to do it earlier."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, replace

from strata.order.done import Did
from strata.order.found import Found
from strata.order.instance import Instance
from strata.order.ledger import Cause, Ledger
from strata.order.narration import called
from strata.order.planning import search
from strata.order.precedence import Rule
from strata.order.scheduled import told_of
from strata.order.ticks import A_MINUTE, Work
from strata.order.wish import Wish
from strata.phrases import listed
from strata.plan.scene import Scene

FAR_BACK = 40
# links of the chain that are followed; hands that are busy are told once


@dataclass(frozen=True)
class Explained:
    """``because``: what the step waits for, followed back. ``earlier``: before what pass it could be
    done instead, with its key.

    ``cost``: minutes more that the whole plan would take with it done before
    ``earlier``, None where ``forbids`` says what forbids it.
    """

    because: tuple[str, ...]
    earlier: str | None = None
    earlier_key: str | None = None
    cost: float | None = None
    forbids: str | None = None


def explain(scene: Scene, work: Work, found: Found, place: int) -> Explained:
    """Of the thing at a place of the plan as it is told (``told_of``); raises IndexError."""
    whole, told = told_of(work, found)
    did, here = whole.did, told[place][1]
    if here is None:
        return Explained(())
    because = tuple(_chain(scene, work, did, here))
    one = did[here]
    if one.kind != "ink" or len(work.instance.cards) > 1:
        return Explained(because)
    return _earlier(scene, work, found, did, here, because)


def _chain(scene: Scene, work: Work, did: list[Did], here: int) -> list[str]:
    """What decided when it begins, and what decided that: a rule or a drying before “the hands were busy”."""
    told: list[str] = []
    busy = False
    for _ in range(FAR_BACK):
        one = did[here]
        causes = _causes(work, did, here)
        cause = max(causes, key=lambda c: c.at, default=None)
        if cause is not None and cause.at >= one.start - work.minutes.enough and cause.at > 0:
            told.append(_said(scene, work, cause))
            of = cause.why.of
            here = next((n for n, d in enumerate(did) if d.kind == "ink" and of == _key(work, d)), here)
            if did[here] is one:
                break
            continue
        before = [n for n in range(here) if did[n].who == one.who]
        if not before:
            break
        here = before[-1]
        if not busy:
            told.append(f"Until then your hands are busy: {_doing(scene, work, did[here])}.")
        busy = True
    return list(dict.fromkeys(told)) or ["Nothing comes before it."]


def _causes(work: Work, did: list[Did], here: int) -> list[Cause]:
    ledger = Ledger(work)
    for one in did[:here]:
        ledger.note(one)
    return list(ledger.causes(did[here]))


def _key(work: Work, did: Did) -> str | None:
    return work.tasks[did.i].key if did.i >= 0 else None


def _said(scene: Scene, work: Work, cause: Cause) -> str:
    why = cause.why
    minute = f"{cause.at / A_MINUTE:.0f}"
    if why.of is None:
        what = {
            "sheet": "The cleaned sheet",
            "brush": "The cleaned brush",
            "seal": "The fixative",
            "rack": "A card on the rack",
        }.get(why.waits or "", "It")
        return f"{what} is dry in minute {minute}."
    dry = work.instance.by_key[why.of].dry
    return f"{called(scene, why.of)} takes {dry:g} minutes to dry and is dry in minute {minute}."


def _doing(scene: Scene, work: Work, did: Did) -> str:
    words = {
        "place": "seating the sheet",
        "lift": "lifting the sheet",
        "damp": "going over the sheet with a damp wipe",
        "wash": "washing the sheet",
        "mask": "laying a mask",
        "unmask": "lifting a mask",
        "wipe": "wiping a brush",
        "clean": "cleaning a brush",
        "heat": "with the heat tool",
        "seal": "sealing",
        "glue": "gluing",
        "prep": "with other work",
    }
    key = _key(work, did)
    return called(scene, key) if did.kind == "ink" and key else words.get(did.kind, did.kind)


def _earlier(
    scene: Scene, work: Work, found: Found, did: list[Did], here: int, because: tuple[str, ...]
) -> Explained:
    """What would follow if a pass were done before the one that now goes before it."""
    i = did[here].i
    before = [d.i for d in did[:here] if d.kind == "ink"]
    if not before:
        return Explained(because)
    other = before[-1]
    key, passed = work.tasks[i].key, work.tasks[other].key
    name = called(scene, passed)
    if work.below[i] >> other & 1:
        rules = _shortest(work.instance, passed, key)
        return Explained(because, name, passed, None, listed([r.reason.rstrip(".") for r in rules]) + ".")
    pinned = Rule.pin(key, passed)
    tried = Work(replace(work.instance, precedences=(*work.instance.precedences, pinned)))
    # measured against what as short a search finds without the pin, so that a plan not yet searched does not hide it
    free = min(found.timed.end, search(work, Wish(budget=0)).timed.end)
    return Explained(because, name, passed, (search(tried, Wish(budget=0)).timed.end - free) / A_MINUTE)


def _shortest(instance: Instance, first: str, last: str) -> list[Rule]:
    """The shortest chain of rules from one pass to another."""
    after: dict[str, list[Rule]] = {}
    for rule in instance.precedences:
        after.setdefault(rule.before, []).append(rule)
    reached: dict[str, list[Rule]] = {first: []}
    queue = deque([first])
    while queue:
        here = queue.popleft()
        for rule in after.get(here, ()):
            if rule.after not in reached:
                reached[rule.after] = [*reached[here], rule]
                queue.append(rule.after)
    return reached.get(last, [])
