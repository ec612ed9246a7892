"""What a walk comes by, and what clips and markers ask of the walk they are part of: everything painted inside a node."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Protocol
from xml.etree.ElementTree import Element

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from strata.formats.svg import geometry as geo
from strata.formats.svg.context import Book, Context
from strata.formats.svg.flattening import Command, flattened_each

_AT_ONCE = 4_000
# points of outlines whose areas are worked out together: dots by the hundred, and of curves cut as finely as may be 42 MB


@dataclass(frozen=True)
class Painted:
    """One fill or stroke: its paint (``#rrggbb`` or ``gradient``), its area in mm, whose it is."""

    paint: str
    shape: BaseGeometry
    layer: str | None
    element: str
    mark: bool


@dataclass(frozen=True)
class Drawn:
    """A fill or stroke as the walk comes by it, its clip not followed yet: its paint, what it is drawn in, and a fill's outline
    and rule, not worked out yet, or a stroke's area (mm)."""

    paint: str
    context: Context
    outline: Sequence[Command] = ()
    even_odd: bool = False
    stroke: BaseGeometry | None = None


def worked_out(parts: Iterable[Drawn]) -> Iterator[Painted]:
    """The areas of parts inside their clips, as far as any is left; many at once."""
    waiting: list[Drawn] = []
    points = 0
    for part in parts:
        waiting.append(part)
        points += 3 * len(part.outline)
        if points >= _AT_ONCE:
            yield from _areas(waiting)
            waiting, points = [], 0
    yield from _areas(waiting)


def _areas(parts: Sequence[Drawn]) -> Iterator[Painted]:
    fills = [p for p in parts if p.stroke is None]
    rings = flattened_each([p.outline for p in fills], [p.context.matrix for p in fills])
    filled = iter(geo.filled_each([[r for r, _ in own] for own in rings], [p.even_odd for p in fills]))
    shapes = [next(filled) if p.stroke is None else p.stroke for p in parts]
    for part, shape in zip(parts, _clipped(shapes, [p.context.clip for p in parts]), strict=True):
        if not shape.is_empty:
            context = part.context
            yield Painted(part.paint, shape, context.layer, context.element, context.mark)


def _clipped(shapes: list[BaseGeometry], clips: Sequence[BaseGeometry | None]) -> list[BaseGeometry]:
    """What of each shape is inside its clip."""
    whole = shapely.covers(np.array(clips, object), np.array(shapes, object)) if shapes else ()
    return [
        shape if clip is None or covered or shape.is_empty else geo.both(shape, clip)
        for shape, clip, covered in zip(shapes, clips, whole, strict=True)
    ]


class Walk(Protocol):
    """A walk under way."""

    book: Book

    def children(self, node: Element, context: Context) -> Iterator[Drawn]:
        """Everything painted by the children of an element."""
        ...
