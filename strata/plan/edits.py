"""Every change a maker can make to a plan, as data: a kind, a label, a function of plan and values.

An edit never changes a plan in place; undo is going back to the plan before.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import asdict, fields, replace
from types import MappingProxyType
from typing import Any

from strata.errors import BadValue, UnknownName
from strata.panel.things import Thing
from strata.plan.media import BOTTLES, MEDIA
from strata.plan.model import MOST_COATS_A_PASS, MOST_PASSES, Form, Pass, Plan
from strata.plan.scene import Scene

Values = Mapping[str, Any]
Edit = Callable[[Scene, Values], tuple[Plan, str]]
EDITS: dict[str, Edit] = {}


def edit(kind: str) -> Callable[[Edit], Edit]:
    """Register an edit under its kind."""

    def keep(function: Edit) -> Edit:
        EDITS[kind] = function
        return function

    return keep


def apply(scene: Scene, kind: str, values: Values) -> tuple[Plan, str]:
    """The plan after an edit, and the edit in a maker's words. Raises a StrataError."""
    if kind not in EDITS:
        raise BadValue(f"“{kind}” is not a change that can be made.", "kind")
    plan, label = EDITS[kind](scene, values)
    scene.with_plan(plan)  # refuses a plan that points at something missing
    return plan, label


def text(values: Values, name: str) -> str:
    value = values.get(name)
    if not isinstance(value, str) or not value or len(value) > 200:
        raise BadValue(f"{name} is missing.", name)
    return value


def whole(values: Values, name: str) -> int:
    value = values.get(name)
    if isinstance(value, bool) or not isinstance(value, int):
        raise BadValue(f"{name} must be a whole number.", name)
    return value


def names(values: Values, name: str) -> list[str]:
    """A list of names among an edit's values, empty where it is not given; raises BadValue."""
    value = values.get(name) or []
    if not isinstance(value, list) or not all(isinstance(v, str) for v in value):
        raise BadValue(f"{name} must be a list of names.", name)
    return value


def swap(plan: Plan, item: Pass, **changes: Any) -> Plan:
    changed = replace(item, **changes)
    return replace(plan, passes=tuple(changed if p.key == item.key else p for p in plan.passes))


def ink_name(scene: Scene, key: str) -> str:
    if key not in scene.inks and key not in BOTTLES:
        raise UnknownName("That ink is not in the drawer.", "ink")
    return scene.ink_of(key).name or key


def form_from(value: Any) -> Form:
    """A form from JSON values; raises BadValue."""
    if value is None:
        return Form()
    if not isinstance(value, Mapping) or not set(value) <= {f.name for f in fields(Form)}:
        raise BadValue("form must be a shading form.", "form")
    return Form(**value)


@edit("add_pass")
def add_pass(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Give an ink to an element's openings on one sheet, where the sheet and the school put it."""
    medium = text(values, "medium") if values.get("medium") else "ink"
    bottle = MEDIA[medium].bottle if medium in MEDIA else None
    ink = text(values, "ink") if values.get("ink") or bottle is None else bottle
    name = ink_name(scene, ink)
    item = Pass(
        key=text(values, "pass"),
        element=text(values, "element"),
        sheet=whole(values, "sheet"),
        ink=ink,
        coats=values.get("coats", 1),
        hand=values.get("hand", "medium"),
        form=form_from(values.get("form")),
        brush=values.get("brush"),
        medium=medium,
        more=tuple(names(values, "more")),
        generation=values.get("generation") or 1,
        width=values.get("width") or 1.0,
    )
    scene.layer_set.group(item.element, item.sheet)
    at = values.get("at")
    place = (
        _natural_place(scene, item)
        if at is None
        else max(0, min(whole(values, "at"), len(scene.plan.passes)))
    )
    passes = (*scene.plan.passes[:place], item, *scene.plan.passes[place:])
    bare = tuple(b for b in scene.plan.bare if tuple(b) != item.group)
    return replace(scene.plan, passes=passes, bare=bare), f"Give {name} to {item.element}"


def _natural_place(scene: Scene, item: Pass) -> int:
    """After all passes of earlier sheets; within a sheet, by the element's school; touches last of all."""
    if MEDIA[item.medium].last:
        return len(scene.plan.passes)
    light_first = scene.plan.school_of(item.element) == "light first"
    place = 0
    for i, other in enumerate(scene.plan.passes):
        if other.group == item.group:
            other_is_deeper = scene.depth(other.ink) > scene.depth(item.ink)
            if other_is_deeper == light_first:
                break
            place = i + 1
        elif other.sheet <= item.sheet:
            place = i + 1
    return place


def loosened(plan: Plan, gone: set[str]) -> tuple[Thing, ...]:
    """The things once passes are taken away: a mask that was on from or to one of them moves to the next that stays."""
    keys = [p.key for p in plan.passes]

    def stays(way: range) -> str:
        return next((keys[i] for i in way if keys[i] not in gone), "")

    def one(thing: Thing) -> Thing:
        wear = thing.wear
        if wear is None or not gone & {wear.since, wear.until}:
            return thing
        since, until = wear.since, wear.until
        if since in gone:
            since = stays(range(keys.index(since), len(keys)))
        if until in gone:
            until = stays(range(keys.index(until), -1, -1))
        off = bool((wear.since and not since) or (wear.until and not until))
        if since and until and keys.index(since) > keys.index(until):
            since, until, off = "", "", True
        return replace(thing, wear=replace(wear, since=since, until=until, off=wear.off or off))

    return tuple(one(t) for t in plan.things)


@edit("remove_pass")
def remove_pass(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Take a pass away."""
    item = scene.plan.find(text(values, "pass"))
    passes = tuple(p for p in scene.plan.passes if p.key != item.key)
    name = ink_name(scene, item.ink)
    plan = replace(scene.plan, passes=passes, things=loosened(scene.plan, {item.key}))
    return plan, f"Take {name} off {item.element}"


@edit("set_ink")
def set_ink(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Swap the ink of a pass."""
    item = scene.plan.find(text(values, "pass"))
    ink = text(values, "ink")
    return swap(scene.plan, item, ink=ink), f"Swap to {ink_name(scene, ink)} on {item.element}"


def _along_family(scene: Scene, values: Values, step: int, word: str) -> tuple[Plan, str]:
    item = scene.plan.find(text(values, "pass"))
    kin = scene.family(item.ink)
    at = kin.index(item.ink) + step
    if not 0 <= at < len(kin):
        end = "deepest" if step > 0 else "lightest"
        raise BadValue(f"{ink_name(scene, item.ink)} is the {end} of its family.", "pass")
    plan = swap(scene.plan, item, ink=kin[at])
    return plan, f"{word} {item.element} to {ink_name(scene, kin[at])}"


@edit("deepen")
def deepen(scene: Scene, values: Values) -> tuple[Plan, str]:
    """The next deeper ink of the family."""
    return _along_family(scene, values, 1, "Deepen")


@edit("lighten")
def lighten(scene: Scene, values: Values) -> tuple[Plan, str]:
    """The next lighter ink of the family."""
    return _along_family(scene, values, -1, "Lighten")


@edit("set_coats")
def set_coats(scene: Scene, values: Values) -> tuple[Plan, str]:
    """How many coats a pass takes."""
    item = scene.plan.find(text(values, "pass"))
    coats = whole(values, "coats")
    word = "coat" if coats == 1 else "coats"
    return swap(scene.plan, item, coats=coats), f"{coats} {word} of {ink_name(scene, item.ink)}"


@edit("add_coats")
def add_coats(scene: Scene, values: Values) -> tuple[Plan, str]:
    """More coats or fewer, by so many: quick presses add up."""
    item = scene.plan.find(text(values, "pass"))
    by = whole(values, "by")
    coats = item.coats + by
    if by == 0 or abs(by) > MOST_COATS_A_PASS:
        raise BadValue("by must be a few coats more or fewer.", "by")
    label = f"{'More' if by > 0 else 'Fewer'} coats of {ink_name(scene, item.ink)}"
    return swap(scene.plan, item, coats=coats), label


@edit("set_hand")
def set_hand(scene: Scene, values: Values) -> tuple[Plan, str]:
    """A light, medium or heavy hand."""
    item = scene.plan.find(text(values, "pass"))
    hand = text(values, "hand")
    return swap(scene.plan, item, hand=hand), f"A {hand} hand on {item.element}"


@edit("set_form")
def set_form(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Where in the openings the ink goes; what is not named stays as it is."""
    item = scene.plan.find(text(values, "pass"))
    named = values.get("form")
    form_from(named)
    form = form_from({**asdict(item.form), **(named or {})})
    return swap(scene.plan, item, form=form), f"Shade {item.element}"


@edit("set_brush")
def set_brush(scene: Scene, values: Values) -> tuple[Plan, str]:
    """The brush of a pass; none lets the openings decide."""
    item = scene.plan.find(text(values, "pass"))
    chosen = None if values.get("brush") is None else text(values, "brush")
    return swap(scene.plan, item, brush=chosen), f"Brush for {item.element}"


@edit("move_pass")
def move_pass(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Move a pass above or below its neighbour in the element's core sample (by +1 or -1)."""
    item = scene.plan.find(text(values, "pass"))
    step = whole(values, "by")
    if not 1 <= abs(step) <= MOST_PASSES:
        raise BadValue("A pass moves up or down by a few places.", "by")
    kin = list(scene.plan.of_element(item.element))
    at = kin.index(item)
    to = max(0, min(len(kin) - 1, at + step))
    word = "up" if step > 0 else "down"
    if to == at:
        raise BadValue(f"{ink_name(scene, item.ink)} cannot move further {word} here.", "pass")
    passes = [p for p in scene.plan.passes if p.key != item.key]
    place = passes.index(kin[to]) + (1 if to > at else 0)
    passes.insert(place, item)
    label = f"Move {ink_name(scene, item.ink)} {word} on {item.element}"
    return replace(scene.plan, passes=tuple(passes)), label


@edit("set_school")
def set_school(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Arrange an element's shades light first or deep first (sheets keep their order)."""
    element, school = text(values, "element"), text(values, "school")
    schools = MappingProxyType({**scene.plan.schools, element: school})
    plan = replace(scene.plan, schools=schools)
    sign = 1 if school == "light first" else -1
    kin = sorted(plan.of_element(element), key=lambda p: (p.sheet, sign * scene.depth(p.ink)))
    if not kin:
        raise UnknownName(f"“{element}” has no pass to arrange.", "element")
    rest = iter(kin)
    passes = tuple(next(rest) if p.element == element else p for p in plan.passes)
    return replace(plan, passes=passes), f"{element}: {school}"


@edit("leave_bare")
def leave_bare(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Say that openings stay bare card on purpose."""
    element, sheet = text(values, "element"), whole(values, "sheet")
    scene.layer_set.group(element, sheet)
    bare = tuple(dict.fromkeys([*scene.plan.bare, (element, sheet)]))
    return replace(scene.plan, bare=bare), f"Leave {element} on sheet {sheet} bare"


def _of(plan: Plan, **materials: Any) -> Plan:
    """The plan on other materials."""
    return replace(plan, materials=replace(plan.materials, **materials))


@edit("set_stock")
def set_stock(scene: Scene, values: Values) -> tuple[Plan, str]:
    """The card the panel is cut from."""
    stock = text(values, "stock")
    if stock not in scene.stocks:
        raise UnknownName("That card is not in the house.", "stock")
    return _of(scene.plan, stock=stock), f"On {scene.stocks[stock].name}"


@edit("set_register")
def set_register(scene: Scene, values: Values) -> tuple[Plan, str]:
    """How the sheets are aligned."""
    register = text(values, "register")
    return _of(scene.plan, register=register), "Change how sheets are aligned"


@edit("set_cards")
def set_cards(scene: Scene, values: Values) -> tuple[Plan, str]:
    """How many cards the build is for."""
    cards = whole(values, "cards")
    return _of(scene.plan, cards=cards), f"{cards} card{'s' if cards != 1 else ''}"
