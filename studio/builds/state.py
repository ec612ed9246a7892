"""A build's whole state as JSON, from core values."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from strata.optics.colour import chroma, hue
from strata.optics.stack import HANDS, Coat, predict
from strata.order import Sequence, Step
from strata.plan import Scene
from strata.plan.tools import BRUSHES
from strata.recipes.judged import in_words
from strata.standins import StandIn
from strata.tones import Place, Rung
from studio.bench.models import Run
from studio.builds import services
from studio.builds.models import Build
from studio.colours import colour
from studio.inks.services import house


def _place_json(scene: Scene, place: Place) -> dict[str, Any]:
    under = [{"ink_name": scene.ink(scene.plan.find(key)).name, "coats": coats} for key, coats in place.under]
    return {
        "share": round(place.share, 3),
        "before": colour(place.before),
        "here": colour(place.here),
        "under": under,
    }


def _rung_json(scene: Scene, sequence: Sequence, rung: Rung, in_drawer: frozenset[str]) -> dict[str, Any]:
    item = scene.plan.find(rung.pass_key)
    kin = scene.family(item.ink)
    at = kin.index(item.ink)
    return {
        **asdict(item),
        "ink_name": scene.ink(item).name,
        "chemistry": scene.ink(item).chemistry.label,
        "state": "away" if item.ink not in in_drawer else scene.ink(item).state,
        "place": scene.ink(item).place,
        "brush_label": scene.brush(item).label,
        "role": rung.role,
        "alone": colour(rung.alone),
        "here": colour(rung.here),
        "lightness": round(rung.here[0], 1),
        "chroma": round(chroma(rung.here), 1),
        "hue": round(hue(rung.here), 1),
        "change": round(rung.change, 2),
        "step": None if rung.step is None else round(rung.step, 2),
        "lightness_step": None if rung.lightness_step is None else round(rung.lightness_step, 1),
        "places": [_place_json(scene, p) for p in rung.places],
        "wet": rung.wet,
        "lighter": scene.inks[kin[at - 1]].name if at > 0 else None,
        "deeper": scene.inks[kin[at + 1]].name if at + 1 < len(kin) else None,
        "order": sequence.passes.index(item.key) + 1,
    }


def _step_json(step: Step, done_before: int) -> dict[str, Any]:
    values = asdict(step)
    values["reasons"], values["masks"] = list(step.reasons), list(step.masks)
    return {**values, "done_before": done_before}


def sequence_json(sequence: Sequence) -> dict[str, Any]:
    """The order of work."""
    steps, done = [], 0
    for step in sequence.steps:
        steps.append(_step_json(step, done))
        done += step.kind == "ink"
    return {
        "steps": steps,
        "passes": list(sequence.passes),
        "minutes": round(sequence.minutes, 1),
        "waiting": round(sequence.waiting, 1),
        "placements": sequence.placements,
        "cleanings": sequence.cleanings,
        "masks": sequence.masks,
    }


def state_json(build: Build) -> dict[str, Any]:
    """Everything the build's screens show."""
    seen = services.outlook(build)
    ladders, findings = services.judged(seen)
    scene, plan = seen.scene, seen.scene.plan
    in_drawer = house(build.owner).in_drawer
    elements = [
        {
            "name": name,
            "sheets": list(scene.layer_set.sheets_of(name)),
            "school": plan.school_of(name),
            "rungs": [_rung_json(scene, seen.sequence, r, in_drawer) for r in ladders.get(name, ())],
            "bare": [sheet for element, sheet in plan.bare if element == name],
        }
        for name in scene.layer_set.elements
    ]
    return {
        **services.head_json(build),
        "stock": plan.stock,
        "stock_name": scene.stock.name,
        "stock_colour": colour(scene.stock.lab),
        "register": plan.register,
        "cards": plan.cards,
        "school": plan.school,
        "width_mm": scene.layer_set.width,
        "height_mm": scene.layer_set.height,
        "elements": elements,
        "findings": [{**asdict(f), "mends": [asdict(m) for m in f.mends]} for f in findings],
        "sequence": sequence_json(seen.sequence),
        "brushes": list(BRUSHES),
    }


def stand_in_json(scene: Scene, rungs: Mapping[str, tuple[Rung, ...]], found: StandIn) -> dict[str, Any]:
    """A stand-in with the edit that swaps it in; colours of the first few passes, as wanted and as they would be."""
    places = {r.pass_key: r for climb in rungs.values() for r in climb}
    missing = scene.ink(scene.plan.find(next(iter(found.amounts)))).key
    before, after = [], []
    for key, (coats, hand) in list(found.amounts.items())[:4]:
        place, item = places[key].places[0], scene.plan.find(key)
        under = [
            Coat(scene.inks[found.ink] if k in found.amounts else scene.ink(scene.plan.find(k)), c)
            for k, c in place.under
        ]
        laid = scene.thickness(item) / item.thickness * coats * HANDS[hand]
        before.append(colour(place.here))
        after.append(colour(predict(scene.stock, [*under, Coat(scene.inks[found.ink], laid)])))
    said = dict.fromkeys(
        f"{coats} {'coat' if coats == 1 else 'coats'}" + (f", {hand} hand" if hand != "medium" else "")
        for coats, hand in found.amounts.values()
    )
    amounts = {k: {"coats": coats, "hand": hand} for k, (coats, hand) in found.amounts.items()}
    return {
        "ink": found.ink,
        "name": scene.inks[found.ink].name,
        "line": scene.inks[found.ink].line,
        "role": found.role,
        "words": in_words(found.difference),
        "de00": round(found.difference, 1),
        "amounts": " or ".join(said),
        "before": before,
        "after": after,
        "troubles": list(found.troubles),
        "values": {"ink": missing, "to": found.ink, "amounts": amounts},
    }


def summary_json(build: Build) -> dict[str, Any]:
    """A build on the home screen, with its next step in words."""
    seen = services.outlook(build)
    _, findings = services.judged(seen)
    plan = seen.scene.plan
    run = Run.objects.filter(build=build).first()
    serious = sum(f.severity != "note" for f in findings)
    at_table = run is not None and run.step > 0
    if not plan.passes:
        following = "Give the first element an ink"
    elif run is not None and at_table:
        steps = seen.sequence.steps
        following = "Done: every step is ticked off" if run.step >= len(steps) else steps[run.step].sentence
    elif serious:
        following = f"Look at {serious} warning{'s' if serious > 1 else ''}"
    else:
        following = "Ready for the table"
    return {
        **services.head_json(build),
        "updated": build.updated.isoformat(),
        "set_name": build.layer_set.name,
        "stock_name": seen.scene.stock.name,
        "pass_count": len(plan.passes),
        "minutes": round(seen.sequence.minutes, 1),
        "warnings": serious,
        "next_step": following,
        "table_step": run.step if run is not None and at_table else None,
        "step_count": len(seen.sequence.steps),
        "aspect": round(seen.scene.layer_set.height / seen.scene.layer_set.width, 4),
    }
