"""Curves for drawing demo artwork: splines, ribbons, leaves and fans, as shapely polygons in mm."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping, Sequence
from xml.sax.saxutils import quoteattr

import numpy as np
from shapely import affinity
from shapely.geometry import LineString, MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

Point = tuple[float, float]


def spline(points: Sequence[Point], steps: int = 160, closed: bool = False) -> np.ndarray:
    """A smooth curve through ``points`` (cubic spline over chord length), shape (steps, 2)."""
    from scipy.interpolate import CubicSpline

    xy = np.array([*points, points[0]] if closed else points, dtype=float)
    chord = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(xy, axis=0).T))])
    curve = CubicSpline(chord, xy, bc_type="periodic" if closed else "natural")
    return np.asarray(curve(np.linspace(0, chord[-1], steps)))


def blob(points: Sequence[Point], steps: int = 240) -> Polygon:
    """A closed smooth shape through ``points``."""
    return Polygon(spline(points, steps, closed=True)).buffer(0)


def normals(line: np.ndarray) -> np.ndarray:
    """Unit normals along a polyline (n, 2), to the left of its direction (y down)."""
    tangent = np.gradient(line, axis=0)
    tangent /= np.maximum(np.hypot(tangent[:, 0], tangent[:, 1])[:, None], 1e-9)
    return np.stack([tangent[:, 1], -tangent[:, 0]], axis=1)


def ribbon(
    points: Sequence[Point], width: Callable[[np.ndarray], np.ndarray] | float, steps: int = 160
) -> Polygon:
    """A band along a spline; ``width`` is its half-width in mm as a function of 0..1."""
    line = spline(points, steps)
    t = np.linspace(0, 1, steps)
    half = np.full(steps, width) if isinstance(width, (int, float)) else width(t)
    side = normals(line) * half[:, None]
    shape = Polygon(np.vstack([line + side, (line - side)[::-1]])).buffer(0)
    return shape if isinstance(shape, Polygon) else max(shape.geoms, key=lambda g: g.area)


def tapered(most: float, peak: float = 0.45, ends: float = 0.0) -> Callable[[np.ndarray], np.ndarray]:
    """A half-width that swells to ``most`` at ``peak`` and thins to ``ends`` at both tips."""

    def width(t: np.ndarray) -> np.ndarray:
        warped = t ** (math.log(0.5) / math.log(peak))
        return ends + (most - ends) * np.sin(np.pi * np.clip(warped, 0, 1)) ** 0.8

    return width


def lens(centre: Point, length: float, height: float, angle: float = 0.0, bow: float = 0.0) -> Polygon:
    """A leaf-like lens, bowed by ``bow`` mm, turned by ``angle`` degrees."""
    x, y = centre
    points = [(x - length / 2, y), (x, y - bow), (x + length / 2, y)]
    return affinity.rotate(ribbon(points, tapered(height / 2)), angle, origin=centre)


def fan(root: Point, angle: float, spread: float, length: float, lobes: int = 5) -> Polygon:
    """A fin: from ``root`` along ``angle`` degrees, opening by ``spread``, with a scalloped rim."""
    rim = []
    for i in range(73):
        share = i / 72
        turn = math.radians(angle + spread * (share - 0.5))
        # long leading edge, short trailing edge, a small scallop for each ray
        reach = length * (1.0 - 0.42 * share**1.4) * (1 - 0.055 * abs(math.sin(math.pi * lobes * share)))
        rim.append((root[0] + reach * math.cos(turn), root[1] + reach * math.sin(turn)))
    return Polygon([root, *rim]).buffer(0.35).buffer(-0.35)


def parts(shape: BaseGeometry, least: float = 0.25) -> list[Polygon]:
    """The separate polygons of a shape, without specks under ``least`` mm2."""
    if shape.is_empty:
        return []
    pieces = list(shape.geoms) if hasattr(shape, "geoms") else [shape]
    return [p for p in pieces if isinstance(p, Polygon) and p.area >= least]


def cut(shape: BaseGeometry, lines: Iterable[Sequence[Point]], bridge: float = 0.9) -> BaseGeometry:
    """``shape`` with bridges left standing along the given lines."""
    strips = [LineString(spline(line, 60) if len(line) > 2 else line).buffer(bridge / 2) for line in lines]
    return shape.difference(unary_union(strips)) if strips else shape


def rounded(shape: BaseGeometry, radius: float) -> BaseGeometry:
    """``shape`` with its sharp corners eased, as a cutter leaves them."""
    return shape.buffer(-radius).buffer(2 * radius).buffer(-radius)


def smooth_path(polygon: Polygon, tolerance: float = 0.012) -> str:
    """SVG path data in mm: rings simplified to ``tolerance``."""
    text = []
    kept = polygon.simplify(tolerance)
    for ring in [kept.exterior, *kept.interiors]:
        xy = list(ring.coords)[:-1]
        text.append("M" + " ".join(f"{x:.3f},{y:.3f}" for x, y in xy) + "Z")
    return "".join(text)


def union(shapes: Iterable[BaseGeometry]) -> BaseGeometry:
    """All shapes as one."""
    return unary_union(list(shapes)) if shapes else MultiPolygon()


def sheets_svg(
    title: str,
    size: tuple[float, float],
    names: Mapping[int, str],
    drawn: Mapping[tuple[int, str], Sequence[BaseGeometry]],
    word: str,
    least: float,
) -> str:
    """A set as SVG in mm: a named group per sheet (``word`` in its id), an attribute per element."""
    width, height = size
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" viewBox="0 0 {width} {height}">',
        f"<title>{title}</title>",
    ]
    for number, name in names.items():
        out.append(f'<g id="{word}-{number}" data-name={quoteattr(name)} fill="#444" fill-rule="evenodd">')
        for (sheet, element), shapes in drawn.items():
            pieces = parts(union(shapes), least) if sheet == number else []
            if pieces:
                out.append(f"<g data-element={quoteattr(element)}>")
                out += [f'<path d="{smooth_path(s)}"/>' for s in pieces]
                out.append("</g>")
        out.append("</g>")
    return "\n".join([*out, "</svg>"]) + "\n"
