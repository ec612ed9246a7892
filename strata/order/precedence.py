"""Precedence: which pass must come before which, and why."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from strata.order.wording import named
from strata.panel import Laid
from strata.plan.media import MEDIA
from strata.plan.model import Pass
from strata.plan.scene import Scene
from strata.sheets.nouns import NOUNS

LEAST_SHARED = 0.5
# mm2 shared before one group counts as lying over another


@dataclass(frozen=True)
class Rule:
    """``before`` must be finished before ``after`` starts; ``dry`` when it must be dry as well.

    ``wished``: no rule of the craft, but an order that the maker wants.
    """

    before: str
    after: str
    reason: str
    dry: bool = False
    wished: bool = False

    @classmethod
    def pin(cls, before: str, after: str) -> Rule:
        """What a maker wants."""
        return cls(before, after, "You want it so.", wished=True)


@lru_cache(maxsize=32)
def _shared(layer_set: Laid) -> dict[frozenset[tuple[str, int]], float]:
    return {frozenset(pair): area for pair, area in layer_set.shared.items()}


def shared_area(layer_set: Laid, first: tuple[str, int], second: tuple[str, int]) -> float:
    """mm2 that two groups share on the panel; all of it for one and the same group."""
    if first == second:
        return layer_set.groups[first].area
    return _shared(layer_set).get(frozenset((first, second)), 0.0)


def precedences_of(scene: Scene) -> list[Rule]:
    """Every precedence of a plan: passes that touch keep the order of the core samples."""
    passes = scene.plan.passes
    return [
        _rule(scene, earlier, later)
        for j, later in enumerate(passes)
        for earlier in passes[:j]
        if shared_area(scene.layer_set, earlier.group, later.group) >= LEAST_SHARED
    ]


def _rule(scene: Scene, earlier: Pass, later: Pass) -> Rule:
    first, second = scene.ink(earlier), scene.ink(later)
    on_pigment = first.chemistry.opaque and not second.chemistry.opaque
    medium = MEDIA[later.medium]
    if medium.after:
        return Rule(earlier.key, later.key, medium.after, medium.last)
    if earlier.group == later.group:
        return Rule(earlier.key, later.key, _shade_reason(scene, earlier, later), on_pigment)
    under = (
        earlier.element if earlier.element != later.element else f"its tone on {named(scene, earlier.sheet)}"
    )
    if first.chemistry.key == "pigment" and scene.ground(later).lab[0] < 45:
        reason = f"The ground of {first.name} must lie under the colour on dark card."
    elif earlier.element == later.element:
        reason = f"Its {_shapes(scene, later.sheet)} on {named(scene, later.sheet)} lie over {under}."
    else:
        reason = f"Its {_shapes(scene, later.sheet)} on {named(scene, later.sheet)} lie over the {under}."
    return Rule(earlier.key, later.key, reason, on_pigment)


def _shapes(scene: Scene, sheet: int) -> str:
    return NOUNS[scene.layer_set.worked_as(sheet)].shapes


def _shade_reason(scene: Scene, earlier: Pass, later: Pass) -> str:
    first, second = scene.ink(earlier), scene.ink(later)
    deeper = scene.depth(later.ink) > scene.depth(earlier.ink)
    school = scene.plan.school_of(later.element)
    if deeper and school == "light first":
        return f"Light first: {first.name} goes down before the deeper {second.name}, which covers the join."
    if not deeper and school == "deep first":
        return f"Deep first: {second.name} works back over {first.name} and softens its edge."
    return f"{second.name} goes over {first.name}, as in your core sample."
