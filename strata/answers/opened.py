"""A set opened, as JSON: its sheets and groups with outlines and measures, each opening."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict
from typing import Any

from strata.plan.tools import fitting
from strata.sheets.elements import tone_roles
from strata.sheets.model import Group, LayerSet, Sheet, find_widths
from strata.sheets.outline import outline


def _drawn(group: Group) -> dict[str, Any]:
    """A group with its outline, as it lies."""
    return {
        "element": group.element,
        "sheet": group.sheet,
        "outline": outline(group.shape),
        "openings": len(group.openings),
        "area_mm2": round(group.area, 2),
        "box": [round(v, 3) for v in group.shape.bounds],
    }


def _group(group: Group, role: str) -> dict[str, Any]:
    """A group with its outline and measures."""
    brush = fitting(group.typical_width)
    measures = {"role": role, "width_mm": round(group.typical_width, 2), "brush": brush.label}
    return {**_drawn(group), **measures}


def _sheet(core: LayerSet, sheet: Sheet, group: Callable[[Group], dict[str, Any]]) -> dict[str, Any]:
    """A sheet with its groups, each as ``group`` has it."""
    return {
        "number": sheet.number,
        "name": sheet.name,
        "openings": len(sheet.openings),
        "groups": [group(g) for g in core.groups.values() if g.sheet == sheet.number],
        "marks": "".join(outline(m) for m in sheet.marks),
    }


def sheet_json(core: LayerSet, sheet: Sheet, roles: dict[tuple[str, int], str]) -> dict[str, Any]:
    """A sheet with its groups measured, and each opening for pointing."""
    return {
        **_sheet(core, sheet, lambda g: _group(g, roles[g.key])),
        "shapes": [
            {"key": o.key, "element": o.element, "role": o.role, "outline": outline(o.polygon)}
            for o in sheet.openings
        ],
        "seat": asdict(sheet.seat) if sheet.seat else None,
        "copies": sheet.copies,
        "loose": sheet.loose,
    }


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
        "sheets": [_sheet(core, s, _drawn) for s in core.sheets],
        "elements": list(core.elements),
    }
