"""The light on a photographed panel, by card that is bare on it or that it lies on.

What bare card shows, over what it is, is the light: followed over the panel by
a polynomial in the logarithm whose higher terms are held back (ridge: a lamp's
light bends little), so that a few bare places bend nothing. Dividing by it
takes lamp, lens, exposure and white balance out (von Kries, per channel).
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from strata.errors import BadFile
from strata.photographed.edges import sampled
from strata.photographed.regions import Predicted
from strata.picture.raster import Floats32
from strata.swatchcard.light import ONE_SIDED, UNEVEN, blue_to_red, robust
from strata.swatchcard.marks import Placed

Floats = NDArray[np.float64]
BLOCK = 2.0
# mm of a patch of bare card
NEAR, FAR = 2.5, 13.0
# mm from the panel's edge within which the card below it is looked at: not in its shadow, not off its own edge
LEAST, SPREAD = 14, 0.22
# patches, and their spread over the panel (standard deviation, of its half) both ways, that tell the light
DEGREE = 3
HELD = (0.0, 0.0, 0.35, 0.18)
# standard deviation to which terms of each degree are held; the constant and the slope go free
READ_OFF = 0.03
# natural logarithm: what one patch may be off by itself
TOO_DARK_TO_TELL = 0.09
# linear; card darker than that says too little of the light
SHADOW, MOST_SHADOWED = 0.11, 0.04
INKED, MOST_INKED = 0.25, 0.12
# natural logarithm by which a patch leaves the light in some channel and not in others, and how many may


@dataclass(frozen=True)
class Light:
    """``surface`` (3, terms) over the panel; ``uneven`` brightest over darkest; ``patches`` that it was told by."""

    surface: Floats
    size: tuple[float, float]
    uneven: float
    blue_to_red: float
    patches: int

    def at(self, points: Floats) -> Floats:
        """What white (1, 1, 1) would give (..., 3) at points (..., 2) mm."""
        flat = points.reshape(-1, 2)
        return np.asarray(np.exp(_terms(flat, self.size)[0] @ self.surface.T)).reshape(*points.shape[:-1], 3)


def _terms(points: Floats, size: tuple[float, float]) -> tuple[Floats, NDArray[np.int64]]:
    """Legendre products (n, terms) to ``DEGREE``, and the degree of each."""
    x, y = 2 * points[:, 0] / size[0] - 1, 2 * points[:, 1] / size[1] - 1
    every = np.polynomial.legendre.legvander2d(x, y, [DEGREE, DEGREE])
    pairs = [(i, j) for i in range(DEGREE + 1) for j in range(DEGREE + 1) if i + j <= DEGREE]
    kept = [i * (DEGREE + 1) + j for i, j in pairs]
    return np.asarray(every[:, kept]), np.array([i + j for i, j in pairs])


@dataclass(frozen=True)
class Patches:
    """Bare places: (n, 2) mm, what the picture shows (n, 3) and what the card is (n, 3), both linear; clipped shares."""

    points: Floats
    shown: Floats
    true: Floats
    clipped: Floats


def on_the_panel(light: Floats32, clipped: Floats32, own: Predicted) -> Patches:
    """Patches where the panel itself is bare: ``light`` (h, w, 3) and ``clipped`` (h, w) on the panel's own grid."""
    side = round(BLOCK * own.per_mm)
    rows, columns = own.bare.shape[0] // side, own.bare.shape[1] // side
    cut = np.s_[: rows * side, : columns * side]

    def blocks(values: NDArray[np.generic]) -> NDArray[np.generic]:
        more = values.shape[2:]
        split = values[cut].reshape(rows, side, columns, side, *more)
        return split.swapaxes(1, 2).reshape(rows * columns, side * side, *more)

    bare = blocks(own.bare)
    enough = np.flatnonzero(bare.mean(axis=1) > 0.7)
    at = np.stack(np.divmod(enough, columns)[::-1], axis=1)
    shown, true = blocks(light)[enough].astype(float), blocks(own.linear)[enough].astype(float)
    mask = bare[enough][..., None].astype(bool)
    return Patches(
        (at + 0.5) * BLOCK,
        np.nanmedian(np.where(mask, shown, np.nan), axis=1),
        np.nanmedian(np.where(mask, true, np.nan), axis=1),
        blocks(clipped)[enough].astype(float).mean(axis=1),
    )


def around_the_panel(linear: Floats32, at: Placed, own: Predicted, card: Floats) -> Patches:
    """Patches of the card that the panel lies on: ``card`` (3,) its own linear RGB."""
    height, width = linear.shape[:2]
    x = np.arange(-FAR + BLOCK / 2, own.width + FAR, BLOCK)
    y = np.arange(-FAR + BLOCK / 2, own.height + FAR, BLOCK)
    points = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)
    dx = np.maximum(np.maximum(-points[:, 0], points[:, 0] - own.width), 0)
    dy = np.maximum(np.maximum(-points[:, 1], points[:, 1] - own.height), 0)
    away = np.maximum(dx, dy)
    points = points[(away > NEAR) & (away < FAR)]
    px = at.project(points)
    inside = ((px > 3) & (px < np.array([width, height]) - 3)).all(axis=1)
    points = points[inside]
    within = (np.stack(np.meshgrid(np.linspace(-0.8, 0.8, 7), np.linspace(-0.8, 0.8, 7)), -1)).reshape(-1, 2)
    seen = sampled(linear, at, points[:, None, :] + within[None])
    shown = np.median(seen.astype(float), axis=1)
    clipped = (seen.max(axis=2) > 0.985).mean(axis=1)
    return Patches(points, shown, np.broadcast_to(card, shown.shape), np.asarray(clipped, float))


def light_of(patches: Patches, own: Predicted) -> Light:
    """The light by its patches.

    Raises BadFile whose ``field`` is the reason: no_bare, too_dark_card,
    overexposed, too_dark, too_yellow, too_blue, shadowed, uneven.
    """
    size = (own.width, own.height)
    _refuse_few(patches, size)
    if float(np.median(patches.true.max(axis=1))) < TOO_DARK_TO_TELL:
        raise BadFile(
            "The bare card is too dark to tell the light by. Lay the finished card on a larger sheet of white card, say which, and photograph both.",
            "too_dark_card",
        )
    colour = blue_to_red(patches.shown, patches.true, patches.clipped)
    terms, degrees = _terms(patches.points, size)
    logs = np.log(np.maximum(patches.shown / np.maximum(patches.true, 1e-4), 1e-4))
    held = np.array([(READ_OFF / HELD[d]) ** 2 if HELD[d] else 1e-9 for d in degrees])
    surface = np.array([robust(terms, logs[:, c], 0.006, held) for c in range(3)])
    _refuse_shadow(logs - terms @ surface.T)
    light = Light(surface, size, 1.0, colour, len(logs))
    shown = light.at(np.vstack([own.corners, own.corners.mean(axis=0)])).mean(axis=1)
    uneven = float(shown.max() / shown.min())
    if uneven > UNEVEN:
        raise BadFile(ONE_SIDED, "uneven")
    return replace(light, uneven=uneven)


def _refuse_few(patches: Patches, size: tuple[float, float]) -> None:
    spread = np.zeros(2) if not len(patches.points) else patches.points.std(axis=0) / (np.array(size) / 2)
    if len(patches.points) < LEAST or float(spread.min()) < SPREAD:
        raise BadFile(
            "Too little bare card is to be seen to tell the light by. Lay the finished card on a larger sheet of white card, say which, and photograph both.",
            "no_bare",
        )


def _refuse_shadow(off: Floats) -> None:
    """A shadow's edge leaves the smooth light in all channels alike."""
    neutral = np.ptp(off, axis=1) < 0.6 * np.abs(off).mean(axis=1) + 0.03
    if float(((np.abs(off).max(axis=1) > INKED) & ~neutral).mean()) > MOST_INKED:
        raise BadFile(
            "There is ink where bare card was to be. Another colouring of the same picture, or a card made otherwise?",
            "wrong_card",
        )
    shaded = (np.abs(off.mean(axis=1)) > SHADOW) & neutral
    if float(shaded.mean()) > MOST_SHADOWED:
        raise BadFile(
            "A shadow lies across the card. Move what throws it (often the telephone or a hand), and let the light come from one side.",
            "shadowed",
        )
