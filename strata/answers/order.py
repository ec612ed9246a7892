"""The request and the answer of ``python -m strata order``; documented in ``docs/formats/order.md``."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from strata import readings
from strata.errors import BadValue, UnknownName, finite
from strata.formats.build_file import read_plan
from strata.formats.drawer import Drawer, read_drawer_values
from strata.formats.set_file import read_set
from strata.order.evening import Evening, Make, Pin
from strata.order.facts import facts_of, plan_json
from strata.order.gather import work_of
from strata.order.planning import plan
from strata.order.table_rules import PLAIN, TableRules, read_rules
from strata.order.wish import MOST_BUDGET, Wish
from strata.plan.model import MOST_CARDS, Plan
from strata.plan.scene import Scene
from strata.plan.tools import Tools
from strata.plan.wishes import FIRST, LEAST_MINUTES, MOST_JOBS, MOST_MINUTES, First, OtherWork
from strata.sheets.model import LayerSet

MOST_PINS = 400
MOST_REQUEST = 40_000_000
# bytes: a set of 5,000 openings, a drawer and a build


def answer(data: str | bytes) -> dict[str, Any]:
    """Facts and plan for a request; raises a StrataError with one sentence.

    Pins that contradict the rules of the craft, or one another, are refused
    with the shortest chain that shows it.
    """
    top = readings.mapping(readings.parse(data, MOST_REQUEST), "The request")
    evening = Evening(_makes(top))
    rules, jobs = _rules(top, evening), _jobs(top, evening)
    work = work_of(evening, rules, jobs)
    schedule = plan(work, _wish(top))
    return {"facts": facts_of(evening, rules, work.jobs), "plan": plan_json(schedule, work.by_hand)}


def _makes(top: Mapping[str, Any]) -> list[Make]:
    """The one build that is asked for, or the several of an ``evening``."""
    drawer = read_drawer_values(readings.needed(top, "drawer", "request"))
    if "evening" not in top:
        return [read_make(top, drawer, {})]
    known: dict[str, LayerSet] = {}
    several = readings.listing(top["evening"], "evening")
    if not several:
        raise BadValue("An evening holds one build at the least.", "evening")
    return [read_make(readings.mapping(one, "evening"), drawer, known) for one in several]


def read_make(one: Mapping[str, Any], drawer: Drawer, known: dict[str, LayerSet]) -> Make:
    """One build with its sets on a drawer; ``known``: sets by their text, so that the same one is shared."""
    build = readings.mapping(readings.needed(one, "build", "request"), "build")
    wanted = read_plan(build.get("plan", build))
    # a card goes by its key, and in files written before it had one by its name
    stocks = {s.name: s for s in drawer.stocks} | {s.key: s for s in drawer.stocks if s.key}
    inks = {i.key: i for i in drawer.inks}
    scene = Scene(_sets(one, wanted, known), wanted, stocks, inks, Tools(drawer.tools))
    cards = one.get("cards", wanted.cards)
    if isinstance(cards, bool) or not isinstance(cards, int):
        raise BadValue("cards must be a whole number.", "cards")
    returns = tuple(
        tuple(readings.text(key, "returns", 60) for key in readings.listing(own, "returns"))
        for own in readings.listing(one.get("returns", []), "returns")
    )
    return Make(scene, int(finite(cards, "cards", 1, MOST_CARDS)), tuple(_pins(one)), returns=returns)


def _jobs(top: Mapping[str, Any], evening: Evening) -> list[OtherWork]:
    """Other work: ``[{"name", "minutes", "before"?, "after"?, "last"?}]``; ``after`` names one earlier in the list."""
    found, keys = list[OtherWork](), dict[str, OtherWork]()
    for n, item in enumerate(readings.listing(top.get("jobs", []), "jobs")):
        one = readings.mapping(item, "jobs")
        before = one.get("before")
        if before is not None and before not in evening.passes:
            raise UnknownName("Other work is to be done before a pass that is not there.", "jobs")
        name = readings.text(readings.needed(one, "name", "jobs"), "jobs", 120)
        minutes = finite(readings.needed(one, "minutes", "jobs"), "minutes", LEAST_MINUTES, MOST_MINUTES)
        last = one.get("last", False)
        if not isinstance(last, bool):
            raise BadValue("last must be true or false.", "jobs")
        after = None if one.get("after") is None else keys.get(readings.text(one["after"], "jobs", 160))
        if after is None and one.get("after") is not None:
            raise UnknownName("Other work comes after something that is not earlier in the list.", "jobs")
        # what follows work on dry cards is work on dry cards as well
        last = last or (after is not None and after.last)
        job = OtherWork(f"job {n + 1}", name, minutes, before, after.key if after else None, last)
        found.append(job)
        keys[name] = job
    if len(found) > MOST_JOBS:
        raise BadValue(f"At most {MOST_JOBS} pieces of other work are planned.", "jobs")
    return found


def _wish(top: Mapping[str, Any]) -> Wish:
    first = top.get("first", "time")
    if first not in FIRST:
        raise BadValue(f"first must be one of {', '.join(FIRST)}.", "first")
    wanted: First = first
    return Wish(wanted, finite(top.get("budget", Wish.budget), "budget", 0, MOST_BUDGET))


def _rules(top: Mapping[str, Any], evening: Evening) -> TableRules:
    """As asked for. Where nothing is said of wet ink and a panel is worked in several ways, it blocks all of it."""
    asked = readings.mapping(top.get("rules", {}), "rules")
    rules = read_rules(asked, PLAIN)
    kinds = {evening.makes[m].scene.layer_set.worked_as(p.sheet) for _, m, p in evening}
    rules = rules.for_kinds(kinds)
    return (
        replace(rules, wet_blocks="panel")
        if "wet_blocks" not in asked and rules.wet_blocks == "kind"
        else rules
    )


def _sets(top: Mapping[str, Any], plan: Plan, known: dict[str, LayerSet]) -> dict[str, LayerSet]:
    """The sets by the names under which the plan's things ask for them, in the order in which they lie.

    The same set given twice is one and the same: its sheets are shared.
    """
    several = (
        readings.listing(top["sets"], "sets") if "sets" in top else [readings.needed(top, "set", "request")]
    )
    wanted = list(dict.fromkeys(t.source for t in plan.things if t.kind == "set"))
    if len(several) != len(wanted):
        raise BadValue(f"This build lies on {len(wanted)} sets; give as many, in their order.", "sets")
    written = [json.dumps(s, sort_keys=True) for s in several]
    for text, values in zip(written, several, strict=True):
        if text not in known:
            known[text] = read_set(values)
    return dict(zip(wanted, (known[text] for text in written), strict=True))


def _pins(top: Mapping[str, Any]) -> list[Pin]:
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
