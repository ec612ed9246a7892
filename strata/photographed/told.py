"""What a photograph of a finished panel says, element by element, in words a cardmaker would use."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from strata.optics.colour import Lab, difference, differences
from strata.optics.stack import HANDS
from strata.photographed.learn import COUNTS, Shown, as_lab, region_labs
from strata.photographed.reading import RegionReading
from strata.photographed.regions import STAND_FOR, Region
from strata.picture.layers import Layer
from strata.plan.model import Pass
from strata.plan.scene import Scene
from strata.swatchcard.correct import lab_of, linear_of

Floats = NDArray[np.float64]
BY_PHOTOGRAPH = 2.5
# CIEDE2000 that a photograph by lamp or daylight leaves open nine times in ten (docs/decisions/0030)
SEEN = 1.5
# CIELAB units of lightness, chroma or hue (as in CIE94) that are worth a word
PALE = 9.0
# chroma below which a hue is not spoken of
FAR = 16.0
# mean CIEDE2000 past which it is another colouring of the same picture
LEAST_OFF, EXPLAINED = 4.5, 0.5
# CIEDE2000 off before a slip of the hand is thought of, and the share of it that must go with that
HUES = ((20, "pinker"), (55, "redder"), (80, "more orange"), (110, "yellower"), (165, "greener"),
        (225, "more turquoise"), (300, "bluer"), (340, "more violet"), (361, "pinker"))  # fmt: skip
# degrees up to which a hue is called so


@dataclass(frozen=True)
class ElementTold:
    """An element: what was predicted and what was found, CIEDE2000 between them and what the photograph leaves open.

    ``share``: of what is seen of it, how much could be read; ``guess``: what may have happened, or empty.
    """

    element: str
    predicted: Lab
    found: Lab
    difference: float
    margin: float
    words: str
    guess: str
    share: float


def mean_difference(regions: Sequence[Region], found: Sequence[RegionReading]) -> float:
    """CIEDE2000 between what was predicted and found, weighted by area (root: large grounds do not drown the rest)."""
    if not regions:
        return 0.0
    off = differences(np.array([r.predicted for r in regions]), np.array([f.lab for f in found]))
    return float(np.average(off, weights=np.sqrt([r.area for r in regions])))


def by_element(shown: Shown) -> list[ElementTold]:
    """Every element that is read, the most different first."""
    told = []
    for element in dict.fromkeys(r.element for r in shown.regions):
        every = [i for i, r in enumerate(shown.regions) if r.element == element]
        own = [i for i in every if shown.found[i].state in COUNTS]
        if not own:
            continue
        areas = np.array([shown.regions[i].area for i in own])
        before = _mean([shown.regions[i].predicted for i in own], areas)
        after = _mean([shown.found[i].lab for i in own], areas)
        spread = float(np.average([shown.found[i].spread for i in own], weights=areas))
        strong = sum(a for a, i in zip(areas, own, strict=True) if shown.found[i].state == "strong")
        margin = math.hypot(BY_PHOTOGRAPH * (1 + float(strong) / float(areas.sum())), spread / 4)
        off = difference(before, after)
        share = float(areas.sum() / sum(shown.regions[i].area for i in every))
        guess = _slip(shown, element) if off > margin else ""
        words = came_out(before, after) if off > margin else "as predicted, as far as a photograph can tell"
        told.append(
            ElementTold(
                element, before, after, round(off, 1), round(margin, 1), words, guess, round(share, 2)
            )
        )
    return sorted(told, key=lambda t: t.margin - t.difference)


def _mean(labs: Sequence[Lab], areas: Floats) -> Lab:
    return as_lab(lab_of(np.average(linear_of(np.array(labs)), axis=0, weights=areas)[None])[0])


def came_out(before: Lab, after: Lab) -> str:
    """How a colour came out against what was predicted: “deeper and redder”."""
    c0, c1 = math.hypot(before[1], before[2]), math.hypot(after[1], after[2])
    lightness = after[0] - before[0]
    chroma = (c1 - c0) / (1 + 0.045 * c0)
    turn = math.atan2(after[2], after[1]) - math.atan2(before[2], before[1])
    hue = 2 * math.sqrt(c0 * c1) * math.sin(turn / 2) / (1 + 0.015 * c0)
    parts = [
        (abs(lightness), "paler" if lightness > 0 else "deeper"),
        (abs(chroma), "brighter" if chroma > 0 else "duller"),
    ]
    if min(c0, c1) >= PALE:
        parts.append((abs(hue), _towards(before, hue)))
    elif math.hypot(after[1] - before[1], after[2] - before[2]) > SEEN and c1 > c0:
        parts[1] = (abs(chroma), _named(math.degrees(math.atan2(after[2], after[1])) % 360))
    said = [word for size, word in sorted(parts, reverse=True) if size >= SEEN][:2]
    return " and ".join(said) if said else "a little different"


def _towards(before: Lab, hue: float) -> str:
    """The hue on that side of a colour."""
    at = math.degrees(math.atan2(before[2], before[1])) % 360
    return _named((at + math.copysign(45, hue)) % 360)


def _named(degrees: float) -> str:
    return next(word for limit, word in HUES if degrees < limit)


def _slip(shown: Shown, element: str) -> str:
    """The one slip of a hand that explains most of what an element is off by; empty where none does.

    One pass with a coat more or less, or with another hand.
    """
    view, scene = shown.view, shown.view.scene
    regions = [n for n, i in enumerate(shown.usable) if shown.regions[i].element == element]
    if not regions:
        return ""
    wanted = shown.labs[regions]
    levels = shown.levels[(np.array(regions)[:, None] * STAND_FOR + np.arange(STAND_FOR)).ravel()]

    def off(layers: Sequence[Layer]) -> float:
        return float(differences(region_labs(view, layers, levels), wanted).mean())

    before = off(view.layers)
    if before < LEAST_OFF:
        return ""
    best, said = EXPLAINED * before, ""
    for item in scene.plan.passes:
        if item.element != element or item.medium != "ink" or item.more:
            continue
        for other, words in _otherwise(item, scene):
            ratio = scene.thickness(other) / scene.thickness(item)
            after = off(
                [
                    replace(x, thickness=x.thickness * ratio) if x.pass_key == item.key else x
                    for x in view.layers
                ]
            )
            if after < best:
                best, said = after, words
    return said


def _otherwise(item: Pass, scene: Scene) -> list[tuple[Pass, str]]:
    """The pass with a coat more, a coat less, or another hand, each with its sentence."""
    name = scene.ink(item).name
    found = [
        (replace(item, coats=coats), f"{_coats(item.coats)} of {name} {_was(item.coats)} probably {coats}.")
        for coats in (item.coats - 1, item.coats + 1)
        if 1 <= coats <= 6
    ]
    found += [
        (replace(item, hand=hand), f"{name} was probably laid with a {hand} hand, not a {item.hand} one.")
        for hand in HANDS
        if hand != item.hand
    ]
    return found


def _coats(count: float) -> str:
    return "The one coat" if count == 1 else f"The {count:g} coats"


def _was(count: float) -> str:
    return "was" if count == 1 else "were"
