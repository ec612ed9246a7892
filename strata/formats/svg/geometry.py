"""Shapes to curves, curves to rings in mm, fills and strokes to areas.

Strokes are outlined by Skia's path operations and fill rules resolved by
Clipper: the field's kept libraries.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import groupby, islice
from operator import itemgetter
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from strata.formats.svg.values import Matrix

Floats = NDArray[np.float64]
TOLERANCE, RELATIVE = 0.004, 0.0004
# largest distance of a flattened curve from the curve: mm, and as a share of the shape's size
STROKE_DETAIL = 400.0
# units a mm that a stroke is outlined at; Skia keeps to about a quarter of a unit
_MOST_UNITS = 5e4
# units that a stroked path is large at most: a quarter of one is then a seven-hundredth of a millimetre of a sheet of 300
MOST_POINTS = 3_000_000
_FARTHEST = 1e6
# mm; coordinates beyond are drawn nowhere

Command = tuple[str, tuple[tuple[float, float], ...]]
NOTHING = shapely.GeometryCollection()
AS_IT_IS = Matrix()


def ellipse_commands(cx: float, cy: float, rx: float, ry: float) -> list[Command]:
    """An ellipse from three o'clock, clockwise, as a browser dashes it."""
    k = 4 / 3 * (math.sqrt(2) - 1)
    ring: list[Command] = [("moveTo", ((cx + rx, cy),))]
    for ux, uy in ((1, 0), (0, 1), (-1, 0), (0, -1)):
        vx, vy = -uy, ux
        ring.append(("curveTo", (
            (cx + rx * (ux + k * vx), cy + ry * (uy + k * vy)),
            (cx + rx * (vx + k * ux), cy + ry * (vy + k * uy)),
            (cx + rx * vx, cy + ry * vy),
        )))  # fmt: skip
    return [*ring, ("closePath", ())]


def rect_commands(x: float, y: float, w: float, h: float, rx: float, ry: float) -> list[Command]:
    """A rectangle with elliptic corners."""
    if rx <= 0 or ry <= 0:
        return [
            ("moveTo", ((x, y),)),
            ("lineTo", ((x + w, y),)),
            ("lineTo", ((x + w, y + h),)),
            ("lineTo", ((x, y + h),)),
            ("closePath", ()),
        ]
    rx, ry = min(rx, w / 2), min(ry, h / 2)
    k = 1 - 4 / 3 * (math.sqrt(2) - 1)
    x0, x1, y0, y1 = x, x + w, y, y + h
    return [
        ("moveTo", ((x0 + rx, y0),)), ("lineTo", ((x1 - rx, y0),)),
        ("curveTo", ((x1 - k * rx, y0), (x1, y0 + k * ry), (x1, y0 + ry))), ("lineTo", ((x1, y1 - ry),)),
        ("curveTo", ((x1, y1 - k * ry), (x1 - k * rx, y1), (x1 - rx, y1))), ("lineTo", ((x0 + rx, y1),)),
        ("curveTo", ((x0 + k * rx, y1), (x0, y1 - k * ry), (x0, y1 - ry))), ("lineTo", ((x0, y0 + ry),)),
        ("curveTo", ((x0, y0 + k * ry), (x0 + k * rx, y0), (x0 + rx, y0))), ("closePath", ()),
    ]  # fmt: skip


@dataclass(frozen=True)
class Stroke:
    """How a line is drawn, in the units of its own path."""

    width: float
    cap: str = "butt"
    join: str = "miter"
    miter: float = 4.0
    dashes: tuple[float, ...] = ()
    offset: float = 0.0


def mapped(commands: Sequence[Command], matrix: Matrix) -> list[Command]:
    """Commands under an affine map (which carries Bezier curves exactly)."""
    if matrix == AS_IT_IS:
        return list(commands)
    moved = map(tuple, _mapped_points(commands, matrix).tolist())
    return [(name, tuple(islice(moved, len(points)))) for name, points in commands]


def _mapped_points(commands: Sequence[Command], matrix: Matrix) -> Floats:
    """The points (n, 2) of all commands under an affine map."""
    own = np.array([p for _, points in commands for p in points], float).reshape(-1, 2)
    if matrix == AS_IT_IS:
        return own
    a, b, c, d, e, f = matrix
    x, y = own.T
    return np.column_stack([a * x + c * y + e, b * x + d * y + f])


def flattened(commands: Sequence[Command], matrix: Matrix = AS_IT_IS) -> list[tuple[Floats, bool]]:
    """(points (n, 2), closed) of every subpath under an affine map, curves in straight pieces within tolerance. In mm."""
    ends = _mapped_points(commands, matrix)
    if not len(ends) or not np.isfinite(ends).all() or np.abs(ends).max() > _FARTHEST:
        return []
    tolerance = max(1e-6, min(TOLERANCE, RELATIVE * float(np.ptp(ends, axis=0).max())))
    found: list[tuple[Floats, bool]] = []
    current: list[Floats] = []
    start = at = np.zeros((1, 2))
    used = total = 0

    def finish(closed: bool) -> None:
        if current:
            found.append((np.concatenate(current), closed))
            current.clear()

    for name, count in _runs(commands):
        own = ends[used : used + count]
        used += count
        if name == "moveTo":
            finish(False)
            start = at = own
            current.append(at)
        elif name in ("closePath", "endPath"):
            finish(name == "closePath")
            at = start
        else:
            if not current:
                current.append(at)
            pieces = own if name == "lineTo" else _pieces([*at.tolist(), *own.tolist()], tolerance)
            total += len(pieces)
            if total > MOST_POINTS:
                return []
            current.append(pieces)
            at = own[-1:]
    finish(False)
    return found


def _runs(commands: Sequence[Command]) -> Iterator[tuple[str, int]]:
    """Each command's name and how many points it has; lines one after another are one: a leaf is hundreds of short ones."""
    for name, group in groupby(commands, key=itemgetter(0)):
        if name == "lineTo":
            yield name, sum(len(points) for _, points in group)
        else:
            yield from ((name, len(points)) for _, points in group)


def _pieces(own: Sequence[Sequence[float]], tolerance: float) -> Floats:
    """The points after the first of a quadratic or cubic curve, of its control points."""
    # a curve of degree n strays n (n - 1) / 8 of its largest second difference over the squared pieces
    degree = len(own) - 1
    second = max(
        abs(own[i][k] - 2 * own[i + 1][k] + own[i + 2][k]) for i in range(degree - 1) for k in (0, 1)
    )
    count = max(1, min(2000, math.ceil(math.sqrt(degree * (degree - 1) / 8 * 1.42 * second / tolerance))))
    return np.asarray(_weights(degree, count) @ np.array(own))


@lru_cache(maxsize=4096)
def _weights(degree: int, count: int) -> Floats:
    """Bernstein's polynomials at the ends of so many pieces: (count, degree + 1)."""
    t = np.linspace(0, 1, count + 1)[1:, None]
    u = 1 - t
    return np.hstack([math.comb(degree, k) * u ** (degree - k) * t**k for k in range(degree + 1)])


def filled(rings: Sequence[Floats], even_odd: bool) -> BaseGeometry:
    """The area inside rings (mm) under a fill rule; open ones are closed."""
    kept = [r for r in rings if len(r) >= 3]
    if not kept:
        return NOTHING
    if len(kept) == 1:
        simple = Polygon(kept[0])
        if simple.is_valid:
            return simple
    import pyclipper

    scale = min(1e7, 5e8 / max(1e-9, *(float(np.abs(r).max()) for r in kept)))
    clipper = pyclipper.Pyclipper()
    used = False
    for ring in kept:
        whole = np.rint(ring * scale).astype(np.int64)
        try:
            clipper.AddPath(whole.tolist(), pyclipper.PT_SUBJECT, True)
            used = True
        except pyclipper.ClipperException:
            continue  # a ring without area
    if not used:
        return NOTHING
    rule = pyclipper.PFT_EVENODD if even_odd else pyclipper.PFT_NONZERO
    return _from_tree(clipper.Execute2(pyclipper.CT_UNION, rule, rule), scale)


def _from_tree(tree: Any, scale: float) -> BaseGeometry:
    """Clipper's tree of outlines and holes as a valid geometry."""
    shapes: list[Polygon] = []
    waiting = list(tree.Childs)
    while waiting:
        node = waiting.pop()
        holes = [h for h in node.Childs if len(h.Contour) >= 3]
        if len(node.Contour) >= 3:
            shapes.append(
                Polygon(np.array(node.Contour) / scale, [np.array(h.Contour) / scale for h in holes])
            )
        for hole in node.Childs:
            waiting.extend(hole.Childs)
    # rings touch themselves where a ribbon turns; by lines, which would have to be left out again, takes five times as long
    sound = [
        s if s.is_valid else shapely.make_valid(s, method="structure", keep_collapsed=False) for s in shapes
    ]
    return sound[0] if len(sound) == 1 else union(sound)


def areas(shape: BaseGeometry) -> BaseGeometry:
    """Only the areas of a geometry, without stray lines and points."""
    if shape.geom_type in ("Polygon", "MultiPolygon"):
        return shape
    kept = [p for p in shapely.get_parts(shape) if p.geom_type in ("Polygon", "MultiPolygon")]
    return shapely.unary_union(kept) if kept else NOTHING


def union(shapes: Sequence[BaseGeometry]) -> BaseGeometry:
    """All areas as one; on rounding trouble snapped to a hundred-thousandth of a mm."""
    try:
        # what lies apart is joined apart: ten thousand dots take a tenth of the time
        return areas(shapely.disjoint_subset_union_all(list(shapes)))
    except shapely.errors.GEOSException:
        return areas(shapely.union_all([shapely.make_valid(s) for s in shapes], grid_size=1e-5))


def both(first: BaseGeometry, second: BaseGeometry) -> BaseGeometry:
    """What two areas share."""
    try:
        return areas(shapely.intersection(first, second))
    except shapely.errors.GEOSException:
        return areas(
            shapely.intersection(shapely.make_valid(first), shapely.make_valid(second), grid_size=1e-5)
        )


def without(first: BaseGeometry, second: BaseGeometry) -> BaseGeometry:
    """What of the first is not in the second."""
    try:
        return areas(shapely.difference(first, second))
    except shapely.errors.GEOSException:
        return areas(
            shapely.difference(shapely.make_valid(first), shapely.make_valid(second), grid_size=1e-5)
        )


def outlined(commands: Sequence[Command], stroke: Stroke, matrix: Matrix) -> BaseGeometry:
    """The area of a stroked path, mm. ``matrix`` leads from its units to mm."""
    import pathops

    scale = max(1e-9, matrix.scale) * STROKE_DETAIL
    reach = max((abs(v) for _, points in commands for p in points for v in p), default=0.0)
    if stroke.width <= 0 or not math.isfinite(reach):
        return NOTHING
    # in single precision; with more units across, ribbons cross themselves in thousands of slivers
    scale = min(scale, _MOST_UNITS / max(reach + stroke.width, 1e-9))
    path = pathops.Path()
    pen = path.getPen(allow_open_paths=True)
    for name, points in mapped(commands, Matrix(a=scale, d=scale)):
        getattr(pen, name)(*points)
    caps = {"round": pathops.LineCap.ROUND_CAP, "square": pathops.LineCap.SQUARE_CAP}
    joins = {"round": pathops.LineJoin.ROUND_JOIN, "bevel": pathops.LineJoin.BEVEL_JOIN}
    path.stroke(
        stroke.width * scale,
        caps.get(stroke.cap, pathops.LineCap.BUTT_CAP),
        joins.get(stroke.join, pathops.LineJoin.MITER_JOIN),
        stroke.miter,
        [d * scale for d in stroke.dashes] or None,
        stroke.offset * scale,
    )
    path.convertConicsToQuads(0.05)
    back = Matrix(*matrix).then(Matrix(a=1 / scale, d=1 / scale))
    return filled([ring for ring, _ in flattened(_skia_commands(path), back)], even_odd=False)


def _skia_commands(path: Any) -> list[Command]:
    names = {0: "moveTo", 1: "lineTo", 2: "qCurveTo", 4: "curveTo", 5: "closePath"}
    return [(names[int(verb)], tuple(points)) for verb, points in path]
