"""From a plan to its steps: what is to be done, when, and in what words, one after another."""

from __future__ import annotations

from strata.order.gather import instance_of
from strata.order.narration import narrate
from strata.order.planning import plan_greedily
from strata.order.steps import Sequence
from strata.plan.scene import Scene


def dispatch(scene: Scene) -> Sequence:
    """A sound sequence for one card; an empty plan gives an empty sequence."""
    if not scene.plan.passes:
        return Sequence((), ())
    work = instance_of(scene)
    return narrate(scene, work, plan_greedily(work))
