"""Elements as JSON: what each lies on, its ladder, and what lies over it."""

from __future__ import annotations

from dataclasses import asdict, fields
from typing import Any

from strata.optics.colour import Lab, chroma, hue
from strata.order import Sequence
from strata.order.gather import own_masks
from strata.plan import Scene
from strata.plan.media import BOTTLES, MEDIA
from strata.plan.model import MOST_COATS_A_PASS, Pass
from strata.tones import Place, Rung
from studio.builds.outlook import Judged, Outlook
from studio.colours import colour
from studio.inks.services import House

# a slip is never planned: it happens
_OF_PASS = tuple(field.name for field in fields(Pass) if field.name not in ("form", "slip"))


def elements_json(seen: Outlook, own: House) -> list[dict[str, Any]]:
    """Every element on the panel, with its core sample; where its pads lie is as it is now."""
    told = seen.told("elements", lambda: _elements(seen, own))
    return [{**e, "rungs": [{**r, "place": kept_at(r["ink"], own)} for r in e["rungs"]]} for e in told]


def _elements(seen: Outlook, own: House) -> list[dict[str, Any]]:
    scene, judged, plan = seen.scene, seen.judged, seen.scene.plan
    return [
        {
            "name": name,
            **_lies(scene, judged, name),
            "sheets": list(scene.layer_set.sheets_of(name)),
            "school": plan.school_of(name),
            "rungs": [_rung_json(scene, seen.sequence, r, own) for r in judged.ladders.get(name, ())],
            "bare": [sheet for element, sheet in plan.bare if element == name],
        }
        for name in scene.layer_set.elements
    ]


def _place_json(scene: Scene, place: Place) -> dict[str, Any]:
    under = [{"ink_name": scene.ink(scene.plan.find(u.pass_key)).name, "coats": u.coats} for u in place.under]
    return {
        "share": round(place.share, 3),
        "before": colour(place.before),
        "here": colour(place.here),
        "under": under,
    }


def _rung_json(scene: Scene, sequence: Sequence, rung: Rung, own: House) -> dict[str, Any]:
    """A pass on the ladder of its element."""
    item = scene.plan.find(rung.pass_key)
    kin = scene.family(item.ink)
    at = kin.index(item.ink)
    return {
        **{name: getattr(item, name) for name in _OF_PASS},
        "form": asdict(item.form),
        **in_hand(scene, item, own),
        "masks": list(own_masks(scene, item)),
        "place_in_plan": scene.plan.index(item.key) + 1,
        "chemistry": scene.ink(item).chemistry.label,
        "thickness": item.thickness,
        "most_coats": MOST_COATS_A_PASS,
        "role": rung.role,
        "alone": colour(rung.alone),
        "here": colour(rung.here),
        "lightness": round(rung.here[0], 1),
        "chroma": round(chroma(rung.here), 1),
        "hue": round(hue(rung.here), 1),
        "margin": round(rung.margin, 1),
        "change": round(rung.change, 2),
        "step": None if rung.step is None else round(rung.step, 2),
        "lightness_step": None if rung.lightness_step is None else round(rung.lightness_step, 1),
        "places": [_place_json(scene, p) for p in rung.places],
        "wet": rung.wet,
        "lighter": scene.inks[kin[at - 1]].name if at > 0 else None,
        "deeper": scene.inks[kin[at + 1]].name if at + 1 < len(kin) else None,
        "order": sequence.passes.index(item.key) + 1,
    }


def in_hand(scene: Scene, item: Pass, own: House) -> dict[str, Any]:
    """What is taken in hand for a pass: the pad, where it lies and in what state, and the tool."""
    ink = scene.ink(item)
    return {
        "ink_name": ink.name,
        "state": _pad_state(scene, item.ink, own),
        "place": kept_at(item.ink, own),
        "medium_label": MEDIA[item.medium].label,
        "brush_label": scene.brush(item).label,
    }


def kept_at(key: str, own: House) -> str:
    """Where a pad lies; nothing of one that cannot be taken in hand."""
    return own.inks[key].place if key in own.at_hand else ""


def _pad_state(scene: Scene, key: str, own: House) -> str:
    if key in BOTTLES:
        return "full"
    return "away" if key not in own.in_drawer else scene.inks[key].state


def _lies(scene: Scene, judged: Judged, name: str) -> dict[str, Any]:
    """What an element is part of, the card it lies on, and what of others lies under and over it."""
    sheet = scene.layer_set.sheets_of(name)[0]
    origin = scene.layer_set.origin(sheet)
    card = scene.card_under(origin.surface)
    rungs = judged.ladders.get(name, ())
    below = [
        bed
        for u in (rungs[0].places[0].under if rungs else ())
        if (bed := _bed(scene, "ink", u.pass_key, rungs[0].places[0].share, name))
    ]
    over = [bed for kind, key, share in judged.over[name] if (bed := _bed(scene, kind, key, share, name))]
    return {
        "thing": origin.thing,
        "kind": scene.layer_set.worked_as(sheet),
        "card": card.name,
        "card_colour": colour(card.lab),
        "below": below,
        "over": over,
    }


def _bed(scene: Scene, kind: str, key: str, share: float, name: str) -> dict[str, Any] | None:
    if kind == "card":
        surface = scene.layer_set.surface_by_key[key]
        card = scene.stocks[surface.card.stock]
        of = scene.called(scene.plan.thing(surface.thing))
        return _bed_json(kind, "", card.name, of, share, card.lab)
    item = scene.plan.find(key)
    if item.element == name:
        return None
    return _bed_json(kind, key, scene.ink(item).name, item.element, share, scene.alone[key])


def _bed_json(kind: str, key: str, name: str, of: str, share: float, lab: Lab) -> dict[str, Any]:
    return {
        "kind": kind,
        "pass_key": key,
        "name": name,
        "of": of,
        "share": round(share, 2),
        "colour": colour(lab),
    }
