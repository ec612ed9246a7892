"""Inks and cards as JSON: the drawer file, and the ink objects of the command line."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from strata.errors import BadValue, finite
from strata.formats import readings
from strata.optics.colour import checked_lab
from strata.optics.inks import MOST_COATS, Ink, Swatch, chemistry
from strata.optics.stack import Stock

FORMAT = "anastrata-drawer"
MOST_INKS = 2000


@dataclass(frozen=True)
class Drawer:
    """What a drawer file holds."""

    inks: tuple[Ink, ...]
    stocks: tuple[Stock, ...]


def read_stock(value: Any, field: str) -> Stock:
    """A stock from ``{"lab": [...], "name"?, "weight_gsm"?, "thickness_mm"?}``."""
    card = readings.mapping(value, field)
    return Stock(
        lab=checked_lab(readings.needed(card, "lab", field), f"{field}.lab"),
        name=readings.text(card.get("name", "card"), f"{field}.name"),
        weight_gsm=finite(card.get("weight_gsm", 270), f"{field}.weight_gsm", 60, 800),
        thickness_mm=finite(card.get("thickness_mm", 0.33), f"{field}.thickness_mm", 0.05, 3),
    )


def _read_swatch(value: Any, field: str) -> Swatch:
    item = readings.mapping(value, field)
    on = readings.mapping(readings.needed(item, "on", field), f"{field}.on")
    return Swatch(
        on=checked_lab(readings.needed(on, "lab", f"{field}.on"), f"{field}.on.lab"),
        coats=finite(item.get("coats", 1), f"{field}.coats", 0.05, MOST_COATS),
        lab=checked_lab(readings.needed(item, "lab", field), f"{field}.lab"),
    )


def read_ink(key: str, value: Any, field: str) -> Ink:
    """An ink from ``{"chemistry", "swatches": [{"on": {"lab"}, "coats", "lab"}], ...}``."""
    item: Mapping[str, Any] = readings.mapping(value, field)
    swatches = readings.listing(readings.needed(item, "swatches", field), f"{field}.swatches")
    character = item.get("character", "vivid")
    if character not in ("vivid", "muted"):
        raise BadValue(f"{field}.character must be vivid or muted.", f"{field}.character")
    return Ink(
        key=key,
        chemistry=chemistry(readings.needed(item, "chemistry", field)),
        swatches=tuple(_read_swatch(s, f"{field}.swatches[{i}]") for i, s in enumerate(swatches)),
        name=readings.text(item.get("name", key), f"{field}.name"),
        family=str(item.get("family", ""))[:200],
        depth=int(finite(item.get("depth", 0), f"{field}.depth", 0, 20)),
        line=str(item.get("line", ""))[:200],
        character=character,
    )


def read_drawer(data: str | bytes) -> Drawer:
    """A drawer file; raises BadFile or BadValue naming the ink at fault."""
    top = readings.mapping(readings.parse(data), "The file")
    if top.get("format") != FORMAT:
        raise BadValue(f"This is not a drawer file: its format should be “{FORMAT}”.", "format")
    inks = readings.mapping(top.get("inks", {}), "inks")
    if len(inks) > MOST_INKS:
        raise BadValue(f"A drawer file can hold {MOST_INKS} inks, not {len(inks)}.", "inks")
    stocks = readings.listing(top.get("stocks", []), "stocks")
    return Drawer(
        inks=tuple(read_ink(k, v, f"inks.{k}") for k, v in inks.items()),
        stocks=tuple(read_stock(s, f"stocks[{i}]") for i, s in enumerate(stocks)),
    )


def write_drawer(drawer: Drawer) -> dict[str, Any]:
    """The drawer as JSON values that ``read_drawer`` reads back identical."""
    return {
        "format": FORMAT,
        "version": 1,
        "stocks": [
            {
                "name": s.name,
                "lab": list(s.lab),
                "weight_gsm": s.weight_gsm,
                "thickness_mm": s.thickness_mm,
            }
            for s in drawer.stocks
        ],
        "inks": {i.key: _ink_json(i) for i in drawer.inks},
    }


def _ink_json(ink: Ink) -> dict[str, Any]:
    return {
        "name": ink.name,
        "line": ink.line,
        "family": ink.family,
        "depth": ink.depth,
        "character": ink.character,
        "chemistry": ink.chemistry.key,
        "swatches": [{"on": {"lab": list(s.on)}, "coats": s.coats, "lab": list(s.lab)} for s in ink.swatches],
    }
