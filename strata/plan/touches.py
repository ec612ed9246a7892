"""Last touches by geometry: the marker's shadow along one side of every shape, and the pen's lights on the other.

A shadow is the shape moved by the shadow's way, less everything of its set:
it falls on bare card only, never on a neighbour. A light is a short stroke
inside the edge that looks away from the shadow.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
import shapely.affinity
import shapely.ops
from numpy.typing import NDArray
from shapely import LineString, MultiPolygon
from shapely.geometry.base import BaseGeometry

from strata.panel.laid import Laid
from strata.panel.shapes import polygons
from strata.sheets.model import LayerSet

INSET = 0.9
# mm that a light keeps from the edge it follows
FACING = 0.55
# cosine between an edge's outward way and the light before it catches any
LONGEST = 9.0
# mm of one stroke; more is an outline, no light
SHORTEST = 1.2
SCRATCH = 5.0
# mm2; smaller shapes get a dot, or nothing


def way(angle: float, length: float) -> tuple[float, float]:
    """mm right and down along an angle (0 right, 90 bottom)."""
    return length * math.cos(math.radians(angle)), length * math.sin(math.radians(angle))


@dataclass(frozen=True)
class Touch:
    """What a touch is: the thing and element it is given to, mm wide, where shadows fall, what it leaves out."""

    spot: tuple[str, int]
    width: float
    angle: float
    without: tuple[str, ...]


def shadow(laid: Laid, touch: Touch) -> MultiPolygon:
    """The marker line along one side of an element's outline, on the panel."""
    return _at_home(laid, touch, _shadow)


def lights(laid: Laid, touch: Touch) -> MultiPolygon:
    """Pen strokes inside the edges that look away from the shadow, on the panel."""
    return _at_home(laid, touch, _lights)


_Drawn = Callable[[LayerSet, Touch, tuple[int, ...]], MultiPolygon]


def _at_home(laid: Laid, touch: Touch, draw: _Drawn) -> MultiPolygon:
    """Drawn on the set as it is, and moved with it: wherever it is pushed, nothing is drawn anew."""
    origin = laid.origin(touch.spot[1])
    own = tuple(n for n, o in laid.origins.items() if o.thing == origin.thing)
    source, place = laid.sources.get(origin.thing), laid.places.get(origin.thing)
    if source is None or place is None:
        return draw(laid, touch, own)
    group = laid.group(*touch.spot)
    turned = touch.angle - place.turn
    angle = (180 - turned if place.mirrored else turned) % 360
    keys = {o.key: o.like.key for o in group.openings if o.like is not None}
    home = Touch(
        (group.openings[0].like_element, origin.own),
        touch.width,
        angle,
        tuple(keys.get(k, k) for k in touch.without),
    )
    drawn = draw(source, home, tuple(laid.origin(n).own for n in own))
    return MultiPolygon(polygons(place.put(drawn, (source.width / 2, source.height / 2))))


@lru_cache(maxsize=256)
def _shadow(layer_set: LayerSet, touch: Touch, sheets: tuple[int, ...]) -> MultiPolygon:
    own = [
        o.polygon
        for (name, sheet), group in layer_set.groups.items()
        if name == touch.spot[0] and sheet in sheets
        for o in group.openings
        if o.key not in touch.without
    ]
    if not own:
        return MultiPolygon()
    body = shapely.buffer(shapely.union_all(own), 0.05)
    dx, dy = way(touch.angle, touch.width)
    steps = max(2, round(touch.width / 0.25))
    moved = shapely.union_all(
        [shapely.affinity.translate(body, dx * i / steps, dy * i / steps) for i in range(1, steps + 1)]
    )
    return MultiPolygon(polygons(moved.difference(_whole(layer_set, sheets))))


@lru_cache(maxsize=32)
def _whole(layer_set: LayerSet, sheets: tuple[int, ...]) -> BaseGeometry:
    shapes = [g.shape for (_, sheet), g in layer_set.groups.items() if sheet in sheets]
    return shapely.buffer(shapely.union_all(shapes), 0.05)


@lru_cache(maxsize=256)
def _lights(layer_set: LayerSet, touch: Touch, sheets: tuple[int, ...]) -> MultiPolygon:
    strokes = []
    ux, uy = way(touch.angle + 180, 1.0)
    for opening in layer_set.group(*touch.spot).openings:
        if opening.key in touch.without or opening.polygon.area < SCRATCH:
            continue
        inner = shapely.buffer(opening.polygon, -max(INSET, touch.width))
        for part in polygons(inner):
            line = _lit(shapely.get_coordinates(part.exterior), ux, uy)
            if line is not None:
                strokes.append(line.buffer(touch.width / 2, quad_segs=6))
    return MultiPolygon(polygons(shapely.union_all(strokes))) if strokes else MultiPolygon()


def _lit(ring: NDArray[np.float64], ux: float, uy: float) -> LineString | None:
    """The middle of the longest run of a ring (closed, n x 2) whose outward way looks at the light."""
    points = np.asarray(ring, float)[:-1]
    edges = np.roll(points, -1, axis=0) - points
    length = np.hypot(edges[:, 0], edges[:, 1])
    twice = np.sum(points[:, 0] * np.roll(points[:, 1], -1) - np.roll(points[:, 0], -1) * points[:, 1])
    side = 1.0 if twice > 0 else -1.0
    outward = np.stack([edges[:, 1], -edges[:, 0]], axis=1) * side / np.maximum(length, 1e-9)[:, None]
    lit = (outward @ np.array([ux, uy])) > FACING
    if not lit.any():
        return None
    start = int(np.argmin(lit)) if not lit.all() else 0
    order = np.roll(np.arange(len(points)), -start)
    best: list[int] = []
    run: list[int] = []
    for i in order:
        run = [*run, int(i)] if lit[i] else []
        if length[run].sum() > length[best].sum():
            best = run
    if len(best) < 1 or length[best].sum() < SHORTEST:
        return None
    line = LineString([*points[best], points[(best[-1] + 1) % len(points)]])
    long = min(line.length * 0.6, LONGEST)
    middle = line.length / 2
    cut = shapely.ops.substring(line, middle - long / 2, middle + long / 2)
    return cut if isinstance(cut, LineString) and cut.length >= SHORTEST / 2 else None
