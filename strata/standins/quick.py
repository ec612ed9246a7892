"""Every pad in the place of some passes, in the amounts that are worth trying, all pads at once.

What is beneath a pass is the same for all pads, but where it is another of
the passes that are swapped: then each pad lies on itself, in the amount that
was best for it there.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from strata.optics import layers
from strata.optics.colour import differences
from strata.optics.dabs import deposited
from strata.optics.stack import labs_of_internal, prepare, still_wet, take
from strata.plan.model import MOST_COATS_A_PASS, Pass
from strata.plan.scene import Scene
from strata.tones import Rung
from strata.tones.ground import Under

Floats = NDArray[np.float64]
Amount = tuple[int, str]
AMOUNTS: tuple[Amount, ...] = tuple(
    (coats, hand)
    for coats, hand in ((1, "light"), (1, "medium"), (2, "medium"), (3, "medium"))
    if coats <= MOST_COATS_A_PASS
)
# coats and hand in which every pad is tried


class Quick:
    """``pads`` (keys) in the place of ``items`` (passes of one ink, in plan order)."""

    def __init__(
        self, scene: Scene, items: Sequence[Pass], rungs: Mapping[str, Rung], pads: Sequence[str]
    ) -> None:
        self.scene, self.items, self.rungs = scene, items, rungs
        self.inks = [scene.inks[key] for key in pads]
        self.chosen: dict[str, NDArray[np.intp]] = {}
        # by pass that is swapped: which of AMOUNTS suits each pad best
        prepare(self.inks, [scene.stock])

    def found(self) -> tuple[list[dict[str, Amount]], Floats]:
        """For each pad the best amount for each pass, and the area-weighted CIEDE2000 (pads,) from what was wanted."""
        total, weight = np.zeros(len(self.inks)), 0.0
        for item in self.items:
            offs = self._offs(item)
            self.chosen[item.key] = np.argmin(offs, axis=1)
            area = self.scene.group(item).area
            total, weight = total + offs.min(axis=1) * area, weight + area
        amounts = [
            {key: AMOUNTS[int(which[i])] for key, which in self.chosen.items()} for i in range(len(self.inks))
        ]
        return amounts, total / max(weight, 1e-9)

    def _offs(self, item: Pass) -> Floats:
        """CIEDE2000 (pads, amounts) from the wanted colour on each of a pass's grounds, by their shares."""
        rung, finish = self.rungs[item.key], self.scene.ground(item).finish
        own = [self.scene.laid_as(item, *amount) for amount in AMOUNTS]
        absorbed, scattered = deposited(self.inks, own, finish)
        offs, shares = np.zeros(absorbed.shape[:2]), 0.0
        for place in rung.places:
            beneath, wet = self._beneath(item, place.under)
            t = take(wet)[:, None, None] if rung.wet else np.ones(())
            got = labs_of_internal(layers.over(beneath[:, None], t * absorbed, t * scattered), finish)
            wanted = np.broadcast_to(np.array(place.here), got.shape)
            off = differences(wanted.reshape(-1, 3), got.reshape(-1, 3)).reshape(offs.shape)
            offs, shares = offs + place.share * off, shares + place.share
        return offs / shares

    def _beneath(self, item: Pass, under: Sequence[Under]) -> tuple[Floats, Floats]:
        """Internal reflectance (pads or 1, 36) of what lies beneath, and coats of it that are still wet (pads or 1,)."""
        ground = self.scene.ground(item)
        r, wet = ground.internal[None], np.zeros(1)
        for lies in under:
            absorbed, scattered, coats = self._laid(lies, ground.finish)
            t = take(wet) if lies.wet else np.ones(1)
            r = layers.over(r, t[:, None] * absorbed, t[:, None] * scattered)
            wet = (wet if lies.wet else still_wet(wet, coats)) + t * coats
        return np.asarray(r, np.float64), wet

    def _laid(self, lies: Under, finish: str) -> tuple[Floats, Floats, Floats]:
        """What a layer beneath absorbs and scatters, (pads or 1, 36), in so many coats (pads or 1,)."""
        below = self.scene.plan.find(lies.pass_key)
        which = self.chosen.get(below.key)
        if which is None:
            absorbed, scattered = deposited([self.scene.ink_of(below.ink)], [lies.coats], finish)
            return absorbed[:, 0], scattered[:, 0], np.array([lies.coats])
        share = lies.coats / self.scene.thickness(below)
        coats = np.array([share * self.scene.laid_as(below, *amount) for amount in AMOUNTS])
        absorbed, scattered = deposited(self.inks, coats.tolist(), finish)
        each = np.arange(len(self.inks))
        return absorbed[each, which], scattered[each, which], coats[which]
