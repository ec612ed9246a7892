"""Trying every ink in the place of one pass, before any is chosen."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np

from strata.optics.colour import Lab, differences
from strata.optics.dabs import dabs, dabs_over
from strata.optics.stack import Stack
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
    under = tuple(u.coat(scene.ink(scene.plan.find(u.pass_key))) for u in rung.places[0].under)
    stock, coats, keys = scene.ground(item), [scene.thickness(item)], tuple(inks)
    if not keys:
        return {}
    pads = [scene.inks[key] for key in keys]
    alone = dabs(pads, stock, coats)[:, 0]
    here = dabs_over(Stack(stock, under), pads, coats, rung.wet)[:, 0]
    steps = differences(np.broadcast_to(rung.places[0].before, here.shape), here).tolist()
    rows = zip(keys, map(tuple, alone.tolist()), map(tuple, here.tolist()), steps, strict=True)
    return {row[0]: Tryout(*row) for row in rows}
