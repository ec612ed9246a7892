"""What lies on a panel, for the screen: sheets and parts as they lie, masks, pieces, and what each thing is."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from functools import lru_cache
from typing import Any

from strata.answers.opened import sheet_json
from strata.panel.laid import FREE, Laid
from strata.panel.size import FORMATS, MARGIN
from strata.panel.things import Thing
from strata.panel.values import write_thing
from strata.plan import Scene
from strata.sheets.elements import tone_roles
from strata.sheets.model import LayerSet
from strata.sheets.nouns import NOUNS
from strata.sheets.outline import outline


def laid_json(scene: Scene) -> dict[str, Any]:
    """The panel with the outlines of all that lies on it, mm."""
    laid = scene.layer_set
    return {
        "kind": laid.kind,
        "nouns": asdict(NOUNS[laid.kind]),
        "width_mm": laid.width,
        "height_mm": laid.height,
        "trim_mm": laid.size.trim,
        "sheets": _sheets(laid),
        "things": [thing_json(scene, t) for t in scene.plan.things],
        "surfaces": [
            {
                "key": s.key,
                "thing": s.thing,
                "outline": outline(s.outline),
                "stock": s.card.stock,
                "foam": s.card.foam,
                "sheets": list(s.sheets),
            }
            for s in laid.surfaces
        ],
    }


@lru_cache(maxsize=32)
def _sheets(laid: Laid) -> tuple[dict[str, Any], ...]:
    """All sheets with their outlines, which no ink changes: kept, since a panel is opened more often than moved."""
    roles, found = _roles(laid), []
    for sheet in laid.sheets:
        origin = laid.origin(sheet.number)
        own = {
            "thing": origin.thing,
            "called": origin.own,
            "kind": origin.kind,
            "nouns": asdict(NOUNS[laid.worked_as(sheet.number)]),
            "surface": origin.surface,
        }
        found.append({**sheet_json(laid, sheet, roles), **own})
    return tuple(found)


@lru_cache(maxsize=32)
def _roles(laid: Laid) -> dict[tuple[str, int], str]:
    """Roles of groups, by those of the sets they come from."""
    found = {}
    for key, group in laid.groups.items():
        origin = laid.origin(key[1])
        home = laid.sources.get(origin.thing)
        if home is None:
            found[key] = "ground" if key[1] == FREE else "base"
            continue
        found[key] = _home_roles(home).get((group.openings[0].like_element, origin.own), "base")
    return found


@lru_cache(maxsize=32)
def _home_roles(home: LayerSet) -> dict[tuple[str, int], str]:
    return tone_roles(home)


def thing_json(scene: Scene, thing: Thing) -> dict[str, Any]:
    """One thing: what it is, where it lies, how much room it takes, how long its cut is."""
    laid = scene.layer_set
    place = scene.placed(thing)
    values: Mapping[str, Any] = write_thing(thing)
    note = thing.kind == "note"  # takes up no room; it is shown as a dot
    box = (place.x - 3, place.y - 3, place.x + 3, place.y + 3) if note else laid.bounds(thing.key)
    cut = laid.masks.get(thing.key)
    own_set = scene.sets.get(thing.source) if thing.kind == "set" else None
    return {
        "key": thing.key,
        "number": thing.number,
        "base": thing.base,
        "kind": thing.kind,
        "name": scene.called(thing),
        "place": asdict(place),
        "box": [round(v, 3) for v in box],
        "on": thing.on,
        "counter": thing.counter,
        "source": thing.source,
        "sheets": list(thing.sheets) or ([s.number for s in own_set.sheets] if own_set else []),
        "all_sheets": [{"number": s.number, "name": s.name} for s in own_set.sheets] if own_set else [],
        "set_kind": own_set.kind if own_set else "",
        "shape": values.get("shape"),
        "wear": asdict(thing.wear) if thing.wear else None,
        "card": asdict(thing.card) if thing.card else None,
        "cards": [{"sheet": n, **asdict(c)} for n, c in thing.cards],
        "words": asdict(thing.words) if thing.words else None,
        "note": asdict(thing.note) if thing.note else None,
        "outline": outline(cut) if cut is not None else "",
        "cut_mm": round(float(cut.length), 1) if cut is not None else None,
    }


def formats_json() -> list[dict[str, Any]]:
    """The formats that cards are made in, with the panel that each has."""
    return [
        {
            "key": f.key,
            "label": f.label,
            "width_mm": round(f.width - MARGIN, 3),
            "height_mm": round(f.height - MARGIN, 3),
            "units": f.units,
        }
        for f in FORMATS.values()
    ]
