"""Clip paths and masks as areas in mm (CSS Masking 1)."""

from __future__ import annotations

import math
from dataclasses import replace
from xml.etree.ElementTree import Element

import shapely
from shapely.geometry.base import BaseGeometry

from strata.formats.svg import geometry as geo
from strata.formats.svg.context import SHAPES, Book, Context, box_shape, initial_style
from strata.formats.svg.document import drawn_children, local
from strata.formats.svg.flattening import flattened
from strata.formats.svg.paint import GRADIENT, reference
from strata.formats.svg.values import Matrix, length
from strata.formats.svg.walking import Walk, worked_out

DARKEST = 0.02
# luminance 0..1 under which a mask hides what it covers


def clip_of(book: Book, node: Element, context: Context) -> BaseGeometry | None:
    """The area that an element's clip path leaves, or None when it has none."""
    text = book.value(node, "clip-path", context.style)
    key = reference(text)
    clip = book.ids.get(key) if key is not None else None
    if clip is None or local(clip) != "clipPath":
        if text and "(" in text and key is None:
            book.say("Clip shapes written in CSS were not followed.")
        return None
    return _clip_area(book, clip, node, context)


def _clip_area(book: Book, clip: Element, node: Element, context: Context) -> BaseGeometry | None:
    if id(clip) in context.used:
        return None
    base = replace(context, clip=None, used=(*context.used, id(clip)), style=initial_style())
    if clip.get("clipPathUnits") == "objectBoundingBox":
        matrix = _box_units(book, node, context)
        if matrix is None:
            return geo.NOTHING
        base = base.inner(matrix)
    inside = book.placed(clip, base)
    if inside is None:
        return geo.NOTHING
    style_of_clip = book.enter(clip, inside)
    inside = inside if style_of_clip is None else replace(style_of_clip, element=context.element)
    area = geo.union([a for child in drawn_children(clip) for a in _clip_parts(book, child, inside)])
    own = clip_of(book, clip, replace(inside, used=base.used))
    return area if own is None else geo.both(area, own)


def _clip_parts(book: Book, node: Element, outer: Context) -> list[BaseGeometry]:
    """The areas of one child of a clip path."""
    kind = local(node)
    if kind not in SHAPES and kind != "use":
        return []
    book.count()
    context = book.enter(node, outer)
    inside = book.placed(node, context) if context is not None else None
    if inside is None:
        return []
    if kind == "use":
        target, moved = book.target(node, inside)
        if target is not None and local(target) not in SHAPES:
            book.say(
                "A clip shape that copies a copy or a group shows nothing, as in a browser; copy the shape itself."
            )
        parts = (
            []
            if target is None or moved is None or local(target) not in SHAPES
            else _clip_parts(book, target, moved)
        )
    elif inside.style["visibility"].lower() != "visible":
        parts = []
    else:
        rings = [r for r, _ in flattened(book.commands(node, inside), inside.matrix)]
        parts = [geo.filled(rings, inside.style["clip-rule"].lower() == "evenodd")]
    cut = clip_of(book, node, inside)
    return parts if cut is None else [geo.both(p, cut) for p in parts]


def _box_units(book: Book, node: Element, context: Context) -> Matrix | None:
    """From shares of an element's box to user units; None when the box has no size."""
    x0, y0, x1, y1 = book.bounds(node, replace(context, matrix=Matrix()))
    if math.isnan(x0) or x1 <= x0 or y1 <= y0:
        return None
    return Matrix(a=x1 - x0, d=y1 - y0, e=x0, f=y0)


def mask_of(walker: Walk, node: Element, context: Context) -> BaseGeometry | None:
    """The area that an element's mask lets through, or None when it has none."""
    book = walker.book
    key = reference(book.value(node, "mask", context.style))
    mask = book.ids.get(key) if key is not None else None
    if mask is None or local(mask) != "mask" or id(mask) in context.used:
        return None
    inside = replace(context, clip=None, used=(*context.used, id(mask)), style=initial_style())
    box = _box_units(book, node, context)
    region = _region(book, mask, box, inside)
    if mask.get("maskContentUnits") == "objectBoundingBox":
        if box is None:
            return geo.NOTHING
        inside = inside.inner(box)
    styled = book.enter(mask, inside)
    if styled is None:
        return geo.NOTHING
    by_alpha = (book.value(mask, "mask-type", styled.style) or "").lower() == "alpha"
    through: BaseGeometry = geo.NOTHING
    for painted in worked_out(walker.children(mask, styled)):
        if by_alpha or _lets_through(painted.paint):
            through = geo.union([through, painted.shape])
        else:
            through = geo.without(through, painted.shape)
    own = mask_of(walker, mask, replace(context, used=inside.used))
    area = through if region is None else geo.both(through, region)
    return area if own is None else geo.both(area, own)


def _lets_through(paint: str) -> bool:
    if paint == GRADIENT:
        return True
    red, green, blue = (int(paint[i : i + 2], 16) / 255 for i in (1, 3, 5))
    return 0.2125 * red + 0.7154 * green + 0.0721 * blue > DARKEST


def _region(
    book: Book, mask: Element, box: Matrix | None, context: Context
) -> shapely.Polygon | BaseGeometry | None:
    """The mask's own rectangle."""
    own = mask.get("maskUnits") == "userSpaceOnUse"
    if not own and box is None:
        return geo.NOTHING
    matrix = context.matrix if own or box is None else context.matrix.then(box)
    names = (
        ("x", "width", "-10%"),
        ("y", "height", "-10%"),
        ("width", "width", "120%"),
        ("height", "height", "120%"),
    )
    if own:
        x, y, w, h = (length(mask.get(n, d), context.frame, along) or 0.0 for n, along, d in names)
    else:
        x, y, w, h = (_share(mask.get(n, d)) for n, _, d in names)
    return box_shape(matrix, x, y, w, h) if w > 0 and h > 0 else geo.NOTHING


def _share(text: str) -> float:
    value = text.strip()
    try:
        return float(value[:-1]) / 100 if value.endswith("%") else float(value)
    except ValueError:
        return 0.0
