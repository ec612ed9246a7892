"""One build as work, as facts, and its plan at once: shorter than saying an evening each time."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from strata.order import facts
from strata.order.evening import Evening, Make, Pin
from strata.order.gather import work_of
from strata.order.instance import Instance
from strata.order.planning import at_once
from strata.order.schedule import Schedule
from strata.order.scheduled import scheduled
from strata.order.table_rules import TODAY, TableRules
from strata.order.ticks import Work
from strata.plan import Scene


def instance_of(
    scene: Scene, pins: Sequence[Pin] = (), cards: int = 1, rules: TableRules = TODAY
) -> Instance:
    return work_of(Evening([Make(scene, cards, tuple(pins))]), rules)


def facts_of_one(scene: Scene, cards: int = 1, rules: TableRules = TODAY) -> dict[str, Any]:
    return facts.facts_of(Evening([Make(scene, cards)]), rules)


def plan_greedily(instance: Instance) -> Schedule:
    work = Work(instance)
    return scheduled(work, at_once(work))
