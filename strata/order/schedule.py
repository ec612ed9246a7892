"""Who does what when, beside what: a plan of work as data, before anything is said of it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from strata.order.instance import Instance
from strata.order.meeting import Meeting
from strata.order.times import DRY_ENOUGH

WaitFor = Literal["ink", "ground", "sheet", "panel", "seal"]


@dataclass(frozen=True)
class Why:
    """What an action is there for: what is waited for, which pass it serves or is parted from, what met on a brush."""

    waits: WaitFor | None = None
    of: str | None = None
    serves: str | None = None
    meeting: Meeting | None = None


@dataclass(frozen=True)
class Action:
    """One thing done. ``starts`` and ``minutes`` since the beginning; ``card`` counts from 1.

    ``brush``: (size, which of that size, from 0). ``beside``: the place in the
    schedule of a wait that it is done in, None where hands do one thing after
    another.
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
    beside: int | None = None


@dataclass(frozen=True)
class Schedule:
    """Actions in the order in which they begin; ``by`` names the planner, ``bound`` what none can beat (minutes)."""

    actions: tuple[Action, ...]
    by: str = "greedy"
    bound: float | None = None
    proven: bool = False

    @property
    def passes(self) -> tuple[str, ...]:
        """The passes in the order in which the first card gets them."""
        return tuple(a.pass_key for a in self.actions if a.kind == "ink" and a.card == 1 and a.pass_key)

    @property
    def minutes(self) -> float:
        """From the first action to the end of the last."""
        return max((a.starts + a.minutes for a in self.actions), default=0.0)


def wet_onto(work: Instance, schedule: Schedule) -> frozenset[str]:
    """Passes that are laid while ink beneath them is still wet, on the first card.

    The one place where this is settled: pictures, ladders and warnings all
    take it from here, so that an order of work that comes later cannot
    change a colour unseen.
    """
    wet: set[str] = set()
    laid: dict[str, float] = {}
    for action in schedule.actions:
        if action.kind != "ink" or action.pass_key is None or action.card != 1:
            continue
        key = action.pass_key
        still = (k for k, dry in laid.items() if dry > action.starts + DRY_ENOUGH)
        if any(frozenset((k, key)) in work.touching for k in still):
            wet.add(key)
        laid[key] = action.starts + action.minutes + work.by_key[key].dry
    return frozenset(wet)
