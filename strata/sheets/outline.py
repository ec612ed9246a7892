"""Shapes as path data: for drawing and pointing, never measured."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from strata.kept import Kept
from strata.sheets.known import of_each

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
    return "".join(outlines(shapely.get_parts(shape).tolist()))


def outlines(polygons: Sequence[shapely.Polygon]) -> list[str]:
    """SVG path data in mm of each polygon, two decimals; many at once take a fifth of the time of one by one."""
    return of_each(polygons, _KNOWN, lambda some: _polygon_paths(_coarser(some)))


_KNOWN: Kept[bytes, str] = Kept(16_000_000, lambda path: len(path) + 200)


def _coarser(shapes: NDArray[np.object_]) -> NDArray[np.object_]:
    """Each shape without the points that its outline does without.

    Douglas and Peucker's way by itself (Cartographica 10, 1973) takes a seventh of the time of GEOS's that keeps
    topology, and stays as near; where it lets rings meet or go, the slower one is taken.
    """
    found: NDArray[np.object_] = shapely.simplify(shapes, TOLERANCE, preserve_topology=False)
    whole = shapely.is_valid(found) & ~shapely.is_empty(found)
    for told in (shapely.get_type_id, shapely.get_num_interior_rings):
        whole &= told(found) == told(shapes)
    found[~whole] = shapely.simplify(shapes[~whole], TOLERANCE)
    return found


def polygon_path(polygon: shapely.Polygon) -> str:
    """SVG path data in mm of a polygon as it is, two decimals."""
    return _polygon_paths(np.array([polygon], dtype=object))[0]


def _polygon_paths(polygons: NDArray[np.object_]) -> list[str]:
    rings, of = shapely.get_rings(polygons, return_index=True)
    points, ring_of = shapely.get_coordinates(rings, return_index=True)
    starts = np.flatnonzero(np.diff(ring_of)) + 1
    paths = [""] * len(polygons)
    for polygon, ring in zip(of.tolist(), np.split(points, starts), strict=True):
        paths[polygon] += path_of([ring], 2)
    return paths
