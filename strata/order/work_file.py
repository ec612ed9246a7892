"""Work as JSON values, so that it can be planned in another process. Words that only people need stay behind."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from strata.order.instance import Instance, Piece, Task
from strata.order.meeting import Meeting
from strata.order.precedence import Rule
from strata.order.table_rules import TableRules
from strata.plan.tools import brush
from strata.plan.wishes import OtherWork


def write_work(work: Instance) -> dict[str, Any]:
    """JSON values that ``read_work`` makes the same work of, but for reasons and partings."""
    return {
        "kind": work.kind,
        "tasks": [{**asdict(t), "brush": t.brush.key if t.brush else None} for t in work.tasks],
        "precedences": [[r.before, r.after, r.dry] for r in work.precedences],
        "masks": {k: list(v) for k, v in work.masks.items()},
        "clashes": {k: sorted(v) for k, v in work.clashes.items()},
        "touching": sorted(sorted(pair) for pair in work.touching),
        "blocked": {str(k): sorted(v) for k, v in work.blocked.items()},
        "lifted_clean": sorted(work.lifted_clean),
        "care": [[a, b, m.care] for (a, b), m in work.care.items()],
        "brushes": {k: [list(f) if f else None for f in v] for k, v in work.brushes.items()},
        "place_minutes": work.place_minutes,
        "pieces": [asdict(p) for p in work.pieces],
        "rules": work.rules.as_facts(),
        "jobs": [asdict(j) for j in work.jobs],
        "cards": list(work.cards),
        "apart": {k: sorted(v) for k, v in work.apart.items()},
    }


def read_work(value: Mapping[str, Any]) -> Instance:
    """The work that ``write_work`` wrote. Raises KeyError, TypeError or a StrataError for anything else."""
    return Instance(
        kind=value["kind"],
        tasks=tuple(_task(t) for t in value["tasks"]),
        precedences=tuple(Rule(a, b, "", dry) for a, b, dry in value["precedences"]),
        masks={k: tuple(v) for k, v in value["masks"].items()},
        clashes={k: frozenset(v) for k, v in value["clashes"].items()},
        touching=frozenset(frozenset(pair) for pair in value["touching"]),
        blocked={int(k): frozenset(v) for k, v in value["blocked"].items()},
        lifted_clean=frozenset(value["lifted_clean"]),
        care={(a, b): Meeting(care, "") for a, b, care in value["care"]},
        brushes={k: tuple((f[0], f[1]) if f else None for f in own) for k, own in value["brushes"].items()},
        place_minutes=value["place_minutes"],
        pieces=tuple(Piece(**p) for p in value["pieces"]),
        rules=TableRules(**value["rules"]),
        jobs=tuple(OtherWork(**j) for j in value["jobs"]),
        cards=tuple(value["cards"]),
        apart={k: frozenset(v) for k, v in value["apart"].items()},
    )


def _task(value: Mapping[str, Any]) -> Task:
    own = {**value, "family": tuple(value["family"])}
    own["brush"] = brush(value["brush"]) if value["brush"] else None
    return Task(**own)
