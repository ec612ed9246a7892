"""What in a picture is unlike the table that it lies on: the sheet, or what may be it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from strata.optics.colour import linear_of_bytes
from strata.tracing.smooth import smooth_model

Floats32 = NDArray[np.float32]
_FRAME = 0.03
# share of the picture's sides that counts as its frame
_LEAST_STRANGE = 10
# of 255: below it the grain of a table is told apart, not a sheet
_SEVERAL = 4
# things side by side
_COLOUR_PX, _DARK = 2.0, 0.01
# px over which colour is taken together; light that every channel has at least
Thing = tuple[NDArray[np.uint8], NDArray[np.int32]]
# a mask (h, w) of 0 and 1, and its box (left, top, width, height, ..)


def thing_of(strange: Floats32, faint: bool = False) -> Thing | None:
    """The largest connected thing that is unlike the table, or that is so only ``faint``ly; None where nothing is."""
    return next(iter(things_of(strange, faint, closed=True)), None)


def things_of(strange: Floats32, faint: bool = False, closed: bool = False) -> list[Thing]:
    """Connected things that are unlike the table, the largest first; ``closed``: looking past fine lines through them."""
    import cv2

    plane = np.rint(strange * 255).astype(np.uint8)
    level, _ = cv2.threshold(plane, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    if faint:
        level, _ = cv2.threshold(plane[plane <= level][None], 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    mask = (plane > level).astype(np.uint8)
    if closed:
        kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (5, 5))
        mask = cv2.morphologyEx(mask, cv2.MORPH_CLOSE, kernel)
    _, labels, stats, _ = cv2.connectedComponentsWithStats(mask, connectivity=8 if closed else 4)
    if level < _LEAST_STRANGE:
        return []
    sizes = stats[1:, cv2.CC_STAT_WIDTH] * stats[1:, cv2.CC_STAT_HEIGHT]
    largest = 1 + np.argsort(-sizes, kind="stable")[:_SEVERAL]
    return [((labels == k).astype(np.uint8), stats[k]) for k in largest]


def strangeness(
    small: NDArray[np.uint8], frame: NDArray[np.bool_] | None = None, of_colour: bool = False
) -> Floats32:
    """How unlike the table each pixel is, 0..1; the table is known from the picture's frame, or where ``frame`` is.

    ``of_colour``: in its colour alone, which is the same in light and shadow: the logarithms of the ratios of channels
    (Finlayson and others, IEEE PAMI 28, 2006).
    """
    height, width = small.shape[:2]
    if frame is None:
        frame = np.ones((height, width), bool)
        rim = max(3, int(_FRAME * min(height, width)))
        frame[rim:-rim, rim:-rim] = False
    red, green, blue = np.moveaxis(_light_of(small) if of_colour else tones_of(small), -1, 0)
    told = (red - green, blue - green) if of_colour else (red, green, blue)
    worst = np.max([np.abs(values - smooth_model(values, frame)) for values in told], axis=0)
    return np.asarray(np.clip(worst / 1.6, 0, 1), np.float32)


def tones_of(small: NDArray[np.uint8]) -> Floats32:
    """The logarithms of the three channels (h, w, 3), made a little soft: steps alike to the eye."""
    import cv2

    soft = cv2.GaussianBlur(small, (0, 0), 1).astype(np.float32)
    return np.asarray(np.log(soft / 255 + 0.04), np.float32)


def _light_of(small: NDArray[np.uint8]) -> Floats32:
    """The logarithms of the light in three channels (h, w, 3): differences of two are the same in light and shadow."""
    import cv2

    soft = cv2.GaussianBlur(small, (0, 0), _COLOUR_PX)
    return np.asarray(np.log(linear_of_bytes(np.asarray(soft, np.uint8)) + _DARK), np.float32)
