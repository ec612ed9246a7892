"""Edits that lay several passes at once: another pad in the place of one, a recipe on an element."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from strata.errors import BadValue
from strata.plan.edits import Values, edit, ink_name, swap, text, whole
from strata.plan.model import Form, Pass, Plan
from strata.plan.scene import Scene


@edit("replace_ink")
def replace_ink(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Another ink in the place of one, in some passes or all: ``amounts`` gives coats and hand by pass."""
    ink, to = text(values, "ink"), text(values, "to")
    amounts = values.get("amounts")
    if not isinstance(amounts, Mapping) or not amounts:
        raise BadValue("amounts must give coats and a hand for each pass.", "amounts")
    plan = scene.plan
    for key, amount in amounts.items():
        item = plan.find(key)
        if item.ink != ink:
            raise BadValue("That pass has another ink by now; look again.", "amounts")
        if not isinstance(amount, Mapping):
            raise BadValue("amounts must give coats and a hand for each pass.", "amounts")
        plan = swap(plan, item, ink=to, coats=amount.get("coats", 1), hand=amount.get("hand", "medium"))
    return plan, f"{ink_name(scene, to)} for {ink_name(scene, ink)}"


@edit("lay_recipe")
def lay_recipe(scene: Scene, values: Values) -> tuple[Plan, str]:
    """A recipe's passes on an element's openings of one sheet, one after another.

    In the place of ``instead`` (a pass) where that is given, else at the end of
    what lies on that sheet.
    """
    element, sheet = text(values, "element"), whole(values, "sheet")
    scene.layer_set.group(element, sheet)
    asked = values.get("passes")
    if not isinstance(asked, Sequence) or isinstance(asked, str) or not 1 <= len(asked) <= 6:
        raise BadValue("A recipe has 1 to 6 passes.", "passes")
    passes = list(scene.plan.passes)
    form, place = Form(), max((i + 1 for i, p in enumerate(passes) if p.sheet <= sheet), default=0)
    if values.get("instead") is not None:
        old = scene.plan.find(text(values, "instead"))
        if old.group != (element, sheet):
            raise BadValue("That pass lies on other openings.", "instead")
        form, place = old.form, passes.index(old)
        passes.remove(old)
    laid: list[Pass] = []
    for item in asked:
        if not isinstance(item, Mapping):
            raise BadValue("Each pass of a recipe names its ink and its coats.", "passes")
        ink, key = text(item, "ink"), text(item, "pass")
        ink_name(scene, ink)
        laid.append(Pass(key, element, sheet, ink, coats=item.get("coats", 1), form=form))
    passes[place:place] = laid
    bare = tuple(b for b in scene.plan.bare if tuple(b) != (element, sheet))
    names = " + ".join(ink_name(scene, p.ink) for p in laid)
    return replace(scene.plan, passes=tuple(passes), bare=bare), f"{names} on {element}"
