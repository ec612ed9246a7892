"""What is to be done, and why it cannot be done in any order: facts only, no times of day, no words.

Everything that a planner may ask lies here, so that it needs neither the set
nor the drawer; everything that it decides lies in ``schedule``.
"""

from __future__ import annotations

from collections import defaultdict, deque
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from graphlib import CycleError, TopologicalSorter

from strata.errors import BadValue
from strata.order import times
from strata.order.meeting import Meeting, near_opposite, on_brush
from strata.order.neighbours import close_neighbours
from strata.order.rules import LEAST_SHARED, Rule, rules, shared_area
from strata.plan.model import Pass
from strata.plan.scene import Scene
from strata.plan.tools import Brush

Group = tuple[str, int]


@dataclass(frozen=True)
class Task:
    """One pass as work.

    ``brush`` is None for a stamp that is inked whole from its pad. ``dry`` and
    ``heated``: minutes to the touch, unaided and with a heat tool (None: it
    does not help). ``lightness`` is L* of the ink alone on this card.
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
    family: tuple[str, str]
    dry: float
    heated: float | None
    seal: bool
    lightness: float
    light_first: bool

    @property
    def group(self) -> Group:
        """(element, sheet)."""
        return self.element, self.sheet


@dataclass(frozen=True)
class Piece:
    """Something glued on at the end: a piece of a die-cut, or a part that was printed apart."""

    sheet: int
    copies: int


@dataclass(frozen=True, eq=False)
class Instance:
    """A plan as work to be done.

    ``precedences`` with their reasons; ``masks``: for each pass, the elements
    of its sheet to be covered; ``clashes``: for each pass, those whose residue
    on its own openings must be washed off first; ``touching``: pairs of
    passes (as sets of two keys) whose openings share ground on the panel;
    ``brushes`` and ``kept``: how many of a size there are, and how many of
    these are kept for a (line, family).
    """

    kind: str
    tasks: tuple[Task, ...]
    precedences: tuple[Rule, ...]
    masks: Mapping[str, tuple[str, ...]]
    clashes: Mapping[str, frozenset[str]]
    touching: frozenset[frozenset[str]]
    care: Mapping[tuple[str, str], Meeting]
    brushes: Mapping[str, int]
    kept: Mapping[str, Mapping[tuple[str, str], int]]
    place_minutes: float
    pieces: tuple[Piece, ...]
    cards: int = 1

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


def instance_of(scene: Scene, pins: Sequence[tuple[str, str]] = (), cards: int = 1) -> Instance:
    """The work of a plan. ``pins``: (before, after) keys that a maker wants in this order.

    Raises BadValue where the rules and pins contradict one another, naming
    the chain; UnknownName for a pin of a pass that is not there.
    """
    passes = scene.plan.passes
    own = [Rule(a, b, "You want it so.") for a, b in pins if (scene.plan.find(a), scene.plan.find(b))]
    precedences = (*rules(scene), *own)
    _refuse_circles(scene, precedences)
    sizes = {b.key for b in (scene.brush(p) for p in passes)}
    used = sorted({p.sheet for p in passes})
    laid = scene.layer_set
    apart = [
        n
        for n in used
        if not laid.origin(n).surface and (laid.worked_as(n) == "die-cut" or laid.sheet(n).loose)
    ]
    return Instance(
        kind=scene.layer_set.kind,
        tasks=tuple(_task(scene, p, i) for i, p in enumerate(passes)),
        precedences=precedences,
        # what is not inked on the rubber is not printed: stamps need no mask
        masks=_masks(scene),
        clashes={p.key: _clashes(scene, p) for p in passes},
        touching=_touching(scene),
        care=_care(scene),
        brushes={size: scene.tools.count(size) for size in sizes},
        kept={size: scene.tools.kept(size) for size in sizes},
        place_minutes=times.PLACE[scene.plan.register],
        pieces=tuple(Piece(n, laid.sheet(n).copies) for n in (*apart, *laid.glued)),
        cards=cards,
    )


def stamped_whole(scene: Scene, item: Pass) -> bool:
    """Whether a stamp is inked all over from its pad: no brush, no shading."""
    return scene.layer_set.worked_as(item.sheet) == "stamp set" and item.all_over


def _masks(scene: Scene) -> dict[str, tuple[str, ...]]:
    """What is covered at each pass: by the maker's own masks, and neighbours that the tool would reach."""
    near = close_neighbours(scene)
    laid = scene.layer_set
    return {
        p.key: (
            *own_masks(scene, p),
            *(() if laid.worked_as(p.sheet) == "stamp set" or p.medium != "ink" else near[p.key]),
        )
        for p in scene.plan.passes
    }


def own_masks(scene: Scene, item: Pass) -> tuple[str, ...]:
    """Names of the masks that the maker has on during a pass."""
    return tuple(m.name or m.key for m in scene.masks(item))


def _task(scene: Scene, item: Pass, place: int) -> Task:
    ink, brush, from_pad = scene.ink(item), scene.brush(item), stamped_whole(scene, item)
    area = scene.inked_area(item) * scene.layer_set.sheet(item.sheet).copies
    minutes = item.coats * times.PRINT if from_pad else times.LOAD + area * item.thickness / brush.speed
    return Task(
        key=item.key,
        element=item.element,
        sheet=item.sheet,
        ink=item.ink,
        place=place,
        minutes=minutes,
        area=area,
        thickness=item.thickness,
        coats=item.coats,
        brush=None if from_pad else brush,
        family=(ink.line, ink.family),
        dry=ink.chemistry.dry_minutes,
        heated=ink.chemistry.heated_minutes,
        seal=ink.chemistry.needs_seal,
        lightness=scene.alone[item.key][0],
        light_first=scene.plan.school_of(item.element) == "light first",
    )


def _clashes(scene: Scene, item: Pass) -> frozenset[str]:
    """Passes through the same openings whose ink left on the sheet would spoil this one."""
    if scene.layer_set.worked_as(item.sheet) in ("die-cut", "free"):
        return frozenset()  # the ink goes onto the piece itself: there is nothing to wash
    lab, kind = scene.alone[item.key], scene.ink(item).chemistry.key
    return frozenset(
        other.key
        for other in scene.plan.passes
        if other.group == item.group
        and other.key != item.key
        and (near_opposite(lab, scene.alone[other.key]) or scene.ink(other).chemistry.key != kind)
    )


def _touching(scene: Scene) -> frozenset[frozenset[str]]:
    passes = scene.plan.passes
    return frozenset(
        frozenset((a.key, b.key))
        for i, a in enumerate(passes)
        for b in passes[:i]
        if shared_area(scene.layer_set, a.group, b.group) >= LEAST_SHARED
    )


def _care(scene: Scene) -> dict[tuple[str, str], Meeting]:
    """What a brush needs between any two passes that may use the same one."""
    passes, size = scene.plan.passes, {p.key: scene.brush(p).key for p in scene.plan.passes}
    return {
        (a.key, b.key): on_brush(scene.ink(a), scene.alone[a.key], scene.ink(b), scene.alone[b.key])
        for a in passes
        for b in passes
        if a.key != b.key and size[a.key] == size[b.key]
    }


def _refuse_circles(scene: Scene, precedences: Sequence[Rule]) -> None:
    """Raise BadValue naming the shortest chain of rules that contradicts itself, if there is one."""
    after: dict[str, list[Rule]] = {}
    needs: dict[str, set[str]] = {}
    for rule in precedences:
        after.setdefault(rule.before, []).append(rule)
        needs.setdefault(rule.after, set()).add(rule.before)
    try:
        TopologicalSorter(needs).prepare()
    except CycleError:
        chains = (_chain_back(after, start) for start in after)
        raise BadValue(_chain_said(scene, min((c for c in chains if c), key=len)), "pins") from None


def _chain_back(after: Mapping[str, Sequence[Rule]], start: str) -> tuple[Rule, ...]:
    """The shortest chain of rules from a pass to itself, empty where there is none."""
    reached: dict[str, tuple[Rule, ...]] = {start: ()}
    queue = deque([start])
    while queue:
        here = queue.popleft()
        for rule in after.get(here, ()):
            if rule.after == start:
                return (*reached[here], rule)
            if rule.after not in reached:
                reached[rule.after] = (*reached[here], rule)
                queue.append(rule.after)
    return ()


def _chain_said(scene: Scene, chain: Sequence[Rule]) -> str:
    def called(key: str) -> str:
        item = scene.plan.find(key)
        return f"{scene.ink(item).name or item.ink} on {item.element}"

    steps = [f"{called(r.before)} must come before {called(r.after)} ({r.reason.rstrip('.')})" for r in chain]
    return f"This order is impossible: {'; and '.join(steps)}."
