"""Trying every ink in the place of one pass, before any is chosen."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from strata.optics.colour import Lab, difference
from strata.optics.stack import Coat, predict
from strata.plan.model import Pass
from strata.plan.scene import Scene
from strata.tones.ladder import Rung


@dataclass(frozen=True)
class Tryout:
    """An ink in the place of a pass: its colour here, and the step from what is under it."""

    ink: str
    alone: Lab
    here: Lab
    change: float


def try_inks(scene: Scene, item: Pass, rung: Rung, inks: Iterable[str]) -> Mapping[str, Tryout]:
    """Every ink as it would look in the place of ``item``, on the commonest ground of its rung."""
    under = [u.coat(scene.ink(scene.plan.find(u.pass_key))) for u in rung.places[0].under]
    found = {}
    for key in inks:
        here = predict(scene.ground(item), [*under, Coat(scene.inks[key], scene.thickness(item), rung.wet)])
        alone = scene.on_stock(key, scene.thickness(item), scene.surface(item))
        found[key] = Tryout(key, alone, here, difference(rung.places[0].before, here))
    return found
