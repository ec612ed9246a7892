"""Edits of the panel: its size, what lies on it, where, over what, and what a mask does when."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import shapely

from strata import readings
from strata.errors import BadValue
from strata.panel.things import IMAGE, MOST_NAME, NOUNS, Place, Thing
from strata.panel.values import PARTS, read_cards, read_part, read_shape, read_sheets, read_size, read_thing
from strata.plan.edits import Values, edit, loosened, text, whole
from strata.plan.model import Plan
from strata.plan.scene import Scene


def _swapped(plan: Plan, thing: Thing) -> Plan:
    return replace(plan, things=tuple(thing if t.key == thing.key else t for t in plan.things))


def _number(value: Any, field: str) -> float:
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise BadValue(f"{field} must be a number.", field)
    return float(value)


_SIZES = ("width", "height", "trim", "format", "lying", "whole")


@edit("set_panel")
def set_panel(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Another size, by mm or by a format; what lies on it keeps its place about the middle."""
    size = read_size({k: v for k, v in values.items() if k in _SIZES})
    if size is None:
        raise BadValue("Say how large the panel is.", "panel")
    old = scene.layer_set.size
    dx, dy = (size.width - old.width) / 2, (size.height - old.height) / 2

    def shifted(thing: Thing) -> Thing:
        if thing.kind == "mask" and thing.shape is not None and thing.shape.of:
            return thing  # it goes with what it is cut from
        at = scene.placed(thing)
        return replace(thing, place=replace(at, x=at.x + dx, y=at.y + dy))

    things = tuple(shifted(t) for t in scene.plan.things) if dx or dy else scene.plan.things
    materials = replace(scene.plan.materials, panel=size)
    return replace(scene.plan, materials=materials, things=things), "Another size of panel"


@edit("set_light")
def set_light(scene: Scene, values: Values) -> tuple[Plan, str]:
    """The side to which all shadows of the card fall."""
    angle = _number(values.get("angle"), "angle")
    return replace(
        scene.plan, materials=replace(scene.plan.materials, light=angle)
    ), "Shadows to another side"


def _free_name(scene: Scene, wanted: str) -> str:
    taken = {t.name for t in scene.plan.things} | set(scene.layer_set.elements)
    taken |= {e.split(": ", 1)[0] for e in scene.layer_set.elements}
    name = wanted.replace(": ", " ")[: MOST_NAME - 4] or "thing"
    found, n = name, 2
    while found in taken:
        found, n = f"{name} {n}", n + 1
    return found


def _middled(scene: Scene, asked: Mapping[str, Any], middle: dict[str, float]) -> dict[str, float]:
    """The place at which the sheets that are used, and not their page, lie in the middle."""
    own, used = scene.sets.get(str(asked.get("source"))), asked.get("sheets")
    if own is None or not isinstance(used, list) or not used:
        return middle
    shapes = [o.polygon for s in own.sheets if s.number in used for o in s.openings]
    if not shapes:
        return middle
    x0, y0, x1, y1 = shapely.union_all(shapes).bounds
    return {"x": middle["x"] + (own.width - x0 - x1) / 2, "y": middle["y"] + (own.height - y0 - y1) / 2}


@edit("add_thing")
def add_thing(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Lay something on the panel: a set, a mask, a piece of card, words, a note."""
    asked = dict(readings.mapping(values.get("thing"), "thing"))
    asked["number"] = max((t.number for t in scene.plan.things), default=0) + 1
    kind = asked.get("kind")
    name = asked.get("name") or (NOUNS.get(kind, "") if isinstance(kind, str) else "")
    if not isinstance(name, str):
        raise BadValue("A name is words.", "name")
    asked["name"] = _free_name(scene, name)
    size = scene.layer_set
    taken_from = isinstance(asked.get("shape"), Mapping) and asked["shape"].get("of")
    if asked.get("place") is None:
        middle = {"x": 0.0, "y": 0.0} if taken_from else {"x": size.width / 2, "y": size.height / 2}
        asked["place"] = _middled(scene, asked, middle)
    thing = read_thing(asked)
    if thing.key in {t.key for t in scene.plan.things}:
        raise BadValue("Two things carry the same key.", "thing")
    # a mask that is cut from what lies there goes on top of the list, as everything new does
    plan = replace(scene.plan, things=(*scene.plan.things, thing))
    return plan, f"Lay on {scene.called(thing)}"


@edit("copy_thing")
def copy_thing(scene: Scene, values: Values) -> tuple[Plan, str]:
    """The same once more, a little aside; of a set, without its inks."""
    thing = scene.plan.thing(text(values, "thing"))
    at = scene.placed(thing)
    number = max(t.number for t in scene.plan.things) + 1
    name = _free_name(scene, scene.called(thing))
    place = replace(at, x=at.x + 6, y=at.y + 6)
    made = replace(thing, key=text(values, "key"), number=number, name=name, place=place)
    return replace(scene.plan, things=(*scene.plan.things, made)), f"{scene.called(thing)} once more"


def _family(plan: Plan, key: str) -> set[str]:
    """A thing with everything that lies on it."""
    found = {key}
    while more := {t.key for t in plan.things if t.on in found} - found:
        found |= more
    return found


@edit("move_thing")
def move_thing(scene: Scene, values: Values) -> tuple[Plan, str]:
    """To another place: x and y in mm, or ``by`` so many; turn in degrees, mirrored. What lies on it goes with it."""
    thing = scene.plan.thing(text(values, "thing"))
    at = scene.placed(thing)
    by = values.get("by")
    if "by" in values:
        both = readings.listing(by, "by")
        if len(both) != 2:
            raise BadValue("by says how far right and how far down.", "by")
        dx, dy = _number(both[0], "by"), _number(both[1], "by")
        moved = replace(at, x=at.x + dx, y=at.y + dy)
    else:
        x = _number(values["x"], "x") if "x" in values else at.x
        y = _number(values["y"], "y") if "y" in values else at.y
        moved = replace(at, x=x, y=y)
    turn = values.get("turn", moved.turn)
    mirrored = values.get("mirrored", moved.mirrored)
    if not {"x", "y", "by", "turn", "mirrored"} & set(values):
        raise BadValue("Say where to.", "by")
    moved = replace(moved, turn=(_number(turn, "turn") + 180) % 360 - 180, mirrored=mirrored)
    plan = _swapped(scene.plan, replace(thing, place=moved))
    dx, dy = moved.x - at.x, moved.y - at.y
    for key in _family(scene.plan, thing.key) - {thing.key}:
        other = plan.thing(key)
        if other.shape is not None and other.shape.of and other.kind == "mask":
            continue
        place = scene.placed(other)
        plan = _swapped(plan, replace(other, place=replace(place, x=place.x + dx, y=place.y + dy)))
    word = "Turn" if moved.turn != at.turn else "Turn over" if moved.mirrored != at.mirrored else "Move"
    return plan, f"{word} {scene.called(thing)}"


@edit("raise_thing")
def raise_thing(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Forward (+) or back (-) in what lies over what."""
    thing = scene.plan.thing(text(values, "thing"))
    by = whole(values, "by")
    things = [t for t in scene.plan.things if t.key != thing.key]
    at = scene.plan.things.index(thing)
    to = max(0, min(len(things), at + by))
    things.insert(to, thing)
    word = "forward" if by > 0 else "back"
    if to == at:
        raise BadValue(f"{scene.called(thing)} is as far {word} as it goes.", "by")
    return replace(scene.plan, things=tuple(things)), f"{scene.called(thing)} {word}"


@edit("rename_thing")
def rename_thing(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Another name; what lies on it is called after it."""
    thing = scene.plan.thing(text(values, "thing"))
    name = text(values, "name").strip()
    if name == thing.name:
        raise BadValue(f"It is called “{name}” already.", "name")
    if _free_name(scene, name) != name:
        raise BadValue(f"There is something called “{name}” already.", "name")
    other, laid = replace(thing, name=name), scene.layer_set
    told = {
        element: other.element(thing.own_element(element))
        for element, sheet in laid.groups
        if laid.origin(sheet).thing == thing.key
    }

    def cut(mask: Thing) -> Thing:
        """A mask that may be cut from parts of it."""
        shape = mask.shape
        if shape is None or shape.of != thing.key:
            return mask
        return replace(mask, shape=replace(shape, elements=tuple(told.get(e, e) for e in shape.elements)))

    plan = scene.plan
    plan = replace(
        plan,
        things=tuple(cut(t) for t in _swapped(plan, other).things),
        passes=tuple(replace(p, element=told.get(p.element, p.element)) for p in plan.passes),
        bare=tuple((told.get(element, element), sheet) for element, sheet in plan.bare),
        schools={told.get(k, k): v for k, v in plan.schools.items()},
        # what was left of its warnings goes by the old name
        left=tuple(k for k in plan.left if not any(f"|{e}" in k or f",{e}" in k for e in told)),
    )
    return plan, f"Call it {name}"


@edit("remove_thing")
def remove_thing(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Take it off the panel, with its inks and with the masks that were cut from it."""
    thing = scene.plan.thing(text(values, "thing"))
    gone = {thing.key}
    gone |= {t.key for t in scene.plan.things if t.shape is not None and t.shape.of in gone}
    laid = scene.layer_set
    lost = {p.key for p in scene.plan.passes if laid.origin(p.sheet).thing in gone}
    kept = tuple(
        replace(t, on="") if t.on in gone else t for t in loosened(scene.plan, lost) if t.key not in gone
    )
    materials = scene.plan.materials
    if materials.panel is None and thing.key == IMAGE:
        materials = replace(materials, panel=laid.size)
    plan = replace(
        scene.plan,
        materials=materials,
        things=kept,
        passes=tuple(p for p in scene.plan.passes if p.key not in lost),
        bare=tuple(b for b in scene.plan.bare if b in laid.groups and laid.origin(b[1]).thing not in gone),
    )
    more = f" with {len(lost)} {'pass' if len(lost) == 1 else 'passes'}" if lost else ""
    return plan, f"Take {scene.called(thing)} off{more}"


@edit("set_thing")
def set_thing(scene: Scene, values: Values) -> tuple[Plan, str]:
    """What a thing is: its card, its words, its shape, its sheets, when a mask is on. None takes a card away."""
    thing = scene.plan.thing(text(values, "thing"))
    changes: dict[str, Any] = {}
    for name, part in PARTS.items():
        if name in values and name != "place":
            given = values[name]
            now = getattr(thing, name)
            known = {f: getattr(now, f) for f in part.__dataclass_fields__} if now is not None else {}
            whole_part = {**known, **readings.mapping(given, name)} if given is not None else None
            changes[name] = None if whole_part is None else read_part(part, whole_part, name)
    if "shape" in values:
        changes["shape"] = _reshaped(thing, values["shape"])
    if "sheets" in values:
        changes["sheets"] = read_sheets(values["sheets"], "sheets")
    if "cards" in values:
        changes["cards"] = read_cards(values["cards"], "cards")
    if "on" in values:
        on = values["on"]
        if not isinstance(on, str):
            raise BadValue("Say on which piece it lies.", "on")
        changes["on"] = on
    if not changes:
        raise BadValue("There is nothing to change.", "thing")
    made = replace(thing, **changes)
    return _without_lost(scene, _swapped(scene.plan, made)), f"Change {scene.called(thing)}"


def _reshaped(thing: Thing, given: Any) -> Any:
    now = thing.shape
    known: dict[str, Any] = {}
    if now is not None:
        known = {f: getattr(now, f) for f in now.__dataclass_fields__}
        known |= {"points": [list(p) for p in now.points], "elements": list(now.elements)}
    return read_shape({**known, **readings.mapping(given, "shape")})


def _without_lost(scene: Scene, plan: Plan) -> Plan:
    """The plan without passes on sheets that are not used any more."""
    laid = scene.laid_out(plan)
    lost = {p.key for p in plan.passes if p.group not in laid.groups}
    if not lost:
        return plan
    things = loosened(plan, lost)
    bare = tuple(b for b in plan.bare if b in laid.groups)
    return replace(plan, things=things, passes=tuple(p for p in plan.passes if p.key not in lost), bare=bare)


@edit("take_layout")
def take_layout(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Lay what lies here too as it lies in another colouring: ``places`` by key, and the panel's size."""
    plan = scene.plan
    size = read_size(values.get("panel"))
    if size is not None:
        plan = replace(plan, materials=replace(plan.materials, panel=size))
    for key, given in readings.mapping(values.get("places"), "places").items():
        known = next((t for t in plan.things if t.key == key), None)
        if known is not None:
            plan = _swapped(plan, replace(known, place=read_part(Place, given, "place")))
    return plan, "Lay it out as in the other colouring"
