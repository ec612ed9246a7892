"""A build's whole state as JSON, from core values."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any

from django.db.models import F, Prefetch

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
    figures,
    first_set,
    outlook,
    placed_sets,
    remember,
    stored,
    wet_key,
    whole,
)
from studio.builds.models import Build, Change, Colouring
from studio.colours import colour
from studio.inks.services import house
from studio.owned import mine

MISSING = {"dry": "has run dry", "wished for": "is only wished for", "away": "is put away"}
# why a pad cannot be inked with


@dataclass(frozen=True)
class AtTable:
    """Where a colouring is at the table: the step, of how many, and what is to be done next."""

    step: int
    following: str


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
    values = asdict(step)
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
        "sequence": sequence_json(seen.sequence),
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


def builds_of(owner: Any) -> list[Build]:
    """The builds of a maker, latest first, with everything that Home says of them looked up together."""
    builds = list(
        mine(Build, owner).prefetch_related(
            Prefetch("placed_sets", placed_sets()),
            Prefetch("colourings", Colouring.objects.filter(gone=None)),
        )
    )
    shown = [c for b in builds for c in b.colourings.all()[:1]]
    at = {(c.pk, c.head + by): by for c in shown for by in (-1, 0, 1)}
    labels: dict[int, dict[int, str]] = {}
    heads = Change.objects.filter(
        colouring__in=shown, number__gte=F("colouring__head") - 1, number__lte=F("colouring__head") + 1
    )
    for pk, number, label in heads.values_list("colouring", "number", "label"):
        if (pk, number) in at:
            labels.setdefault(pk, {})[number] = label
    plans = {
        c.colouring_id: c for c in Change.objects.filter(colouring__in=shown, number=F("colouring__head"))
    }
    for build in builds:
        build.owner = owner
        for first in build.colourings.all()[:1]:
            first.build = build
            first.__dict__["_around"] = labels.get(first.pk, {})
            if first.pk in plans:
                remember(first, plans[first.pk])
    return builds


def summary_json(colouring: Colouring, at_table: AtTable | None) -> dict[str, Any]:
    """A build on the home screen, with its next step in words."""
    build, found = colouring.build, figures(colouring)
    own, values = house(build.owner), whole(stored(colouring), build)
    placed = first_set(build, values)
    layer_set = placed.layer_set if placed else None
    panel = values["materials"].get("panel") or {}
    width = panel.get("width") or (layer_set.width_mm if layer_set else 100.0)
    height = panel.get("height") or (layer_set.height_mm if layer_set else 100.0)
    others = len({t.get("source") for t in values.get("things", []) if t.get("kind") == "set"}) - 1
    missing = missing_json(colouring)
    if not values["passes"]:
        following = "Give the first element an ink"
    elif at_table is not None:
        following = at_table.following
    elif missing:
        following = f"{missing[0]['name']} {missing[0]['why']}"
        if len(missing) > 1:
            following = f"{len(missing)} pads are missing: {', '.join(m['name'] for m in missing)}"
    elif found.serious:
        following = f"Look at {found.serious} warning{'s' if found.serious > 1 else ''}"
    else:
        following = "Ready for the table"
    stock = own.stocks.get(values["materials"]["stock"])
    return {
        **history.head_values(colouring, colouring.__dict__["_around"]),
        "id": build.pk,
        "colouring_id": colouring.pk,
        "colouring_count": len(build.colourings.all()),
        "updated": build.updated.isoformat(),
        "set_name": (layer_set.name if layer_set else "An empty panel")
        + (f" and {others} more" if others > 0 else ""),
        "kind": layer_set.kind if layer_set else "stencil",
        "stock_name": stock.name if stock else "",
        "pass_count": len(values["passes"]),
        "minutes": round(found.minutes, 1),
        "warnings": found.serious,
        "next_step": following,
        "table_step": at_table.step if at_table is not None else None,
        "step_count": found.steps,
        "aspect": round(height / width, 4),
    }
