"""What clips and markers ask of the walk they are part of: everything painted inside a node."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Protocol
from xml.etree.ElementTree import Element

from shapely.geometry.base import BaseGeometry

from strata.formats.svg.context import Book, Context


@dataclass(frozen=True)
class Painted:
    """One fill or stroke: its paint (``#rrggbb`` or ``gradient``), its area in mm, whose it is."""

    paint: str
    shape: BaseGeometry
    layer: str | None
    element: str
    mark: bool


class Walk(Protocol):
    """A walk under way."""

    book: Book

    def children(self, node: Element, context: Context) -> Iterator[Painted]:
        """Everything painted by the children of an element."""
        ...
