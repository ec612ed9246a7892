"""SVG path data to polygons: curves flattened in mm, fill rules obeyed."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import shapely
from shapely import Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import polygonize, unary_union

TOLERANCE = 0.004
# mm; the largest distance of a flattened curve from the curve itself


def _steps(bend: float) -> int:
    """How many straight pieces keep a curve of second difference ``bend`` mm within tolerance."""
    return max(1, min(400, math.ceil(math.sqrt(0.75 * bend / TOLERANCE))))


def _curve(segment: Any, scale: float) -> list[complex]:
    """Points after the start of one curved segment, in mm."""
    from svgelements import Arc, CubicBezier, QuadraticBezier

    if isinstance(segment, Arc):
        return [
            p
            for cubic in segment.as_cubic_curves(max(1, math.ceil(abs(segment.sweep) / (math.pi / 4))))
            for p in _curve(cubic, scale)
        ]
    p = [complex(q.x, q.y) * scale for q in (segment.start, segment.end)]
    t: np.ndarray
    if isinstance(segment, CubicBezier):
        a, b = (complex(q.x, q.y) * scale for q in (segment.control1, segment.control2))
        t = np.linspace(0, 1, _steps(max(abs(p[0] - 2 * a + b), abs(a - 2 * b + p[1]))) + 1)[1:]
        u = 1 - t
        return list(u**3 * p[0] + 3 * u * u * t * a + 3 * u * t * t * b + t**3 * p[1])
    if isinstance(segment, QuadraticBezier):
        c = complex(segment.control.x, segment.control.y) * scale
        t = np.linspace(0, 1, _steps(abs(p[0] - 2 * c + p[1]) * 2 / 3) + 1)[1:]
        return list((1 - t) ** 2 * p[0] + 2 * (1 - t) * t * c + t * t * p[1])
    return [p[1]]


def rings(path: Any, scale: float) -> list[list[tuple[float, float]]]:
    """The closed rings of a path in mm; open ones are closed as a fill closes them."""
    from svgelements import Close, Move

    found: list[list[complex]] = []
    current: list[complex] = []
    for segment in path:
        if isinstance(segment, Move):
            found.append(current)
            current = [complex(segment.end.x, segment.end.y) * scale]
        elif not isinstance(segment, Close) and segment.end is not None:
            current.extend(_curve(segment, scale))
    found.append(current)
    return [[(z.real, z.imag) for z in ring] for ring in found if len(ring) >= 3]


def filled(path: Any, scale: float, even_odd: bool) -> list[Polygon]:
    """The filled area of a path as separate valid polygons, under its fill rule."""
    outlines = rings(path, scale)
    if len(outlines) == 1 and (simple := Polygon(outlines[0])).is_valid:
        return [simple]
    lines = unary_union([shapely.LinearRing(r) for r in outlines])
    kept = []
    for face in polygonize(lines):
        inside = face.representative_point()
        turns = [_winding(ring, inside.x, inside.y) for ring in outlines]
        if (sum(abs(t) for t in turns) % 2 if even_odd else sum(turns)) != 0:
            kept.append(face)
    return polygons(unary_union(kept)) if kept else []


def _winding(ring: list[tuple[float, float]], x: float, y: float) -> int:
    """How often a ring winds around a point, by the edges that cross the ray to its right."""
    xy = np.array([*ring, ring[0]])
    x0, y0, x1, y1 = xy[:-1, 0], xy[:-1, 1], xy[1:, 0], xy[1:, 1]
    side = (x1 - x0) * (y - y0) - (x - x0) * (y1 - y0)
    return int(np.sum((y0 <= y) & (y1 > y) & (side > 0)) - np.sum((y0 > y) & (y1 <= y) & (side < 0)))


def polygons(shape: BaseGeometry) -> list[Polygon]:
    """The polygons of any geometry."""
    if isinstance(shape, Polygon):
        return [] if shape.is_empty else [shape]
    return [p for part in getattr(shape, "geoms", []) for p in polygons(part)]
