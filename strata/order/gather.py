"""From scenes to work: the passes of one build, or of all that an evening holds, as one instance.

A make is a build in one colouring on one stock, made so many times. Makes
that use the same set share its sheets: what one leaves on a sheet, the next
one finds there.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import chain

from strata.errors import TooLarge
from strata.optics.colour import Lab
from strata.order import times
from strata.order.circles import refuse_circles
from strata.order.instance import Family, Instance, Piece, Task
from strata.order.meeting import Meeting, near_opposite, on_brush
from strata.order.neighbours import close_neighbours
from strata.order.precedence import LEAST_SHARED, Rule, precedences_of, shared_area
from strata.order.table_rules import TODAY, TableRules
from strata.panel.laid import FREE
from strata.plan.model import Pass
from strata.plan.scene import Scene

MOST_MAKES = 8
MOST_CARDS = 60
# cards of one evening
Pin = tuple[str, str]


@dataclass(frozen=True)
class Make:
    """What is made of one scene: how many cards, and the orders that its maker wants (keys of passes)."""

    scene: Scene
    cards: int = 1
    pins: tuple[Pin, ...] = ()


class Evening:
    """Several makes with their passes and sheets under names that are unique among them.

    With one make all keep their own: the key of a pass is the plan's, the
    number of a sheet the panel's.
    """

    def __init__(self, makes: Sequence[Make]) -> None:
        if len(makes) > MOST_MAKES or sum(m.cards for m in makes) > MOST_CARDS:
            raise TooLarge(f"An evening holds {MOST_MAKES} colourings and {MOST_CARDS} cards.", "cards")
        self.makes = tuple(makes)
        self._sheets: dict[tuple[object, ...], int] = {}
        self._own: dict[tuple[int, int], int] = {}
        for m, make in enumerate(self.makes):
            glued = make.scene.layer_set.glued
            for number in sorted({p.sheet for p in make.scene.plan.passes} | set(glued)):
                self._own[m, self.sheet(m, number)] = number
        self.passes: dict[str, tuple[int, Pass]] = {
            self.key(m, p.key): (m, p) for m, make in enumerate(self.makes) for p in make.scene.plan.passes
        }

    def key(self, make: int, own: str) -> str:
        """The key of a pass among all makes."""
        return own if len(self.makes) == 1 else f"{make + 1}/{own}"

    def sheet(self, make: int, number: int) -> int:
        """The number of a sheet among all makes: the same plastic has the same one."""
        if len(self.makes) == 1 or number == FREE:
            return number
        known = self._plastic(make, number)
        return self._sheets.setdefault(known, len(self._sheets) + 1)

    def _plastic(self, make: int, number: int) -> tuple[object, ...]:
        laid = self.makes[make].scene.layer_set
        origin, seat = laid.origin(number), laid.sheet(number).seat
        source = laid.sources.get(origin.thing)
        # a greeting or a piece is the same only where the whole panel is laid alike
        return (id(source if source is not None else laid), origin.own, source is None and number, seat)

    def own_sheet(self, make: int, sheet: int) -> int:
        """The number that a sheet has on the panel of a make."""
        return self._own[make, sheet]

    def scene(self, key: str) -> Scene:
        """The scene that a pass belongs to."""
        return self.makes[self.passes[key][0]].scene

    def __iter__(self) -> Iterator[tuple[str, int, Pass]]:
        return ((key, m, p) for key, (m, p) in self.passes.items())


def instance_of(
    scene: Scene, pins: Sequence[Pin] = (), cards: int = 1, rules: TableRules = TODAY
) -> Instance:
    """The work of one plan. ``pins``: (before, after) keys that a maker wants in this order.

    Raises BadValue where the rules and pins contradict one another, naming
    the chain; UnknownName for a pin of a pass that is not there.
    """
    return work_of(Evening([Make(scene, cards, tuple(pins))]), rules)


def work_of(evening: Evening, rules: TableRules) -> Instance:
    """The work of an evening; raises as ``instance_of``."""
    precedences = [r for m in range(len(evening.makes)) for r in _precedences(evening, m, rules)]
    refuse_circles(precedences, lambda key: _called(evening, key))
    kinds = {s: _kind(evening, s) for s in sorted({evening.sheet(m, p.sheet) for _, m, p in evening})}
    first = evening.makes[0].scene
    sizes = {evening.scene(k).brush(p).key for k, _, p in evening}
    return Instance(
        kind=first.layer_set.kind,
        tasks=tuple(_task(evening, key, m, p, i) for i, (key, m, p) in enumerate(evening)),
        precedences=tuple(precedences),
        masks=_masks(evening, rules),
        clashes={key: _clashes(evening, key, kinds, rules) for key, _, _ in evening},
        touching=frozenset(chain.from_iterable(_touching(evening, m) for m in range(len(evening.makes)))),
        blocked={s: _blocked(evening, s, rules.blocks(kind)) for s, kind in kinds.items()},
        lifted_clean=frozenset(s for s, k in kinds.items() if k == "stamp set" and rules.lift_cleans),
        care=_care(evening),
        brushes={size: brushes_of(evening, size) for size in sizes},
        place_minutes=max(times.PLACE[m.scene.plan.register] for m in evening.makes),
        pieces=tuple(p for m in range(len(evening.makes)) for p in _pieces(evening, m)),
        rules=rules.for_kinds(kinds.values()),
        cards=tuple(m for m, make in enumerate(evening.makes) for _ in range(make.cards)),
    )


def stamped_whole(scene: Scene, item: Pass) -> bool:
    """Whether a stamp is inked all over from its pad: no brush, no shading."""
    return scene.layer_set.worked_as(item.sheet) == "stamp set" and item.all_over


def own_masks(scene: Scene, item: Pass) -> tuple[str, ...]:
    """Names of the masks that the maker has on during a pass."""
    return tuple(m.name or m.key for m in scene.masks(item))


def brushes_of(evening: Evening, size: str) -> tuple[Family | None, ...]:
    """The brushes of a size: what each is kept for, kept ones first.

    Where all are kept for families that do not come, one of them has to serve.
    """
    tools = evening.makes[0].scene.tools
    own: list[Family | None] = [f for f, n in tools.kept(size).items() for _ in range(n)]
    own += [None] * max(0, tools.count(size) - len(own))
    inks = [evening.scene(k).ink(p) for k, _, p in evening if evening.scene(k).brush(p).key == size]
    if None not in own and any((i.line, i.family) not in own for i in inks):
        own[-1] = None
    return tuple(own)


def _called(evening: Evening, key: str) -> str:
    _, item = evening.passes[key]
    return f"{evening.scene(key).ink(item).name or item.ink} on {item.element}"


def _kind(evening: Evening, sheet: int) -> str:
    m, item = next((m, p) for _, m, p in evening if evening.sheet(m, p.sheet) == sheet)
    return evening.makes[m].scene.layer_set.worked_as(item.sheet)


def _precedences(evening: Evening, m: int, rules: TableRules) -> list[Rule]:
    make = evening.makes[m]
    find = make.scene.plan.find
    found = [
        r
        for r in precedences_of(make.scene)
        if rules.pieces_ordered or not _apart(make.scene, find(r.before), find(r.after))
    ]
    for before, after in make.pins:
        if make.scene.plan.find(before) and make.scene.plan.find(after):
            found.append(Rule(before, after, "You want it so."))
    return [replace(r, before=evening.key(m, r.before), after=evening.key(m, r.after)) for r in found]


def _masks(evening: Evening, rules: TableRules) -> dict[str, tuple[str, ...]]:
    """What is covered at each pass: by the maker's own masks, and neighbours that the tool would reach."""
    found: dict[str, tuple[str, ...]] = {}
    for m, make in enumerate(evening.makes):
        near, laid = close_neighbours(make.scene), make.scene.layer_set
        for p in make.scene.plan.passes:
            kind = laid.worked_as(p.sheet)
            # what is not inked on the rubber is not printed: stamps need no mask
            bare = kind == "stamp set" or p.medium != "ink" or (kind == "die-cut" and not rules.mask_pieces)
            found[evening.key(m, p.key)] = (*own_masks(make.scene, p), *(() if bare else near[p.key]))
    return found


def _task(evening: Evening, key: str, m: int, item: Pass, place: int) -> Task:
    scene = evening.makes[m].scene
    ink, brush, from_pad = scene.ink(item), scene.brush(item), stamped_whole(scene, item)
    area = scene.inked_area(item) * scene.layer_set.sheet(item.sheet).copies
    minutes = item.coats * times.PRINT if from_pad else times.LOAD + area * item.thickness / brush.speed
    return Task(
        key=key,
        element=item.element,
        sheet=evening.sheet(m, item.sheet),
        ink=item.ink,
        place=place,
        minutes=round(minutes, 3),
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
        make=m,
    )


def _lab(evening: Evening, key: str) -> Lab:
    return evening.scene(key).alone[evening.passes[key][1].key]


def _clashes(evening: Evening, key: str, kinds: Mapping[int, str], rules: TableRules) -> frozenset[str]:
    """Passes through the same openings whose ink left on the sheet would spoil this one."""
    m, item = evening.passes[key]
    sheet = evening.sheet(m, item.sheet)
    if kinds[sheet] in ("die-cut", "free"):
        return frozenset()  # the ink goes onto the piece itself: there is nothing to wash
    lab, kind = _lab(evening, key), evening.scene(key).ink(item).chemistry.key
    return frozenset(
        other
        for other, n, left in evening
        if (left.element, evening.sheet(n, left.sheet)) == (item.element, sheet)
        and other != key
        and (near_opposite(lab, _lab(evening, other)) or evening.scene(other).ink(left).chemistry.key != kind)
    )


def _touching(evening: Evening, m: int) -> list[frozenset[str]]:
    scene = evening.makes[m].scene
    passes = scene.plan.passes
    return [
        frozenset((evening.key(m, a.key), evening.key(m, b.key)))
        for i, a in enumerate(passes)
        for b in passes[:i]
        if not _apart(scene, a, b) and shared_area(scene.layer_set, a.group, b.group) >= LEAST_SHARED
    ]


def _apart(scene: Scene, one: Pass, two: Pass) -> bool:
    """Whether two passes are done on pieces that lie apart on the table, whatever lies over what in the end."""
    return one.sheet != two.sheet and all(scene.layer_set.worked_as(p.sheet) == "die-cut" for p in (one, two))


def _blocked(evening: Evening, sheet: int, way: str) -> frozenset[str]:
    """Passes that, while they are wet, forbid to seat a sheet on their card."""
    if way == "panel":
        return frozenset(key for key, _, _ in evening)
    found = set()
    for key, m, item in evening:
        own = {p.group for k, n, p in evening if n == m and evening.sheet(n, p.sheet) == sheet}
        laid = evening.makes[m].scene.layer_set
        meets = evening.sheet(m, item.sheet) == sheet if way == "piece" else False
        if way == "touching":
            meets = any(shared_area(laid, item.group, g) >= LEAST_SHARED for g in own)
        if meets:
            found.add(key)
    return frozenset(found)


def _care(evening: Evening) -> dict[tuple[str, str], Meeting]:
    """What a brush needs between any two passes that may use the same one."""
    known = [
        (key, evening.scene(key).brush(p).key, evening.scene(key).ink(p), _lab(evening, key))
        for key, _, p in evening
    ]
    return {
        (a, b): on_brush(first, first_lab, second, second_lab)
        for a, size, first, first_lab in known
        for b, other, second, second_lab in known
        if a != b and size == other
    }


def _pieces(evening: Evening, m: int) -> list[Piece]:
    scene = evening.makes[m].scene
    laid = scene.layer_set
    used = sorted({p.sheet for p in scene.plan.passes})
    apart = [
        n
        for n in used
        if not laid.origin(n).surface and (laid.worked_as(n) == "die-cut" or laid.sheet(n).loose)
    ]
    return [Piece(evening.sheet(m, n), laid.sheet(n).copies, m) for n in (*apart, *laid.glued)]
