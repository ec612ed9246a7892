"""An instance of work as plain JSON values: what was measured, and no rule that follows from it.

Whoever judges a plan from these has to know the craft by himself; see
``docs/formats/order.md``.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from strata.order import times
from strata.order.instance import own_masks, stamped_whole
from strata.order.schedule import Action, Schedule
from strata.panel.laid import FREE, GROUND
from strata.plan.scene import Scene
from strata.plan.tools import EVERY

RULES: dict[str, Any] = {
    "wet_blocks": "panel",
    "masks_stay": False,
    "brush_dry": 0.0,
    "pieces_ordered": True,
    "mask_pieces": True,
    "lift_cleans": False,
}
# how this planner takes the table to be; a checker needs them to judge it by its own lights


def facts_of(scene: Scene, pins: Sequence[tuple[str, str]] = (), cards: int = 1) -> dict[str, Any]:
    """Measures of a plan: mm2, mm, minutes, CIELAB D50/2 degrees."""
    passes = scene.plan.passes
    sizes = sorted({scene.brush(p).key for p in passes})
    laid = scene.layer_set
    used = {p.sheet for p in passes}
    sheets = [s for s in laid.sheets if s.number != FREE or FREE in used]
    there = {s.number for s in sheets}
    return {
        "kind": scene.layer_set.kind,
        "cards": cards,
        "minutes": {"place": times.PLACE[scene.plan.register], **times.as_facts()},
        "sheets": [
            {
                "number": s.number,
                "copies": s.copies,
                "loose": s.loose,
                "kind": laid.worked_as(s.number),
                "card": laid.origin(s.number).surface,
            }
            for s in sheets
        ],
        "elements": [e for e in laid.elements if e != GROUND or FREE in used],
        "masks": {p.key: list(own) for p in passes if (own := own_masks(scene, p))},
        "sizes": {k: {"speed": b.speed, "spread": b.spread} for k, b in EVERY.items()},
        "brushes": [item for size in sizes for item in _brushes(scene, size)],
        "inks": {key: _ink(scene, key) for key in sorted({p.ink for p in passes})},
        "passes": [
            {
                "key": p.key,
                "element": p.element,
                "sheet": p.sheet,
                "ink": p.ink,
                "coats": p.coats,
                "thickness": p.thickness,
                "whole": p.all_over,
                "medium": p.medium,
                "brush": None if stamped_whole(scene, p) else scene.brush(p).key,
                "area": scene.inked_area(p),
                "lab": list(scene.alone[p.key]),
            }
            for p in passes
        ],
        "overlaps": [
            [*a, *b, area] for (a, b), area in sorted(laid.shared.items()) if a[1] in there and b[1] in there
        ],
        "gaps": [[a, b, sheet, gap] for (a, b, sheet), gap in sorted(laid.gaps.items())],
        "pins": [list(pin) for pin in pins],
        "rules": RULES,
    }


def _ink(scene: Scene, key: str) -> dict[str, Any]:
    ink = scene.ink_of(key)
    return {
        "line": ink.line,
        "family": ink.family,
        "chemistry": ink.chemistry.key,
        "opaque": ink.chemistry.opaque,
        "character": ink.character,
        "dry": ink.chemistry.dry_minutes,
        "seal": ink.chemistry.needs_seal,
        "heated": ink.chemistry.heated_minutes,
    }


def _brushes(scene: Scene, size: str) -> list[dict[str, Any]]:
    kept = scene.tools.kept(size)
    common = scene.tools.count(size) - sum(kept.values())
    own = [{"size": size, "count": n, "line": line, "family": f} for (line, f), n in kept.items()]
    # where all are kept for other families, one of them has to serve: it is nobody's then
    return [*own, *([{"size": size, "count": common, "line": "", "family": ""}] if common else [])]


def plan_json(schedule: Schedule) -> dict[str, Any]:
    """A schedule as JSON values: minutes since the beginning, cards from 1."""
    actions = schedule.actions
    return {
        "steps": [_step(a) for a in actions],
        "minutes": schedule.minutes,
        "placements": sum(a.kind == "place" for a in actions),
        "cleanings": sum(a.kind in ("clean", "wash") for a in actions),
        "masks": sum(a.kind == "mask" for a in actions),
        "bound": schedule.bound,
        "proven": schedule.proven,
        "by": schedule.by,
    }


def _step(action: Action) -> dict[str, Any]:
    size_which = action.brush
    return {
        "kind": action.kind,
        "starts": round(action.starts, 6),
        "minutes": action.minutes,
        "card": action.card,
        "sheet": action.sheet,
        "pass": action.pass_key,
        "brush": None if size_which is None else {"size": size_which[0], "which": size_which[1]},
        "masks": list(action.masks),
    }
