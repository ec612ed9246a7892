"""The request and the answer of ``python -m strata order``; documented in ``docs/formats/order.md``."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from strata import readings
from strata.errors import BadValue, UnknownName, finite
from strata.formats.build_file import read_plan
from strata.formats.drawer import read_drawer_values
from strata.formats.set_file import read_set
from strata.order.bound import least_minutes
from strata.order.facts import RULES, facts_of, plan_json
from strata.order.greedy import plan_greedily
from strata.order.instance import instance_of
from strata.order.times import DRY_ENOUGH
from strata.plan.model import MOST_CARDS, Plan
from strata.plan.scene import Scene
from strata.plan.tools import Tools
from strata.sheets.model import LayerSet

FIRST = ("time", "cleanings", "placements")
MOST_PINS = 400
MOST_REQUEST = 40_000_000
# bytes: a set of 5,000 openings, a drawer and a build


def answer(data: str | bytes) -> dict[str, Any]:
    """Facts and plan for a request; raises a StrataError with one sentence.

    Pins that contradict the rules of the craft, or one another, are refused
    with the shortest chain that shows it.
    """
    top = readings.mapping(readings.parse(data, MOST_REQUEST), "The request")
    scene, cards = _scene(top)
    pins = _pins(top)
    if top.get("first", "time") not in FIRST:
        raise BadValue(f"first must be one of {', '.join(FIRST)}.", "first")
    finite(top.get("budget", 1), "budget", 0, 3600)
    _refuse_other_rules(readings.mapping(top.get("rules", {}), "rules"))
    work = instance_of(scene, pins, cards)
    schedule = plan_greedily(work)
    bound = least_minutes(work)
    proven = schedule.minutes <= bound + DRY_ENOUGH
    return {
        "facts": facts_of(scene, pins, cards),
        "plan": plan_json(replace(schedule, bound=min(bound, schedule.minutes), proven=proven)),
    }


def _scene(top: Mapping[str, Any]) -> tuple[Scene, int]:
    drawer = read_drawer_values(readings.needed(top, "drawer", "request"))
    build = readings.mapping(readings.needed(top, "build", "request"), "build")
    plan = read_plan(build.get("plan", build))
    # a card goes by its key, and in files written before it had one by its name
    stocks = {s.name: s for s in drawer.stocks} | {s.key: s for s in drawer.stocks if s.key}
    inks = {i.key: i for i in drawer.inks}
    scene = Scene(_sets(top, plan), plan, stocks, inks, Tools(drawer.tools))
    cards = top.get("cards", plan.cards)
    if isinstance(cards, bool) or not isinstance(cards, int):
        raise BadValue("cards must be a whole number.", "cards")
    return scene, int(finite(cards, "cards", 1, MOST_CARDS))


def _sets(top: Mapping[str, Any], plan: Plan) -> dict[str, LayerSet]:
    """The sets by the names under which the plan's things ask for them, in the order in which they lie."""
    several = (
        readings.listing(top["sets"], "sets") if "sets" in top else [readings.needed(top, "set", "request")]
    )
    wanted = list(dict.fromkeys(t.source for t in plan.things if t.kind == "set"))
    if len(several) != len(wanted):
        raise BadValue(f"This build lies on {len(wanted)} sets; give as many, in their order.", "sets")
    return dict(zip(wanted, (read_set(s) for s in several), strict=True))


def _pins(top: Mapping[str, Any]) -> list[tuple[str, str]]:
    found = []
    pins = readings.listing(top.get("pins", []), "pins")
    if len(pins) > MOST_PINS:
        raise BadValue(f"At most {MOST_PINS} pins are read.", "pins")
    for i, pin in enumerate(pins):
        pair = readings.listing(pin, f"pins[{i}]")
        if len(pair) != 2:
            raise BadValue(f"pins[{i}] must name two passes: before, after.", "pins")
        found.append((readings.text(pair[0], "pins", 60), readings.text(pair[1], "pins", 60)))
    return found


def _refuse_other_rules(asked: Mapping[str, Any]) -> None:
    """Better refused than planned by other rules than asked for."""
    for name, value in asked.items():
        if name not in RULES:
            raise UnknownName(f"“{name}” is not a rule; the rules are {', '.join(RULES)}.", "rules")
        if value != RULES[name]:
            raise BadValue(f"This planner knows {name} only as {RULES[name]}.", "rules")
