"""What was traced on the photographs of an import, as it is shown, told of, and made into a set."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

from strata.formats.photo_seat import path_in_photo, retouches_of, seat_of
from strata.formats.set_file import polygons_from_rings
from strata.tracing.retouched import retouched, unanswered
from strata.tracing.trace import CLEARER, said_of_openings
from studio.sets.models import Import


def in_photo(sheet: dict[str, Any]) -> list[str]:
    """The openings of a traced sheet as they lie in its photograph: as found, empty where a retouch took one up, then
    what came of retouches."""
    result, said = sheet["result"], sheet.get("retouches", [])
    paths: list[str] = result["in_photo"]
    if not said:
        return paths
    openings, places = (polygons_from_rings(result.get(k, [])) for k in ("openings", "places_mm"))
    found = retouched(openings, retouches_of(result, said), places)
    size, seat = (result["width_mm"], result["height_mm"]), seat_of(result)
    kept = [path if shape is not None else "" for path, shape in zip(paths, found, strict=False)]
    return kept + ["" if s is None else path_in_photo(s, seat, size) for s in found[len(paths) :]]


def open_places(sheet: dict[str, Any]) -> dict[str, list[str]]:
    """Where there may be more on a traced sheet, as it lies in its photograph: ``places`` that may be openings, and
    ``blinded`` ones; those that retouches have answered are none any more."""
    result, names = sheet["result"], ("places", "blinded")
    every: dict[str, list[str]] = {k: result.get(k, []) for k in names}
    if not sheet.get("retouches"):
        return every
    shapes = (polygons_from_rings(result.get(f"{k}_mm", [])) for k in names)
    left = unanswered(retouches_of(result, sheet["retouches"]), *shapes)
    return {k: [every[k][i] for i in at] for k, at in zip(names, left, strict=True)}


def traced_sheets(row: Import) -> list[dict[str, Any]]:
    """The traced sheets as ``set_from_sheets`` takes them."""
    return [
        {
            "title": s["title"],
            "openings": s["result"]["openings"],
            "retouches": [asdict(m) for m in retouches_of(s["result"], s.get("retouches", []))],
            "places": s["result"].get("places_mm", []) if s.get("retouches") else [],
            **{k: s[k] for k in ("turn", "mirrored", "dropped")},
        }
        for s in row.sheets
    ]


def as_a_set(row: Import) -> dict[str, Any]:
    """What ``set_from_sheets`` is told beside the sheets."""
    options = row.options
    size = {"width": options["width_mm"], "height": options["height_mm"]}
    return {"name": options["name"], "kind": options["kind"], **size}


def _said_of(sheet: dict[str, Any], places: dict[str, list[str]]) -> list[str]:
    """What is to be said of a photograph on which these are the open ``places``."""
    still = said_of_openings(sum(map(bool, in_photo(sheet))), *map(len, places.values()))
    return [*sheet["result"]["warnings"], *still, *([sheet["said"]] if sheet.get("said") else [])]


def unclear(sheet: dict[str, Any]) -> bool:
    """Whether something of a sheet is unclear that a clearer photograph would show, or one more.

    Where corners or size are wrong none helps.
    """
    result = sheet["result"]
    if not result or result.get("unlike"):
        return False
    there = in_photo(sheet)
    return any(there[i] for i in result.get("doubtful", [])) or any(open_places(sheet).values())


def with_warnings(row: Import, notes: Sequence[str]) -> list[str]:
    """What is to be said of each photograph, then of the set."""
    told: list[str] = []
    for i, sheet in enumerate(row.sheets, start=1):
        told += [f"Sheet {i}: {w}" for w in _said_of(sheet, open_places(sheet))]
    return [*told, *([CLEARER] if any(map(unclear, row.sheets)) else []), *notes]
