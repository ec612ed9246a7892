"""The size of a photographed sheet from two points on it that are a known distance apart."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from strata.errors import BadValue, finite

LEAST_SHARE = 0.08
# of the sheet's longer side: nearer points make every tenth of a millimetre a percent
LEAST_SIDE, MOST_SIDE = 5.0, 2000.0
# mm


def sized_by_points(
    corners: NDArray[np.float64], points: NDArray[np.float64], apart: float, width: float, height: float
) -> tuple[float, float]:
    """(width, height) mm of a sheet on which two points lie ``apart`` mm from one another.

    ``corners`` (4, 2) and ``points`` (2, 2) in px of the photograph, corners
    clockwise from the sheet's top left; ``width`` and ``height`` mm as the
    sheet is taken now: their proportion is kept. Raises BadValue for points
    that lie too near to one another or not on the sheet, and for a sheet that
    nobody has. The corners tell the perspective (Hartley & Zisserman,
    "Multiple view geometry", 2004, 4.1); the lens is left out.
    """
    import cv2

    apart = finite(apart, "apart", 0.5, MOST_SIDE)
    sheet = np.array([[0, 0], [width, 0], [width, height], [0, height]], np.float32)
    flat = cv2.getPerspectiveTransform(np.asarray(corners, np.float32), sheet)
    one, two = cv2.perspectiveTransform(np.asarray(points, np.float32)[None], flat)[0].astype(float)
    found = math.dist(one, two)
    if not math.isfinite(found) or found < LEAST_SHARE * max(width, height):
        raise BadValue("These two points lie too near to one another to measure by.", "points")
    size = np.array([width, height])
    if any(((p < -0.25 * size) | (p > 1.25 * size)).any() for p in (one, two)):
        raise BadValue("These two points do not lie on the sheet, or beside it.", "points")
    times = apart / found
    if not all(LEAST_SIDE <= side * times <= MOST_SIDE for side in (width, height)):
        raise BadValue("A sheet of that size cannot be.", "apart")
    return round(width * times, 2), round(height * times, 2)
