"""Shapes as path data: for drawing and pointing, never measured."""

from __future__ import annotations

from functools import lru_cache

import shapely

TOLERANCE = 0.03
# mm


def outline(shape: shapely.Geometry) -> str:
    """SVG path data in mm, two decimals."""
    return "".join(_outline(polygon) for polygon in shapely.get_parts(shape))


@lru_cache(maxsize=20_000)
def _outline(polygon: shapely.Polygon) -> str:
    """Kept by shape: a group is drawn with its openings' own, and parts are named oftener than moved."""
    text = []
    kept = polygon.simplify(TOLERANCE)
    for ring in (kept.exterior, *kept.interiors):
        points = shapely.get_coordinates(ring)[:-1]
        # one format for all of them: three times as fast as one each
        text.append("M" + " ".join(["%.2f,%.2f"] * len(points)) % tuple(points.ravel().tolist()) + "Z")
    return "".join(text)
