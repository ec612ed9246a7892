"""A plan as JSON: in the database, in the demo world, and as a file a maker can hand on.

Version 3: materials by themselves (the panel's size among them), the things on
the panel, and each pass says what it lies ``on``: a thing, and of a placed set
the element and sheet by its own names. Versions 1 (all flat) and 2 (one placed
set a build) are still read.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, fields
from types import MappingProxyType
from typing import Any

from strata import readings
from strata.errors import BadValue, TooLarge, UnknownName, finite
from strata.panel.laid import FREE
from strata.panel.things import BASE, IMAGE, Thing, the_image
from strata.panel.values import read_size, read_things, write_size, write_thing
from strata.plan.edits import form_from
from strata.plan.finish import read_finish, write_finish
from strata.plan.model import LOWER_LEFT, MOST_PASSES, MOST_SLIP, Form, Materials, Pass, Plan
from strata.plan.wishes import read_wishes, write_wishes

FORMAT, VERSION = "anastrata-build", 3
MATERIALS = ("stock", "register", "cards", "panel", "light")


def write_materials(materials: Materials) -> dict[str, Any]:
    """Materials as JSON values; without panel and light where they are as usual."""
    found = {name: getattr(materials, name) for name in ("stock", "register", "cards")}
    if materials.panel is not None:
        found["panel"] = write_size(materials.panel)
    if materials.light != LOWER_LEFT:
        found["light"] = materials.light
    return found


def write_passes(plan: Plan) -> dict[str, Any]:
    """A plan without its materials: what a colouring has of its own."""
    order = write_wishes(plan.order)
    return {
        **({"order": order} if order else {}),
        **({"finish": write_finish(plan.finish)} if plan.finish is not None else {}),
        "school": plan.school,
        "schools": dict(plan.schools),
        "things": [write_thing(t) for t in plan.things],
        "bare": [_spot_json(plan, element, sheet) for element, sheet in plan.bare],
        "passes": [write_pass(plan, p) for p in plan.passes],
        "left": list(plan.left),
    }


def write_plan(plan: Plan) -> dict[str, Any]:
    """The plan as JSON values that ``read_plan`` reads back identical."""
    return {"version": VERSION, "materials": write_materials(plan.materials), **write_passes(plan)}


def _spot_json(plan: Plan, element: str, sheet: int) -> dict[str, Any]:
    """What a pass lies on: the thing (none: the bare panel), and the element and sheet by that thing's own names."""
    if sheet == FREE:
        return {"thing": "", "element": element, "sheet": FREE}
    thing = next((t for t in plan.things if t.number == sheet // BASE), the_image())
    return {"thing": thing.key, "element": thing.own_element(element), "sheet": sheet % BASE}


_USUAL = {f.name: f.default for f in fields(Pass) if f.name in ("medium", "generation", "width")}


def _form_json(form: Form) -> dict[str, Any]:
    if form == Form():
        return {"kind": form.kind}
    return {k: v for k, v in asdict(form).items() if k not in ("soft", "join") or v}


def write_pass(plan: Plan, item: Pass) -> dict[str, Any]:
    found = {
        "key": item.key,
        "on": _spot_json(plan, item.element, item.sheet),
        "ink": item.ink,
        "coats": item.coats,
        "hand": item.hand,
        "form": _form_json(item.form),
        "brush": item.brush,
    }
    found |= {name: getattr(item, name) for name, usual in _USUAL.items() if getattr(item, name) != usual}
    found |= {name: list(getattr(item, name)) for name in ("more", "without") if getattr(item, name)}
    return {**found, "slip": list(item.slip)} if any(item.slip) else found


def read_plan(value: Any) -> Plan:
    """A plan from JSON values; raises BadValue or TooLarge naming the pass at fault."""
    top = readings.mapping(value, "plan")
    readings.not_newer(top, VERSION)
    passes = readings.listing(top.get("passes", []), "passes")
    if len(passes) > MOST_PASSES:
        raise TooLarge(f"A plan can have {MOST_PASSES} passes, not {len(passes)}.", "passes")
    schools = readings.mapping(top.get("schools", {}), "schools")
    things = read_things(top["things"]) if top.get("things") is not None else (the_image(),)
    bare = readings.listing(top.get("bare", []), "bare")
    return Plan(
        materials=_read_materials(readings.mapping(top.get("materials", top), "materials")),
        passes=tuple(read_pass(p, i, things) for i, p in enumerate(passes)),
        school=top.get("school", "light first"),
        schools=MappingProxyType({str(k): str(v) for k, v in schools.items()}),
        bare=tuple(_read_bare(b, things) for b in bare),
        left=tuple(readings.text(k, "left", 600) for k in readings.listing(top.get("left", []), "left")),
        things=things,
        order=read_wishes(top.get("order")),
        finish=None if top.get("finish") is None else read_finish(top["finish"]),
    )


def _read_materials(value: Mapping[str, Any]) -> Materials:
    stock = readings.text(readings.needed(value, "stock", "materials"), "stock")
    register, cards = value.get("register", "jig"), value.get("cards", 1)
    light = LOWER_LEFT if value.get("light") is None else value["light"]
    return Materials(stock, register, cards, read_size(value.get("panel")), light)


def _spot(on: Mapping[str, Any], things: tuple[Thing, ...], field: str) -> tuple[str, int]:
    """The element and the sheet on the panel that a thing's own names mean."""
    sheet = readings.needed(on, "sheet", field)
    if isinstance(sheet, bool) or not isinstance(sheet, int) or not 0 <= sheet < BASE:
        raise BadValue(f"{field}.sheet must be a sheet's number.", f"{field}.sheet")
    element = readings.text(readings.needed(on, "element", field), f"{field}.element")
    key = on.get("thing", IMAGE)
    if not key:
        return element, sheet
    thing = next((t for t in things if t.key == key), None)
    if thing is None:
        raise UnknownName("A pass lies on a thing that is not on the panel.", f"{field}.on")
    return thing.element(element), thing.base + sheet


def _texts(value: Any, field: str) -> tuple[str, ...]:
    return tuple(readings.text(v, field) for v in readings.listing(value, field))


def _slip(value: Any, field: str) -> tuple[float, float]:
    pair = readings.listing(value, f"{field}.slip")
    if len(pair) != 2:
        raise BadValue("A slip is so many mm to the right and down.", f"{field}.slip")
    return (
        finite(pair[0], f"{field}.slip", -MOST_SLIP, MOST_SLIP),
        finite(pair[1], f"{field}.slip", -MOST_SLIP, MOST_SLIP),
    )


def read_pass(value: Any, index: int, things: tuple[Thing, ...]) -> Pass:
    """One pass of a plan with these things; ``index`` names it where it has no key. Raises BadValue, UnknownName."""
    field = f"passes[{index}]"
    item = readings.mapping(value, field)
    on = readings.mapping(item.get("on", item), f"{field}.on")
    element, sheet = _spot(on, things, field)
    return Pass(
        key=readings.text(item.get("key", f"p{index + 1}"), f"{field}.key", 60),
        element=element,
        sheet=sheet,
        ink=readings.text(readings.needed(item, "ink", field), f"{field}.ink"),
        coats=item.get("coats", 1),
        hand=item.get("hand", "medium"),
        form=form_from(item.get("form")),
        brush=item.get("brush"),
        medium=readings.text(item.get("medium", "ink"), f"{field}.medium", 40),
        more=_texts(item.get("more", []), f"{field}.more"),
        generation=item.get("generation", 1),
        width=item.get("width", 1.0),
        without=_texts(item.get("without", []), f"{field}.without"),
        slip=_slip(item.get("slip", [0, 0]), field),
    )


def _read_bare(value: Any, things: tuple[Thing, ...]) -> tuple[str, int]:
    if isinstance(value, dict):
        return _spot(value, things, "bare")
    pair = readings.listing(value, "bare")
    if (
        len(pair) != 2
        or not isinstance(pair[0], str)
        or isinstance(pair[1], bool)
        or not isinstance(pair[1], int)
    ):
        raise BadValue("bare must list an element and a sheet.", "bare")
    return pair[0], pair[1]
