"""Steps gathered under the sheet that is seated; what is done alike on several cards is told once."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from strata.order.steps import Sequence, Step


@dataclass(frozen=True)
class ToldVisit:
    """Steps that are the same on each of ``cards``; ``minutes`` on all of them together."""

    cards: tuple[int, ...]
    first: int
    steps: tuple[Step, ...]
    minutes: float


def told_visits(sequence: Sequence) -> list[ToldVisit]:
    """Steps gathered under the sheet that is seated; one after another the same on other cards, told once."""
    gathered: list[tuple[int, list[Step]]] = []
    for n, step in enumerate(sequence.steps):
        if step.kind == "place" or not gathered:
            gathered.append((n, []))
        gathered[-1][1].append(step)
    found: list[ToldVisit] = []
    for n, steps in gathered:
        ends = max(s.starts + s.minutes for s in steps) - min(s.starts for s in steps)
        card = next((s.card for s in steps if s.kind in ("place", "ink")), 0)
        last = found[-1] if found else None
        if last is not None and card and _alike(last.steps, steps) and card not in last.cards:
            found[-1] = ToldVisit((*last.cards, card), last.first, last.steps, last.minutes + ends)
        else:
            found.append(ToldVisit((card,) if card else (), n, tuple(steps), ends))
    return found


def _alike(one: tuple[Step, ...], other: list[Step]) -> bool:
    return _told(one) == _told(other)


def _told(steps: Iterable[Step]) -> list[tuple[int | None, str]]:
    """What makes a visit another one, however its waits and cares fall: what is inked, and work that is done once for all.

    By what is done, not by its key: in an evening other builds have the same keys.
    """
    once = ("ink", "prep")
    return [(s.sheet, s.sentence if s.kind in once else "") for s in steps if s.kind in ("place", *once)]
