"""A plan of work as a planner found it, before anything is said of it; and as JSON values, to be kept."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from strata.errors import BadFile
from strata.order.begun import NOT_YET, Begun
from strata.order.done import Did, Timed
from strata.order.ticks import A_MINUTE, Work

VERSION = 1


@dataclass(frozen=True)
class Found:
    """What is done when, who found it, what none can beat (ticks), and whether it is proven the shortest.

    ``begun``: what of it was done already when it was planned.
    """

    timed: Timed
    by: str
    bound: int = 0
    proven: bool = False
    begun: Begun = NOT_YET

    @property
    def minutes(self) -> float:
        """How long it takes."""
        return self.timed.end / A_MINUTE


def write_found(work: Work, found: Found) -> dict[str, Any]:
    """JSON values that ``read_found`` reads back for the same work; passes go by their keys."""

    def key(i: int) -> str | None:
        return work.tasks[i].key if i >= 0 else None

    return {
        "version": VERSION,
        "by": found.by,
        "bound": found.bound,
        "proven": found.proven,
        "end": found.timed.end,
        "did": [
            [d.kind, d.start, d.length, d.card, d.sheet, key(d.i), d.brush, sorted(d.cover), key(d.of), d.who]
            for d in found.timed.did
        ],
    }


def read_found(work: Work, value: Mapping[str, Any]) -> Found:
    """A plan that was kept; raises BadFile where it is not of this work."""
    try:
        if value["version"] != VERSION:
            raise BadFile("That order of work was kept by another version.")
        did = [_did(work, row) for row in value["did"]]
        end, bound = int(value["end"]), int(value["bound"])
        by, proven = str(value["by"]), bool(value["proven"])
    except (KeyError, TypeError, ValueError):
        raise BadFile("That order of work belongs to another plan.") from None
    inked = sorted((d.card, d.i) for d in did if d.kind == "ink")
    wanted = [(c, i) for c, m in enumerate(work.instance.cards, 1) for i in work.of_make[m]]
    if inked != sorted(wanted):
        raise BadFile("That order of work belongs to another plan.")
    return Found(Timed(work, did, end), by, bound, proven)


def _did(work: Work, row: list[Any]) -> Did:
    kind, start, length, card, sheet, key, brush, cover, of, who = row
    i = -1 if key is None else work.index[key]
    last = -1 if of is None else work.index[of]
    return Did(kind, start, length, card, sheet, i, brush, frozenset(cover), last, who)
