"""A build's whole state as JSON, from core values."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields
from typing import Any

from strata.advice import Finding
from strata.order import Sequence, Step
from strata.order.wording import STEP_WORDS
from strata.plan import Scene
from strata.plan.media import MEDIA
from strata.plan.tools import EVERY
from strata.recipes.judged import in_words
from strata.standins import StandIn
from strata.standins.shown import amount_words, before_and_after
from strata.tones import Rung
from studio.builds import history
from studio.builds.elements import elements_json
from studio.builds.looking import (
    outlook,
    stored,
    wet_key,
)
from studio.builds.models import Build, Colouring
from studio.colours import colour
from studio.inks.services import house

MISSING = {"dry": "has run dry", "wished for": "is only wished for", "away": "is put away"}
# why a pad cannot be inked with
_OF_STEP = tuple(field.name for field in fields(Step))


def _finding_json(scene: Scene, found: Finding) -> dict[str, Any]:
    named = found.subject.names if found.subject.kind in ("element", "pair") else ()
    inked = (scene.plan.find(key).element for key in found.passes)
    return {
        "key": found.key,
        "code": found.code,
        "severity": found.severity,
        "sentence": found.sentence,
        "reason": found.reason,
        "subject": {
            "kind": found.subject.kind,
            "names": list(found.subject.names),
            "sheet": found.subject.sheet,
        },
        "elements": list(dict.fromkeys([*named, *inked])),
        "passes": list(found.passes),
        "left": found.key in scene.plan.left,
        "mends": [{"label": m.label, "kind": m.kind, "values": m.values} for m in found.mends],
    }


def step_json(step: Step, done_before: int) -> dict[str, Any]:
    """A step, with how many passes are done before it."""
    # a hundred a screen, of plain values: copying each of those, as asdict does, takes ten times as long
    values = {name: getattr(step, name) for name in _OF_STEP}
    values["reasons"], values["masks"] = list(step.reasons), list(step.masks)
    return {**values, "word": step.word or STEP_WORDS[step.kind], "done_before": done_before}


def totals_json(sequence: Sequence) -> dict[str, Any]:
    """What an order of work adds up to."""
    return {
        "minutes": round(sequence.minutes, 1),
        "waiting": round(sequence.waiting, 1),
        "placements": sequence.placements,
        "cleanings": sequence.cleanings,
        "masks": sequence.masks,
    }


def sequence_json(sequence: Sequence) -> dict[str, Any]:
    """The order of work."""
    steps, done = [], 0
    for step in sequence.steps:
        steps.append(step_json(step, done))
        done += step.kind == "ink"
    return {
        "steps": steps,
        "passes": list(sequence.passes),
        **totals_json(sequence),
    }


def state_json(colouring: Colouring) -> dict[str, Any]:
    """Everything that the screens of a colouring show."""
    seen = outlook(colouring)
    scene, plan = seen.scene, seen.scene.plan
    return {
        **history.head_json(colouring),
        "colourings": colourings_json(colouring.build),
        "wet_key": wet_key(seen.sequence.wet),
        "kind": scene.layer_set.kind,
        "stock": plan.stock,
        "stock_name": scene.stock.name,
        "stock_colour": colour(scene.stock.lab),
        "light": plan.materials.light,
        "trim_mm": scene.layer_set.size.trim,
        "register": plan.register,
        "cards": plan.cards,
        "school": plan.school,
        "width_mm": scene.layer_set.width,
        "height_mm": scene.layer_set.height,
        "elements": elements_json(seen, house(colouring.build.owner)),
        "findings": [_finding_json(scene, f) for f in seen.judged.findings],
        "sequence": seen.told("sequence", lambda: sequence_json(seen.sequence)),
        "brushes": [
            {"key": b.key, "label": b.label, "diameter_mm": b.diameter, "spread_mm": round(b.spread, 2)}
            for b in EVERY.values()
        ],
        "media": [
            {"key": m.key, "label": m.label, "bottle": m.bottle, "how": m.how, "caution": m.caution}
            for m in MEDIA.values()
        ],
        "missing": missing_json(colouring),
    }


def colourings_json(build: Build) -> list[dict[str, Any]]:
    """The colourings of a build that are not put away."""
    return [{"id": c.pk, "name": c.name} for c in build.colourings.all() if c.gone is None]


def missing_json(colouring: Colouring) -> list[dict[str, str]]:
    """The pads of a plan that cannot be inked with: dry, wished for, or put away."""
    own = house(colouring.build.owner)
    passes = stored(colouring)["passes"]
    used = dict.fromkeys(k for p in passes for k in (p["ink"], *p.get("more", [])))
    return [
        {
            "ink": key,
            "name": own.inks[key].name,
            "why": MISSING["away" if key not in own.in_drawer else own.inks[key].state],
        }
        for key in used
        if key in own.inks and key not in own.at_hand
    ]


def stand_in_json(scene: Scene, rungs: Mapping[str, tuple[Rung, ...]], found: StandIn) -> dict[str, Any]:
    """A stand-in with the edit that swaps it in; colours of the first few passes, as wanted and as they would be."""
    missing = scene.ink(scene.plan.find(next(iter(found.amounts)))).key
    seen = before_and_after(scene, rungs, found)
    amounts = {k: {"coats": coats, "hand": hand} for k, (coats, hand) in found.amounts.items()}
    return {
        "ink": found.ink,
        "name": scene.inks[found.ink].name,
        "line": scene.inks[found.ink].line,
        "role": found.role,
        "words": in_words(found.difference),
        "de00": round(found.difference, 1),
        "amounts": " or ".join(dict.fromkeys(amount_words(*a) for a in found.amounts.values())),
        "before": [colour(before) for before, _ in seen],
        "after": [colour(after) for _, after in seen],
        "troubles": list(found.troubles),
        "values": {"ink": missing, "to": found.ink, "amounts": amounts},
    }
