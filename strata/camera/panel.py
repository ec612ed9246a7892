"""The simulated camera over a finished panel, as a hidden maker made it: other strengths and hands, blotches, slip."""

from __future__ import annotations

import zlib
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from strata.camera.card import CardShot, _noise, card_shot, taken
from strata.camera.spectral import Eye
from strata.optics.colour import Lab
from strata.optics.inks import Ink
from strata.optics.learned import Learned
from strata.optics.spectrum import reflectance
from strata.optics.stack import HANDS
from strata.picture.colours import reflectances
from strata.picture.shown import View, view
from strata.plan.scene import Scene

Floats32 = NDArray[np.float32]
PER_MM = 7.0
# px a mm of the panel before the lens
_STRENGTHS = (0.7, 0.85, 1.0, 1.15, 1.3)
# of what is laid, at which colours are worked out; between them they are interpolated
LIGHTS, DIMMEST = 97.0, 0.12
# percentile of the panel that the camera exposes for, and what it can do no more for
AROUND = 22.0
# mm by which the card below stands out all round
BLOTCH = 4.0
# mm, about the size of a blotch


@dataclass(frozen=True)
class HiddenMaker:
    """How a maker's cards come out, which the photographs alone tell: pads by key, hands, and how far sheets slip (mm)."""

    inks: Mapping[str, Learned]
    hands: Mapping[str, float]
    slip: float = 0.15


def hidden_maker(seed: int, inks: Mapping[str, Ink]) -> HiddenMaker:
    """A maker as there are many: pads up to a half stronger or weaker, hues a little apart, a hand of her own."""
    rng = np.random.default_rng(seed)
    whole = float(np.exp(rng.normal(0, 0.15)))
    # how wet she likes her pads
    found = {}
    for key in sorted(inks):
        # by its own name: a pad is the same in whatever drawer it lies
        rng = np.random.default_rng([seed, zlib.crc32(key.encode())])
        strength = whole * float(np.exp(rng.normal(0, 0.28)))
        lean = np.clip(rng.normal(0, 0.15, 2), -0.5, 0.5)
        found[key] = Learned(float(np.clip(strength, 0.4, 2.2)), (float(lean[0]), float(lean[1])))
    rng = np.random.default_rng([seed, 0])
    hands = {name: float(np.exp(rng.normal(0, 0.15))) for name in sorted(HANDS)}
    return HiddenMaker(found, hands, float(rng.uniform(0.0, 0.25)))


def made_by(scene: Scene, maker: HiddenMaker, seed: int) -> Scene:
    """The scene as that maker makes it: each sheet lies a little off."""
    rng = np.random.default_rng(seed)
    slips: dict[int, tuple[float, float]] = {}
    passes = []
    for item in scene.plan.passes:
        if item.sheet not in slips:
            dx, dy = rng.normal(0, maker.slip / 1.5, 2)
            slips[item.sheet] = (float(dx), float(dy))
        dx, dy = slips[item.sheet] if item.sheet else (0.0, 0.0)
        passes.append(replace(item, slip=(item.slip[0] + dx, item.slip[1] + dy)))
    inks = {k: replace(i, learned=maker.inks.get(k, i.learned)) for k, i in scene.inks.items()}
    plan = replace(scene.plan, passes=tuple(passes))
    return replace(scene, plan=plan, inks=inks, hands=maker.hands)


def panel_shot(width: float, height: float, seed: int) -> CardShot:
    """A shot of a panel ``width`` x ``height`` mm as a maker takes it at a window or under a lamp."""
    return card_shot(seed, upright=height >= width)


def photograph_panel(
    scene: Scene, wet: frozenset[str], shot: CardShot, around: Lab | None = None
) -> NDArray[np.uint8]:
    """RGB (h, w, 3) of the finished panel of a scene, trimmed, on a table.

    ``wet``: passes laid on wet ink. ``around``: the colour of a larger card that it lies on.
    """
    size = scene.layer_set
    made = view(scene, wet, round(size.width * PER_MM))
    eye = Eye(shot.kelvin, shot.balance)
    per_mm = made.stacks.numbers.shape[1] / size.width
    flat = _flat(made, eye, per_mm, shot)
    if around is not None:
        card = np.asarray(eye.sees(np.asarray(reflectance(around), np.float64)), np.float32)
        edge = round(AROUND * per_mm)
        flat = np.pad(flat, ((edge, edge), (edge, edge), (0, 0)))
        rim = np.ones(flat.shape[:2], bool)
        rim[edge:-edge, edge:-edge] = False
        flat[rim] = card
    white = float(np.percentile(flat.max(axis=2), LIGHTS))
    return taken(flat, per_mm, max(white, DIMMEST), shot)


def _flat(made: View, eye: Eye, per_mm: float, shot: CardShot) -> Floats32:
    """What the camera would see of every point of the panel (h, w, 3), each ink laid a little unevenly."""
    numbers = made.stacks.numbers
    rows, columns = numbers.shape
    rng = np.random.default_rng(shot.seed + 3)
    blotches = _noise(rng, rows, columns, max(2, round(BLOTCH * per_mm)))
    at = np.clip(1 + np.float32(shot.blotches) * blotches, _STRENGTHS[0], _STRENGTHS[-1])
    tones = []
    for strength in _STRENGTHS:
        layers = [replace(x, thickness=x.thickness * strength) if x.kind == "ink" else x for x in made.layers]
        reflected = reflectances(made.stock, layers, made.stacks.levels)
        tones.append(np.asarray(eye.sees(np.asarray(reflected, np.float64)), np.float32))
    step = (at - _STRENGTHS[0]) / (_STRENGTHS[1] - _STRENGTHS[0])
    low = np.minimum(step.astype(np.int32), len(_STRENGTHS) - 2)
    share = (step - low)[..., None]
    every = np.stack(tones)
    return np.asarray(every[low, numbers] * (1 - share) + every[low + 1, numbers] * share, np.float32)
