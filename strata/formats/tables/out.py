"""The drawer as rows, one a swatch: what all written tables have in common."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from strata.formats.drawer import ink_json
from strata.optics.inks import Ink
from strata.optics.stack import Stock

OF_INK = (
    "key",
    "name",
    "line",
    "family",
    "depth",
    "chemistry",
    "character",
    "pad",
    "place",
    "state",
    "notes",
    "dry_minutes",
    "cleaning",
)
OF_SWATCH = ("card", "card_L", "card_a", "card_b", "coats", "L", "a", "b", "how", "when", "spread")
COLUMNS = (*OF_INK, *OF_SWATCH)


def swatch_rows(inks: Iterable[Ink], cards: Iterable[Stock]) -> Iterable[dict[str, Any]]:
    """A row of all COLUMNS for every swatch; what says nothing is empty text. ``cards`` are those of the house."""
    listed = list(cards)
    names, by_colour = {s.key: s.name for s in listed if s.key}, {s.lab: s.name for s in listed}
    for ink in inks:
        values = {"key": ink.key, **ink_json(ink)}
        own = {c: values.get(c, "") for c in OF_INK}
        for s in ink.swatches:
            yield {
                **own,
                "card": names.get(s.card) or by_colour.get(s.on, ""),
                **dict(zip(("card_L", "card_a", "card_b"), map(float, s.on), strict=True)),
                "coats": float(s.coats),
                **dict(zip("Lab", map(float, s.lab), strict=True)),
                "how": s.how,
                "when": s.when,
                "spread": "" if s.spread is None else float(s.spread),
            }
