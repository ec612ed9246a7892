"""Edits of the order of work: what is put first, what comes before what, how neighbours are parted, other work."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise
from typing import Any

from strata.errors import BadValue, TooLarge, UnknownName
from strata.plan.edits import Values, edit, names, text, whole
from strata.plan.model import Plan
from strata.plan.scene import Scene
from strata.plan.wishes import MOST_JOBS, OrderWishes, OtherWork

SAID: dict[str, dict[Any, str]] = {
    "first": {
        "time": "Least time first",
        "cleanings": "Few cleanings first",
        "placements": "Sheet by sheet",
        "masks": "Few masks first",
        "pads": "Colour by colour",
        "elements": "Element by element",
    },
    "hands": {1: "One pair of hands", 2: "A second pair of hands"},
    "heat": {True: "With the heat tool", False: "Without the heat tool"},
    "lead": {True: "One card first, then the rest", False: "All cards together"},
    "assembly": {True: "Put together at the table", False: "Put together another day"},
}


def _with(plan: Plan, wishes: OrderWishes) -> Plan:
    return replace(plan, order=wishes)


@edit("wish_order")
def wish_order(scene: Scene, values: Values) -> tuple[Plan, str]:
    """What is put first, who helps, whether there is a heat tool, whether one card leads, how long a brush dries, how many cards can."""
    known = {"first", "hands", "heat", "lead", "brush_dry", "rack", "assembly", "twice"}
    asked: dict[str, Any] = {k: v for k, v in values.items() if v is not None}
    if not asked or not set(asked) <= known:
        raise BadValue("Say what is wished of the order of work.", "order")
    if "twice" in asked:
        asked["twice"] = _owned_twice(scene, asked["twice"])
    wishes = replace(scene.plan.order, **asked)
    name, value = next(iter(asked.items()))
    others = {
        "twice": "Sheets that are there twice",
        "brush_dry": "How long a cleaned brush dries",
        "rack": "How many cards can dry at once",
    }
    said = SAID.get(name, {}).get(value, others.get(name, ""))
    return _with(scene.plan, wishes), said


def _owned_twice(scene: Scene, value: Any) -> tuple[int, ...]:
    """Numbers of stencil sheets, each once; raises BadValue."""
    may = {s.number for s in scene.layer_set.sheets if scene.layer_set.worked_as(s.number) == "stencil"}
    if not isinstance(value, list) or not all(isinstance(n, int) and n in may for n in value):
        raise BadValue("Only a stencil sheet of this panel can be there twice.", "twice")
    return tuple(sorted(set(value)))


@edit("pin_order")
def pin_order(scene: Scene, values: Values) -> tuple[Plan, str]:
    """One pass before another, because its maker wants it so."""
    pair = text(values, "before"), text(values, "after")
    before, after = (scene.plan.find(k) for k in pair)
    if before.key == after.key:
        raise BadValue("A pass cannot come before itself.", "after")
    wishes, other = scene.plan.order, (pair[1], pair[0])
    # turned round again is not a contradiction but another mind
    pins = [p for p in wishes.pins if p not in (pair, other)]
    label = f"{scene.ink(before).name} on {before.element} before {scene.ink(after).name} on {after.element}"
    return _with(scene.plan, replace(wishes, pins=(*pins, pair))), label


@edit("freeze_order")
def freeze_order(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Keep passes in just this order: each pinned before the next."""
    keys = [scene.plan.find(k).key for k in names(values, "passes")]
    if len(keys) < 2 or len(set(keys)) != len(keys):
        raise BadValue("Say which passes keep their order, each once.", "passes")
    place = {key: n for n, key in enumerate(keys)}
    wishes = scene.plan.order
    # what was wanted of these before is in the order that is kept, or is given up for it
    others = [p for p in wishes.pins if not set(p) <= set(place)]
    frozen = tuple(pairwise(keys))
    return _with(scene.plan, replace(wishes, pins=(*others, *frozen))), "Keep the order as it is"


@edit("unpin_order")
def unpin_order(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Leave an order to the planner again: one pin, or ``all`` of them."""
    wishes = scene.plan.order
    if values.get("all") is True:
        return _with(scene.plan, replace(wishes, pins=())), "Leave the order to be planned"
    pair = text(values, "before"), text(values, "after")
    if pair not in wishes.pins:
        raise UnknownName("That order is not pinned.", "before")
    pins = tuple(p for p in wishes.pins if p != pair)
    return _with(scene.plan, replace(wishes, pins=pins)), "Leave this order to be planned"


@edit("keep_apart")
def keep_apart(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Passes of one sheet that are done while it is seated for them alone; with ``apart`` false no more.

    ``after``: the pass behind which that return stays, if any.
    """
    own = [scene.plan.find(k) for k in names(values, "passes")]
    sheets = {p.sheet for p in own}
    if len(sheets) != 1:
        raise BadValue("A return is to one sheet: name passes of that.", "passes")
    keys = tuple(dict.fromkeys(p.key for p in own))
    wishes = scene.plan.order
    # a pass that is wanted in another return than before has left that one
    others = tuple(kept for r in wishes.returns if (kept := tuple(k for k in r if k not in keys)))
    called = f"sheet {sheets.pop()}"
    if values.get("apart") is False:
        if len(others) == len(wishes.returns) and others == wishes.returns:
            raise UnknownName("That return is not kept apart.", "passes")
        return _with(scene.plan, replace(wishes, returns=others)), f"The return to {called} as is quicker"
    pins = wishes.pins
    if "after" in values:
        after = scene.plan.find(text(values, "after")).key
        behind = [(after, key) for key in keys if key != after]
        pins = (*(p for p in pins if p not in behind and p[::-1] not in behind), *behind)
    changed = replace(wishes, returns=(*others, keys), pins=pins)
    return _with(scene.plan, changed), f"The return to {called} kept apart"


@edit("part_by")
def part_by(scene: Scene, values: Values) -> tuple[Plan, str]:
    """How a group is kept off its neighbours: behind a mask, with a lighter hand, or as is quicker (no ``way``)."""
    element, sheet = text(values, "element"), whole(values, "sheet")
    scene.layer_set.group(element, sheet)
    wishes = scene.plan.order
    rest = tuple(p for p in wishes.partings if p[:2] != (element, sheet))
    way = values.get("way")
    if way is None:
        return _with(scene.plan, replace(wishes, partings=rest)), f"{element}: mask or not, as is quicker"
    chosen = replace(wishes, partings=(*rest, (element, sheet, text(values, "way"))))
    said = "behind a mask" if way == "mask" else "with a lighter hand, no mask"
    return _with(scene.plan, chosen), f"{element} {said}"


@edit("add_job")
def add_job(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Other work for the waits."""
    wishes = scene.plan.order
    if len(wishes.jobs) >= MOST_JOBS:
        raise TooLarge(f"At most {MOST_JOBS} other jobs are kept.", "jobs")
    minutes = values.get("minutes")
    if isinstance(minutes, bool) or not isinstance(minutes, int | float):
        raise BadValue("Say how many minutes it takes.", "minutes")
    job = OtherWork(text(values, "key"), text(values, "name").strip(), float(minutes))
    return _with(scene.plan, replace(wishes, jobs=(*wishes.jobs, job))), f"In the waits: {job.name}"


@edit("drop_job")
def drop_job(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Other work is not to be done after all."""
    wishes, key = scene.plan.order, text(values, "key")
    found = next((j for j in wishes.jobs if j.key == key), None)
    if found is None:
        raise UnknownName("That is not on the list any more.", "key")
    rest = tuple(j for j in wishes.jobs if j.key != key)
    return _with(scene.plan, replace(wishes, jobs=rest)), f"Not in the waits: {found.name}"
