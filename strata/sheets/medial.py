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

from strata.sheets.joined import Joined

CLEARLY_WIDER = 1.25
# both sides of a neck are at least this much wider than it
_LEAST_STEP, _POINTS, _FEWEST = 0.03, 300, 80
# mm between boundary points, how many there are about, and the fewest
_MOST_TRIED, _JITTER = 16, 1e-5
_NEARLY_CONVEX = 0.985
# share of the convex hull from which no neck this much narrower can be

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
    """Medial vertices' clearances, edges between them, edge clearances, and the boundary pair of each.

    The Voronoi diagram is read off its dual, the Delaunay triangulation: a
    vertex for each triangle, an edge between neighbours.
    """
    points = _boundary(shape)
    # points of a circle or a straight side have many equal triangulations; a hundred-thousandth of a mm decides
    points = points + np.random.default_rng(7).uniform(-_JITTER, _JITTER, points.shape)
    triangles = _triangles(points)
    vertices = _circumcentres(points[triangles])
    inside = shapely.contains_xy(shape, vertices[:, 0], vertices[:, 1])
    radius = np.where(inside, np.linalg.norm(vertices - points[triangles[:, 0]], axis=1), 0.0)
    here, there, pairs = _neighbours(triangles, len(points))
    kept = inside[here] & inside[there]
    here, there, pairs = here[kept], there[kept], pairs[kept]
    ridges = np.column_stack([here, there])
    one, two = points[pairs[:, 0]], points[pairs[:, 1]]
    # an edge is narrowest half-way between its two boundary points, where it passes there
    start, run = vertices[here], vertices[there] - vertices[here]
    along = np.einsum("ij,ij->i", (one + two) / 2 - start, run)
    within = (along > 0) & (along < np.einsum("ij,ij->i", run, run))
    narrow = np.where(within, np.linalg.norm(one - two, axis=1) / 2, np.minimum(radius[here], radius[there]))
    return radius, ridges, narrow, pairs, points


def _triangles(points: Floats) -> NDArray[np.intp]:
    """The Delaunay triangulation (m, 3) of points (n, 2), by GEOS: loading Qhull takes longer than 100 openings."""
    found = shapely.delaunay_triangles(shapely.MultiPoint(points))
    corners = shapely.get_coordinates(found).reshape(-1, 4, 2)[:, :3].reshape(-1, 2)
    # triangles come as coordinates; as complex numbers they sort by x, then y
    order = np.lexsort((points[:, 1], points[:, 0]))
    place = np.searchsorted(points[order] @ [1, 1j], corners @ [1, 1j])
    return np.asarray(order[place].reshape(-1, 3))


def _neighbours(
    triangles: NDArray[np.intp], count: int
) -> tuple[NDArray[np.intp], NDArray[np.intp], NDArray[np.intp]]:
    """(one, other, shared points (k, 2)) of every two triangles with a side in common."""
    sides = np.sort(triangles[:, [1, 2, 2, 0, 0, 1]].reshape(-1, 2), axis=1)
    code = sides[:, 0] * count + sides[:, 1]
    order = np.argsort(code, kind="stable")
    same = np.flatnonzero(code[order][1:] == code[order][:-1])
    first, second = order[same], order[same + 1]
    return first // 3, second // 3, sides[first]


def _circumcentres(corners: Floats) -> Floats:
    """Of triangles (n, 3, 2)."""
    a = corners[:, 0]
    b, c = corners[:, 1] - a, corners[:, 2] - a
    area = 2 * (b[:, 0] * c[:, 1] - b[:, 1] * c[:, 0])
    area = np.where(np.abs(area) < 1e-14, 1e-14, area)
    bb, cc = (b * b).sum(axis=1), (c * c).sum(axis=1)
    return np.asarray(
        a + np.column_stack([c[:, 1] * bb - b[:, 1] * cc, b[:, 0] * cc - c[:, 0] * bb]) / area[:, None]
    )


def neck(shape: Polygon) -> Neck | None:
    """The narrowest neck of a shape in mm, or None where it has none (a disc, a plain slot)."""
    if shape.area <= 0 or len(shape.exterior.coords) < 4:
        return None
    if shape.area >= _NEARLY_CONVEX * shape.convex_hull.area:
        return None
    radius, ridges, narrow, pairs, points = _edges(shape)
    for k in _meetings(radius, ridges, narrow)[::-1][:_MOST_TRIED]:
        if narrow[k] > 0 and _parts(shape, float(narrow[k])):
            return _measured(shape, points[pairs[k, 0]], points[pairs[k, 1]])
    return None


def _meetings(radius: Floats, ridges: NDArray[np.intp], narrow: Floats) -> list[int]:
    """Edges at which two clearly wider parts of the axis meet, widest first (a union-find of its vertices)."""
    joined, peak = Joined(len(radius)), radius.tolist()
    root = joined.root
    found: list[int] = []
    for k in np.argsort(-narrow).tolist():
        a, b = root(int(ridges[k, 0])), root(int(ridges[k, 1]))
        if a == b:
            continue
        if min(peak[a], peak[b]) >= CLEARLY_WIDER * narrow[k]:
            found.append(k)
        if peak[a] < peak[b]:
            a, b = b, a
        joined.join(a, b)
    return found


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
