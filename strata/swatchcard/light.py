"""The light on a card, by the bare paper between its fields; and whether it is fit to measure by.

Every channel of the bare card is followed over the sheet by a smooth surface
(a polynomial in the logarithm, fitted robustly so that a smear or a speck on
the paper does not bend it). Dividing by it takes out lamp, window, lens and
the camera's white balance at once (von Kries, per channel).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from strata.errors import BadFile
from strata.swatchcard.layout import CardLayout
from strata.swatchcard.marks import OVEREXPOSED, TOO_DARK

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
CLIPPED, MOST_CLIPPED = 0.15, 0.04
# share of a patch's pixels at the top of the scale, and of patches for which that may be so
DARKEST = 0.035
# linear; a bare card that reads darker leaves too few steps for the inks on it
SHADOW, MOST_SHADOWED = 0.07, 0.03
# natural logarithm by which a patch may leave the smooth light, and the share of patches that may
YELLOWEST, BLUEST = 0.17, 3.5
# blue over red of the bare card, linear, against what its own colour would give
UNEVEN = 4.0
# brightest over darkest place of the card
TOO_YELLOW = "The light is too yellow: too little blue is left to tell the inks by. Use daylight or a daylight lamp, and leave the room light off."
TOO_BLUE = "The light is too blue to tell the inks by. Photograph the card in plain daylight, or set the white balance to automatic."
ONE_SIDED = "One side of the card is in much better light than the other. Turn it towards the window, or use two lamps."


@dataclass(frozen=True)
class Light:
    """``surface`` (3, n) coefficients over the card; ``uneven`` brightest over darkest; ``blue_to_red`` linear."""

    surface: Floats
    degree: int
    size: tuple[float, float]
    uneven: float
    blue_to_red: float

    def at(self, points: Floats) -> Floats:
        """Linear RGB (n, 3) that bare card gives at points (n, 2) mm."""
        return np.asarray(np.exp(_terms(points, self.size, self.degree) @ self.surface.T))


def _terms(points: Floats, size: tuple[float, float], degree: int) -> Floats:
    x, y = 2 * points[:, 0] / size[0] - 1, 2 * points[:, 1] / size[1] - 1
    legendre = np.polynomial.legendre.legvander2d(x, y, [degree, degree])
    kept = [i * (degree + 1) + j for i in range(degree + 1) for j in range(degree + 1) if i + j <= degree]
    return np.asarray(legendre[:, kept])


def robust(terms: Floats, values: Floats, least: float, held: Floats | None = None) -> Floats:
    """Least squares reweighted (Tukey's biweight), n coefficients.

    ``least``: the spread below which nothing is an outlier. ``held`` (n,): how
    much each coefficient is pulled towards nothing (ridge).
    """
    weights = np.ones(len(values))
    found: Floats = np.zeros(terms.shape[1])
    pull = np.zeros((0, terms.shape[1])) if held is None else np.diag(np.sqrt(held))
    nothing = np.zeros(len(pull))
    for _ in range(12):
        root = np.sqrt(weights)
        a, b = np.vstack([terms * root[:, None], pull]), np.concatenate([values * root, nothing])
        found = np.asarray(np.linalg.lstsq(a, b, rcond=None)[0], float)
        off = values - terms @ found
        scale = max(1.4826 * float(np.median(np.abs(off))), least)
        weights = np.clip(1 - (off / (4.685 * scale)) ** 2, 0, 1) ** 2
    return found


def blue_to_red(shown: Floats, true: Floats, clipped: Floats) -> float:
    """Blue over red of the light on bare card: ``shown`` and ``true`` (n, 3) linear, ``clipped`` (n,) shares.

    Raises BadFile for a light that nothing can be told by: overexposed, too_dark, too_yellow, too_blue.
    """
    if float((clipped > CLIPPED).mean()) > MOST_CLIPPED:
        raise BadFile(OVEREXPOSED, "overexposed")
    if float(np.median(shown, axis=0).max()) < DARKEST:
        raise BadFile(TOO_DARK, "too_dark")
    typical = np.median(shown / np.maximum(true, 1e-4), axis=0)
    found = float(typical[2] / max(typical[0], 1e-6))
    if found < YELLOWEST:
        raise BadFile(TOO_YELLOW, "too_yellow")
    if found > BLUEST:
        raise BadFile(TOO_BLUE, "too_blue")
    return found


def light_of(patches: Floats, clipped: Floats, layout: CardLayout, card: Floats) -> Light:
    """The light from bare patches: ``patches`` (n, 3) linear RGB, ``clipped`` (n,) shares at the top of the scale.

    ``card`` is the card's own linear RGB. Raises BadFile with the reason in
    its ``field``: overexposed, too_dark, too_yellow, too_blue, shadowed, uneven.
    """
    colour = blue_to_red(patches, np.broadcast_to(card, patches.shape), clipped)
    boxes = np.array(layout.bare)
    points = boxes[:, :2] + boxes[:, 2:] / 2
    degree = 4 if len(points) > 80 else 3
    terms, logs = _terms(points, layout.size, degree), np.log(np.maximum(patches, 1e-4))
    surface = np.array([robust(terms, logs[:, c], 0.004) for c in range(3)])
    light = Light(surface, degree, layout.size, 1.0, colour)
    _refuse_shadow(logs - terms @ surface.T, layout)
    shown = light.at(points).mean(axis=1)
    uneven = float(shown.max() / shown.min())
    if uneven > UNEVEN:
        raise BadFile(ONE_SIDED, "uneven")
    return Light(surface, degree, layout.size, uneven, colour)


def _refuse_shadow(off: Floats, layout: CardLayout) -> None:
    """A shadow's edge leaves the smooth light in all channels alike; a smear of ink does not."""
    neutral = np.ptp(off, axis=1) < 0.6 * np.abs(off).mean(axis=1) + 0.02
    shaded = (np.abs(off.mean(axis=1)) > SHADOW) & neutral
    if float(shaded.mean()) <= MOST_SHADOWED:
        return
    boxes = np.array(layout.bare)[shaded]
    near = [
        i + 1
        for i, (x, y, w, h) in enumerate(layout.fields)
        if ((np.abs(boxes[:, 0] - x - w / 2) < w) & (np.abs(boxes[:, 1] - y - h / 2) < h)).any()
    ]
    where = f" across fields {near[0]} to {near[-1]}" if len(near) > 1 else ""
    raise BadFile(
        f"A shadow lies{where}. Move what throws it (often the telephone or a hand), and let the light come from one side.",
        "shadowed",
    )
