"""Markers on the vertices of a path (SVG 2, section 11.6)."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import replace
from xml.etree.ElementTree import Element

from strata.formats.svg.context import Context, box_shape, initial_style
from strata.formats.svg.css import computed
from strata.formats.svg.document import local
from strata.formats.svg.flattening import Command
from strata.formats.svg.paint import reference
from strata.formats.svg.values import Frame, Matrix, length, view_box, viewport
from strata.formats.svg.walking import Drawn, Walk

Vector = tuple[float, float]
MOST_VERTICES = 2000


def _vertices(commands: Sequence[Command]) -> list[tuple[Vector, Vector | None, Vector | None]]:
    """(point, direction in, direction out) of every vertex."""
    found: list[tuple[Vector, Vector | None, Vector | None]] = []
    start: Vector = (0.0, 0.0)
    first = 0
    for name, points in commands:
        if name == "moveTo":
            start, first = points[0], len(found)
            found.append((start, None, None))
        elif name == "closePath" and found:
            back = _direction([found[-1][0], start])
            found[-1] = (found[-1][0], found[-1][1], back or found[-1][2])
            out = found[first][2]
            found.append((start, back or found[-1][1], out))
            found[first] = (found[first][0], back, out)
        elif name != "endPath" and found:
            track = [found[-1][0], *points]
            found[-1] = (found[-1][0], found[-1][1], _direction(track))
            found.append((points[-1], _direction(track[::-1], -1), None))
    return found


def _direction(points: Sequence[Vector], sign: int = 1) -> Vector | None:
    """The unit direction from the first point to the next different one."""
    x, y = points[0]
    for px, py in points[1:]:
        long = math.hypot(px - x, py - y)
        if long > 1e-12:
            return sign * (px - x) / long, sign * (py - y) / long
    return None


def _bisector(into: Vector | None, out: Vector | None) -> float:
    one, two = into or out or (1.0, 0.0), out or into or (1.0, 0.0)
    x, y = one[0] + two[0], one[1] + two[1]
    return math.degrees(math.atan2(y, x) if math.hypot(x, y) > 1e-9 else math.atan2(one[1], one[0]))


def markers(walker: Walk, node: Element, context: Context, commands: Sequence[Command]) -> Iterator[Drawn]:
    """Everything painted by the markers of one shape."""
    if local(node) in ("rect", "circle", "ellipse") or context.mark:
        return
    points = _vertices(commands)
    if not points or len(points) > MOST_VERTICES:
        return
    last = len(points) - 1
    for i, (point, into, out) in enumerate(points):
        places = [p for p, holds in (("start", i == 0), ("mid", 0 < i < last), ("end", i == last)) if holds]
        for place in places:
            key = reference(context.style[f"marker-{place}"])
            marker = walker.book.ids.get(key) if key is not None else None
            if marker is not None and local(marker) == "marker" and id(marker) not in context.used:
                yield from _draw(walker, marker, context, place, point, _bisector(into, out))


def _draw(
    walker: Walk, marker: Element, context: Context, place: str, point: Vector, angle: float
) -> Iterator[Drawn]:
    book, frame = walker.book, context.frame
    width = length(marker.get("markerWidth", "3"), frame, "width") or 0.0
    height = length(marker.get("markerHeight", "3"), frame, "height") or 0.0
    if width <= 0 or height <= 0 or context.style["visibility"].lower() != "visible":
        return
    orient = marker.get("orient", "0").strip()
    turn = angle + (180 if orient == "auto-start-reverse" and place == "start" else 0)
    if not orient.startswith("auto"):
        turn = length(orient.removesuffix("deg"), frame) or 0.0
    scale = (
        1.0
        if marker.get("markerUnits") == "userSpaceOnUse"
        else length(context.style["stroke-width"], frame) or 0.0
    )
    cos, sin = math.cos(math.radians(turn)) * scale, math.sin(math.radians(turn)) * scale
    box = view_box(marker.get("viewBox"))
    inner = viewport(box, width, height, marker.get("preserveAspectRatio", "")) if box else Matrix()
    words = {"left": 0.0, "top": 0.0, "center": 0.5, "right": 1.0, "bottom": 1.0}
    size = (box[2], box[3]) if box else (width, height)
    start = (box[0], box[1]) if box else (0.0, 0.0)
    at = [start[i] + words[t] * size[i] if (t := marker.get(n, "0")) in words else length(t, frame) or 0.0
          for i, n in enumerate(("refX", "refY"))]  # fmt: skip
    ref = (inner.a * at[0] + inner.e, inner.d * at[1] + inner.f)
    placed = context.inner(Matrix(cos, sin, -sin, cos, *point)).inner(Matrix(e=-ref[0], f=-ref[1]))
    style = computed(initial_style(), book.styles.declared(marker))
    placed = replace(placed, style=style, used=(*context.used, id(marker)))
    if (book.value(marker, "overflow", style) or "hidden") not in ("visible", "auto"):
        placed = placed.clipped(box_shape(placed.matrix, 0, 0, width, height))
    view = Frame(box[2], box[3], frame.em) if box else Frame(width, height, frame.em)
    yield from walker.children(marker, replace(placed.inner(inner), frame=view))
