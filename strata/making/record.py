"""What a making leaves behind: the card as it was laid, its pads and stock as they stood, when what was done, in words."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from strata import readings
from strata.errors import BadFile
from strata.formats.build_file import read_plan, write_plan
from strata.formats.drawer import ink_json, stock_json
from strata.making.events import CHANGING
from strata.making.making import Making
from strata.making.words import how, said
from strata.plan.media import BOTTLES
from strata.plan.model import Plan

FORMAT, VERSION = "anastrata-record", 1


def write_record(making: Making) -> dict[str, Any]:
    """JSON values that stand by themselves: nothing that changes later in drawer, set or plan changes them.

    ``plan`` is the first card that was not spoilt as it was laid, ``planned``
    what was meant; ``used`` in the order of laying; ``steps`` and ``told`` with
    seconds since 1970. Where pads and stock were kept and what was noted of them is not of the card.
    """
    card = next((c for c in making.cards if not c.spoilt), making.cards[0])
    scene = making.scene.with_plan(card.plan)
    items = {p.key: p for p in card.plan.passes}
    laid = [items[k] for k in card.inked if k in items]
    inks = {k: scene.inks[k] for p in laid for k in p.stripes if k not in BOTTLES}
    stocks = dict.fromkeys([scene.plan.stock, *(s.card.stock for s in scene.layer_set.surfaces)])
    times = [e.at for e in making.live]
    return {
        "format": FORMAT,
        "version": VERSION,
        "plan": write_plan(card.plan),
        "planned": write_plan(making.scene.plan),
        "cards": making.count - sum(c.spoilt for c in making.cards),
        "spoilt": sum(c.spoilt for c in making.cards),
        "wet": sorted(making.wet_on(card.number)),
        "began": min(times, default=0.0),
        "ended": max(times, default=0.0),
        "hands": dict(scene.hands),
        "inks": {key: ink_json(replace(ink, place="", notes="")) for key, ink in inks.items()},
        "stocks": {key: stock_json(replace(scene.stocks[key], place="", notes="")) for key in stocks},
        "used": [
            {
                "element": p.element,
                "sheet": scene.layer_set.origin(p.sheet).own,
                "ink": p.ink,
                "name": scene.ink(p).name or p.ink,
                "colour": [round(v, 3) for v in scene.alone[p.key]],
                "coats": p.coats,
                "hand": p.hand,
            }
            for p in laid
        ],
        "steps": [{"at": e.at, "card": e.card, "sentence": e.body.get("sentence", "")} for e in making.done],
        "told": [
            {"at": e.at, "card": e.card, "sentence": _said(making, e)}
            for e in making.live
            if e.kind in CHANGING
        ],
        "notes": [
            {"at": e.at, "card": e.card, "sentence": e.body["text"]} for e in making.live if e.kind == "note"
        ],
    }


def _said(making: Making, event: Any) -> str:
    words = said(making, event)
    return f"{words}: {how(making, event)}" if event.kind in ("otherwise", "again") else words


def plan_of_record(value: Mapping[str, Any]) -> Plan:
    """The plan that a record holds, to be made again; raises BadFile and BadValue."""
    if value.get("format") != FORMAT or value.get("version") != VERSION:
        raise BadFile("That was written down by another version.")
    return read_plan(readings.mapping(value.get("plan"), "plan"))
