"""A set opened, as JSON: its sheets and groups with outlines and measures, each opening."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from strata.plan.tools import fitting
from strata.sheets.elements import tone_roles
from strata.sheets.model import Group, LayerSet, Sheet, find_widths
from strata.sheets.outline import outline, outlines

Paths = Mapping[str, str]
# the outline of each opening by its key


def _paths(sheet: Sheet) -> Paths:
    found = outlines([o.polygon for o in sheet.openings])
    return {o.key: path for o, path in zip(sheet.openings, found, strict=True)}


def _drawn(group: Group, paths: Paths) -> dict[str, Any]:
    """A group with its outline, as it lies."""
    x0, y0, x1, y1 = group.shape.bounds
    return {
        "element": group.element,
        "sheet": group.sheet,
        # openings that lie apart are drawn already, one by one
        "outline": "".join(paths[o.key] for o in group.openings) if group.apart else outline(group.shape),
        "openings": len(group.openings),
        "area_mm2": round(group.area, 2),
        "box": [round(x0, 3), round(y0, 3), round(x1, 3), round(y1, 3)],
    }


def _group(group: Group, paths: Paths, role: str) -> dict[str, Any]:
    """A group with its outline and measures."""
    brush = fitting(group.typical_width)
    measures = {"role": role, "width_mm": round(group.typical_width, 2), "brush": brush.label}
    return {**_drawn(group, paths), **measures}


def _sheet(sheet: Sheet, groups: list[dict[str, Any]]) -> dict[str, Any]:
    """A sheet with its groups."""
    return {
        "number": sheet.number,
        "name": sheet.name,
        "openings": len(sheet.openings),
        "groups": groups,
        "marks": "".join(outlines(sheet.marks)),
    }


def sheet_json(core: LayerSet, sheet: Sheet, roles: dict[tuple[str, int], str]) -> dict[str, Any]:
    """A sheet with its groups measured, and each opening for pointing."""
    paths = _paths(sheet)
    return {
        **_sheet(sheet, [_group(g, paths, roles[g.key]) for g in core.groups_on(sheet.number)]),
        "shapes": [
            {"key": o.key, "element": o.element, "role": o.role, "outline": paths[o.key]}
            for o in sheet.openings
        ],
        "seat": asdict(sheet.seat) if sheet.seat else None,
        "copies": sheet.copies,
        "loose": sheet.loose,
    }


def _draft_sheet(core: LayerSet, sheet: Sheet) -> dict[str, Any]:
    paths = _paths(sheet)
    return _sheet(sheet, [_drawn(g, paths) for g in core.groups_on(sheet.number)])


def described(core: LayerSet) -> dict[str, Any]:
    """Sheets and elements of a set, for the screen."""
    find_widths(core)
    roles = tone_roles(core)
    return {
        "sheets": [sheet_json(core, s, roles) for s in core.sheets],
        "elements": list(core.elements),
    }


def draft_json(core: LayerSet) -> dict[str, Any]:
    """A set that is on its way in, as it would lie; what takes measuring is asked of a set that is kept."""
    return {
        "width_mm": core.width,
        "height_mm": core.height,
        "sheets": [_draft_sheet(core, s) for s in core.sheets],
        "elements": list(core.elements),
    }
