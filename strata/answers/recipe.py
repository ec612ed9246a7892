"""The request and the answer of ``python -m strata recipe``."""

from __future__ import annotations

from typing import Any

from strata import readings
from strata.errors import BadValue, finite
from strata.formats.drawer import read_ink, read_stock
from strata.optics import spectrum
from strata.optics.colour import checked_lab
from strata.recipes import Shelf
from strata.recipes.search import MOST_COATS, MOST_PADS

MOST_KEPT = 200


def _whole(top: Any, field: str, default: int, high: int) -> int:
    value = top.get(field, default)
    if isinstance(value, bool) or not isinstance(value, int):
        raise BadValue(f"{field} must be a whole number.", field)
    return int(finite(value, field, 1, high))


def answer(data: str | bytes) -> dict[str, Any]:
    """The best recipes for a request, nearest first; raises a StrataError with one sentence."""
    top = readings.mapping(readings.parse(data), "The request")
    stock = read_stock(readings.needed(top, "card", "request"), "card")
    asked = readings.mapping(readings.needed(top, "inks", "request"), "inks")
    inks = [read_ink(key, value, f"inks.{key}") for key, value in asked.items()]
    target = readings.mapping(readings.needed(top, "target", "request"), "target")
    lab = checked_lab(readings.needed(target, "lab", "target"), "target.lab")
    pads = _whole(top, "max_pads", MOST_PADS, MOST_PADS)
    coats, keep = _whole(top, "max_coats", 3, MOST_COATS), _whole(top, "keep", 10, MOST_KEPT)
    spectrum.prepare([(lab, None, False)])
    found = Shelf(stock, inks, coats).find(lab, pads, keep)
    return {
        "recipes": [
            {
                "passes": [{"ink": ink, "coats": count} for ink, count in recipe.passes],
                "lab": [round(v, 4) for v in recipe.lab],
                "de00": round(recipe.difference, 4),
            }
            for recipe in found
        ]
    }
