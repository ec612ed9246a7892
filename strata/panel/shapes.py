"""Shapes that masks and cut pieces have, in mm about their own middle, y down."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from strata.errors import BadValue, finite

KINDS = (
    "round",
    "oval",
    "rectangle",
    "arch",
    "outline",
    "strip",
    "straight",
    "wavy",
    "torn",
    "part",
    "sheet",
)
HORIZONS = ("straight", "wavy", "torn")
MOST_POINTS = 400
_FINE = 64
# segments of a quarter circle: 0.01 mm off at 100 mm


@dataclass(frozen=True)
class Shape:
    """``width`` and ``height`` in mm; ``points`` (mm) only of an outline.

    A horizon (straight, wavy, torn) fills what lies below its edge; ``seed``
    makes another wave of it. ``part`` is taken from ``elements`` of the thing
    ``of``, or all of it, ``allowance`` mm wider (or narrower, below 0);
    ``sheet`` is the plastic of that thing's sheets: everything but openings.
    """

    kind: str
    width: float = 40.0
    height: float = 40.0
    points: tuple[tuple[float, float], ...] = ()
    seed: int = 1
    of: str = ""
    elements: tuple[str, ...] = ()
    allowance: float = 0.0

    def __post_init__(self) -> None:
        if self.kind not in KINDS:
            raise BadValue(f"A shape is one of {', '.join(KINDS)}.", "shape.kind")
        finite(self.width, "shape.width", 0.5, 800)
        finite(self.height, "shape.height", 0.5, 800)
        finite(self.allowance, "shape.allowance", -5, 20)
        finite(self.seed, "shape.seed", 0, 9999)
        if len(self.points) > MOST_POINTS:
            raise BadValue(f"An outline can have {MOST_POINTS} points.", "shape.points")
        for x, y in self.points:
            finite(x, "shape.points", -800, 800)
            finite(y, "shape.points", -800, 800)
        if self.kind == "outline" and not _closed(self.points):
            raise BadValue("An outline needs at least three points that enclose something.", "shape.points")
        if self.kind in ("part", "sheet") and not self.of:
            raise BadValue("Say of which thing the shape is taken.", "shape.of")


def _closed(points: tuple[tuple[float, float], ...]) -> bool:
    return len(points) >= 3 and bool(shapely.make_valid(Polygon(points)).area >= 1.0)


def _edge(shape: Shape, step: float = 0.5) -> list[tuple[float, float]]:
    """The upper edge of a horizon from left to right; the same for the same seed."""
    half = shape.width / 2
    if shape.kind == "straight":
        return [(-half, 0.0), (half, 0.0)]
    x = np.arange(-half, half + step, step)
    rng = np.random.default_rng(int(shape.seed))
    y = np.zeros_like(x)
    rough = shape.kind == "torn"
    lengths = (9.0, 4.1, 1.7, 0.9) if rough else (62.0, 37.0)
    heights = (0.9, 0.55, 0.3, 0.22) if rough else (3.4, 1.8)
    for length, height in zip(lengths, heights, strict=True):
        y += height * np.sin(2 * math.pi * (x / length + rng.random()))
    if rough:
        y += rng.normal(0, 0.12, len(x))
    return list(zip(x.tolist(), y.tolist(), strict=True))


def drawn(shape: Shape) -> BaseGeometry:
    """The area of a shape about its middle; not of ``part`` and ``sheet``, which are taken from things."""
    half, tall = shape.width / 2, shape.height / 2
    if shape.kind in ("round", "oval"):
        disc = shapely.Point(0, 0).buffer(1, quad_segs=_FINE)
        return shapely.transform(disc, lambda p: p * (half, half if shape.kind == "round" else tall))
    if shape.kind == "arch":
        top = shapely.Point(0, -tall + half).buffer(half, quad_segs=_FINE)
        return shapely.union(top, shapely.box(-half, min(tall, -tall + half), half, tall))
    if shape.kind == "outline":
        return shapely.make_valid(Polygon(shape.points))
    if shape.kind in HORIZONS:
        edge = _edge(shape)
        return shapely.make_valid(Polygon([*edge, (half, shape.height), (-half, shape.height)]))
    return shapely.box(-half, -tall, half, tall)


def polygons(area: BaseGeometry) -> list[Polygon]:
    """The polygons of an area that are more than slivers."""
    parts = [p for p in shapely.get_parts(area) if isinstance(p, Polygon)]
    nested = [p for c in shapely.get_parts(area) if not isinstance(c, Polygon) for p in shapely.get_parts(c)]
    return [p for p in (*parts, *nested) if isinstance(p, Polygon) and p.area >= 0.01]
