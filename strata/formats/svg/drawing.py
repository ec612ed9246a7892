"""A drawing read whole: its size, what is painted in it, what was left out."""

from __future__ import annotations

import sys
from dataclasses import dataclass
from xml.etree.ElementTree import Element

from strata.errors import BadFile, TooLarge, finite
from strata.formats.svg.context import Book, Context, box_shape, initial_style
from strata.formats.svg.document import parse
from strata.formats.svg.layers import layer_nodes
from strata.formats.svg.values import MM_PER_PX, Frame, Matrix, length, view_box, viewport
from strata.formats.svg.walker import Walker
from strata.formats.svg.walking import Painted, worked_out

_DEFAULT = (300.0, 150.0)
# px; CSS 2.2, section 10.3.2, for a drawing that says nothing of its size


@dataclass(frozen=True)
class Drawing:
    """Width and height in mm; ``sized`` is False when the file does not say how large it is.

    ``natural``: mm that it is wide by what it says of itself, whatever width it was read at.
    """

    width: float
    height: float
    natural: float
    sized: bool
    painted: tuple[Painted, ...]
    layers: tuple[str, ...]
    left_out: tuple[str, ...]


def _sides(root: Element, book: Book) -> tuple[float, float, bool]:
    """Width and height in px, and whether the file gives them."""
    box = view_box(root.get("viewBox"))
    style = initial_style()
    texts = [book.value(root, name, style) for name in ("width", "height")]
    given = [
        None
        if t is None or t.strip().endswith("%") or t.strip() == "auto"
        else length(t, Frame(*_DEFAULT), default=None)
        for t in texts
    ]
    sides = [g if g and g > 0 else None for g in given]
    fallback = (box[2], box[3]) if box else _DEFAULT
    ratio = fallback[1] / fallback[0]
    width = sides[0] or (sides[1] / ratio if sides[1] and box else fallback[0])
    height = sides[1] or (width * ratio if box else fallback[1])
    return width, height, any(s is not None for s in sides)


def read_drawing(data: bytes, width_mm: float | None = None) -> Drawing:
    """A drawing as a browser paints it; ``width_mm`` scales it to that width.

    Raises BadFile, TooLarge or BadValue, each with a sentence for the maker.
    For untrusted data use it in a child process only (strata.guard.child).
    """
    root = parse(data)
    sys.setrecursionlimit(max(sys.getrecursionlimit(), 4000))
    book = Book(root, 1.0)
    width, height, sized = _sides(root, book)
    if width_mm is not None:
        finite(width_mm, "width", 1, 3000)
    book.px = scale = width_mm / width if width_mm is not None else MM_PER_PX
    if not 1e-3 < width * scale < 1e5 or not 1e-3 < height * scale < 1e5:
        raise BadFile("This drawing has no size that a sheet could have; give its width.", "width")
    layers = layer_nodes(root)
    walker = Walker(book, layers)
    try:
        painted = tuple(_paint(walker, root, width, height, scale))
    except (RecursionError, MemoryError) as error:
        raise TooLarge("This drawing is too deep or too large to read.", "file") from error
    return Drawing(
        width * scale,
        height * scale,
        width * MM_PER_PX,
        sized,
        painted,
        tuple(layers.values()),
        tuple(book.left_out),
    )


def _paint(walker: Walker, root: Element, width: float, height: float, scale: float) -> list[Painted]:
    book = walker.book
    box = view_box(root.get("viewBox"))
    outer = Matrix(a=scale, d=scale)
    inner = viewport(box, width, height, root.get("preserveAspectRatio", "")) if box else Matrix()
    frame = Frame(box[2], box[3]) if box else Frame(width, height)
    whole = Context(outer.then(inner), frame, initial_style()).clipped(box_shape(outer, 0, 0, width, height))
    inside = book.enter(root, whole)
    if inside is None:
        return []
    placed = book.placed(root, inside)
    cut = walker.cut(root, placed) if placed is not None else None
    return list(worked_out(walker.children(root, cut))) if cut is not None else []
