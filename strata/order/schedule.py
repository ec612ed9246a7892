"""Who does what when, beside what: a plan of work as data, before anything is said of it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from strata.order.instance import Instance
from strata.order.meeting import Meeting
from strata.order.times import DRY_ENOUGH

WaitFor = Literal["ink", "ground", "sheet", "panel", "seal", "brush", "rest"]


@dataclass(frozen=True)
class Why:
    """What an action is there for: what is waited for, which pass it serves or is parted from, what met on a brush."""

    waits: WaitFor | None = None
    of: str | None = None
    serves: str | None = None
    meeting: Meeting | None = None


@dataclass(frozen=True)
class Action:
    """One thing done. ``starts`` and ``minutes`` since the beginning; ``card`` counts from 1, 0 for none.

    ``brush``: (size, which of that size, from 0). ``who``: which pair of
    hands. ``job``: key of the other work that is done.
    """

    kind: str
    starts: float
    minutes: float
    card: int = 1
    sheet: int | None = None
    pass_key: str | None = None
    brush: tuple[str, int] | None = None
    masks: tuple[str, ...] = ()
    why: Why = field(default_factory=Why)
    who: int = 1
    job: str | None = None


@dataclass(frozen=True)
class Schedule:
    """Actions in the order in which they begin; ``by`` names the planner, ``bound`` what none can beat (minutes)."""

    actions: tuple[Action, ...]
    by: str = "greedy"
    bound: float | None = None
    proven: bool = False

    @property
    def passes(self) -> tuple[str, ...]:
        """The passes in the order in which they are first done."""
        done = (a.pass_key for a in self.actions if a.kind == "ink" and a.pass_key)
        return tuple(dict.fromkeys(done))

    @property
    def minutes(self) -> float:
        """From the first action to the end of the last."""
        return max((a.starts + a.minutes for a in self.actions), default=0.0)


def wet_onto(work: Instance, schedule: Schedule) -> frozenset[str]:
    """Passes that are laid while ink beneath them is still wet, on the card that gets them first.

    The one place where this is settled: pictures, ladders and warnings all
    take it from here, so that an order of work that comes later cannot
    change a colour unseen.
    """
    wet: set[str] = set()
    seen: set[str] = set()
    laid: dict[int, dict[str, float]] = {}
    for action in schedule.actions:
        if action.kind != "ink" or action.pass_key is None:
            continue
        key, card = action.pass_key, laid.setdefault(action.card, {})
        if key not in seen:
            still = (k for k, dry in card.items() if dry > action.starts + DRY_ENOUGH)
            if any(frozenset((k, key)) in work.touching for k in still):
                wet.add(key)
            seen.add(key)
        card[key] = action.starts + action.minutes + work.by_key[key].dry
    return frozenset(wet)
