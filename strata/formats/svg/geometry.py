"""Shapes to curves, curves to rings in mm, fills and strokes to areas.

Strokes are outlined by Skia's path operations and fill rules resolved by
Clipper: the field's kept libraries.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from strata.formats.svg.flattening import Command, Floats, flattened
from strata.formats.svg.values import AS_IT_IS, Matrix

STROKE_DETAIL = 400.0
# units a mm that a stroke is outlined at; Skia keeps to about a quarter of a unit
_MOST_UNITS = 5e4
# units that a stroked path is large at most: a quarter of one is then a seven-hundredth of a millimetre of a sheet of 300
NOTHING = shapely.GeometryCollection()


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


def mapped(commands: Sequence[Command], matrix: Matrix) -> Sequence[Command]:
    """Commands under an affine map (which carries Bezier curves exactly)."""
    if matrix == AS_IT_IS:
        return commands
    a, b, c, d, e, f = matrix
    return [
        (name, tuple((a * x + c * y + e, b * x + d * y + f) for x, y in points)) for name, points in commands
    ]


def filled_each(outlines: Sequence[Sequence[Floats]], even_odd: Sequence[bool]) -> list[BaseGeometry]:
    """The area inside the rings (mm) of each outline under its fill rule: what is one simple ring, which most are, all at once."""
    kept = [[r for r in rings if len(r) >= 3] for rings in outlines]
    alone = [i for i, rings in enumerate(kept) if len(rings) == 1]
    found: dict[int, BaseGeometry] = {}
    if alone:
        rings = [kept[i][0] for i in alone]
        owners = np.repeat(np.arange(len(rings)), [len(r) for r in rings])
        simple = shapely.polygons(shapely.linearrings(np.concatenate(rings), indices=owners))
        found = {
            i: shape for i, shape, valid in zip(alone, simple, shapely.is_valid(simple), strict=True) if valid
        }
    return [
        found[i] if i in found else _ruled(rings, rule)
        for i, (rings, rule) in enumerate(zip(kept, even_odd, strict=True))
    ]


def filled(rings: Sequence[Floats], even_odd: bool) -> BaseGeometry:
    """The area inside rings (mm) under a fill rule; open ones are closed."""
    return filled_each([rings], [even_odd])[0]


def _ruled(kept: Sequence[Floats], even_odd: bool) -> BaseGeometry:
    """The same of rings that cross one another or themselves, or lie in one another."""
    if not kept:
        return NOTHING
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
