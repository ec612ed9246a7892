"""Ladders: each pass's ink alone, its colour here, and the step from the one below.

What lies beneath a pass is read off the same coverage fields that make the
picture, so that the numbers and the picture cannot disagree.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from strata.kept import Kept
from strata.optics.colour import Lab, difference
from strata.optics.stack import Coat, predict
from strata.order.steps import Sequence
from strata.picture.panel import Layer, layers_of, shares_in
from strata.picture.raster import Floats32, Raster, Window
from strata.plan.model import Pass
from strata.plan.scene import Scene

GRID = 160
# px across the panel: about 1.5 px/mm, fine enough to find the commonest stack
HEART = 0.75
# a pass is judged where it lies at least this thick, as a share of its thickest
LEAST_SHARE = 0.12
# of a pass's area before another ground beneath it is worth a word
GROUND_DEPTH = 15.0
# 100 - L* of its swatch; only near-whites serve as a ground
LINE_WIDTH = 2.6
# mm; narrower openings are drawn lines rather than tones


@dataclass(frozen=True)
class Place:
    """One ground that a pass lies on: its share of the pass, the colour before and after.

    ``under`` lists what lies there, bottom first, as (pass key, coats).
    """

    share: float
    before: Lab
    here: Lab
    under: tuple[tuple[str, float], ...] = ()


@dataclass(frozen=True)
class Rung:
    """One pass on the ladder of its element.

    ``change`` is CIEDE2000 from what lies under it to the colour here;
    ``step`` is the same, None for the element's first pass, which has no tone
    below it. ``lightness_step`` is that step in L*.
    """

    pass_key: str
    role: str
    alone: Lab
    before: Lab
    here: Lab
    change: float
    step: float | None
    lightness_step: float | None
    places: tuple[Place, ...]
    wet: bool


def ladders(scene: Scene, sequence: Sequence) -> Mapping[str, tuple[Rung, ...]]:
    """The ladder of every element that has passes, bottom first, by element name."""
    raster = Raster.of(scene.layer_set.width, scene.layer_set.height, GRID)
    layers = layers_of(scene, scene.plan.passes, sequence.wet, raster)
    beds = _kept_beds(layers, raster)
    places = {p.key: _places(scene, layers, beds[j]) for j, p in enumerate(scene.plan.passes)}
    result: dict[str, tuple[Rung, ...]] = {}
    for element in scene.layer_set.elements:
        passes = list(scene.plan.of_element(element))
        if passes:
            result[element] = _climb(scene, sequence, passes, places)
    return result


def _climb(
    scene: Scene, sequence: Sequence, passes: list[Pass], places: dict[str, tuple[Place, ...]]
) -> tuple[Rung, ...]:
    roles = propose_roles(scene, passes)
    rungs: list[Rung] = []
    for item in passes:
        main = places[item.key][0]
        first = not rungs
        rungs.append(
            Rung(
                pass_key=item.key,
                role=roles[item.key],
                alone=scene.alone[item.key],
                before=main.before,
                here=main.here,
                change=difference(main.before, main.here),
                step=None if first else difference(main.before, main.here),
                lightness_step=None if first else main.here[0] - main.before[0],
                places=places[item.key],
                wet=item.key in sequence.wet,
            )
        )
    return tuple(rungs)


@dataclass(frozen=True)
class _Bed:
    """What lies beneath a pass on a share of it: thicknesses of the layers below, in halves."""

    share: float
    halves: tuple[float, ...]


Beds = tuple[tuple[_Bed, ...], ...]
_BEDS: Kept[object, Beds] = Kept(
    20_000_000, lambda beds: sum(200 + 16 * len(b.halves) for bed in beds for b in bed)
)


def _kept_beds(layers: list[Layer], raster: Raster) -> Beds:
    """The beds of every layer; kept by the fields alone, which a change of ink leaves as they are."""

    def make() -> Beds:
        seen, active = shares_in(layers, Window(0, 0, raster.width, raster.height))
        shares = np.zeros((len(seen), len(layers)), np.float32)
        shares[:, active] = seen
        return tuple(_beds(shares, j) for j in range(len(layers)))

    return _BEDS.get((raster, tuple(layer.key[:3] for layer in layers)), make)


def _beds(shares: Floats32, j: int) -> tuple[_Bed, ...]:
    """The beds of layer ``j``, largest share first."""
    own = shares[:, j]
    top = float(own.max())
    if top <= 0:
        return (_Bed(1.0, (0.0,) * j),)
    under = np.round(shares[own >= HEART * top, :j] * 2).astype(np.int64)
    # fixed odd multipliers make one number of each row; a clash would only merge two beds
    codes = under @ (np.arange(1, j + 1, dtype=np.int64) * 2654435761 % 1000003)
    _, first, counts = np.unique(codes, return_index=True, return_counts=True)
    largest = np.argsort(-counts, kind="stable")
    total = counts.sum()
    kept = [i for n, i in enumerate(largest) if n == 0 or counts[i] >= LEAST_SHARE * total]
    return tuple(
        _Bed(float(counts[i] / total), tuple(float(h) / 2 for h in under[first[i]])) for i in kept[:6]
    )


def _places(scene: Scene, layers: list[Layer], beds: tuple[_Bed, ...]) -> tuple[Place, ...]:
    """The colours before and after a pass on each of its beds."""
    j = len(beds[0].halves)
    return tuple(
        Place(
            b.share,
            _stack(scene, layers, b.halves, None),
            _stack(scene, layers, b.halves, j),
            tuple(
                (scene.plan.passes[i].key, round(layers[i].thickness * h, 3))
                for i, h in enumerate(b.halves)
                if h > 0
            ),
        )
        for b in beds
    )


def _stack(scene: Scene, layers: list[Layer], halves: tuple[float, ...], top: int | None) -> Lab:
    coats = [
        Coat(layers[i].ink, layers[i].thickness * h, layers[i].wet) for i, h in enumerate(halves) if h > 0
    ]
    if top is not None:
        coats.append(Coat(layers[top].ink, layers[top].thickness, layers[top].wet))
    return predict(scene.stock, coats)


def propose_roles(scene: Scene, passes: list[Pass]) -> dict[str, str]:
    """What each ink does on an element: ground, highlight, midtone, shadow, accent or line."""
    roles: dict[str, str] = {}
    tones = []
    whole = max(scene.group(p).area for p in passes)
    for item in passes:
        ink, group = scene.ink(item), scene.group(item)
        pale = scene.depth(item.ink) < GROUND_DEPTH and ink.chemistry.opaque
        if pale and scene.stock.lab[0] < 70:
            roles[item.key] = "ground"
        elif group.typical_width < LINE_WIDTH and group.area < 0.6 * whole:
            roles[item.key] = "line"
        else:
            tones.append(item)
    tones.sort(key=lambda p: -scene.alone[p.key][0])
    for i, item in enumerate(tones):
        if len(tones) == 1:
            roles[item.key] = "midtone"
        elif i == 0:
            roles[item.key] = "highlight"
        elif i == len(tones) - 1:
            roles[item.key] = "accent" if scene.group(item).area < 0.15 * whole else "shadow"
        else:
            roles[item.key] = "midtone"
    return roles
