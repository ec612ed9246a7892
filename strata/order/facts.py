"""An instance of work as plain JSON values: what was measured, and no rule that follows from it.

Whoever judges a plan from these has to know the craft by himself; see
``docs/formats/order.md``.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from typing import Any

from strata.order import times
from strata.order.evening import Evening
from strata.order.gather import brushes_of, own_masks, stamped_whole
from strata.order.residues import meeting_area
from strata.order.schedule import Action, Schedule
from strata.order.table_rules import TableRules
from strata.panel.laid import FREE, GROUND
from strata.plan.model import Pass
from strata.plan.scene import Scene
from strata.plan.tools import EVERY
from strata.plan.wishes import OtherWork


def facts_of(evening: Evening, rules: TableRules, jobs: Sequence[OtherWork] = ()) -> dict[str, Any]:
    """Measures of all makes of an evening: mm2, mm, minutes, CIELAB D50/2 degrees.

    Passes, sheets and cards say which make they belong to where there are
    several; keys of passes and numbers of sheets are the evening's.
    """
    first = evening.makes[0].scene
    sizes = sorted({evening.scene(k).brush(p).key for k, _, p in evening})
    sheets = _sheets(evening)
    place = max(times.PLACE[m.scene.plan.register] for m in evening.makes)
    kinds = {
        s["kind"] for s in sheets if any(s["number"] == evening.sheet(m, p.sheet) for _, m, p in evening)
    }
    return {
        "kind": first.layer_set.kind,
        "cards": len(evening.cards),
        "makes": [evening.cards.count(m) for m in range(len(evening.makes))],
        "card_makes": list(evening.cards),
        "minutes": {"place": place, **times.as_facts()},
        "sheets": sheets,
        "elements": list(dict.fromkeys(e for m in evening.makes for e in _elements(m.scene))),
        "masks": {k: list(own) for k, _, p in evening if (own := own_masks(evening.scene(k), p))},
        "sizes": {k: {"speed": b.speed, "spread": b.spread} for k, b in EVERY.items()},
        "brushes": [item for size in sizes for item in _brushes(evening, size)],
        "inks": {p.ink: _ink(evening.scene(k), p.ink) for k, _, p in sorted(evening, key=lambda x: x[2].ink)},
        "passes": [_pass(evening, k, m, p) for k, m, p in evening],
        "overlaps": _once(row for m in range(len(evening.makes)) for row in _overlaps(evening, m, sheets)),
        "gaps": _once(
            [*pair, evening.sheet(m, sheet), gap]
            for m, make in enumerate(evening.makes)
            for pair, sheet, gap in sorted(
                (sorted(p), s, v) for (p, s), v in make.scene.layer_set.gaps.items()
            )
        ),
        "residues": _residues(evening) if rules.wash_by == "place" else [],
        "pins": [
            [evening.key(m, a), evening.key(m, b)]
            for m, make in enumerate(evening.makes)
            for a, b in make.pins
        ],
        "returns": [
            [evening.key(m, key) for key in own]
            for m, make in enumerate(evening.makes)
            for own in make.returns
        ],
        "jobs": [_job_json(j) for j in jobs],
        "rules": rules.for_kinds(kinds).as_facts(),
    }


def _job_json(job: OtherWork) -> dict[str, Any]:
    own = {"key": job.key, "name": job.name, "minutes": job.minutes, "before": job.before}
    return {**own, "after": job.after, "last": job.last}


def _once(rows: Iterable[list[Any]]) -> list[list[Any]]:
    """Rows in order, none twice: makes of one set measure alike."""
    return [list(row) for row in dict.fromkeys(tuple(r) for r in rows)]


def _elements(scene: Scene) -> list[str]:
    free = any(p.sheet == FREE for p in scene.plan.passes)
    return [e for e in scene.layer_set.elements if e != GROUND or free]


def _sheets(evening: Evening) -> list[dict[str, Any]]:
    found: dict[int, dict[str, Any]] = {}
    for m, make in enumerate(evening.makes):
        laid, used = make.scene.layer_set, {p.sheet for p in make.scene.plan.passes}
        for s in laid.sheets:
            if s.number == FREE and FREE not in used:
                continue
            number = evening.sheet(m, s.number)
            known = found.setdefault(
                number,
                {
                    "number": number,
                    "copies": s.copies,
                    "loose": s.loose,
                    "kind": laid.worked_as(s.number),
                    "card": laid.origin(s.number).surface,
                    "makes": [],
                    "owned": 1,
                },
            )
            known["makes"].append(m)
            known["owned"] = 2 if s.number in make.twice else known["owned"]
    return list(found.values())


def _pass(evening: Evening, key: str, m: int, item: Pass) -> dict[str, Any]:
    scene = evening.makes[m].scene
    return {
        "key": key,
        "element": item.element,
        "sheet": evening.sheet(m, item.sheet),
        "ink": item.ink,
        "coats": item.coats,
        "thickness": item.thickness,
        "whole": item.all_over,
        "medium": item.medium,
        "brush": None if stamped_whole(scene, item) else scene.brush(item).key,
        "area": scene.inked_area(item),
        "lab": list(scene.alone[item.key]),
        "make": m,
    }


def _overlaps(evening: Evening, m: int, sheets: list[dict[str, Any]]) -> Iterator[list[Any]]:
    there = {s["number"] for s in sheets}
    laid = evening.makes[m].scene.layer_set
    for (a, b), area in sorted(laid.shared.items()):
        one, two = evening.sheet(m, a[1]), evening.sheet(m, b[1])
        if one in there and two in there:
            yield [a[0], one, b[0], two, area]


def _residues(evening: Evening) -> list[list[Any]]:
    """mm2 that two passes through the same openings both ink."""
    keys = [(key, m, p) for key, m, p in evening]
    return [
        [one, two, round(meeting_area(evening.scene(one), a, b), 2)]
        for i, (one, m, a) in enumerate(keys)
        for two, n, b in keys[i + 1 :]
        if (a.element, evening.sheet(m, a.sheet)) == (b.element, evening.sheet(n, b.sheet)) and a.ink != b.ink
    ]


def _ink(scene: Scene, key: str) -> dict[str, Any]:
    ink = scene.ink_of(key)
    return {
        "line": ink.line,
        "family": ink.family,
        "chemistry": ink.chemistry.key,
        "opaque": ink.chemistry.opaque,
        "character": ink.character,
        "dry": ink.chemistry.dry_minutes,
        "seal": ink.chemistry.needs_seal,
        "heated": ink.chemistry.heated_minutes,
        "cleaning": ink.chemistry.cleaning,
    }


def _brushes(evening: Evening, size: str) -> list[dict[str, Any]]:
    counts = Counter(kept or ("", "") for kept in brushes_of(evening, size))
    return [{"size": size, "count": n, "line": line, "family": f} for (line, f), n in counts.items()]


def plan_json(schedule: Schedule, by_hand: Iterable[str] = ()) -> dict[str, Any]:
    """A schedule as JSON values: minutes since the beginning, cards from 1; and what is inked by hand, unmasked."""
    actions = schedule.actions
    return {
        "steps": [_step(a) for a in actions],
        "minutes": schedule.minutes,
        "placements": sum(a.kind == "place" for a in actions),
        "cleanings": sum(a.kind in ("clean", "wash") for a in actions),
        "masks": sum(a.kind == "mask" for a in actions),
        "bound": schedule.bound,
        "proven": schedule.proven,
        "by": schedule.by,
        "by_hand": sorted(by_hand),
    }


def _step(action: Action) -> dict[str, Any]:
    size_which = action.brush
    return {
        "kind": action.kind,
        "starts": round(action.starts, 6),
        "minutes": action.minutes,
        "card": action.card,
        "sheet": action.sheet,
        "pass": action.pass_key,
        "brush": None if size_which is None else {"size": size_which[0], "which": size_which[1]},
        "masks": list(action.masks),
        "who": action.who,
        "job": action.job,
        "copy": action.copy,
    }
