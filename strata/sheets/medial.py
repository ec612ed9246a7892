"""The narrowest neck of a shape, from its medial axis.

The medial axis is taken from the Voronoi diagram of points along the
boundary (Brandt & Algazi, "Continuous skeleton computation by Voronoi
diagram", CVGIP 1992). Walking its edges from the widest clearance to the
narrowest, two wide parts meet at the neck between them; an edge that closes
a way round an island is a neck as well, though the shape hangs together
without it. Points lie closer where the shape is narrow (after the local
feature size of Amenta & Bern 1999), and the width itself is the exact
distance of the two pieces of boundary that meet there.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from strata.sheets.joined import Joined

CLEARLY_WIDER = 1.25
# both sides of a neck are at least this much wider than it
_LEAST_STEP, _POINTS, _FEWEST = 0.03, 160, 80
# mm between boundary points, how many there are about, and the fewest: 160 find the same necks as 1,500 on 1,800 random
# shapes but for one whose part was as wide as ``_LEAST_PART``
_ROUNDS, _CLOSE, _FINER, _MOST_POINTS = 4, 2.0, 3.0, 60_000
# how often points are put closer, where two sides are nearer than so many of their steps, steps to that width then
_MOST_TRIED, _JITTER, _STEPS = 16, 1e-5, 8
_NEARLY_CONVEX = 0.985
# share of the convex hull from which no neck this much narrower can be
_LEAST_PART = 0.15
# mm, half the width of a part that is worth being parted from the rest: ink gets into no finer one
_BESIDE = 0.5
# widths of a neck that its sides are followed: about the smallest disc that it may part off (``CLEARLY_WIDER``) they come
# no nearer to each other again within 0.75
_AROUND = 6.0
# widths of a neck, around it, in which two wide parts are looked for first

Floats = NDArray[np.float64]
Ints = NDArray[np.intp]


@dataclass(frozen=True)
class Neck:
    """``width`` in mm between two points of the boundary."""

    width: float
    ends: tuple[tuple[float, float], tuple[float, float]]


@dataclass(frozen=True)
class _Boundary:
    """Points along all rings (n, 2) in their order; ``before`` and ``after`` each the next ones on its ``ring``."""

    points: Floats
    before: Ints
    after: Ints
    ring: Ints

    @property
    def steps(self) -> Floats:
        """From each point to the next (n,), mm."""
        return np.asarray(np.linalg.norm(self.points[self.after] - self.points, axis=1))

    def closer(self, pieces: Ints) -> _Boundary:
        """The way from each point to the next in so many pieces (n,)."""
        n = len(self.points)
        of = np.repeat(np.arange(n), pieces)
        first = np.cumsum(pieces) - pieces
        share = (np.arange(len(of)) - first[of]) / pieces[of]
        points = self.points[of] + share[:, None] * (self.points[self.after[of]] - self.points[of])
        after = np.arange(1, len(of) + 1)
        last = first + pieces - 1
        after[last] = first[self.after]
        before = np.empty_like(after)
        before[after] = np.arange(len(of))
        return _Boundary(points, before, after, self.ring[of])


def _boundary(shape: Polygon) -> tuple[_Boundary, Floats, Ints]:
    """Points along all rings, corners kept, closer where two sides come near each other; and their triangulation:
    the points as they were triangulated, and the triangles (m, 3)."""
    step = min(max(_LEAST_STEP, shape.length / _POINTS), shape.length / _FEWEST)
    rings = [
        shapely.get_coordinates(shapely.segmentize(r, step))[:-1] for r in (shape.exterior, *shape.interiors)
    ]
    sizes = np.array([len(r) for r in rings])
    ends = np.cumsum(sizes)
    after = np.arange(1, ends[-1] + 1)
    after[ends - 1] = ends - sizes
    before = np.empty_like(after)
    before[after] = np.arange(ends[-1])
    found = _Boundary(np.vstack(rings), before, after, np.repeat(np.arange(len(rings)), sizes))
    for turn in range(_ROUNDS + 1):
        points = _shaken(found.points)
        triangles = _triangles(points)
        pieces = _pieces(shape, found, triangles)
        if turn == _ROUNDS or pieces.max() == 1 or pieces.sum() > _MOST_POINTS:
            break
        found = found.closer(pieces)
    return found, points, triangles


def _pieces(shape: Polygon, found: _Boundary, triangles: Ints) -> Ints:
    """Into how many pieces the way from each point to the next must go, for how near the other side is there."""
    points, steps = found.points, found.steps
    one, two = triangles[:, [1, 2, 2, 0, 0, 1]].reshape(-1, 2).T
    apart = np.linalg.norm(points[one] - points[two], axis=1)
    own = np.maximum(steps, steps[found.before])
    near = apart < _CLOSE * np.maximum(own[one], own[two])
    # next to each other on one ring is not across
    for after in (found.after, found.after[found.after]):
        near &= (after[one] != two) & (after[two] != one)
    one, two, apart = one[near], two[near], apart[near]
    middle = (points[one] + points[two]) / 2
    within = shapely.contains_xy(shape, middle[:, 0], middle[:, 1])
    wanted = np.full(len(points), np.inf)
    for end in (one, two):
        np.minimum.at(wanted, end[within], apart[within] / _FINER)
    wanted = np.maximum(np.minimum(wanted, wanted[found.after]), _LEAST_STEP)
    return np.asarray(np.maximum(1, np.ceil(steps / wanted - 1e-9)), np.intp)


def _shaken(points: Floats) -> Floats:
    """Points of a circle or a straight side have many equal triangulations; a hundred-thousandth of a mm decides."""
    return np.asarray(points + _shakes(1 << len(points).bit_length())[: len(points)])


@lru_cache(maxsize=20)
def _shakes(count: int) -> Floats:
    return np.random.default_rng(7).uniform(-_JITTER, _JITTER, (count, 2))


@dataclass(frozen=True)
class _Axis:
    """The medial axis: clearances of its vertices, its edges between them, and of each edge its narrowest
    half-width, whether that lies half-way between its two boundary points, those points, and their rings."""

    radius: Floats
    edges: Ints
    narrow: Floats
    critical: NDArray[np.bool_]
    pairs: Floats
    between_rings: NDArray[np.bool_]


def _axis(shape: Polygon) -> _Axis:
    """Read off the Delaunay triangulation, the dual of the Voronoi diagram: a vertex for each triangle, an edge
    between neighbours. Where an edge crosses the line between its two boundary points, and only there, the
    distance to the boundary has a saddle (Siersma, "Voronoi diagrams and Morse theory", 1999)."""
    bound, points, triangles = _boundary(shape)
    ring = bound.ring
    vertices = _circumcentres(points[triangles])
    inside = shapely.contains_xy(shape, vertices[:, 0], vertices[:, 1])
    radius = np.where(inside, np.linalg.norm(vertices - points[triangles[:, 0]], axis=1), 0.0)
    here, there, pairs = _neighbours(triangles, len(points))
    kept = inside[here] & inside[there]
    here, there, pairs = here[kept], there[kept], pairs[kept]
    one, two = points[pairs[:, 0]], points[pairs[:, 1]]
    start, run = vertices[here], vertices[there] - vertices[here]
    along = np.einsum("ij,ij->i", (one + two) / 2 - start, run)
    critical = (along > 0) & (along < np.einsum("ij,ij->i", run, run))
    narrow = np.where(
        critical, np.linalg.norm(one - two, axis=1) / 2, np.minimum(radius[here], radius[there])
    )
    ends = np.stack([one, two], axis=1)
    between = ring[pairs[:, 0]] != ring[pairs[:, 1]]
    return _Axis(radius, np.column_stack([here, there]), narrow, critical, ends, between)


def _triangles(points: Floats) -> NDArray[np.intp]:
    """The Delaunay triangulation (m, 3) of points (n, 2), by GEOS: loading Qhull takes longer than 100 openings."""
    found = shapely.delaunay_triangles(shapely.multipoints(points))
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
    """The narrowest neck of a shape in mm, or None where it has none (a disc, a plain slot, an even ring)."""
    if shape.area <= 0 or len(shape.exterior.coords) < 4:
        return None
    if not shape.interiors and shape.area >= _NEARLY_CONVEX * shape.convex_hull.area:
        return None
    axis = _axis(shape)
    tried = 0
    for k, around in _meetings(axis)[::-1]:
        one, two = axis.pairs[k]
        tried += not around
        if around or (tried <= _MOST_TRIED and _parts(shape, float(axis.narrow[k]), (one + two) / 2)):
            return _measured(shape, one, two)
    return None


def _meetings(axis: _Axis) -> list[tuple[int, bool]]:
    """Edges at which two clearly wider parts of the axis meet, widest first (a union-find of its vertices);
    and whether they close a way round an island."""
    widest, found = axis.radius.max(initial=0.0), list[tuple[int, bool]]()
    if not (axis.critical & (np.maximum(_LEAST_PART, CLEARLY_WIDER * axis.narrow) <= widest)).any():
        return found
    joined, peak = Joined(len(axis.radius)), axis.radius.tolist()
    root = joined.root
    order = np.argsort(-axis.narrow)
    rows = (a.tolist() for a in (order, axis.edges[order, 0], axis.edges[order, 1], axis.narrow[order]))
    for k, one, two, narrow in zip(*rows, strict=True):
        a, b = root(one), root(two)
        wide = min(peak[a], peak[b])
        parted = axis.critical[k] and (a != b or axis.between_rings[k])
        if parted and wide >= max(_LEAST_PART, CLEARLY_WIDER * narrow):
            found.append((k, a == b))
        if a == b:
            continue
        if peak[a] < peak[b]:
            a, b = b, a
        joined.join(a, b)
    return found


def _parts(shape: Polygon, half: float, middle: Floats) -> bool:
    """Whether shrinking by a little over ``half`` truly parts the shape: jagged tips of the axis do not.

    What lies around is asked first: of a large lace that is a small part.
    """
    d = half * 1.02 + 1e-4
    (x, y), far = middle, 2 * _AROUND * half
    around = shapely.get_parts(shapely.clip_by_rect(shape, x - far, y - far, x + far, y + far))
    near = min(around, key=lambda part: float(shapely.distance(part, shapely.Point(middle))), default=shape)
    return _falls_apart(near, d) or _falls_apart(shape, d)


def _falls_apart(shape: shapely.Geometry, d: float) -> bool:
    rest = [p for p in shapely.get_parts(shape.buffer(-d, quad_segs=4)) if p.area > 0]
    wide = [p for p in rest if not p.buffer(-0.2 * d, quad_segs=2).is_empty]
    return len(wide) >= 2


def _measured(shape: Polygon, one: Floats, two: Floats) -> Neck:
    """The true distance between the two sides near a pair of sampled points: where it is least, gone to step by step."""
    best = Neck(float(np.linalg.norm(one - two)), (_point(one), _point(two)))
    near = _BESIDE * best.width
    for _ in range(_STEPS):
        sides = [_side(shape, p, near) for p in best.ends]
        if any(s.is_empty for s in sides) or shapely.intersects(*sides):
            near /= 2
            continue
        one, two = shapely.get_coordinates(shapely.shortest_line(*sides))
        width = float(np.linalg.norm(one - two))
        if width > best.width - 1e-6:
            break
        if not shapely.contains_xy(shape, *((one + two) / 2)):
            # they face each other across what lies outside
            near /= 2
            continue
        best = Neck(width, (_point(one), _point(two)))
    return best


def _point(at: Floats) -> tuple[float, float]:
    return float(at[0]), float(at[1])


def _side(shape: Polygon, at: tuple[float, float], near: float) -> shapely.Geometry:
    """The piece of the boundary that runs past a point, as far as ``near`` mm from it."""
    (x, y), point = at, shapely.Point(at)
    cut = shapely.clip_by_rect(shape.boundary, x - near, y - near, x + near, y + near)
    pieces = shapely.get_parts(shapely.line_merge(cut)) if cut.geom_type == "MultiLineString" else [cut]
    return min(pieces, key=lambda line: float(shapely.distance(line, point)))
