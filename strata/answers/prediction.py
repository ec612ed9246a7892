"""The request and the answer of ``python -m strata predict``."""

from __future__ import annotations

from typing import Any

from strata import readings
from strata.errors import BadValue, TooLarge, UnknownName, finite
from strata.formats.drawer import read_ink, read_stock
from strata.optics.colour import hex_of
from strata.optics.inks import MOST_COATS, Ink
from strata.optics.margin import margin
from strata.optics.stack import Coat, predict

MOST_STACKS = 50_000


def _read_pass(value: Any, inks: dict[str, Ink], field: str) -> Coat:
    item = readings.mapping(value, field)
    key = readings.needed(item, "ink", field)
    if not isinstance(key, str) or key not in inks:
        raise UnknownName(f"{field} asks for ink “{key}”, which is not among the inks.", field)
    over = item.get("over", "dry")
    if over not in ("wet", "dry"):
        raise BadValue(f"{field}.over must be wet or dry.", f"{field}.over")
    coats = finite(item.get("coats", 1), f"{field}.coats", 0.0, MOST_COATS)
    return Coat(inks[key], coats, wet=over == "wet")


def answer(data: str | bytes) -> dict[str, Any]:
    """The predicted colours for a request; raises a StrataError with one sentence."""
    top = readings.mapping(readings.parse(data), "The request")
    stock = read_stock(readings.needed(top, "card", "request"), "card")
    asked = readings.mapping(readings.needed(top, "inks", "request"), "inks")
    inks = {key: read_ink(key, value, f"inks.{key}") for key, value in asked.items()}
    stacks = readings.listing(readings.needed(top, "stacks", "request"), "stacks")
    if len(stacks) > MOST_STACKS:
        raise TooLarge(f"At most {MOST_STACKS} stacks at once, not {len(stacks)}.", "stacks")
    answers = []
    for i, value in enumerate(stacks):
        field = f"stacks[{i}]"
        passes = readings.listing(
            readings.needed(readings.mapping(value, field), "passes", field), f"{field}.passes"
        )
        coats = [_read_pass(p, inks, f"{field}.passes[{j}]") for j, p in enumerate(passes)]
        lab = predict(stock, coats)
        code, in_gamut = hex_of(lab)
        answers.append(
            {
                "lab": [round(v, 4) for v in lab],
                "margin": round(margin(stock, coats), 2),
                "srgb": code,
                "in_gamut": in_gamut,
            }
        )
    return {"stacks": answers}
