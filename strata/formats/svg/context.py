"""What an element is drawn in: its place, its inherited style, its clip; and the shapes it is made of."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from xml.etree.ElementTree import Element

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from strata.errors import TooLarge
from strata.formats.svg import geometry as geo
from strata.formats.svg.css import INHERITED, Styles, computed, with_variables
from strata.formats.svg.document import by_id, local
from strata.formats.svg.flattening import Command, flattened
from strata.formats.svg.path_data import path_commands
from strata.formats.svg.values import Frame, Matrix, length, numbers, transform

MOST_DRAWN = 40_000
# elements drawn, copies by <use> counted
MOST_NESTED = 220
SHAPES = frozenset(("path", "rect", "circle", "ellipse", "line", "polyline", "polygon"))
GROUPS = frozenset(("g", "svg", "a", "switch", "symbol"))


@dataclass(frozen=True)
class Context:
    """Where and how the children of an element are drawn. ``matrix`` leads from user units to mm."""

    matrix: Matrix
    frame: Frame
    style: Mapping[str, str]
    clip: BaseGeometry | None = None
    layer: str | None = None
    element: str = ""
    mark: bool = False
    depth: int = 0
    used: tuple[int, ...] = ()

    def inner(self, matrix: Matrix) -> Context:
        """The same, in the units of an inner matrix."""
        return replace(self, matrix=self.matrix.then(matrix))

    def clipped(self, area: BaseGeometry) -> Context:
        """The same, drawn only inside an area (mm)."""
        clip = area if self.clip is None else geo.both(self.clip, area)
        shapely.prepare(clip)  # it is asked of every shape inside
        return replace(self, clip=clip)


class Book:
    """One file while it is read: ids, styles, what was left out, how much was drawn."""

    def __init__(self, root: Element, px: float) -> None:
        self.root, self.px = root, px
        self.ids = by_id(root)
        self.styles = Styles(root)
        self.left_out: dict[str, None] = {}
        self._drawn = 0

    def say(self, sentence: str) -> None:
        """Note once what was left out."""
        self.left_out.setdefault(sentence)

    def count(self) -> None:
        """One more element drawn; raises TooLarge when it is one too many."""
        self._drawn += 1
        if self._drawn > MOST_DRAWN:
            raise TooLarge("This drawing repeats its parts more often than can be read.", "file")

    def enter(self, node: Element, outer: Context) -> Context | None:
        """The context of an element itself; None when it is not displayed."""
        declared = self.styles.declared(node)
        if declared.get("display", "").lower() == "none":
            self.say("Hidden parts were left out.")
            return None
        if not admitted(node):
            return None
        if outer.depth > MOST_NESTED:
            raise TooLarge("This drawing has deeper groups than can be read.", "file")
        style = computed(outer.style, declared)
        if declared.get("filter", "none").lower() != "none":
            self.say("Filters (blurs and shadows) were left out.")
        em = length(style["font-size"], outer.frame, default=16.0) or 16.0
        style["font-size"] = f"{em}px"
        # what the maker of the drawing says of a part holds for all inside it
        name = node.get("data-element", outer.element)[:120]
        frame = Frame(outer.frame.width, outer.frame.height, em)
        mark = outer.mark or node.get("data-role") == "mark"
        return replace(outer, style=style, frame=frame, element=name, depth=outer.depth + 1, mark=mark)

    def value(self, node: Element, name: str, style: Mapping[str, str]) -> str | None:
        """A property that does not inherit: declared in CSS, else the attribute."""
        found = self.styles.declared(node).get(name, node.get(name))
        return None if found is None else with_variables(found, style)

    def placed(self, node: Element, context: Context) -> Context | None:
        """The context inside an element's own transform; None when that cannot be drawn."""
        text = self.value(node, "transform", context.style)
        matrix = transform(text, context.frame)
        if matrix is None:
            # an unreadable attribute is ignored, as browsers do
            return context
        if matrix == Matrix():
            return context
        x, y = self._origin(node, context)
        if x or y:
            matrix = Matrix(e=x, f=y).then(matrix).then(Matrix(e=-x, f=-y))
        if abs(matrix.a * matrix.d - matrix.b * matrix.c) < 1e-18:
            return None
        return context.inner(matrix)

    def _origin(self, node: Element, context: Context) -> tuple[float, float]:
        text = self.value(node, "transform-origin", context.style)
        if not text:
            return 0.0, 0.0
        box = (0.0, 0.0, context.frame.width, context.frame.height)
        if (self.value(node, "transform-box", context.style) or "").lower() in (
            "fill-box",
            "content-box",
            "stroke-box",
        ):
            box = self.bounds(node, replace(context, matrix=Matrix()))
        words = {"left": "0%", "top": "0%", "center": "50%", "right": "100%", "bottom": "100%"}
        parts = text.lower().split()
        if parts[:1] in (["top"], ["bottom"]) or parts[1:2] in (["left"], ["right"]):
            parts[:2] = reversed([*parts, "center"][:2])
        parts = [words.get(p, p) for p in [*parts, "center"][:2]]
        wide, high = Frame(box[2] - box[0], 0), Frame(0, box[3] - box[1])
        return box[0] + (length(parts[0], wide, "width") or 0.0), box[1] + (
            length(parts[1], high, "height") or 0.0
        )

    def commands(self, node: Element, context: Context) -> list[Command]:
        """The outline of a basic shape or path in user units; empty when it is not drawn."""
        kind, frame, style = local(node), context.frame, context.style

        def at(name: str, along: str, default: float | None = 0.0) -> float | None:
            text = self.value(node, name, style)
            return default if text in (None, "auto") else length(text, frame, along, default)

        if kind == "path":
            data = self.value(node, "d", style) or ""
            if data.startswith("path("):
                data = data[5:].rstrip(")").strip().strip("'\"")
            return path_commands(data)
        if kind == "rect":
            w, h = at("width", "width") or 0.0, at("height", "height") or 0.0
            rx, ry = at("rx", "width", None), at("ry", "height", None)
            rx, ry = (ry if rx is None or rx < 0 else rx), (rx if ry is None or ry < 0 else ry)
            if w <= 0 or h <= 0:
                return []
            return geo.rect_commands(
                at("x", "width") or 0.0, at("y", "height") or 0.0, w, h, rx or 0.0, ry or 0.0
            )
        if kind in ("circle", "ellipse"):
            if kind == "circle":
                rx = ry = at("r", "diagonal")
            else:
                rx, ry = at("rx", "width", None), at("ry", "height", None)
                rx, ry = (ry if rx is None else rx), (rx if ry is None else ry)
            if not rx or not ry or rx <= 0 or ry <= 0:
                return []
            return geo.ellipse_commands(at("cx", "width") or 0.0, at("cy", "height") or 0.0, rx, ry)
        if kind == "line":
            ends = (
                (at("x1", "width") or 0.0, at("y1", "height") or 0.0),
                (at("x2", "width") or 0.0, at("y2", "height") or 0.0),
            )
            return [("moveTo", (ends[0],)), ("lineTo", (ends[1],)), ("endPath", ())]
        return _poly(numbers(node.get("points", "")), kind == "polygon")

    def bounds(self, node: Element, context: Context) -> tuple[float, float, float, float]:
        """The box of an element's fills in the units of ``context`` (SVG 2, section 8.10); nan when empty."""
        boxes = list(self._boxes(node, context, placed=False))
        if not boxes:
            return (math.nan,) * 4
        found = np.array(boxes)
        low, high = found[:, :2].min(axis=0), found[:, 2:].max(axis=0)
        return float(low[0]), float(low[1]), float(high[0]), float(high[1])

    def _boxes(self, node: Element, outer: Context, placed: bool) -> list[tuple[float, ...]]:
        self.count()
        context = self.enter(node, outer)
        inside = self.placed(node, context) if context and placed else context
        if inside is None:
            return []
        kind = local(node)
        if kind in SHAPES:
            rings = [r for r, _ in flattened(self.commands(node, inside), inside.matrix)]
            if not rings:
                return []
            points = np.concatenate(rings)
            return [(*points.min(axis=0), *points.max(axis=0))]
        if kind == "use":
            target, moved = self.target(node, inside)
            return [] if target is None or moved is None else self._boxes(target, moved, placed=True)
        if kind in GROUPS:
            return [b for child in node for b in self._boxes(child, inside, placed=True)]
        return []

    def target(self, node: Element, context: Context) -> tuple[Element | None, Context | None]:
        """What a ``use`` copies and where; (None, None) for a missing one or a loop."""
        from strata.formats.svg.document import href

        target = self.ids.get(href(node))
        if target is None or id(target) in context.used or target is node:
            return None, None
        x = length(self.value(node, "x", context.style), context.frame, "width") or 0.0
        y = length(self.value(node, "y", context.style), context.frame, "height") or 0.0
        moved = replace(context.inner(Matrix(e=x, f=y)), used=(*context.used, id(target)))
        return target, moved


def _poly(values: list[float], closed: bool) -> list[Command]:
    points = list(zip(values[0::2], values[1::2], strict=False))
    if len(points) < 2:
        return []
    lines: list[Command] = [("lineTo", (p,)) for p in points[1:]]
    return [("moveTo", (points[0],)), *lines, ("closePath" if closed else "endPath", ())]


def admitted(node: Element) -> bool:
    """Whether the conditions of an element hold for a browser set to English."""
    if node.get("requiredExtensions"):
        return False
    languages = node.get("systemLanguage")
    return languages is None or any(
        part.strip().lower().split("-")[0] == "en" for part in languages.split(",")
    )


def initial_style() -> dict[str, str]:
    """What the root inherits."""
    return dict(INHERITED)


def box_shape(matrix: Matrix, x: float, y: float, w: float, h: float) -> BaseGeometry:
    """A rectangle of user units as an area in mm."""
    a, b, c, d, e, f = matrix
    return shapely.Polygon(
        [
            (a * px + c * py + e, b * px + d * py + f)
            for px, py in ((x, y), (x + w, y), (x + w, y + h), (x, y + h))
        ]
    )
