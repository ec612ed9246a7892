"""Edits of what a pass is besides ink: joins, shadows, lights, prints made again, and its place among all passes."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from strata.errors import BadValue
from strata.plan.edits import Values, edit, ink_name, names, swap, text
from strata.plan.media import MEDIA
from strata.plan.model import Pass, Plan
from strata.plan.scene import Scene

_FIELDS = ("medium", "more", "generation", "width", "without", "ink", "brush", "hand", "coats")
_LISTS = ("more", "without")


@edit("set_pass")
def set_pass(scene: Scene, values: Values) -> tuple[Plan, str]:
    """What a pass is made with: its medium, its further inks, which print of one inking, a width, what it leaves out."""
    item = scene.plan.find(text(values, "pass"))
    changes: dict[str, Any] = {}
    for name in _FIELDS:
        if name not in values:
            continue
        if values[name] is None and name != "brush":
            raise BadValue(f"{name} is missing.", name)
        changes[name] = tuple(names(values, name)) if name in _LISTS else values[name]
    if not changes:
        raise BadValue("There is nothing to change.", "pass")
    medium = changes.get("medium", item.medium)
    bottle = MEDIA[medium].bottle if isinstance(medium, str) and medium in MEDIA else None
    if "medium" in changes and "ink" not in changes and bottle:
        changes["ink"] = bottle
    return swap(scene.plan, item, **changes), f"Work {item.element} otherwise"


@edit("lay_join")
def lay_join(scene: Scene, values: Values) -> tuple[Plan, str]:
    """The ink before, softly, over the border of a pass: right after it."""
    item = scene.plan.find(text(values, "pass"))
    if item.form.kind == "all":
        raise BadValue("It lies all over; there is no border to soften.", "pass")
    before = [p for p in scene.plan.of_element(item.element) if p.group == item.group]
    at = before.index(item)
    if at == 0:
        raise BadValue("There is no ink before it in this place.", "pass")
    soft = 1.5 * scene.blend(item)
    form = replace(item.form, join=True, soft=min(soft, 200.0))
    made = Pass(text(values, "key"), item.element, item.sheet, before[at - 1].ink, hand="light", form=form)
    place = scene.plan.index(item.key) + 1
    passes = (*scene.plan.passes[:place], made, *scene.plan.passes[place:])
    return replace(scene.plan, passes=passes), f"{ink_name(scene, made.ink)} over the join on {item.element}"


@edit("touch_all")
def touch_all(scene: Scene, values: Values) -> tuple[Plan, str]:
    """A marker's shadow or a pen's lights for every element of a thing, one pass each, last of all."""
    medium = text(values, "medium")
    if medium not in MEDIA or not MEDIA[medium].touch:
        raise BadValue("Shadows or lights are proposed for all shapes.", "medium")
    ink, thing, key = text(values, "ink"), text(values, "thing"), text(values, "key")
    name = ink_name(scene, ink)
    width = values.get("width") or (1.0 if medium == "shadow" else 0.5)
    laid = scene.layer_set
    spots: dict[str, tuple[str, int]] = {}
    for element, sheet in laid.groups:
        if laid.origin(sheet).thing == thing:
            spots.setdefault(element, (element, sheet))
    done = {p.group for p in scene.plan.passes if p.medium == medium}
    made = [
        Pass(f"{key}-{i}", *spot, ink, brush="pen", medium=medium, width=width)
        for i, spot in enumerate(spots.values())
        if spot not in done
    ]
    made = [p for p in made if not scene.shape(p).is_empty]
    if not made:
        raise BadValue("There is no shape left to give one to.", "thing")
    word = "A shadow along" if medium == "shadow" else "Lights on"
    passes = (*scene.plan.passes, *made)
    return replace(scene.plan, passes=passes), f"{word} every shape, in {name}"


@edit("place_pass")
def place_pass(scene: Scene, values: Values) -> tuple[Plan, str]:
    """To the bottom or the top of all passes, or right ``before`` or ``after`` another."""
    item = scene.plan.find(text(values, "pass"))
    rest = [p for p in scene.plan.passes if p.key != item.key]
    to = values.get("to")
    if to in ("bottom", "top"):
        at = 0 if to == "bottom" else len(rest)
    else:
        side = "before" if "before" in values else "after"
        at = rest.index(scene.plan.find(text(values, side))) + (side == "after")
    passes = (*rest[:at], item, *rest[at:])
    if passes == scene.plan.passes:
        raise BadValue("It lies there already.", "pass")
    return replace(
        scene.plan, passes=passes
    ), f"{ink_name(scene, item.ink)} on {item.element} elsewhere in the order"
