"""What lies where: the grounds that each pass meets, read off the same map that makes the picture."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from strata.kept import Kept
from strata.optics.colour import Lab
from strata.optics.inks import Ink
from strata.optics.stack import Coat, predict
from strata.picture.colours import reference_lab
from strata.picture.layers import Layer, layers_of
from strata.picture.raster import Raster
from strata.picture.stacks import Stacks, stacks_of
from strata.plan.model import Pass
from strata.plan.scene import Scene

GRID = 160
# px across the panel: about 1.5 px/mm, fine enough to find the commonest stack
HEART = 0.75
# a pass is judged where it lies at least this thick, as a share of its thickest
LEAST_SHARE = 0.12
# of a pass's area before another ground beneath it is worth a word
THERE = 0.3
# of a full coat before a layer counts as lying over a place


@dataclass(frozen=True)
class Under:
    """A pass that lies beneath another: so many coats of it, laid on wet ink or dry."""

    pass_key: str
    coats: float
    wet: bool

    def coat(self, ink: Ink) -> Coat:
        """That much of an ink, laid as it was."""
        return Coat(ink, self.coats, self.wet)


@dataclass(frozen=True)
class Place:
    """One ground that a pass lies on: its share of the pass, the colour before and after; what lies ``under``, bottom first."""

    share: float
    before: Lab
    here: Lab
    under: tuple[Under, ...] = ()


@dataclass(frozen=True)
class Bed:
    """What lies beneath a pass on a share of it: thicknesses of the layers below, in halves."""

    share: float
    halves: tuple[float, ...]


Beds = tuple[tuple[Bed, ...], ...]
_BEDS: Kept[object, Beds] = Kept(
    20_000_000, lambda beds: sum(200 + 16 * len(b.halves) for bed in beds for b in bed)
)


@dataclass(frozen=True, eq=False)
class Ground:
    """The layers of a scene on a coarse grid, and what is under each."""

    scene: Scene
    layers: tuple[Layer, ...]
    stacks: Stacks

    @classmethod
    def of(cls, scene: Scene, wet: frozenset[str]) -> Ground:
        """The ground of a scene; ``wet``: keys of passes that go onto wet ink."""
        size = scene.layer_set
        raster = Raster.of(size.width, size.height, GRID)
        layers = tuple(layers_of(scene, scene.plan.passes, wet, raster))
        return cls(scene, layers, stacks_of(layers, raster))

    @cached_property
    def first(self) -> dict[str, int]:
        """The first layer of each pass."""
        found: dict[str, int] = {}
        for j, layer in enumerate(self.layers):
            if layer.pass_key:
                found.setdefault(layer.pass_key, j)
        return found

    @cached_property
    def beds(self) -> Beds:
        """The beds of every layer; kept by the map alone, which a change of ink leaves as it is."""
        key = (self.stacks.key, len(self.layers))
        return _BEDS.get(key, lambda: tuple(self._beds(j) for j in range(len(self.layers))))

    def _beds(self, j: int) -> tuple[Bed, ...]:
        """The beds of layer ``j``, largest share first."""
        own = self.stacks.levels[:, j]
        top = float(own.max()) if len(own) else 0.0
        if top <= 0:
            return (Bed(1.0, (0.0,) * j),)
        rows = own >= HEART * top
        under = np.round(self.stacks.levels[rows, :j] * 2).astype(np.int64)
        weights = self.stacks.counts[rows]
        # fixed odd multipliers make one number of each row; a clash would only merge two beds
        codes = under @ (np.arange(1, j + 1, dtype=np.int64) * 2654435761 % 1000003)
        _, first, which = np.unique(codes, return_index=True, return_inverse=True)
        counts = np.bincount(which, weights)
        largest = np.argsort(-counts, kind="stable")
        total = counts.sum()
        kept = [i for n, i in enumerate(largest) if n == 0 or counts[i] >= LEAST_SHARE * total]
        return tuple(
            Bed(float(counts[i] / total), tuple(float(h) / 2 for h in under[first[i]])) for i in kept[:6]
        )

    def places(self, item: Pass) -> tuple[Place, ...]:
        """The colours before and after a pass on each of its beds."""
        j = self.first.get(item.key)
        if j is None:  # sealing shows nowhere
            lab = self.scene.ground(item).lab
            return (Place(1.0, lab, lab),)
        return tuple(self._place(j, bed) for bed in self.beds[j])

    def _place(self, j: int, bed: Bed) -> Place:
        own = self.layers[j].surface
        below = [
            i
            for i, h in enumerate(bed.halves)
            if h > 0 and self.layers[i].surface == own and self.layers[i].ink
        ]
        halves = [bed.halves[i] for i in below]
        under = tuple(
            Under(self.layers[i].pass_key, round(self.layers[i].thickness * h, 3), self.layers[i].wet)
            for i, h in zip(below, halves, strict=True)
        )
        before = self._colour(own, below, halves)
        here = self._colour(own, [*below, j], [*halves, 1.0])
        return Place(bed.share, before, here, under)

    def _colour(self, surface: str, which: list[int], levels: Sequence[float]) -> Lab:
        stock = self.scene.card_under(surface)
        layers = [self.layers[i] for i in which]
        if all(layer.kind == "ink" for layer in layers):
            coats = [
                Coat(layer.ink, layer.thickness * level, layer.wet)
                for layer, level in zip(layers, levels, strict=True)
                if layer.ink is not None
            ]
            return predict(stock, coats)
        l, a, b = reference_lab(stock, layers, np.array([levels], np.float32))[0].tolist()  # noqa: E741
        return l, a, b

    def over(self, element: str) -> list[tuple[str, str, float]]:
        """What lies over an element once it is done: (kind, pass key or piece key, share of its area), lowest first."""
        keys = {p.key for p in self.scene.plan.of_element(element)}
        own = [j for j, layer in enumerate(self.layers) if layer.pass_key in keys]
        if not own:
            return []
        rows = (self.covered[:, own]).any(axis=1)
        total = float(self.stacks.counts[rows].sum())
        found = []
        for j in range(max(own) + 1, len(self.layers)):
            layer = self.layers[j]
            if layer.pass_key in keys or layer.kind in ("shade", "lift") or total <= 0:
                continue
            share = float(self.stacks.counts[rows & self.covered[:, j]].sum()) / total
            if share >= LEAST_SHARE:
                found.append((layer.kind, layer.pass_key or layer.surface, share))
        return found

    @cached_property
    def covered(self) -> NDArray[np.bool_]:
        """Which layers lie over which stacks."""
        return self.stacks.levels >= THERE
