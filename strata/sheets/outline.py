"""Shapes as path data: for drawing and pointing, never measured."""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray

TOLERANCE = 0.03
# mm


def path_of(rings: Iterable[NDArray[np.float64]], decimals: int) -> str:
    """SVG path data of closed rings, each (n + 1, 2) with its first point again at the end."""
    pair = f"%.{decimals}f,%.{decimals}f"
    # one format for all points of a ring: three times as fast as one each
    return "".join(
        "M" + " ".join([pair] * (len(r) - 1)) % tuple(r[:-1].ravel().tolist()) + "Z" for r in rings
    )


def outline(shape: shapely.Geometry) -> str:
    """SVG path data in mm, two decimals."""
    return "".join(_outline(polygon) for polygon in shapely.get_parts(shape))


@lru_cache(maxsize=20_000)
def _outline(polygon: shapely.Polygon) -> str:
    """Kept by shape: a group is drawn with its openings' own, and parts are named oftener than moved."""
    return polygon_path(polygon.simplify(TOLERANCE))


def polygon_path(polygon: shapely.Polygon) -> str:
    """SVG path data in mm of a polygon as it is, two decimals."""
    return path_of((shapely.get_coordinates(r) for r in (polygon.exterior, *polygon.interiors)), 2)
