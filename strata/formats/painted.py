"""Painted areas to sheets: by layer or by colour, with what one sheet covers of another."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from strata.formats.svg import Drawing, Painted
from strata.formats.svg.geometry import union, without

REST = "rest"
# the sheet of what lies outside all layers


@dataclass(frozen=True)
class Plate:
    """All that one sheet prints, mm, with the parts it came from; ``marks`` take no ink."""

    key: str
    shape: BaseGeometry
    parts: tuple[Painted, ...]
    marks: BaseGeometry


def visible(painted: Sequence[Painted]) -> list[Painted]:
    """The same parts without what later ones cover."""
    if not painted:
        return []
    shapes = np.array([p.shape for p in painted], dtype=object)
    tree = shapely.STRtree(shapes)
    left, right = tree.query(shapes, predicate="intersects")
    above: dict[int, list[BaseGeometry]] = {}
    for a, b in zip(left.tolist(), right.tolist(), strict=True):
        if b > a:
            above.setdefault(a, []).append(shapes[b])
    found = []
    for i, part in enumerate(painted):
        shape = without(part.shape, union(above[i])) if i in above else part.shape
        if not shape.is_empty:
            found.append(Painted(part.paint, shape, part.layer, part.element, part.mark))
    return found


def plates(drawing: Drawing, by: str = "layer", only_visible: bool = False) -> list[Plate]:
    """The sheets of a drawing, in the order in which they are first painted.

    ``by`` layer falls back to colour when the drawing has no layers.
    """
    painted = visible(drawing.painted) if only_visible else list(drawing.painted)
    by_layer = by == "layer" and bool(drawing.layers)
    groups: dict[str, list[Painted]] = {}
    for part in painted:
        key = (part.layer or REST) if by_layer else part.paint
        groups.setdefault(key, []).append(part)
    if by_layer:
        order = [*drawing.layers, REST]
        groups = dict(sorted(groups.items(), key=lambda item: order.index(item[0])))
    return [
        Plate(
            key,
            union([p.shape for p in parts if not p.mark]),
            tuple(parts),
            union([p.shape for p in parts if p.mark]),
        )
        for key, parts in groups.items()
    ]


def pieces(shape: BaseGeometry) -> list[Polygon]:
    """The separate polygons of an area."""
    return [p for p in shapely.get_parts(shape) if isinstance(p, Polygon) and not p.is_empty]
