"""Builds drawn at random, as work and as facts, and plans that the checker has judged."""

from __future__ import annotations

import json
import random
from collections.abc import Sequence
from functools import cache
from typing import Any

from strata.formats.svg_set import read
from strata.order import facts
from strata.order.check import check
from strata.order.evening import Evening, Make, Pin
from strata.order.gather import work_of
from strata.order.instance import Instance
from strata.order.planning import at_once, plan
from strata.order.schedule import Schedule
from strata.order.scheduled import scheduled
from strata.order.table_rules import TODAY, TableRules
from strata.order.ticks import Work
from strata.order.wish import Wish
from strata.plan import Form, Scene
from strata.plan.wishes import OtherWork
from strata.sheets import LayerSet
from tests import world

QUICK = Wish(budget=0.5)
KINDS = (
    ("koi-and-lantern", "stencil"),
    ("hedgehog-in-ferns", "stamp set"),
    ("luna-moth", "die-cut"),
)


def instance_of(
    scene: Scene, pins: Sequence[Pin] = (), cards: int = 1, rules: TableRules = TODAY
) -> Instance:
    return work_of(Evening([Make(scene, cards, tuple(pins))]), rules)


def facts_of_one(scene: Scene, cards: int = 1, rules: TableRules = TODAY) -> dict[str, Any]:
    return facts.facts_of(Evening([Make(scene, cards)]), rules)


def plan_greedily(instance: Instance) -> Schedule:
    work = Work(instance)
    return scheduled(work, at_once(work))


@cache
def demo_set(name: str, kind: str) -> LayerSet:
    return read((world.DEMO / "sets" / f"{name}.svg").read_bytes(), name, kind).layer_set


def some_scene(rng: random.Random, count: int, name: str, kind: str) -> Scene:
    """A build as people make them: a family for an element, its tones one over the other."""
    own = demo_set(name, kind)
    families: dict[tuple[str, str], list[str]] = {}
    for key, ink in world.inks().items():
        if ink.family:
            families.setdefault((ink.line, ink.family), []).append(key)
    passes: list[Any] = []
    while len(passes) < count:
        element = rng.choice(own.elements)
        family = rng.choice(list(families.values()))
        for depth, (_, sheet) in enumerate(
            sorted((g for g in own.groups if g[0] == element), key=lambda g: g[1])
        ):
            form = Form("side", rng.uniform(0, 360), 0.5) if depth and rng.random() < 0.5 else Form()
            ink = family[min(depth, len(family) - 1)]
            passes.append(world.a_pass(f"p{len(passes)}", element, sheet, ink, 1, form))
    stock = rng.choice(["White smooth", "Kraft"])
    return world.scene(world.plan_of(*passes[:count], stock=stock), own)


def judged(
    scene: Scene, rules: TableRules, wish: Wish = QUICK, cards: int = 1, jobs: tuple[OtherWork, ...] = ()
) -> Schedule:
    """The plan, once the checker has nothing against it; raises AssertionError."""
    evening = Evening([Make(scene, cards)])
    work = work_of(evening, rules, jobs)
    found = plan(work, wish)
    said = json.loads(json.dumps(facts.facts_of(evening, rules, work.jobs)))
    wrong = check(said, json.loads(json.dumps(facts.plan_json(found, work.by_hand))))
    assert not wrong, wrong
    return found
