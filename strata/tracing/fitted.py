"""An outline that a hand drew on a photograph, fitted to the edge that runs beside it."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import LinearRing, Polygon

from strata.errors import BadValue
from strata.tracing.retouched import MOST_POINTS, polygons
from strata.tracing.sides import sampled

Floats = NDArray[np.float64]
NO_EDGE = "No clear edge runs along this outline. Draw nearer to it, or leave it as it is drawn."
_REACH, _LEAST_REACH, _MOST_REACH = 0.2, 4.0, 0.05
# of an outline's size (root of its area), px, and of the picture: how far from what was drawn an edge is looked for
_NEARER = (1.0, 0.4, 0.2)
# of the reach, in the passes one after another
_APART, _MOST_SAMPLES, _LEAST_SAMPLES = 1.5, 700, 60
# px from sample to sample along the outline
_STIFF, _FAR = 0.15, 0.25
# of the usual edge: what a step of one sideways costs, squared; what an edge as far away as the reach has to be stronger
_STEPS = 2
# places sideways from a sample to the next at most
_LEAST_EDGE, _GRAIN, _OF_THE_USUAL = 0.02, 3.0, 0.3
# of 1: an edge at least; times what differs where the picture is quietest; share of the usual edge under which a sample has none
_AROUND = 25.0
# px from an outline in which it is seen what grain is, at least
_FINE, _MOST_TIMES = 35.0, 4.0
# px that an outline's size (root of its area) is seen at, at least; times it is seen larger for that, at most
_LEAST_SEEN = 0.6
# share of an outline along which an edge is seen
_SIDES, _ANY = 3, 0.25
# px on either side that an edge is told by; what counts of differences in any other colour
_TOLERANCE = 0.25
# px


def fitted(rgb: NDArray[np.uint8], outline: Floats) -> Floats:
    """The edge (m, 2) in a picture (h, w, 3) that runs around near an ``outline`` (n, 2), both px, of at most MOST_POINTS.

    Of all closed lines beside what was drawn, the one along which inside and
    outside differ most, as they do on the whole, and which bends least: found by
    dynamic programming over places across the outline (Amini, Weymouth and Jain,
    IEEE PAMI 12, 1990), from afar, then nearer; last to a part of a pixel. Where
    no edge is seen it goes from one to the next. Raises BadValue for an outline
    that is none, lies outside the picture, or along which hardly any edge runs.
    """
    drawn = Polygon(outline) if len(outline) >= 3 and np.isfinite(outline).all() else Polygon()
    if not drawn.is_valid or drawn.area < 9:
        raise BadValue("Go around the opening from point to point first.", "points")
    if not shapely.box(0, 0, rgb.shape[1], rgb.shape[0]).contains(drawn):
        raise BadValue("This outline does not lie on the photograph.", "points")
    reach = float(
        np.clip(_REACH * np.sqrt(drawn.area), _LEAST_REACH, max(_LEAST_REACH, _MOST_REACH * max(rgb.shape)))
    )
    tones, drawn, corner, times = _seen_larger(rgb, drawn, reach)
    reach *= times
    way = _inside_to_outside(tones, drawn, reach)
    least = max(_LEAST_EDGE, _GRAIN * _quietest(tones, drawn, max(_AROUND, 2 * reach)))
    found, seen = drawn, 0.0
    for share in _NEARER:
        found, seen = _moved(tones, found, max(3.0, share * reach), way, least)
    if seen < _LEAST_SEEN:
        raise BadValue(NO_EDGE, "points")
    return np.asarray(_few(found) / times + corner)


def _seen_larger(
    rgb: NDArray[np.uint8], drawn: Polygon, reach: float
) -> tuple[NDArray[np.float32], Polygon, Floats, float]:
    """What lies around an outline (h, w, 3), of 1, so large that a small one is some dozen px wide; the outline in it;
    its corner in the picture (2,), px; and how many times larger it is seen."""
    import cv2

    margin = 2 * reach + _AROUND + _SIDES + 2
    x0, y0, x1, y1 = drawn.bounds
    left, top = max(0, int(x0 - margin)), max(0, int(y0 - margin))
    crop = rgb[top : int(y1 + margin) + 1, left : int(x1 + margin) + 1]
    times = float(np.clip(_FINE / np.sqrt(drawn.area), 1.0, _MOST_TIMES))
    if times > 1:
        crop = cv2.resize(crop, None, fx=times, fy=times, interpolation=cv2.INTER_CUBIC)
    corner = np.array([left, top], float)
    own = shapely.transform(drawn, lambda p: (p - corner) * times)
    return np.asarray(crop, np.float32) / np.float32(255), own, corner, times


def _inside_to_outside(tones: NDArray[np.float32], drawn: Polygon, reach: float) -> Floats:
    """By which colour (3,) of length 1 what lies around an outline differs from what lies in it; 0 where it does not."""
    inner = shapely.buffer(drawn, -reach / 2)
    if inner.is_empty:
        inner = shapely.buffer(drawn, -float(shapely.minimum_clearance(drawn)) / 4)
    outer = shapely.difference(shapely.buffer(drawn, reach), shapely.buffer(drawn, reach / 3))
    colours = [_colour(tones, place) for place in (inner if not inner.is_empty else drawn, outer)]
    way = np.asarray(colours[1] - colours[0], float)
    length = float(np.linalg.norm(way))
    return way / length if length > _LEAST_EDGE else np.zeros(3)


def _colour(tones: NDArray[np.float32], place: shapely.Geometry) -> Floats:
    """The median colour (3,) of a place."""
    x0, y0, x1, y1 = (int(v) for v in place.bounds)
    x, y = np.meshgrid(np.arange(max(0, x0), min(tones.shape[1], x1 + 1)), np.arange(max(0, y0), min(tones.shape[0], y1 + 1)))  # fmt: skip
    shapely.prepare(place)
    inside = shapely.contains_xy(place, x + 0.5, y + 0.5)
    if not inside.any():
        return np.zeros(3)
    return np.asarray(np.median(tones[y[inside], x[inside]], axis=0), float)


def _moved(
    tones: NDArray[np.float32], ring: Polygon, reach: float, way: Floats, least: float
) -> tuple[Polygon, float]:
    """An outline on the edge within ``reach`` px of it, and along which share of it one of ``least`` is seen."""
    feet, outwards = _samples(ring.exterior)
    offsets = _offsets(reach)
    strength = _edges(tones, feet, outwards, offsets, way)
    usual = max(least, float(np.percentile(strength.max(axis=1), 60)))
    worth = np.minimum(strength / usual, 1.5) - _FAR * (offsets / reach) ** 2
    at = _best_way_around(worth)
    rows = np.arange(len(at))
    seen = strength[rows, at] > max(least, _OF_THE_USUAL * usual)
    places = offsets[at] + np.where(seen, _between(strength, at), 0.0)
    moved = Polygon(feet + places[:, None] * outwards)
    found = max(polygons(shapely.make_valid(moved)), key=lambda p: p.area, default=ring)
    return found, float(seen.mean())


def _offsets(reach: float) -> Floats:
    return np.arange(-np.ceil(reach), np.ceil(reach) + 1)


def _quietest(tones: NDArray[np.float32], drawn: Polygon, reach: float) -> float:
    """What neighbours differ by where a picture is quiet, around an outline: grain."""
    feet, outwards = _samples(drawn.exterior)
    return float(np.percentile(_edges(tones, feet, outwards, _offsets(reach), np.zeros(3)), 25))


def _samples(ring: LinearRing) -> tuple[Floats, Floats]:
    """Points (n, 2) px along an outline, and where its outside lies from each (n, 2), of length 1."""
    count = int(np.clip(ring.length / _APART, _LEAST_SAMPLES, _MOST_SAMPLES))
    along = np.linspace(0, 1, count, endpoint=False)
    points = shapely.get_coordinates(shapely.line_interpolate_point(ring, along, normalized=True))
    ahead = np.roll(points, -1, axis=0) - np.roll(points, 1, axis=0)
    # a corner that was drawn is turned around step by step
    ahead = sum(np.roll(ahead, by, axis=0) for by in (-2, -1, 0, 1, 2))
    out = np.column_stack([ahead[:, 1], -ahead[:, 0]]) * (1 if ring.is_ccw else -1)
    return points, out / np.maximum(np.linalg.norm(out, axis=1, keepdims=True), 1e-9)


def _edges(
    tones: NDArray[np.float32], feet: Floats, outwards: Floats, offsets: Floats, way: Floats
) -> Floats:
    """(n, k) how much what lies outside differs from what lies inside at each place across an outline."""
    wide = np.arange(offsets[0] - _SIDES, offsets[-1] + _SIDES + 1)
    # a pixel's own place is its middle
    seen = sampled(tones, feet[:, None, :] + wide[None, :, None] * outwards[:, None, :] - 0.5)
    total = np.pad(np.cumsum(seen, axis=1), ((0, 0), (1, 0), (0, 0)))
    k = np.arange(len(offsets)) + _SIDES
    # the pixel in the middle belongs to neither side
    outer = total[:, k + _SIDES + 1] - total[:, k + 1]
    inner = total[:, k] - total[:, k - _SIDES]
    differs = (outer - inner) / _SIDES
    any_way = np.linalg.norm(differs, axis=-1)
    if not way.any():
        return np.asarray(any_way)
    return np.asarray((1 - _ANY) * np.maximum(0, differs @ way) + _ANY * any_way * (differs @ way > 0))


def _best_way_around(worth: Floats) -> NDArray[np.int64]:
    """(n,) the places (of k) of a closed line worth most: gone around twice, so that the middle knows no beginning, and
    once more from where it goes through there."""
    half = len(worth) // 2
    through = _best_way(np.tile(worth, (2, 1)))[len(worth) + half]
    once = np.roll(worth, -half, axis=0)
    closed = np.vstack([once, once[:1]])
    for end in (0, -1):
        only = closed[end, through]
        closed[end] = -np.inf
        closed[end, through] = only
    return np.roll(_best_way(closed)[:-1], half)


def _best_way(worth: Floats) -> NDArray[np.int64]:
    """(n,) the places (of k) of the line from first to last that is worth most."""
    count, width = worth.shape
    sideways = np.arange(-_STEPS, _STEPS + 1)
    from_ = np.arange(width)[None, :] + sideways[:, None]
    there, cost = (from_ >= 0) & (from_ < width), _STIFF * sideways[:, None] ** 2
    came = np.zeros((count, width), np.int64)
    total = worth[0]
    for i in range(1, count):
        reached = np.where(there, total[from_.clip(0, width - 1)] - cost, -np.inf)
        best = reached.argmax(axis=0)
        came[i] = from_[best, np.arange(width)]
        total = reached[best, np.arange(width)] + worth[i]
    path = np.zeros(count, np.int64)
    path[-1] = int(total.argmax())
    for i in range(count - 1, 0, -1):
        path[i - 1] = came[i, path[i]]
    return path


def _between(strength: Floats, at: NDArray[np.int64]) -> Floats:
    """(n,) the parts of a pixel from the strongest places to where an edge's middle lies: of what rises around them."""
    near = np.arange(-_SIDES, _SIDES + 1)
    columns = (at[:, None] + near).clip(0, strength.shape[1] - 1)
    weight = strength[np.arange(len(at))[:, None], columns]
    weight = np.maximum(0, weight - 0.25 * weight.max(axis=1, keepdims=True))
    whole = weight.sum(axis=1)
    return np.where(whole > 0, (weight * near).sum(axis=1) / np.maximum(whole, 1e-9), 0.0).clip(-1, 1)


def _few(found: Polygon) -> Floats:
    """The points (m, 2) of an outline, as few as tell it."""
    tolerance = _TOLERANCE
    while True:
        points = shapely.get_coordinates(shapely.simplify(found.exterior, tolerance))[:-1]
        if len(points) <= MOST_POINTS:
            return np.asarray(points)
        tolerance *= 1.5
