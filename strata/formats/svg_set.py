"""A layer set from SVG: one group per sheet, elements and marks by attribute.

Sheets are the outermost groups; a group's ``data-name``, label or id names
it. ``data-element`` on a shape or a group around it names the element,
``data-role="mark"`` sets register marks apart.
"""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import Any
from xml.etree.ElementTree import Element, ParseError

import shapely
from shapely import Polygon
from shapely.ops import unary_union

from strata.errors import BadFile, TooLarge
from strata.formats.svg_paths import filled, polygons
from strata.sheets.elements import propose
from strata.sheets.model import LEAST_AREA, LayerSet, Opening, Sheet

MOST_BYTES = 8_000_000
MOST_DEPTH = 200
MOST_PARTS = 20_000
_MM_PER_PX = 25.4 / 96
# CSS pixel, CSS Values and Units 4
_LABEL = "{http://www.inkscape.org/namespaces/inkscape}label"


@dataclass(frozen=True)
class Reading:
    """The set and what the reader left out, one sentence each."""

    layer_set: LayerSet
    left_out: tuple[str, ...]


def _checked(data: bytes) -> Element:
    """The parsed file, or BadFile: no entities, no outside references, no endless nesting."""
    from defusedxml import DefusedXmlException, ElementTree

    if len(data) > MOST_BYTES:
        raise TooLarge("This drawing is over 8 MB; save it without embedded pictures.", "file")
    try:
        root: Element = ElementTree.fromstring(data, forbid_dtd=False)
    except DefusedXmlException as error:
        raise BadFile("This drawing defines entities, which are not read for safety.") from error
    except (ParseError, ValueError, LookupError) as error:
        raise BadFile(f"This is not a readable SVG file ({error}).") from error
    if not root.tag.endswith("svg"):
        raise BadFile("This is not an SVG drawing.")
    _measure_depth(root)
    return root


def _measure_depth(root: Element) -> None:
    level, depth, parts = [root], 0, 0
    while level:
        depth, parts = depth + 1, parts + len(level)
        if depth > MOST_DEPTH or parts > MOST_PARTS:
            raise TooLarge("This drawing has more parts or deeper groups than a set can have.", "file")
        level = [child for node in level for child in node]


def read(data: bytes, name: str, kind: str = "stencil", width_mm: float | None = None) -> Reading:
    """A layer set from one SVG file with a group per sheet.

    ``width_mm`` gives the size when the file does not. Raises BadFile,
    TooLarge or BadValue, each with a sentence for the maker.
    """
    root = _checked(data)
    from svgelements import SVG

    if width_mm is None and not _has_size(root):
        raise BadFile("This drawing does not say how large it is; give its width.", "width")
    try:
        drawing = SVG.parse(io.BytesIO(data), ppi=96, reify=False)
        width, height = float(drawing.width), float(drawing.height)
        if not (width > 0 and height > 0):
            raise BadFile("This drawing has no size.", "width")
        scale = width_mm / width if width_mm else _MM_PER_PX
        sheets, left_out = _sheets(drawing, scale)
    except (AttributeError, TypeError, IndexError, KeyError, ZeroDivisionError, ValueError) as error:
        raise BadFile("This drawing is damaged: one of its shapes cannot be read.") from error
    found = LayerSet(name, kind, round(width * scale, 3), round(height * scale, 3), sheets)
    hidden = any(node.get("display") == "none" or node.get("visibility") == "hidden" for node in root.iter())
    left_out += ["Hidden parts were left out."] * hidden
    return Reading(propose(found), tuple(left_out))


def _has_size(root: Element) -> bool:
    width = root.get("width", "")
    return bool(width) and not width.strip().endswith("%")


def _title(group: Any, number: int) -> str:
    values = group.values
    label = values.get("data-name") or values.get(_LABEL) or values.get("id")
    return str(label or f"Sheet {number}")[:120]


def _sheets(drawing: Any, scale: float) -> tuple[tuple[Sheet, ...], list[str]]:
    from svgelements import Group, Shape

    groups = [g for g in drawing if isinstance(g, Group) and list(g.select(lambda e: isinstance(e, Shape)))]
    if not groups:
        groups = [drawing]
    left_out: list[str] = []
    sheets = []
    for number, group in enumerate(groups, start=1):
        found, marks = _shapes(group, scale, left_out)
        if found:
            title = _title(group, number)
            sheets.append(Sheet(number, title, _united(found, number), tuple(marks)))
    return tuple(sheets), sorted(set(left_out))


def _shapes(group: Any, scale: float, left_out: list[str]) -> tuple[list[tuple[str, Polygon]], list[Polygon]]:
    """(element name or "", polygon) of every filled shape of a group, and its marks."""
    from svgelements import Image, Path, Shape, Text

    found: list[tuple[str, Polygon]] = []
    marks: list[Polygon] = []
    for item in group.select():
        if isinstance(item, (Text, Image)):
            left_out.append(
                "Text was left out; turn it into outlines to cut it."
                if isinstance(item, Text)
                else "An embedded picture was left out."
            )
        if not isinstance(item, Shape):
            continue
        values = item.values
        if values.get("stroke") not in (None, "none"):
            left_out.append("Outlines (strokes) were left out; only filled shapes become openings.")
        if item.fill is not None and item.fill.value is None:
            continue
        # reify=True loses the turn of a rotated rect; abs() of its path keeps it
        shapes = filled(abs(Path(item)), scale, values.get("fill-rule") == "evenodd")
        kept = [p for p in shapes if p.area >= LEAST_AREA]
        if values.get("data-role") == "mark":
            marks.extend(kept)
        else:
            found.extend((str(values.get("data-element", ""))[:120], p) for p in kept)
    return found, marks


def _united(found: list[tuple[str, Polygon]], number: int) -> tuple[Opening, ...]:
    """Openings of a sheet; shapes that overlap are one hole in the plastic, so they are united."""
    shapes = [p for _, p in found]
    tree = shapely.STRtree(shapes)
    left, right = tree.query(shapes, predicate="intersects")
    touching = {int(a) for a, b in zip(left, right, strict=True) if a != b}
    result = [(name, p) for i, (name, p) in enumerate(found) if i not in touching]
    for whole in polygons(unary_union([shapes[i] for i in sorted(touching)])):
        inside = [i for i in touching if whole.intersects(shapes[i].representative_point())]
        largest = max(inside, key=lambda i: shapes[i].area, default=min(touching))
        result.append((found[largest][0], whole))
    order = {id(p): i for i, (_, p) in enumerate(found)}
    result.sort(key=lambda item: order.get(id(item[1]), len(order)))
    return tuple(
        Opening(f"{number}.{i}", number, name, polygon) for i, (name, polygon) in enumerate(result, start=1)
    )
