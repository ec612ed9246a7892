"""Edits of how the panel becomes a card."""

from __future__ import annotations

from dataclasses import replace

from strata.plan.edits import Values, edit
from strata.plan.finish import Finish, read_finish
from strata.plan.model import Plan
from strata.plan.scene import Scene

FOLDED = {"side": "folded at the side", "top": "folded at the top", "none": "not folded"}


@edit("set_finish")
def set_finish(scene: Scene, values: Values) -> tuple[Plan, str]:
    """All of it at once; without ``finish`` it is left open again."""
    if "finish" not in values:
        return replace(scene.plan, finish=None), "The finish is left open"
    finish = read_finish(values["finish"])
    return replace(scene.plan, finish=finish), _said(scene.plan.finish, finish)


def _said(before: Finish | None, now: Finish) -> str:
    if before is None or (before.width, before.height, before.fold) != (now.width, now.height, now.fold):
        return f"A card {FOLDED[now.fold]}"
    if before.mats != now.mats:
        count = len(now.mats)
        return {0: "No mat", 1: "One mat"}.get(count, f"{count} mats")
    if before.strips != now.strips:
        return "Strips for words"
    return "Another finish"
