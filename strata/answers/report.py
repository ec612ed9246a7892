"""What is measured on the sheets of one file, as plain JSON values."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import shapely
from shapely.geometry.base import BaseGeometry

from strata.formats.painted import pieces, plates
from strata.formats.svg import read_drawing
from strata.formats.svg.geometry import both
from strata.sheets.medial import neck
from strata.sheets.model import CIRCLE_TOLERANCE, LEAST_AREA
from strata.sheets.overlaps import LEAST_OVERLAP

MOST_NECKS = 3000
# openings whose neck is sought, largest first: each takes some milliseconds


def svg_report(data: bytes, by: str, width_mm: float | None, only_visible: bool, read: Any) -> dict[str, Any]:
    """The report on a drawing; ``read`` is called once the file has been read."""
    drawing = read_drawing(data, width_mm)
    sheets = [(p.key, p.shape) for p in plates(drawing, by, only_visible)]
    read()
    warnings = list(drawing.left_out)
    if not drawing.sized and width_mm is None:
        warnings.append("The drawing does not say how large it is; a pixel was taken as 1/96 inch.")
    if by == "layer" and not drawing.layers and sheets:
        warnings.append("The drawing has no layers; there is one sheet for each colour.")
    if not sheets:
        warnings.append("Nothing is painted in this drawing.")
    return report((drawing.width, drawing.height), sheets, warnings)


def report(
    size: tuple[float, float], sheets: Sequence[tuple[str, BaseGeometry]], warnings: list[str]
) -> dict[str, Any]:
    """Areas in mm2, lengths and boxes in mm; pieces under 0.01 mm2 count to the area but are no openings."""
    found = {key: [p for p in pieces(shape) if p.area >= LEAST_AREA] for key, shape in sheets}
    every = sorted((p.area for parts in found.values() for p in parts), reverse=True)
    least = every[MOST_NECKS] if len(every) > MOST_NECKS else 0.0
    if least:
        warnings = [*warnings, f"Necks were sought in the {MOST_NECKS} largest openings only."]
    return {
        "size_mm": [round(v, 4) for v in size],
        "sheets": [
            {
                "key": key,
                "area_mm2": round(float(shape.area), 5),
                "openings": [_opening(p, sought=p.area > least) for p in found[key]],
            }
            for key, shape in sheets
        ],
        "overlaps": _overlaps(sheets),
        "warnings": warnings,
    }


def _opening(shape: shapely.Polygon, sought: bool) -> dict[str, Any]:
    narrow = neck(shape) if sought else None
    tolerance = min(CIRCLE_TOLERANCE / 2, 0.01 * shape.area**0.5)
    return {
        "area_mm2": round(float(shape.area), 5),
        "inscribed_mm": round(
            2 * float(shapely.length(shapely.maximum_inscribed_circle(shape, tolerance))), 4
        ),
        "neck_mm": round(narrow.width, 4) if narrow else None,
        "bbox_mm": [round(float(v), 4) for v in shape.bounds],
    }


def _overlaps(sheets: Sequence[tuple[str, BaseGeometry]]) -> list[dict[str, Any]]:
    """What each later sheet covers of each earlier one, from their pieces (STRtree, then exact areas)."""
    parts = [(i, p) for i, (_, shape) in enumerate(sheets) for p in pieces(shape)]
    shapes = [p for _, p in parts]
    if not shapes:
        return []
    left, right = shapely.STRtree(shapes).query(shapes, predicate="intersects")
    shared: dict[tuple[int, int], float] = {}
    for a, b in zip(left.tolist(), right.tolist(), strict=True):
        under, over = parts[a][0], parts[b][0]
        if under < over:
            area = float(both(shapes[a], shapes[b]).area)
            shared[under, over] = shared.get((under, over), 0.0) + area
    return [
        {"under": sheets[a][0], "over": sheets[b][0], "area_mm2": round(area, 5)}
        for (a, b), area in sorted(shared.items())
        if area >= LEAST_OVERLAP
    ]
