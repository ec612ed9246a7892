"""Measures of a set as JSON: each where it is, in mm on the panel, with how it came."""

from __future__ import annotations

from typing import Any

from strata.measuring.bridges import bridges, islands, nearest_gaps
from strata.measuring.masks import mask_fits
from strata.measuring.openings import OpeningMeasures, measure_openings
from strata.measuring.slip import DIRECTIONS, Slip, slips
from strata.order.precedence import LEAST_SHARED
from strata.plan.model import REGISTERS
from strata.progress import Each, Progress, one_by_one, quiet
from strata.sheets.model import LayerSet
from strata.sheets.outline import outline
from strata.sheets.overlaps import group_overlaps

TOLD = 2
# raised with every change of what is told below: what was kept before is then measured anew
SHOWN_BRIDGE = 1.5
# mm: wider bridges are not worth a line on the screen


def _opening(found: OpeningMeasures, gap: float | None) -> dict[str, Any]:
    return {
        "key": found.opening.key,
        "sheet": found.opening.sheet,
        "element": found.opening.element,
        "area_mm2": round(found.area, 2),
        "inscribed_mm": round(found.inscribed, 2),
        "circle": [round(v, 2) for v in found.circle],
        "neck_mm": round(found.neck.width, 2) if found.neck else None,
        "neck_ends": [[round(v, 2) for v in p] for p in found.neck.ends] if found.neck else [],
        "gap_mm": round(gap, 2) if gap is not None else None,
        "brush": found.brush.label if found.brush else None,
        "smallest": found.smallest.label if found.smallest else None,
        "minutes": round(found.minutes, 2),
        "how": found.how,
    }


def measures_json(core: LayerSet, say: Progress = quiet, each: Each = one_by_one) -> dict[str, Any]:
    """Everything that is measured on a set; ``say`` is told how far it is; ``each`` does openings and slips."""
    measured = measure_openings(core, lambda share: say(0.7 * share, "Measuring openings"), each)
    slid = slips(core, lambda share: say(0.7 + 0.25 * share, "Moving tones over their bases"), each)
    say(0.95, "Looking for bridges and gaps")
    gaps = nearest_gaps(core)
    return {
        "openings": [_opening(m, gaps[k].width if k in gaps else None) for k, m in measured.items()],
        "bridges": [
            {
                "sheet": b.one.sheet,
                "one": b.one.key,
                "other": b.other.key,
                "width_mm": round(b.width, 2),
                "ends": [[round(v, 2) for v in p] for p in b.ends],
                "thin": b.thin,
                "how": b.how,
            }
            for b in bridges(core)
            if b.width <= SHOWN_BRIDGE
        ],
        "islands": [
            {"key": i.opening.key, "sheet": i.opening.sheet, "outline": outline(i.shape), "how": i.how}
            for i in islands(core)
        ],
        "masks": [
            {
                "sheet": m.inked.sheet,
                "inked": m.inked.element,
                "covered": m.covered.element,
                "gap_mm": round(m.gap, 2),
                "fits": m.fits,
                "how": m.how,
            }
            for m in mask_fits(core)
        ],
        "slips": [_slip(s) for s in slid],
        "overlaps": _overlaps(core),
        "minutes": round(sum(m.minutes for m in measured.values()), 1),
    }


def _overlaps(core: LayerSet) -> list[dict[str, Any]]:
    """What of a part lies over what of an earlier sheet."""
    return [
        {
            "under": {"element": under[0], "sheet": under[1]},
            "over": {"element": over[0], "sheet": over[1]},
            "area_mm2": round(area, 2),
        }
        for (under, over), area in group_overlaps(core).items()
        if area >= LEAST_SHARED
    ]


def _slip(s: Slip) -> dict[str, Any]:
    return {
        "element": s.over.element,
        "under_sheet": s.under.sheet,
        "over_sheet": s.over.sheet,
        "first": s.first.key,
        "least_mm": round(s.least, 2),
        "flush": s.flush,
        "worst": s.worst,
        "by_direction": [
            {"angle": a, "mm": round(v, 2)} for a, v in zip(DIRECTIONS, s.by_direction, strict=True)
        ],
        "register": s.register,
        "register_words": REGISTERS[s.register] if s.register else "no way of seating it",
        "how": s.how,
    }
