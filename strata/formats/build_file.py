"""A plan as JSON: in the database, in the demo world, and as a file a maker can hand on."""

from __future__ import annotations

from dataclasses import asdict
from types import MappingProxyType
from typing import Any

from strata.errors import BadValue, TooLarge
from strata.formats import readings
from strata.plan.edits import form_from
from strata.plan.model import MOST_PASSES, Pass, Plan

FORMAT = "anastrata-build"


def write_plan(plan: Plan) -> dict[str, Any]:
    """The plan as JSON values that ``read_plan`` reads back identical."""
    return {
        "stock": plan.stock,
        "school": plan.school,
        "schools": dict(plan.schools),
        "register": plan.register,
        "cards": plan.cards,
        "bare": [list(b) for b in plan.bare],
        "passes": [_pass_json(p) for p in plan.passes],
    }


def _pass_json(item: Pass) -> dict[str, Any]:
    values = asdict(item)
    if item.form.kind == "all":
        values["form"] = {"kind": "all"}
    return values


def read_plan(value: Any) -> Plan:
    """A plan from JSON values; raises BadValue or TooLarge naming the pass at fault."""
    top = readings.mapping(value, "plan")
    passes = readings.listing(top.get("passes", []), "passes")
    if len(passes) > MOST_PASSES:
        raise TooLarge(f"A plan can have {MOST_PASSES} passes, not {len(passes)}.", "passes")
    schools = readings.mapping(top.get("schools", {}), "schools")
    return Plan(
        stock=readings.text(readings.needed(top, "stock", "plan"), "stock"),
        passes=tuple(_read_pass(p, i) for i, p in enumerate(passes)),
        school=top.get("school", "light first"),
        schools=MappingProxyType({str(k): str(v) for k, v in schools.items()}),
        register=top.get("register", "jig"),
        cards=top.get("cards", 1),
        bare=tuple(_read_bare(b) for b in readings.listing(top.get("bare", []), "bare")),
    )


def _read_pass(value: Any, index: int) -> Pass:
    field = f"passes[{index}]"
    item = readings.mapping(value, field)
    sheet = readings.needed(item, "sheet", field)
    if isinstance(sheet, bool) or not isinstance(sheet, int):
        raise BadValue(f"{field}.sheet must be a sheet's number.", f"{field}.sheet")
    return Pass(
        key=readings.text(item.get("key", f"p{index + 1}"), f"{field}.key", 60),
        element=readings.text(readings.needed(item, "element", field), f"{field}.element"),
        sheet=sheet,
        ink=readings.text(readings.needed(item, "ink", field), f"{field}.ink"),
        coats=item.get("coats", 1),
        hand=item.get("hand", "medium"),
        form=form_from(item.get("form")),
        brush=item.get("brush"),
    )


def _read_bare(value: Any) -> tuple[str, int]:
    pair = readings.listing(value, "bare")
    if len(pair) != 2 or not isinstance(pair[1], int):
        raise BadValue("bare must list an element and a sheet.", "bare")
    return str(pair[0]), pair[1]
