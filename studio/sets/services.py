"""Sets: bring in, load as core values, describe for the screen."""

from __future__ import annotations

from collections import OrderedDict
from threading import Lock
from typing import Any

import shapely
from django.utils.text import slugify

from strata.formats.guarded import read_guarded
from strata.formats.set_file import read_set, write_set
from strata.order.rules import LEAST_SHARED
from strata.plan.tools import fitting
from strata.sheets.model import Group
from strata.sheets.model import LayerSet as CoreSet
from strata.sheets.overlaps import group_overlaps
from studio.sets.models import LayerSet

_KEPT: OrderedDict[object, CoreSet] = OrderedDict()
_LOCK = Lock()
_MOST_KEPT = 16
OUTLINE_TOLERANCE = 0.03
# mm: what is drawn over the picture for pointing; never measured


def core_set(row: LayerSet) -> CoreSet:
    """A row as the core knows it; kept, since its measures are costly."""
    key = (row.pk, row.updated)
    with _LOCK:
        if key in _KEPT:
            _KEPT.move_to_end(key)
            return _KEPT[key]
    fresh = read_set(row.geometry)
    with _LOCK:
        fresh = _KEPT.setdefault(key, fresh)
        while len(_KEPT) > _MOST_KEPT:
            _KEPT.popitem(last=False)
    return fresh


def bring_in(
    owner: Any, data: bytes, name: str, kind: str, width_mm: float | None, key: str | None = None
) -> LayerSet:
    """A new set from a drawing, or the known one of that key renewed."""
    found, left_out = read_guarded(data, name, kind, width_mm)
    values = {
        "name": name,
        "kind": kind,
        "width_mm": found.width,
        "height_mm": found.height,
        "geometry": write_set(found),
        "left_out": list(left_out),
        "gone": None,
    }
    if key is not None:
        row, _ = LayerSet.objects.update_or_create(owner=owner, key=key, defaults=values)
        return row
    base = slugify(name)[:100] or "set"
    taken = set(LayerSet.objects.filter(owner=owner, key__startswith=base).values_list("key", flat=True))
    number, key = 1, base
    while key in taken:
        number += 1
        key = f"{base}-{number}"
    return LayerSet.objects.create(owner=owner, key=key, **values)


def outline(shape: shapely.Geometry) -> str:
    """SVG path data in mm, two decimals: for drawing and pointing."""
    polygons = shape.geoms if hasattr(shape, "geoms") else [shape]
    text = []
    for polygon in polygons:
        kept = polygon.simplify(OUTLINE_TOLERANCE)
        for ring in (kept.exterior, *kept.interiors):
            points = " ".join(f"{x:.2f},{y:.2f}" for x, y in list(ring.coords)[:-1])
            text.append(f"M{points}Z")
    return "".join(text)


def group_json(group: Group) -> dict[str, Any]:
    """A group with its outline and measures."""
    brush = fitting(group.typical_width)
    x0, y0, x1, y1 = group.shape.bounds
    return {
        "element": group.element,
        "sheet": group.sheet,
        "outline": outline(group.shape),
        "openings": len(group.openings),
        "area_mm2": round(group.area, 2),
        "width_mm": round(group.typical_width, 2),
        "brush": brush.label,
        "box": [round(v, 3) for v in (x0, y0, x1, y1)],
    }


def set_json(row: LayerSet) -> dict[str, Any]:
    """A set opened: its sheets, groups, marks, and what lies over what."""
    core = core_set(row)
    sheets = [
        {
            "number": sheet.number,
            "name": sheet.name,
            "openings": len(sheet.openings),
            "groups": [group_json(g) for g in core.groups.values() if g.sheet == sheet.number],
            "marks": "".join(outline(m) for m in sheet.marks),
        }
        for sheet in core.sheets
    ]
    shared = [
        {
            "under": {"element": under[0], "sheet": under[1]},
            "over": {"element": over[0], "sheet": over[1]},
            "area_mm2": round(area, 2),
        }
        for (under, over), area in group_overlaps(core).items()
        if area >= LEAST_SHARED
    ]
    return {
        **summary_json(row),
        "sheets": sheets,
        "overlaps": shared,
        "elements": list(core.elements),
        "left_out": row.left_out,
    }


def summary_json(row: LayerSet) -> dict[str, Any]:
    """A set in the library."""
    core = core_set(row)
    return {
        "id": row.pk,
        "key": row.key,
        "name": row.name,
        "kind": row.kind,
        "width_mm": row.width_mm,
        "height_mm": row.height_mm,
        "sheet_count": len(core.sheets),
        "opening_count": sum(len(s.openings) for s in core.sheets),
        "preview": [
            outline(shapely.simplify(shapely.unary_union([o.polygon for o in s.openings]), 0.15))
            for s in core.sheets
        ],
    }
