"""Inks and cards as JSON: the drawer file, and the ink objects of the command line."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any

from strata import readings
from strata.errors import BadValue, finite
from strata.optics.colour import checked_lab
from strata.optics.inks import CHEMISTRIES, MOST_COATS, Ink, Swatch, chemistry
from strata.optics.learned import AS_MEASURED, MOST_LEAN, MOST_STRENGTH, Learned
from strata.optics.stack import Stock
from strata.plan.tools import Tool

FORMAT, VERSION = "anastrata-drawer", 2
MOST_INKS = 2000


@dataclass(frozen=True)
class Drawer:
    """What a drawer file holds."""

    inks: tuple[Ink, ...]
    stocks: tuple[Stock, ...]
    tools: tuple[Tool, ...] = ()


def _said(item: Mapping[str, Any], name: str, field: str, longest: int = 200) -> str:
    """Free text, empty where nothing is said; raises BadValue when it is no text or too long."""
    value = item.get(name, "")
    if value is None or value == "":
        return ""
    return readings.text(value, f"{field}.{name}", longest) if str(value).strip() else ""


def read_stock(value: Any, field: str) -> Stock:
    """A stock from ``{"lab": [...], "name"?, "weight_gsm"?, "thickness_mm"?, ...}``."""
    card = readings.mapping(value, field)
    return Stock(
        lab=checked_lab(readings.needed(card, "lab", field), f"{field}.lab"),
        name=readings.text(card.get("name", "card"), f"{field}.name"),
        weight_gsm=finite(card.get("weight_gsm", 270), f"{field}.weight_gsm", 60, 800),
        thickness_mm=finite(card.get("thickness_mm", 0.33), f"{field}.thickness_mm", 0.05, 3),
        finish=card.get("finish", ""),
        place=_said(card, "place", field),
        state=card.get("state", "plenty"),
        notes=_said(card, "notes", field, 4000),
        how=card.get("how", ""),
        when=_said(card, "when", field),
        sheets=card.get("sheets"),
        key=_said(card, "key", field, 120),
    )


def read_swatch(value: Any, field: str) -> Swatch:
    """A swatch from ``{"on": {"lab", "card"?, "finish"?}, "coats"?, "lab", "how"?, "when"?, "spread"?}``."""
    item = readings.mapping(value, field)
    on = readings.mapping(readings.needed(item, "on", field), f"{field}.on")
    spread = item.get("spread")
    return Swatch(
        on=checked_lab(readings.needed(on, "lab", f"{field}.on"), f"{field}.on.lab"),
        coats=finite(item.get("coats", 1), f"{field}.coats", 0.05, MOST_COATS),
        lab=checked_lab(readings.needed(item, "lab", field), f"{field}.lab"),
        how=item.get("how", ""),
        when=_said(item, "when", field),
        spread=None if spread is None else finite(spread, f"{field}.spread", 0, 100),
        card=_said(on, "card", f"{field}.on", 120),
        finish=on.get("finish", ""),
    )


def read_ink(key: str, value: Any, field: str) -> Ink:
    """An ink from ``{"chemistry", "swatches": [{"on": {"lab"}, "coats", "lab"}], ...}``."""
    item: Mapping[str, Any] = readings.mapping(value, field)
    swatches = readings.listing(readings.needed(item, "swatches", field), f"{field}.swatches")
    character = item.get("character", "vivid")
    if character not in ("vivid", "muted"):
        raise BadValue(f"{field}.character must be vivid or muted.", f"{field}.character")
    kind = readings.needed(item, "chemistry", field)
    return Ink(
        key=key,
        chemistry=chemistry(kind, item.get("dry_minutes"), item.get("cleaning")),
        swatches=tuple(read_swatch(s, f"{field}.swatches[{i}]") for i, s in enumerate(swatches)),
        name=readings.text(item.get("name", key), f"{field}.name"),
        family=_said(item, "family", field),
        depth=int(finite(item.get("depth", 0), f"{field}.depth", 0, 20)),
        line=_said(item, "line", field),
        character=character,
        pad=item.get("pad", "felt"),
        place=_said(item, "place", field),
        state=item.get("state", "full"),
        notes=_said(item, "notes", field, 4000),
        learned=read_learned(item.get("learned"), f"{field}.learned"),
    )


def read_learned(value: Any, field: str) -> Learned:
    """What was learned of a pad from ``{"strength", "lean": [a, b], "cards"?}``, or nothing."""
    if value is None:
        return AS_MEASURED
    item = readings.mapping(value, field)
    lean = readings.listing(item.get("lean", [0, 0]), f"{field}.lean")
    if len(lean) != 2:
        raise BadValue(f"{field}.lean must be two numbers.", f"{field}.lean")
    a, b = (finite(v, f"{field}.lean", -MOST_LEAN, MOST_LEAN) for v in lean)
    strength = finite(item.get("strength", 1), f"{field}.strength", 1 / MOST_STRENGTH, MOST_STRENGTH)
    return Learned(strength, (a, b), int(finite(item.get("cards", 0), f"{field}.cards", 0, 1000)))


def learned_json(learned: Learned) -> dict[str, Any] | None:
    """What was learned as ``read_learned`` reads it; None where nothing was."""
    if learned == AS_MEASURED:
        return None
    return {"strength": learned.strength, "lean": list(learned.lean), "cards": learned.cards}


def read_tool(value: Any, field: str) -> Tool:
    """Tools from ``{"brush", "count"?, "line"?, "family"?}``."""
    item = readings.mapping(value, field)
    return Tool(
        brush=readings.text(readings.needed(item, "brush", field), f"{field}.brush"),
        count=int(finite(item.get("count", 1), f"{field}.count", 0, 200)),
        line=_said(item, "line", field),
        family=_said(item, "family", field),
    )


def read_drawer(data: str | bytes) -> Drawer:
    """A drawer file; raises BadFile or BadValue naming the ink at fault."""
    return read_drawer_values(readings.parse(data))


def read_drawer_values(value: Any) -> Drawer:
    """A drawer from parsed JSON; raises BadValue naming the ink at fault."""
    top = readings.mapping(value, "The file")
    if top.get("format") != FORMAT:
        raise BadValue(f"This is not a drawer file: its format should be “{FORMAT}”.", "format")
    readings.not_newer(top, VERSION)
    inks = readings.mapping(top.get("inks", {}), "inks")
    if len(inks) > MOST_INKS:
        raise BadValue(f"A drawer file can hold {MOST_INKS} inks, not {len(inks)}.", "inks")
    stocks = readings.listing(top.get("stocks", []), "stocks")
    tools = readings.listing(top.get("tools", []), "tools")
    return Drawer(
        inks=tuple(read_ink(k, v, f"inks.{k}") for k, v in inks.items()),
        stocks=tuple(read_stock(s, f"stocks[{i}]") for i, s in enumerate(stocks)),
        tools=tuple(read_tool(t, f"tools[{i}]") for i, t in enumerate(tools)),
    )


def write_drawer(drawer: Drawer) -> dict[str, Any]:
    """The drawer as JSON values that ``read_drawer`` reads back identical."""
    return {
        "format": FORMAT,
        "version": VERSION,
        "stocks": [stock_json(s) for s in drawer.stocks],
        "tools": [asdict(t) for t in drawer.tools],
        "inks": {i.key: ink_json(i) for i in drawer.inks},
    }


def _more(values: dict[str, Any], plain: Mapping[str, Any]) -> dict[str, Any]:
    """Without what says nothing: values that are as they are taken to be when left out."""
    return {k: v for k, v in values.items() if v != plain.get(k, object())}


def stock_json(stock: Stock) -> dict[str, Any]:
    """A stock as ``read_stock`` reads it."""
    always = {"name": stock.name, "lab": list(stock.lab), "weight_gsm": stock.weight_gsm}
    names = ("key", "finish", "place", "state", "notes", "how", "when", "sheets")
    plain = {
        "key": "",
        "finish": "",
        "place": "",
        "state": "plenty",
        "notes": "",
        "how": "",
        "when": "",
        "sheets": None,
    }
    more = _more({n: getattr(stock, n) for n in names}, plain)
    return {**always, "thickness_mm": stock.thickness_mm, **more}


def swatch_json(swatch: Swatch) -> dict[str, Any]:
    """A swatch as ``read_swatch`` reads it."""
    # the finish is the card's to say; only of a card that nobody named does the swatch carry it
    said = {"card": swatch.card, "finish": "" if swatch.card else swatch.finish}
    on = {"lab": list(swatch.on), **_more(said, {"card": "", "finish": ""})}
    always = {"on": on, "coats": swatch.coats, "lab": list(swatch.lab)}
    more = {"how": swatch.how, "when": swatch.when, "spread": swatch.spread}
    return {**always, **_more(more, {"how": "", "when": "", "spread": None})}


def ink_json(ink: Ink) -> dict[str, Any]:
    """An ink as ``read_ink`` reads it, without its key."""
    usual = CHEMISTRIES[ink.chemistry.key]
    own: dict[str, Any] = {"pad": ink.pad, "place": ink.place, "state": ink.state, "notes": ink.notes}
    own |= {"dry_minutes": ink.chemistry.dry_minutes, "cleaning": ink.chemistry.cleaning}
    own["learned"] = learned_json(ink.learned)
    plain: dict[str, Any] = {"pad": "felt", "place": "", "state": "full", "notes": "", "learned": None}
    plain |= {"dry_minutes": usual.dry_minutes, "cleaning": usual.cleaning}
    return {
        "name": ink.name,
        "line": ink.line,
        "family": ink.family,
        "depth": ink.depth,
        "character": ink.character,
        "chemistry": ink.chemistry.key,
        **_more(own, plain),
        "swatches": [swatch_json(s) for s in ink.swatches],
    }
