"""``python -m strata finish``: a build, its sets and a drawer in; pieces, sheets of stock, thickness and weight out."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from strata import readings
from strata.answers.order import MOST_REQUEST, read_make
from strata.errors import BadValue
from strata.finish import Finished
from strata.finish.post import MOST_CLASSES, PostalClass
from strata.finish.told import told
from strata.formats.drawer import read_drawer_values
from strata.plan.finish import read_finish


def answer(data: str | bytes) -> dict[str, Any]:
    """The answer to a request as ``docs/formats/finish.md`` has it; raises BadValue, BadFile, UnknownName, TooLarge."""
    top = readings.mapping(readings.parse(data, MOST_REQUEST), "The request")
    drawer = read_drawer_values(readings.needed(top, "drawer", "request"))
    make = read_make(top, drawer, {})
    plan = make.scene.plan
    plan = replace(plan, materials=replace(plan.materials, cards=make.cards))
    if "finish" in top:
        plan = replace(plan, finish=read_finish(top["finish"]))
    rates = readings.listing(top.get("rates", []), "rates")
    if len(rates) > MOST_CLASSES:
        raise BadValue(f"At most {MOST_CLASSES} rates are read.", "rates")
    return told(Finished(make.scene.with_plan(plan)), [read_rate(r) for r in rates])


def read_rate(value: Any) -> PostalClass:
    """A rate from JSON values; raises BadValue."""
    row: Mapping[str, Any] = readings.mapping(value, "rates")
    try:
        return PostalClass(**row)
    except TypeError:
        raise BadValue("A rate holds name, thick, weight, long, wide and price.", "rates") from None
