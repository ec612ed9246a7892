"""Ladders: each pass's ink alone, its colour here, and the step from the one below.

What lies beneath a pass is read off the same coverage fields that make the
picture, so that the numbers and the picture cannot disagree.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from strata.optics.colour import Lab, difference
from strata.optics.margin import margin
from strata.optics.stack import Coat
from strata.order.steps import Sequence
from strata.plan.family import LINE_SHARE, LINE_WIDTH
from strata.plan.model import Pass
from strata.plan.scene import Scene
from strata.tones.ground import Ground, Place

GROUND_DEPTH = 15.0
# 100 - L* of its swatch; only near-whites serve as a ground
_TOUCHES = {"shadow": "line", "lights": "light", "ink": "join", "lift": "highlight"}
# roles of what is not ink from a pad; "ink" here is a join over a border


@dataclass(frozen=True)
class Rung:
    """One pass on the ladder of its element.

    ``change`` is CIEDE2000 from what lies under it to the colour here, which
    lies within about ``margin`` of the true one;
    ``step`` is the same, None for the element's first pass, which has no tone
    below it. ``lightness_step`` is that step in L*.
    """

    pass_key: str
    role: str
    alone: Lab
    before: Lab
    here: Lab
    change: float
    step: float | None
    lightness_step: float | None
    places: tuple[Place, ...]
    wet: bool
    margin: float = 0.0


def ladders(scene: Scene, sequence: Sequence, ground: Ground | None = None) -> Mapping[str, tuple[Rung, ...]]:
    """The ladder of every element that has passes, bottom first, by element name; on its ``ground``, where that is known."""
    ground = ground or Ground.of(scene, sequence.wet)
    places = {p.key: ground.places(p) for p in scene.plan.passes}
    result: dict[str, tuple[Rung, ...]] = {}
    for element in scene.layer_set.elements:
        passes = list(scene.plan.of_element(element))
        if passes:
            result[element] = _climb(scene, sequence, passes, places)
    return result


def _climb(
    scene: Scene, sequence: Sequence, passes: list[Pass], places: dict[str, tuple[Place, ...]]
) -> tuple[Rung, ...]:
    roles = propose_roles(scene, passes)
    rungs: list[Rung] = []
    for item in passes:
        main = places[item.key][0]
        first = not rungs
        rungs.append(
            Rung(
                pass_key=item.key,
                role=roles[item.key],
                alone=scene.alone[item.key],
                before=main.before,
                here=main.here,
                change=difference(main.before, main.here),
                step=None if first else difference(main.before, main.here),
                lightness_step=None if first else main.here[0] - main.before[0],
                places=places[item.key],
                wet=item.key in sequence.wet,
                margin=_margin(scene, item, main, item.key in sequence.wet),
            )
        )
    return tuple(rungs)


def main_rung(climb: Iterable[Rung]) -> Rung:
    """The pass that an element is seen by: its last one that is neither line nor small accent, on most of its area."""
    every = list(climb)
    return ([r for r in every if r.role not in ("line", "accent", "join", "highlight")] or every)[-1]


def _margin(scene: Scene, item: Pass, place: Place, wet: bool) -> float:
    under = [u.coat(scene.ink(scene.plan.find(u.pass_key))) for u in place.under]
    return margin(scene.ground(item), [*under, Coat(scene.ink(item), scene.thickness(item), wet)])


def propose_roles(scene: Scene, passes: list[Pass]) -> dict[str, str]:
    """What each ink does on an element: ground, highlight, midtone, shadow, accent or line."""
    roles: dict[str, str] = {}
    tones = []
    whole = max(scene.group(p).area for p in passes)
    for item in passes:
        ink, group = scene.ink(item), scene.group(item)
        if item.medium != "ink" or item.form.join:
            roles[item.key] = _TOUCHES.get(item.medium, "accent")
            continue
        pale = scene.depth(item.ink) < GROUND_DEPTH and ink.chemistry.opaque
        if pale and scene.ground(item).lab[0] < 70:
            roles[item.key] = "ground"
        elif group.typical_width < LINE_WIDTH and group.area < LINE_SHARE * whole:
            roles[item.key] = "line"
        else:
            tones.append(item)
    tones.sort(key=lambda p: -scene.alone[p.key][0])
    for i, item in enumerate(tones):
        if len(tones) == 1:
            roles[item.key] = "midtone"
        elif i == 0:
            roles[item.key] = "highlight"
        elif i == len(tones) - 1:
            roles[item.key] = "accent" if scene.group(item).area < 0.15 * whole else "shadow"
        else:
            roles[item.key] = "midtone"
    return roles
