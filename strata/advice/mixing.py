"""Whether a mixture is what was wanted: its hue lost, or mud; for one place or for many at once.

Colours are CIELAB; of each pair of arrays (..., 3) an answer for each row.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike, NDArray

from strata.optics.colour import Floats, degrees_apart, differences

Truths = NDArray[np.bool_]

COLOURFUL = 15.0
# C*ab that a colour must have before it has a hue to lose
UNLIKE = 12.0
# CIEDE2000 from the ink alone under which nobody would call it another colour
HUE_LOST = 40.0
# degrees from the ink alone at which it is another hue
DULLED, HUELESS = 0.5, 6.0
# share of the ink's own chroma under which it is dulled; C*ab under which hue means nothing
COLLAPSED, DULLER, GREY = 0.3, 0.7, 10.0
# shares of the parents' mean chroma: gone, and clearly less; C*ab that is grey
BROWN_HUES, BROWN_CHROMA, BROWN_LIGHT = (20.0, 95.0), 36.0, 60.0
# what people call brown: dull, dark orange to yellow
APART = 60.0
# degrees between parents that it can come from


def _polar(lab: ArrayLike) -> tuple[Floats, Floats, Floats]:
    colour = np.asarray(lab, float)
    a, b = colour[..., 1], colour[..., 2]
    return colour[..., 0], np.hypot(a, b), np.degrees(np.arctan2(b, a)) % 360


def hue_lost(alone: ArrayLike, here: ArrayLike) -> Truths:
    """Whether a colourful ink (its colour alone) ends as another hue, or grey."""
    _, strong, hue = _polar(alone)
    _, left, there = _polar(here)
    far = differences(*np.broadcast_arrays(np.asarray(alone, float), np.asarray(here, float))) >= UNLIKE
    turned = (left >= HUELESS) & (degrees_apart(hue, there) > HUE_LOST)
    return np.asarray((strong >= COLOURFUL) & far & (turned | (left < DULLED * strong)))


def turned_brown(first: ArrayLike, second: ArrayLike, here: ArrayLike) -> Truths:
    """Whether two colours that have a hue made mud: grey, or a brown that neither of them was.

    Blue and yellow make green, red and blue violet: a hue between the parents
    is a colour, however far they lay apart, as long as chroma is left.
    """
    _, one, hue_one = _polar(first)
    _, other, hue_other = _polar(second)
    light, chroma, hue = _polar(here)
    left = chroma / np.maximum((one + other) / 2, 1e-9)
    gone = (left < COLLAPSED) | (chroma < GREY)
    dull = (hue >= BROWN_HUES[0]) & (hue <= BROWN_HUES[1]) & (chroma < BROWN_CHROMA) & (light < BROWN_LIGHT)
    brown = dull & (left < DULLER) & (degrees_apart(hue_one, hue_other) > APART)
    return np.asarray((np.minimum(one, other) >= COLOURFUL) & (gone | brown))
