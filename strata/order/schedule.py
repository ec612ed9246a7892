"""Who does what when, beside what: a plan of work as data, before anything is said of it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from strata.order.meeting import Meeting

WaitFor = Literal["ink", "ground", "sheet", "panel", "seal", "brush", "rest", "rack"]


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
    hands. ``job``: key of the other work that is done. ``copy`` of the sheet, 1 or 2.
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
    copy: int = 1


@dataclass(frozen=True)
class Schedule:
    """Actions in the order in which they begin.

    ``by`` names the planner, ``bound`` what none can beat (minutes); ``wet``
    are the passes that lie on wet ink (``wetness``). ``done``: how many of the
    actions were done already when the rest was planned.
    """

    actions: tuple[Action, ...]
    by: str = "greedy"
    bound: float | None = None
    proven: bool = False
    wet: frozenset[str] = frozenset()
    done: int = 0

    @property
    def passes(self) -> tuple[str, ...]:
        """The passes in the order in which they are first done."""
        done = (a.pass_key for a in self.actions if a.kind == "ink" and a.pass_key)
        return tuple(dict.fromkeys(done))

    @property
    def minutes(self) -> float:
        """From the first action to the end of the last."""
        return max((a.starts + a.minutes for a in self.actions), default=0.0)
