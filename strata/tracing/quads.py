"""Four corners of a sheet: in which order they come, what they enclose, where the lines between them cross."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Line = tuple[Floats, Floats]
# a point (2,), a direction (2,)


def clockwise(corners: Floats) -> Floats:
    """Four corners clockwise (y down), beginning with the one nearest the top left."""
    middle = corners.mean(axis=0)
    angle = np.arctan2(corners[:, 1] - middle[1], corners[:, 0] - middle[0])
    turned = corners[np.argsort(angle)]
    return np.asarray(np.roll(turned, -int(np.argmin(turned.sum(axis=1))), axis=0))


def quad_area(corners: Floats) -> float:
    """What corners (n, 2) in their order enclose (the shoelace formula)."""
    x, y = corners.T
    return 0.5 * abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1)))


def crossing(first: Line, second: Line) -> Floats:
    """Where two lines meet; they must not be parallel."""
    (p, d), (q, e) = first, second
    factor = np.linalg.solve(np.column_stack([d, -e]), q - p)
    return np.asarray(p + factor[0] * d)
