"""Which elements of a sheet lie so near one another that a brush reaches both."""

from __future__ import annotations

import math
from collections import defaultdict

from strata.order.meeting import alike_to_the_eye
from strata.plan.model import Pass
from strata.plan.scene import Scene


def close_neighbours(scene: Scene) -> dict[str, tuple[str, ...]]:
    """For each pass, the elements of its sheet that its brush would reach and its ink would show on."""
    gaps = scene.layer_set.gaps
    inked: dict[tuple[str, int], list[Pass]] = defaultdict(list)
    for item in scene.plan.passes:
        inked[item.group].append(item)
    near = {
        item.key: [
            element
            for element in scene.layer_set.elements
            if gaps.get((frozenset((element, item.element)), item.sheet), math.inf) < scene.brush(item).spread
        ]
        for item in scene.plan.passes
    }
    pairs = [
        (scene.alone[item.key], scene.alone[other.key])
        for item in scene.plan.passes
        for element in near[item.key]
        for other in inked[element, item.sheet]
    ]
    alike = dict(zip(pairs, alike_to_the_eye(pairs), strict=True))

    def shows(item: Pass, element: str) -> bool:
        others = inked[element, item.sheet]
        return not others or not all(alike[scene.alone[item.key], scene.alone[o.key]] for o in others)

    return {p.key: tuple(e for e in near[p.key] if shows(p, e)) for p in scene.plan.passes}
