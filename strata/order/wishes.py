"""What a plan's maker wishes, as rules, makes and work for a planner."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

from strata.finish import Finished
from strata.order.evening import Evening, Make
from strata.order.gather import work_of
from strata.order.instance import Instance
from strata.order.table_rules import AT_THE_TABLE, TableRules
from strata.order.wish import Wish
from strata.plan.scene import Scene
from strata.plan.wishes import LEAST_MINUTES, MOST_LETTERS, MOST_MINUTES, OtherWork

SPARE = 1.0
# minutes that a maker gives up rather than seat a sheet once more


def rules_of(scene: Scene) -> TableRules:
    """The rules of the house with what the plan's maker wishes."""
    wishes = scene.plan.order
    return replace(
        AT_THE_TABLE,
        hands=wishes.hands,
        heat=wishes.heat,
        first_card=wishes.lead,
        brush_dry=wishes.brush_dry,
        rack=wishes.rack,
    )


def make_of(scene: Scene, cards: int, strict: bool = False) -> Make:
    """So many cards of a plan, with its maker's wishes.

    What is wished of passes that are gone is passed over; with ``strict`` a
    pin that contradicts the craft is not.
    """
    wishes, there = scene.plan.order, {p.key for p in scene.plan.passes}
    pins = tuple(p for p in wishes.pins if set(p) <= there)
    by_hand = {(e, s): way == "hand" for e, s, way in wishes.partings}
    returns = tuple(kept for own in wishes.returns if (kept := tuple(k for k in own if k in there)))
    return Make(scene, cards, pins, by_hand, not strict, returns, frozenset(wishes.twice))


def jobs_of(scene: Scene) -> list[OtherWork]:
    """Other work that the plan's maker wants done: in the waits, and putting the cards together when they are dry."""
    own = [replace(j, key=f"own:{j.key}") for j in scene.plan.order.jobs]
    return [*own, *(_assembly(scene) if scene.plan.order.assembly else ())]


def _assembly(scene: Scene) -> Iterator[OtherWork]:
    """The tasks of the finish one after another; what takes longer than anyone works without a break, in parts."""
    before: str | None = None
    for task in Finished(scene).assembly:
        if task.first:
            continue  # what is inked is cut when the table is set
        parts = max(1, math.ceil(task.minutes / MOST_MINUTES))
        for part in range(1, parts + 1):
            key = f"finish:{task.key}" + (f":{part}" if parts > 1 else "")
            said = task.sentence + (f" Part {part} of {parts}." if parts > 1 else "")
            yield OtherWork(
                key,
                said[:MOST_LETTERS],
                max(LEAST_MINUTES, round(task.minutes / parts, 1)),
                after=before,
                last=not task.early,
                lies=task.waits if part == parts else 0.0,
                caution=task.caution,
                word=task.word,
            )
            before = key


def wish_of(scene: Scene, budget: float) -> Wish:
    """What is put first, and how long may be searched."""
    return Wish(scene.plan.order.first, budget, SPARE)


def work_for(scene: Scene, cards: int = 1, strict: bool = False) -> Instance:
    """The work of so many cards of a plan, by its maker's wishes; ``strict`` as in ``make_of`` (raises BadValue)."""
    return work_of(Evening([make_of(scene, cards, strict)]), rules_of(scene), jobs_of(scene))
