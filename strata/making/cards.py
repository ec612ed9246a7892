"""What is really on a card, as a plan: passes as they were laid, with what is left to be laid."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from strata.errors import StrataError
from strata.formats.build_file import read_pass
from strata.making.events import Event
from strata.order.precedence import precedences_of
from strata.plan.model import Pass, Plan
from strata.plan.scene import Scene

HOW = ("ink", "coats", "hand", "brush")
SMUDGE_GENERATION = 3
# the film that a finger or a sheet drags along: a fifth of the ink


@dataclass(frozen=True)
class Card:
    """``plan``: all passes of a card, as laid and as still to be laid; ``inked``: those laid, in their order.

    ``seen``: the same plan with the smears on it, which are looked at and not
    worked by; ``layers``: what lies there, smears among it, in the order in
    which it came.
    """

    number: int
    plan: Plan
    seen: Plan
    inked: tuple[str, ...]
    layers: tuple[str, ...]
    spoilt: bool = False


def again_key(event: Event) -> str:
    """The key of the pass that is laid once more."""
    return f"{event.pass_key[:40]}+{event.key[:12]}"


def smear_key(event: Event) -> str:
    """The key of the film that was dragged along."""
    return f"~{event.key[:40]}"


def card_of(scene: Scene, number: int, events: Sequence[Event]) -> Card:
    """A card from what happened to it (live events of this card, in their order)."""
    inked = [e for e in events if e.is_ink]
    order = tuple(dict.fromkeys(e.pass_key for e in inked))
    repeated = {again_key(e) for e in events if e.kind == "again"}
    passes = _as_inked(scene, {e.pass_key: e.body.get("as") for e in inked if e.pass_key not in repeated})
    for event in events:
        if event.kind in _CHANGES:
            passes = _CHANGES[event.kind](passes, event, order)
    there = {p.key for p in passes}
    order = tuple(k for k in order if k in there)
    plan = _in_real_order(scene, replace(scene.plan, passes=tuple(passes)), order)
    seen = _with_smears(plan, events)
    shown = {p.key for p in seen.passes}
    came = (
        smear_key(e) if e.kind == "smudged" else e.pass_key for e in events if e.is_ink or e.kind == "smudged"
    )
    layers = tuple(k for k in dict.fromkeys(came) if k in shown)
    return Card(number, plan, seen, order, layers, any(e.kind == "spoilt" for e in events))


def _as_inked(scene: Scene, laid: Mapping[str, Any]) -> list[Pass]:
    """The passes of the plan, those that were laid as they were when they were; also those that left the plan since."""
    found = {p.key: p for p in scene.plan.passes}
    for key, value in laid.items():
        if value is None:
            continue
        try:
            item = replace(read_pass(value, 0, scene.plan.things), key=key)
            scene.with_plan(replace(scene.plan, passes=(item,)))
        except StrataError:
            continue  # its thing is no longer on the panel: nothing of it can be shown
        found[key] = item
    return list(found.values())


def _otherwise(passes: list[Pass], event: Event, _: Sequence[str]) -> list[Pass]:
    how = {name: event.body[name] for name in HOW if name in event.body}
    return [replace(p, **how) if p.key == event.pass_key else p for p in passes]


def _skipped(passes: list[Pass], event: Event, inked: Sequence[str]) -> list[Pass]:
    return [p for p in passes if p.key != event.pass_key or p.key in inked]


def _again(passes: list[Pass], event: Event, _: Sequence[str]) -> list[Pass]:
    how = {name: event.body[name] for name in HOW if name in event.body}
    found: list[Pass] = []
    for p in passes:
        found.append(p)
        if p.key == event.pass_key:
            # in its place, wherever the one below lies
            found.append(replace(p, **{"coats": 1, **how}, key=again_key(event), slip=(0.0, 0.0)))
    return found


def _slipped(passes: list[Pass], event: Event, _: Sequence[str]) -> list[Pass]:
    by = (float(event.body["dx"]), float(event.body["dy"]))
    return [replace(p, slip=by) if p.key in event.body["passes"] else p for p in passes]


_CHANGES = {"otherwise": _otherwise, "skipped": _skipped, "again": _again, "slipped": _slipped}


def _in_real_order(scene: Scene, plan: Plan, inked: Sequence[str]) -> Plan:
    """What was laid over what it should lie under is shown there: first all that is laid, in its order."""
    place = {key: n for n, key in enumerate(inked)}
    late = len(place)
    rules = precedences_of(scene.with_plan(plan)) if place else []
    if all(place.get(r.before, late) < place[r.after] for r in rules if r.after in place):
        return plan
    passes = sorted(plan.passes, key=lambda p: place.get(p.key, late))
    return replace(plan, passes=tuple(passes))


def _with_smears(plan: Plan, events: Iterable[Event]) -> Plan:
    found = list(plan.passes)
    for event in events:
        if event.kind != "smudged":
            continue
        at = next((n for n, p in enumerate(found) if p.key == event.pass_key), None)
        if at is None:
            continue
        by = (float(event.body["dx"]), float(event.body["dy"]))
        smear = replace(
            found[at], key=smear_key(event), slip=by, hand="light", coats=1, generation=SMUDGE_GENERATION
        )
        found.insert(at + 1, smear)
    return replace(plan, passes=tuple(found))
