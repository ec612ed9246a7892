"""What is to be done, and why it cannot be done in any order: facts only, no times of day, no words.

Everything that a planner may ask lies here, so that it needs neither the set
nor the drawer; everything that it decides lies in ``schedule``.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

from strata.order.meeting import Meeting
from strata.order.parting import Parting
from strata.order.precedence import Rule
from strata.order.table_rules import TableRules
from strata.plan.tools import Brush
from strata.plan.wishes import OtherWork

Group = tuple[str, int]
Family = tuple[str, str]


@dataclass(frozen=True)
class Task:
    """One pass as work on one card.

    ``make``: which of the makes of an evening it belongs to, from 0. ``brush``
    is None for a stamp that is inked whole from its pad. ``dry`` and
    ``heated``: minutes to the touch, unaided and with a heat tool (None: it
    does not help). ``lightness`` is L* of the ink alone on this card.
    Minutes are whole thousandths.
    """

    key: str
    element: str
    sheet: int
    ink: str
    place: int
    minutes: float
    area: float
    thickness: float
    coats: int
    brush: Brush | None
    family: Family
    dry: float
    heated: float | None
    seal: bool
    lightness: float
    light_first: bool
    make: int = 0

    @property
    def group(self) -> Group:
        """(element, sheet)."""
        return self.element, self.sheet


@dataclass(frozen=True)
class Piece:
    """Something glued on at the end: a piece of a die-cut, or a part that was printed apart."""

    sheet: int
    copies: int
    make: int = 0


@dataclass(frozen=True, eq=False)
class Instance:
    """Work to be done: the passes of one card or of several makes, and how many cards there are of each.

    ``precedences`` with their reasons; ``masks``: for each pass, the names of
    what must be covered; ``clashes``: for each pass, those whose ink left on
    the sheet must be washed off first; ``touching``: pairs of passes (as sets
    of two keys) that share ground on one card; ``blocked``: for each sheet,
    the passes whose wet ink forbids to seat it on that card; ``brushes``: of
    each size, the (line, family) that each one is kept for, None for none.
    ``cards``: for each card, the make it belongs to;
    ``lifted_clean``: sheets that are clean once they are lifted;
    ``jobs``: other work to be done beside; ``partings``: how a pass is kept off
    its neighbours, ``by_hand`` those that are inked with a lighter hand instead
    of a mask. ``thin``: passes whose ink comes off
    the sheet with a damp wipe; ``twice``: sheets of which there
    are two copies. ``apart``: for each pass that has them, those of its sheet that may
    not be done while it is seated for this one.
    """

    kind: str
    tasks: tuple[Task, ...]
    precedences: tuple[Rule, ...]
    masks: Mapping[str, tuple[str, ...]]
    clashes: Mapping[str, frozenset[str]]
    touching: frozenset[frozenset[str]]
    blocked: Mapping[int, frozenset[str]]
    lifted_clean: frozenset[int]
    care: Mapping[tuple[str, str], Meeting]
    brushes: Mapping[str, tuple[Family | None, ...]]
    place_minutes: float
    pieces: tuple[Piece, ...]
    rules: TableRules
    partings: Mapping[str, Parting] = field(default_factory=dict)
    by_hand: frozenset[str] = frozenset()
    thin: frozenset[str] = frozenset()
    twice: frozenset[int] = frozenset()
    jobs: tuple[OtherWork, ...] = ()
    cards: tuple[int, ...] = (0,)
    apart: Mapping[str, frozenset[str]] = field(default_factory=dict)

    @cached_property
    def by_key(self) -> dict[str, Task]:
        """The tasks by the key of their pass."""
        return {t.key: t for t in self.tasks}

    @cached_property
    def before(self) -> dict[str, tuple[Rule, ...]]:
        """For each pass, what must come before it."""
        found: dict[str, list[Rule]] = defaultdict(list)
        for rule in self.precedences:
            found[rule.after].append(rule)
        return {t.key: tuple(found[t.key]) for t in self.tasks}
