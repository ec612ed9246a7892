"""The walk through a drawing: every painted area in mm, bottom first, as a browser paints it.

SVG 2 (W3C Candidate Recommendation 2018), sections 5 to 13. What is not quite
transparent counts as opaque, and filters as absent.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import replace
from functools import lru_cache
from itertools import pairwise
from xml.etree.ElementTree import Element

from strata.formats.svg import geometry as geo
from strata.formats.svg.clips import clip_of, mask_of
from strata.formats.svg.context import SHAPES, Book, Context, admitted, box_shape
from strata.formats.svg.document import drawn_children, local
from strata.formats.svg.flattening import Command, flattened
from strata.formats.svg.markers import markers
from strata.formats.svg.paint import paint_key
from strata.formats.svg.values import Frame, Matrix, length, numbers, view_box, viewport
from strata.formats.svg.walking import Drawn

UNSEEN = "Parts that are quite transparent were left out."
_CONTAINERS = frozenset(("g", "a", "svg", "switch", "use"))


class Walker:
    """Walks one file; ``layers`` names the elements that begin a layer, by id() of the node."""

    def __init__(self, book: Book, layers: dict[int, str]) -> None:
        self.book, self.layers = book, layers

    def children(self, node: Element, context: Context) -> Iterator[Drawn]:
        """Everything painted by the children of an element."""
        for child in drawn_children(node):
            yield from self.element(child, context)

    def element(self, node: Element, outer: Context, symbol: Element | None = None) -> Iterator[Drawn]:
        """Everything painted by an element. ``symbol``: the ``use`` that copies it, if any."""
        kind = local(node)
        if kind in ("text", "image", "foreignObject"):
            self._left_out(node, kind, outer)
            return
        if kind not in SHAPES and kind not in _CONTAINERS and not (kind == "symbol" and symbol is not None):
            return
        self.book.count()
        context = self.book.enter(node, outer)
        if context is None:
            return
        if _unseen(self.book.value(node, "opacity", context.style)):
            self.book.say(UNSEEN)
            return
        if id(node) in self.layers:
            context = replace(context, layer=self.layers[id(node)])
        inside = self.book.placed(node, context)
        inside = self.cut(node, inside) if inside is not None else None
        if inside is None:
            return
        if kind in SHAPES:
            yield from self._shape(node, inside)
        elif kind == "use":
            target, moved = self.book.target(node, inside)
            if target is not None and moved is not None:
                yield from self.element(target, moved, symbol=node)
        elif kind == "switch":
            first = next((c for c in drawn_children(node) if admitted(c)), None)
            if first is not None:
                yield from self.element(first, inside)
        elif kind in ("svg", "symbol"):
            nested = self.nested(node, inside, symbol)
            if nested is not None:
                yield from self.children(node, nested)
        else:
            yield from self.children(node, inside)

    def _left_out(self, node: Element, kind: str, outer: Context) -> None:
        if self.book.enter(node, outer) is None:
            return
        if kind == "text" and not "".join(node.itertext()).strip():
            return
        sentences = {
            "text": "Text was left out; turn it into outlines to bring it in.",
            "image": "Embedded pictures were left out.",
            "foreignObject": "Embedded pages were left out.",
        }
        self.book.say(sentences[kind])

    def cut(self, node: Element, context: Context) -> Context | None:
        """The context inside an element's clip path and mask; None when nothing is left."""
        for area in (clip_of(self.book, node, context), mask_of(self, node, context)):
            if area is not None:
                context = context.clipped(area)
        return None if context.clip is not None and context.clip.is_empty else context

    def nested(self, node: Element, context: Context, symbol: Element | None) -> Context | None:
        """The context inside an inner viewport (SVG 2, section 8.2); None when it has no size."""
        book, frame, style = self.book, context.frame, context.style

        def side(name: str) -> float:
            texts = [
                book.value(n, name, style) for n in ((symbol,) if symbol is not None else ()) if n is not None
            ]
            texts.append(book.value(node, name, style))
            text = next((t for t in texts if t not in (None, "auto")), "100%")
            return length(text, frame, name) or 0.0

        width, height = side("width"), side("height")
        if width <= 0 or height <= 0:
            return None
        x = length(book.value(node, "x", style), frame, "width") or 0.0
        y = length(book.value(node, "y", style), frame, "height") or 0.0
        if local(node) == "svg":
            context = context.inner(Matrix(e=x, f=y))
        overflow = (book.value(node, "overflow", style) or "hidden").lower()
        if overflow not in ("visible", "auto"):
            context = context.clipped(box_shape(context.matrix, 0, 0, width, height))
        box = view_box(node.get("viewBox"))
        if box is None:
            if node.get("viewBox") and len(numbers(node.get("viewBox", ""))) == 4:
                return None
            return replace(context, frame=Frame(width, height, frame.em))
        matrix = viewport(box, width, height, node.get("preserveAspectRatio", ""))
        return replace(context.inner(matrix), frame=Frame(box[2], box[3], frame.em))

    def _shape(self, node: Element, context: Context) -> Iterator[Drawn]:
        style = context.style
        commands = self.book.commands(node, context)
        if not commands:
            return
        visible = style["visibility"].lower() == "visible"
        if not visible:
            self.book.say("Hidden parts were left out.")
        order = style["paint-order"].split()
        painters = [self._fill, self._stroke]
        if order and order[0] == "stroke":
            painters.reverse()
        for painter in painters:
            if visible:
                yield from painter(node, context, commands)
        if any(style[f"marker-{place}"] != "none" for place in ("start", "mid", "end")):
            yield from markers(self, node, context, commands)

    def _fill(self, node: Element, context: Context, commands: Sequence[Command]) -> Iterator[Drawn]:
        if local(node) == "line":
            return
        key = paint_key(self.book, node, context, context.style["fill"])
        if key is not None and _unseen(context.style["fill-opacity"]):
            self.book.say(UNSEEN)
        elif key is not None:
            yield Drawn(key, context, commands, context.style["fill-rule"].lower() == "evenodd")

    def _stroke(self, node: Element, context: Context, commands: Sequence[Command]) -> Iterator[Drawn]:
        style, frame = context.style, context.frame
        if style["stroke"].lower() == "none":
            return
        width = length(style["stroke-width"], frame, default=1.0) or 0.0
        key = paint_key(self.book, node, context, style["stroke"]) if width > 0 else None
        if key is None:
            return
        if _unseen(style["stroke-opacity"]):
            self.book.say(UNSEEN)
            return
        matrix = context.matrix
        if (self.book.value(node, "vector-effect", style) or "").lower() == "non-scaling-stroke":
            px = Matrix(a=self.book.px, d=self.book.px)
            commands = geo.mapped(commands, Matrix(a=1 / px.a, d=1 / px.d).then(matrix))
            matrix = px
        stroke = geo.Stroke(
            width,
            style["stroke-linecap"].lower(),
            style["stroke-linejoin"].lower().replace("miter-clip", "miter").replace("arcs", "miter"),
            max(1.0, float((numbers(style["stroke-miterlimit"]) or [4.0])[0])),
            *self._dashes(node, context, commands),
        )
        yield Drawn(key, context, stroke=geo.outlined(commands, stroke, matrix))

    def _dashes(
        self, node: Element, context: Context, commands: Sequence[Command]
    ) -> tuple[tuple[float, ...], float]:
        style = context.style
        parts = style["stroke-dasharray"].replace(",", " ").split()
        values = [length(p, context.frame, default=None) for p in parts]
        dashes = [v for v in values if v is not None]
        if not dashes or len(dashes) != len(parts) or min(dashes) < 0 or sum(dashes) <= 0:
            return (), 0.0
        dashes = dashes * 2 if len(dashes) % 2 else dashes
        offset = length(style["stroke-dashoffset"], context.frame) or 0.0
        factor = self._dash_factor(node, commands)
        run = _run(commands)
        if factor * sum(dashes) <= 0 or run / (factor * sum(dashes)) > 20_000:
            return (), 0.0  # finer than anything that can be cut
        return tuple(d * factor for d in dashes), offset * factor

    @staticmethod
    def _dash_factor(node: Element, commands: Sequence[Command]) -> float:
        """Real length over the ``pathLength`` that the drawing claims."""
        claimed = numbers(node.get("pathLength", ""))
        return _run(commands) / claimed[0] if claimed and claimed[0] > 0 else 1.0


@lru_cache(maxsize=512)
def _unseen(opacity: str | None) -> bool:
    """Whether an opacity is nought: what is quite transparent is not painted."""
    found = numbers((opacity or "").strip().rstrip("%"))
    return len(found) == 1 and found[0] <= 0


def _run(commands: Sequence[Command]) -> float:
    """The length of an outline in its own units."""
    total = 0.0
    for ring, closed in flattened(commands):
        points = [*ring.tolist(), *([ring[0].tolist()] if closed else [])]
        total += sum(math.dist(a, b) for a, b in pairwise(points))
    return total
