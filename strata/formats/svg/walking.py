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
class Outline:
    """A fill whose area is not worked out yet: its paint, its outline and fill rule, what it is drawn in."""

    paint: str
    commands: Sequence[Command]
    even_odd: bool
    context: Context


def worked_out(parts: Iterable[Painted | Outline]) -> Iterator[Painted]:
    """The same parts with their areas inside their clips, as far as any is left; many at once."""
    waiting: list[Painted | Outline] = []
    points = 0
    for part in parts:
        waiting.append(part)
        if isinstance(part, Outline):
            points += 3 * len(part.commands)
        if points >= _AT_ONCE:
            yield from _areas(waiting)
            waiting, points = [], 0
    yield from _areas(waiting)


def _areas(parts: Sequence[Painted | Outline]) -> Iterator[Painted]:
    outlines = [p for p in parts if isinstance(p, Outline)]
    rings = flattened_each([o.commands for o in outlines], [o.context.matrix for o in outlines])
    shapes = geo.filled_each([[r for r, _ in own] for own in rings], [o.even_odd for o in outlines])
    found = iter(_clipped(shapes, [o.context.clip for o in outlines]))
    for part in parts:
        if isinstance(part, Painted):
            yield part
        elif not (shape := next(found)).is_empty:
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

    def children(self, node: Element, context: Context) -> Iterator[Painted | Outline]:
        """Everything painted by the children of an element."""
        ...
