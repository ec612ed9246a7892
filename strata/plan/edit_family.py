"""Edits that dress elements: a family of pads over light, mid and deep; a whole line of pads for another."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import shapely

from strata.errors import BadValue
from strata.optics.colour import Lab, chroma, difference
from strata.plan.edits import Values, edit, form_from, ink_name, loosened, names, text, whole
from strata.plan.family import STRENGTHS, Amount, Slot, slots_of, spread
from strata.plan.media import MEDIA
from strata.plan.model import Form, Pass, Plan
from strata.plan.scene import Scene

ON_BODY = 0.6
# share of a line's openings that lie on its element's tones: else it is drawn on the card as well


def dressed(scene: Scene, element: str, amounts: Sequence[tuple[Slot, Amount]], key: str) -> Plan:
    """The plan with an element in these inks, in the place of the inks that it wears; touches and joins go with them."""
    plan = scene.plan
    gone = {p.key for p in plan.of_element(element) if p.medium == "ink"}
    passes = [p for p in plan.passes if p.key not in gone]
    for n, (slot, amount) in enumerate(amounts):
        item = Pass(
            f"{key}{n}",
            element,
            slot.sheet,
            amount.ink,
            coats=amount.coats,
            hand=amount.hand,
            form=slot.form,
        )
        _put(passes, item)
    bare = tuple(b for b in plan.bare if b[0] != element)
    return replace(plan, passes=tuple(passes), bare=bare, things=loosened(plan, gone))


def _put(passes: list[Pass], item: Pass) -> None:
    """After all that lies on its own sheet or one before; what comes last of all comes after it."""
    last = MEDIA[item.medium].last
    before = (
        i + 1 for i, p in enumerate(passes) if last or (p.sheet <= item.sheet and not MEDIA[p.medium].last)
    )
    passes.insert(max(before, default=0), item)


@edit("wear_family")
def wear_family(scene: Scene, values: Values) -> tuple[Plan, str]:
    """A ladder of ``pads`` for each of ``elements``: light, mid and deep by what its openings are for.

    ``strength``: one of STRENGTHS; ``line``: the ink of all lines (left out:
    the deepest pad once more); ``ground``: an ink and its coats beneath all
    tones, for card that is not white. One ``pass`` key begins the keys of all passes.
    """
    wanted, pads, key = names(values, "elements"), names(values, "pads"), text(values, "pass")
    strength = values.get("strength", "even")
    if not isinstance(strength, str) or strength not in STRENGTHS:
        raise BadValue(f"A strength is one of {', '.join(STRENGTHS)}.", "strength")
    if not wanted or not pads or len(pads) > 24:
        raise BadValue("Name the elements, and one to 24 pads.", "pads")
    line = text(values, "line") if values.get("line") else None
    for ink in [*pads, *([line] if line else [])]:
        ink_name(scene, ink)
    for n, element in enumerate(dict.fromkeys(wanted)):
        slots = slots_of(scene, element)
        if not slots:
            raise BadValue(f"“{element}” has nothing to ink.", "elements")
        laid = [
            *_grounds(scene, element, slots, values.get("ground")),
            *spread(scene, slots, pads, strength, line),
        ]
        scene = scene.with_plan(dressed(scene, element, laid, f"{key}{n}-"))
    who = wanted[0] if len(wanted) == 1 else f"{len(wanted)} elements"
    family = scene.inks[pads[0]].family or ink_name(scene, pads[0])
    return scene.plan, f"{family} for {who}"


def _grounds(scene: Scene, element: str, slots: Sequence[Slot], asked: object) -> list[tuple[Slot, Amount]]:
    """A ground through each sheet that tones are laid through, and lines that lie on the bare card."""
    if asked is None:
        return []
    if not isinstance(asked, Mapping):
        raise BadValue("ground must name an ink and its coats.", "ground")
    ink = text(asked, "ink")
    ink_name(scene, ink)
    amount = Amount(ink, asked.get("coats", 1))
    body = shapely.union_all(
        [scene.layer_set.group(element, s.sheet).shape for s in slots if s.role != "line"]
    )
    first: dict[int, Slot] = {}
    for slot in slots:
        shape = scene.layer_set.group(element, slot.sheet).shape
        bare = slot.role != "line" or shape.intersection(body).area < ON_BODY * shape.area
        if bare and slot.sheet not in first:
            first[slot.sheet] = replace(slot, role="ground", form=Form())
    return [(first[sheet], amount) for sheet in sorted(first)]


@edit("swap_line")
def swap_line(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Every pad of a line for the one of another line that does its work: as light, and of the nearest hue.

    ``pads`` (keys): those that may be taken; left out: all.
    """
    line, to = text(values, "line"), text(values, "to")
    only = names(values, "pads")
    pads = [k for k, i in scene.inks.items() if i.line == to and (not only or k in only)]
    if not pads or line == to:
        raise BadValue("There is no pad of that line to take.", "to")
    nearest: dict[str, str] = {}
    for ink in dict.fromkeys(k for p in scene.plan.passes for k in p.stripes):
        if ink in scene.inks and scene.inks[ink].line == line:
            wanted = scene.on_stock(ink)
            nearest[ink] = min(pads, key=lambda k: _unlike(wanted, scene.on_stock(k)))
    if not nearest:
        raise BadValue(f"No pad of {line} is in this colouring.", "line")
    passes = tuple(
        replace(p, ink=nearest.get(p.ink, p.ink), more=tuple(nearest.get(k, k) for k in p.more))
        for p in scene.plan.passes
    )
    return replace(scene.plan, passes=passes), f"{to} in the place of {line}"


def _unlike(wanted: Lab, other: Lab) -> float:
    """How badly a pad does another's work: its place between light and deep counts most, then its hue."""
    muted = (other[0], *(v * max(1.0, chroma(wanted)) / max(1.0, chroma(other)) for v in other[1:]))
    return 1.5 * abs(wanted[0] - other[0]) + difference(wanted, (muted[0], muted[1], muted[2]))


@edit("take_part")
def take_part(scene: Scene, values: Values) -> tuple[Plan, str]:
    """An element as another colouring of the same build has it: its ``passes`` in the place of all that it has here."""
    element, key = text(values, "element"), text(values, "pass")
    asked = values.get("passes")
    if not isinstance(asked, list) or not 1 <= len(asked) <= 40:
        raise BadValue("passes must list 1 to 40 passes of that element.", "passes")
    plan = scene.plan
    gone = {p.key for p in plan.of_element(element)}
    passes = [p for p in plan.passes if p.key not in gone]
    for n, item in enumerate(asked):
        if not isinstance(item, Mapping):
            raise BadValue("Each pass names its ink and its sheet.", "passes")
        made = _taken(scene, element, f"{key}{n}", item)
        _put(passes, made)
    bare = tuple(b for b in plan.bare if b[0] != element)
    return replace(
        plan, passes=tuple(passes), bare=bare, things=loosened(plan, gone)
    ), f"{element} as in another colouring"


def _taken(scene: Scene, element: str, key: str, item: Values) -> Pass:
    ink, sheet = text(item, "ink"), whole(item, "sheet")
    ink_name(scene, ink)
    scene.layer_set.group(element, sheet)
    more, without = item.get("more") or (), item.get("without") or ()
    usual = Pass(key, element, sheet, ink)
    plain = ("coats", "hand", "brush", "medium", "generation", "width")
    return replace(
        usual,
        form=form_from(item.get("form")),
        more=tuple(more) if isinstance(more, list | tuple) else (),
        without=tuple(without) if isinstance(without, list | tuple) else (),
        **{name: item[name] for name in plain if item.get(name) is not None},
    )
