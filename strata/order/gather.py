"""From scenes to work: the passes of one build, or of all that an evening holds, as one instance."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import replace
from itertools import chain

from strata.optics.colour import Lab
from strata.order import times
from strata.order.circles import possible, refuse_circles
from strata.order.evening import Evening
from strata.order.instance import Family, Group, Instance, Piece, Task
from strata.order.meeting import Meeting, near_opposite, on_brush
from strata.order.neighbours import close_neighbours
from strata.order.parting import LIGHT_HAND, Parting, by_hand_is_quicker, parting
from strata.order.precedence import LEAST_SHARED, Rule, precedences_of, shared_area
from strata.order.residues import MEETS, comes_off_damp, meeting_area
from strata.order.table_rules import TableRules
from strata.plan.model import Pass
from strata.plan.scene import Scene
from strata.plan.wishes import OtherWork


def work_of(evening: Evening, rules: TableRules, jobs: Sequence[OtherWork] = ()) -> Instance:
    """The work of an evening, with other work beside.

    Raises BadValue where the rules and pins contradict one another, naming
    the chain; UnknownName for a pin of a pass that is not there.
    """
    precedences = [r for m in range(len(evening.makes)) for r in _precedences(evening, m, rules)]
    refuse_circles(precedences, lambda key: _called(evening, key))
    kinds = {s: _kind(evening, s) for s in sorted({evening.sheet(m, p.sheet) for _, m, p in evening})}
    first = evening.makes[0].scene
    near = _near(evening, rules)
    partings = _partings(evening, rules, near)
    by_hand = {k for k, way in partings.items() if way.way == "hand" and rules.parted_by == "weighed"}
    sizes = {evening.scene(k).brush(p).key for k, _, p in evening}
    return Instance(
        kind=first.layer_set.kind,
        tasks=tuple(_task(evening, key, m, p, i, key in by_hand) for i, (key, m, p) in enumerate(evening)),
        precedences=tuple(precedences),
        masks={
            key: (*own_masks(evening.scene(key), p), *(() if key in by_hand else near[key]))
            for key, _, p in evening
        },
        partings=partings,
        by_hand=frozenset(by_hand),
        clashes={key: _clashes(evening, key, kinds, rules) for key, _, _ in evening},
        thin=frozenset(
            key for key, _, p in evening if rules.damp_wipe and comes_off_damp(evening.scene(key), p)
        ),
        touching=frozenset(chain.from_iterable(_touching(evening, m) for m in range(len(evening.makes)))),
        blocked={s: _blocked(evening, s, rules.blocks(kind)) for s, kind in kinds.items()},
        lifted_clean=frozenset(s for s, k in kinds.items() if k == "stamp set" and rules.lift_cleans),
        care=_care(evening),
        brushes={size: brushes_of(evening, size) for size in sizes},
        place_minutes=max(times.PLACE[m.scene.plan.register] for m in evening.makes),
        pieces=tuple(p for m in range(len(evening.makes)) for p in _pieces(evening, m)),
        rules=rules.for_kinds(kinds.values()),
        jobs=(*(_cuts(evening, partings, by_hand) if rules.parted_by == "weighed" else ()), *jobs),
        cards=evening.cards,
        apart={k: kept for m in range(len(evening.makes)) for k, kept in _kept_apart(evening, m).items()},
        twice=frozenset(evening.sheet(m, n) for m, make in enumerate(evening.makes) for n in make.twice),
    )


def _kept_apart(evening: Evening, m: int) -> dict[str, frozenset[str]]:
    """For each pass, those of its sheet with which it is not done in one seating; raises UnknownName."""
    make = evening.makes[m]
    of = {key: n for n, own in enumerate(make.returns) for key in own}
    sheets = {make.scene.plan.find(key).sheet for key in of}
    mine = [p for p in make.scene.plan.passes if p.sheet in sheets]
    return {
        evening.key(m, p.key): frozenset(
            evening.key(m, q.key) for q in mine if q.sheet == p.sheet and of.get(q.key) != of.get(p.key)
        )
        for p in mine
    }


def stamped_whole(scene: Scene, item: Pass) -> bool:
    """Whether a stamp is inked all over from its pad: no brush, no shading."""
    return scene.layer_set.worked_as(item.sheet) == "stamp set" and item.all_over


def own_masks(scene: Scene, item: Pass) -> tuple[str, ...]:
    """Names of the masks that the maker has on during a pass."""
    return tuple(m.name or m.key for m in scene.masks(item))


def _cuts(evening: Evening, partings: Mapping[str, Parting], by_hand: set[str]) -> list[OtherWork]:
    """Masks that have to be cut to shape, once for all cards and before the first pass that needs them."""
    found: dict[str, OtherWork] = {}
    for key, way in partings.items():
        m, item = evening.passes[key]
        if way.way != "cut" or key in by_hand:
            continue
        name = f"Cut the mask for {item.element}: {way.cut:.0f} mm of outline."
        # makes of one set share its masks as they share its sheets
        own = f"cut:{evening.sheet(m, item.sheet)}:{item.element}"[:110]
        found.setdefault(own, OtherWork(own, name, round(way.cutting, 1), key))
    return list(found.values())


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
    pins = [Rule.pin(a, b) for a, b in make.pins if (find(a), find(b))]
    # what is wished and cannot be is passed over where the plan has moved on under it
    found += possible(found, pins) if make.lenient else pins
    return [replace(r, before=evening.key(m, r.before), after=evening.key(m, r.after)) for r in found]


def _near(evening: Evening, rules: TableRules) -> dict[str, tuple[str, ...]]:
    """For each pass, the neighbours on its sheet that its tool would reach and its ink would show on."""
    found: dict[str, tuple[str, ...]] = {}
    for m, make in enumerate(evening.makes):
        near, laid = close_neighbours(make.scene), make.scene.layer_set
        for p in make.scene.plan.passes:
            kind = laid.worked_as(p.sheet)
            # what is not inked on the rubber is not printed: stamps need no mask
            bare = kind == "stamp set" or p.medium != "ink" or (kind == "die-cut" and not rules.mask_pieces)
            found[evening.key(m, p.key)] = () if bare else near[p.key]
    return found


def _partings(evening: Evening, rules: TableRules, near: Mapping[str, tuple[str, ...]]) -> dict[str, Parting]:
    """How each pass that has close neighbours is parted from them; by hand where that is quicker, or wanted."""
    found: dict[str, Parting] = {}
    groups: dict[tuple[int, Group], list[str]] = defaultdict(list)
    for key, m, p in evening:
        if near[key]:
            groups[m, p.group].append(key)
    for (m, group), keys in groups.items():
        make = evening.makes[m]
        items = [evening.passes[k][1] for k in keys]
        beside = tuple(dict.fromkeys(n for k in keys for n in near[k]))
        reach = max(make.scene.brush(p).spread for p in items)
        way = parting(make.scene.layer_set, group, beside, reach)
        inking = sum(_minutes(make.scene, p) for p in items)
        quicker = by_hand_is_quicker(way, inking, make.cards, rules.masks_stay)
        by_hand = way.way == "hand" or make.by_hand.get(group, quicker)
        if rules.parted_by == "weighed" and by_hand:
            way = replace(way, way="hand")
        found |= dict.fromkeys(keys, way)
    return found


def _minutes(scene: Scene, item: Pass) -> float:
    """Minutes of one pass on one card, with the usual hand."""
    if stamped_whole(scene, item):
        return item.coats * times.PRINT
    area = scene.inked_area(item) * scene.layer_set.sheet(item.sheet).copies
    return times.LOAD + area * item.thickness / scene.brush(item).speed


def _task(evening: Evening, key: str, m: int, item: Pass, place: int, by_hand: bool) -> Task:
    scene = evening.makes[m].scene
    ink, brush, from_pad = scene.ink(item), scene.brush(item), stamped_whole(scene, item)
    area = scene.inked_area(item) * scene.layer_set.sheet(item.sheet).copies
    minutes = _minutes(scene, item) * (LIGHT_HAND if by_hand else 1.0)
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
    """Passes whose ink, left on the sheet where this one is laid, would spoil it."""
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
        and (rules.wash_by == "opening" or meeting_area(evening.scene(other), left, item) >= MEETS)
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
