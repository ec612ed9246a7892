"""A plan as JSON: in the database, in the demo world, and as a file a maker can hand on.

Version 2: materials by themselves, and each pass says what it lies ``on``: a
thing of the panel, and of a placed set the element and sheet. Version 1 (all
flat, one set a build) is still read.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from types import MappingProxyType
from typing import Any

from strata.errors import BadValue, TooLarge
from strata.formats import readings
from strata.plan.edits import form_from
from strata.plan.model import IMAGE, MOST_PASSES, Materials, Pass, Plan

FORMAT, VERSION = "anastrata-build", 2
MATERIALS = ("stock", "register", "cards")


def write_materials(materials: Materials) -> dict[str, Any]:
    """Materials as JSON values."""
    return {name: getattr(materials, name) for name in MATERIALS}


def write_passes(plan: Plan) -> dict[str, Any]:
    """A plan without its materials: what a colouring has of its own."""
    return {
        "school": plan.school,
        "schools": dict(plan.schools),
        "bare": [{"thing": IMAGE, "element": element, "sheet": sheet} for element, sheet in plan.bare],
        "passes": [_pass_json(p) for p in plan.passes],
        "left": list(plan.left),
    }


def write_plan(plan: Plan) -> dict[str, Any]:
    """The plan as JSON values that ``read_plan`` reads back identical."""
    return {"version": VERSION, "materials": write_materials(plan.materials), **write_passes(plan)}


def _pass_json(item: Pass) -> dict[str, Any]:
    form = {"kind": "all"} if item.form.kind == "all" else asdict(item.form)
    return {
        "key": item.key,
        "on": {"thing": item.thing, "element": item.element, "sheet": item.sheet},
        "ink": item.ink,
        "coats": item.coats,
        "hand": item.hand,
        "form": form,
        "brush": item.brush,
    }


def read_plan(value: Any) -> Plan:
    """A plan from JSON values; raises BadValue or TooLarge naming the pass at fault."""
    top = readings.mapping(value, "plan")
    passes = readings.listing(top.get("passes", []), "passes")
    if len(passes) > MOST_PASSES:
        raise TooLarge(f"A plan can have {MOST_PASSES} passes, not {len(passes)}.", "passes")
    schools = readings.mapping(top.get("schools", {}), "schools")
    return Plan(
        materials=_read_materials(readings.mapping(top.get("materials", top), "materials")),
        passes=tuple(_read_pass(p, i) for i, p in enumerate(passes)),
        school=top.get("school", "light first"),
        schools=MappingProxyType({str(k): str(v) for k, v in schools.items()}),
        bare=tuple(_read_bare(b) for b in readings.listing(top.get("bare", []), "bare")),
        left=tuple(readings.text(k, "left", 600) for k in readings.listing(top.get("left", []), "left")),
    )


def _read_materials(value: Mapping[str, Any]) -> Materials:
    stock = readings.text(readings.needed(value, "stock", "materials"), "stock")
    return Materials(stock, value.get("register", "jig"), value.get("cards", 1))


def _read_pass(value: Any, index: int) -> Pass:
    field = f"passes[{index}]"
    item = readings.mapping(value, field)
    on = readings.mapping(item.get("on", item), f"{field}.on")
    sheet = readings.needed(on, "sheet", field)
    if isinstance(sheet, bool) or not isinstance(sheet, int):
        raise BadValue(f"{field}.sheet must be a sheet's number.", f"{field}.sheet")
    return Pass(
        key=readings.text(item.get("key", f"p{index + 1}"), f"{field}.key", 60),
        element=readings.text(readings.needed(on, "element", field), f"{field}.element"),
        sheet=sheet,
        ink=readings.text(readings.needed(item, "ink", field), f"{field}.ink"),
        coats=item.get("coats", 1),
        hand=item.get("hand", "medium"),
        form=form_from(item.get("form")),
        brush=item.get("brush"),
        thing=readings.text(on.get("thing", IMAGE), f"{field}.thing", 60),
    )


def _read_bare(value: Any) -> tuple[str, int]:
    pair = [value.get("element"), value.get("sheet")] if isinstance(value, dict) else value
    pair = readings.listing(pair, "bare")
    if (
        len(pair) != 2
        or not isinstance(pair[0], str)
        or isinstance(pair[1], bool)
        or not isinstance(pair[1], int)
    ):
        raise BadValue("bare must list an element and a sheet.", "bare")
    return pair[0], pair[1]
