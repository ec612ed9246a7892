"""Edits about other edits and about warnings: several in one step, a warning left alone."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from strata.errors import BadValue
from strata.plan.edits import EDITS, Values, edit
from strata.plan.model import Plan
from strata.plan.scene import Scene

MOST_AT_ONCE = 40
_LONGEST = 600
# characters of a finding's key


@edit("several")
def several(scene: Scene, values: Values) -> tuple[Plan, str]:
    """Several edits, one after another, as one step to undo; the last one's words, and how many there were."""
    asked = values.get("edits")
    if not isinstance(asked, list) or not 1 <= len(asked) <= MOST_AT_ONCE:
        raise BadValue(f"edits must list 1 to {MOST_AT_ONCE} changes.", "edits")
    plan, label = scene.plan, ""
    for item in asked:
        if not isinstance(item, Mapping) or not isinstance(item.get("values"), Mapping):
            raise BadValue("Each of several changes has a kind and its values.", "edits")
        kind = item.get("kind")
        if kind == "several" or not isinstance(kind, str) or kind not in EDITS:
            raise BadValue(f"“{kind}” is not a change that can be made.", "edits")
        plan, label = EDITS[kind](scene.with_plan(plan), item["values"])
    more = f" and {len(asked) - 1} more" if len(asked) > 1 else ""
    return plan, f"{label}{more}"


def _finding(values: Values) -> str:
    key = values.get("finding")
    if not isinstance(key, str) or key.count("|") < 4 or len(key) > _LONGEST:
        raise BadValue("finding must be the key of a warning.", "finding")
    return key


@edit("leave_finding")
def leave_finding(scene: Scene, values: Values) -> tuple[Plan, str]:
    """I know, leave it: the warning is folded away until it is looked at again."""
    key = _finding(values)
    left = tuple(dict.fromkeys([*scene.plan.left, key]))
    return replace(scene.plan, left=left), "Leave a warning as it is"


@edit("look_again")
def look_again(scene: Scene, values: Values) -> tuple[Plan, str]:
    """A warning that was left is shown again."""
    key = _finding(values)
    return replace(scene.plan, left=tuple(k for k in scene.plan.left if k != key)), "Look at a warning again"
