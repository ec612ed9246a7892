"""The narrowest neck of a shape, from its medial axis.

The medial axis is taken from the Voronoi diagram of points along the
boundary (Brandt & Algazi, "Continuous skeleton computation by Voronoi
diagram", CVGIP 1992). Walking its edges from the widest clearance to the
narrowest, two wide parts meet at the neck between them: the same width at
which shrinking the shape from all sides would part it in two.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

CLEARLY_WIDER = 1.25
# both sides of a neck are at least this much wider than it
_LEAST_STEP, _POINTS, _FEWEST = 0.03, 420, 90
# mm between boundary points, how many there are about, and the fewest
_MOST_TRIED = 16

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Neck:
    """``width`` in mm between two points of the boundary."""

    width: float
    ends: tuple[tuple[float, float], tuple[float, float]]


def _step(shape: Polygon) -> float:
    """mm between boundary points."""
    return float(min(max(_LEAST_STEP, shape.length / _POINTS), shape.length / _FEWEST))


def _boundary(shape: Polygon) -> Floats:
    """Points along all rings, evenly spaced, corners kept (n, 2)."""
    step = _step(shape)
    lines = [shapely.segmentize(ring, step) for ring in (shape.exterior, *shape.interiors)]
    points = np.vstack([shapely.get_coordinates(line)[:-1] for line in lines])
    return np.asarray(np.unique(points, axis=0))


def _edges(shape: Polygon) -> tuple[Floats, NDArray[np.intp], Floats, NDArray[np.intp], Floats]:
    """Medial vertices' clearances, edges between them, edge clearances, and the boundary pair of each."""
    from scipy.spatial import Voronoi

    points = _boundary(shape)
    found = Voronoi(points)
    vertices = found.vertices
    inside = shapely.contains_xy(shape, vertices[:, 0], vertices[:, 1])
    ridges = np.array(found.ridge_vertices, dtype=np.intp).reshape(-1, 2)
    pairs = np.asarray(found.ridge_points, dtype=np.intp)
    kept = (ridges >= 0).all(axis=1)
    kept[kept] = inside[ridges[kept]].all(axis=1)
    ridges, pairs = ridges[kept], pairs[kept]
    ends = vertices[ridges]
    one, two = points[pairs[:, 0]], points[pairs[:, 1]]
    reach = np.linalg.norm(ends - one[:, None, :], axis=2)
    radius = np.zeros(len(vertices))
    radius[ridges.ravel()] = reach.ravel()
    # an edge is narrowest half-way between its two boundary points, where it passes there
    middle = (one + two) / 2
    run = ends[:, 1] - ends[:, 0]
    along = np.einsum("ij,ij->i", middle - ends[:, 0], run)
    within = (along > 0) & (along < np.einsum("ij,ij->i", run, run))
    narrow = np.where(within, np.linalg.norm(one - two, axis=1) / 2, reach.min(axis=1))
    return radius, ridges, narrow, pairs, points


def neck(shape: Polygon) -> Neck | None:
    """The narrowest neck of a shape in mm, or None where it has none (a disc, a plain slot)."""
    if shape.area <= 0 or len(shape.exterior.coords) < 4:
        return None
    radius, ridges, narrow, pairs, points = _edges(shape)
    parent = np.arange(len(radius)).tolist()
    peak = radius.tolist()

    def root(i: int) -> int:
        while parent[i] != i:
            parent[i] = parent[parent[i]]
            i = parent[i]
        return i

    found: list[int] = []
    for k in np.argsort(-narrow).tolist():
        a, b = root(int(ridges[k, 0])), root(int(ridges[k, 1]))
        if a == b:
            continue
        if min(peak[a], peak[b]) >= CLEARLY_WIDER * narrow[k]:
            found.append(k)
        if peak[a] < peak[b]:
            a, b = b, a
        parent[b] = a
    for k in found[::-1][:_MOST_TRIED]:
        if narrow[k] > 0 and _parts(shape, float(narrow[k])):
            return _measured(shape, points[pairs[k, 0]], points[pairs[k, 1]])
    return None


def _parts(shape: Polygon, half: float) -> bool:
    """Whether shrinking by a little over ``half`` truly parts the shape: jagged tips of the axis do not."""
    d = half * 1.02 + 1e-4
    rest = [p for p in shapely.get_parts(shape.buffer(-d, quad_segs=4)) if p.area > 0]
    wide = [p for p in rest if not p.buffer(-0.2 * d, quad_segs=2).is_empty]
    return len(wide) >= 2


def _measured(shape: Polygon, one: Floats, two: Floats) -> Neck:
    """The true distance between the two sides near a pair of sampled points."""
    width = float(np.linalg.norm(one - two))
    near = min(1.5 * _step(shape), 0.4 * width)
    sides = [shapely.intersection(shape.boundary, shapely.Point(p).buffer(near)) for p in (one, two)]
    line = shapely.shortest_line(*sides)
    if line is None or line.is_empty or line.length == 0:
        ends = (one, two)
    else:
        ends = tuple(shapely.get_coordinates(line))
        width = float(line.length)
    (x0, y0), (x1, y1) = (tuple(float(v) for v in p) for p in ends)
    return Neck(width, ((x0, y0), (x1, y1)))
