"""A layer set as JSON, exact to the last bit of its coordinates."""

from __future__ import annotations

from typing import Any

import shapely
from shapely import Polygon

from strata.errors import BadFile
from strata.formats import readings
from strata.sheets.model import LayerSet, Opening, Sheet

FORMAT = "anastrata-set"


def _rings(polygon: Polygon) -> list[list[float]]:
    return [shapely.get_coordinates(r).ravel().tolist() for r in (polygon.exterior, *polygon.interiors)]


def _polygon(rings: Any) -> Polygon:
    try:
        loops = [list(zip(r[0::2], r[1::2], strict=True)) for r in rings]
        return Polygon(loops[0], loops[1:])
    except (TypeError, ValueError, IndexError, shapely.errors.GEOSException) as error:
        raise BadFile("This set holds a shape that cannot be read.") from error


def write_set(layer_set: LayerSet) -> dict[str, Any]:
    """The set as JSON values that ``read_set`` reads back identical."""
    return {
        "format": FORMAT,
        "version": 1,
        "name": layer_set.name,
        "kind": layer_set.kind,
        "width_mm": layer_set.width,
        "height_mm": layer_set.height,
        "sheets": [
            {
                "number": s.number,
                "name": s.name,
                "openings": [
                    {"key": o.key, "element": o.element, "rings": _rings(o.polygon)} for o in s.openings
                ],
                "marks": [_rings(m) for m in s.marks],
            }
            for s in layer_set.sheets
        ],
    }


def read_set(value: Any) -> LayerSet:
    """A layer set from JSON values; raises BadFile or BadValue."""
    top = readings.mapping(value, "set")
    if top.get("format") != FORMAT:
        raise BadFile(f"This is not a set file: its format should be “{FORMAT}”.", "format")
    sheets = []
    for i, item in enumerate(readings.listing(readings.needed(top, "sheets", "set"), "sheets")):
        sheet = readings.mapping(item, f"sheets[{i}]")
        number = int(sheet["number"])
        openings = tuple(
            Opening(str(o["key"]), number, str(o["element"]), _polygon(o["rings"])) for o in sheet["openings"]
        )
        marks = tuple(_polygon(m) for m in sheet.get("marks", []))
        sheets.append(Sheet(number, str(sheet["name"]), openings, marks))
    return LayerSet(str(top["name"]), str(top["kind"]), top["width_mm"], top["height_mm"], tuple(sheets))
