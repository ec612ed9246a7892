"""What a choice costs: readable steps and what names say for each element; standing apart and showing for each pair.

All costs are in the same coin: 1 is a fault that a practised maker would just
notice; 20 and more is one that she would not let pass.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from strata.advice.mixing import hue_lost, turned_brown
from strata.advice.neighbours import APART, LIGHTNESS_APART
from strata.advice.verdicts import DEEPER, own_colour
from strata.optics import layers
from strata.optics.colour import (
    Lab,
    chroma,
    degrees_apart,
    difference,
    differences,
    hue,
)
from strata.optics.inks import Ink
from strata.optics.stack import Stock, labs_of_internal
from strata.order.meeting import OPPOSITE_DEGREES
from strata.proposals.ladders import Candidate
from strata.proposals.sight import DEUTAN, PROTAN, as_seen_by, harmony
from strata.proposals.wishes import BROWN

NEVER = 60.0
LEAST_STEP, GOOD_STEP, LARGEST_STEP = 4.8, 9.0, 38.0
# CIEDE2000 of a step that reads, that reads well, past which it is a leap
STANDS_OUT = 9.0
# CIEDE2000 between an element and the card
WELL_APART, LIGHT_APART = 14.0, 9.0
# CIEDE2000 and L* between neighbours that are plainly two
COUNTS = 0.2
# share of an element that lies over another before that other counts as its ground
OUTLINE = 45.0
# L* that an outline is drawn in
OFF_HUE = 35.0
# degrees from what a name says that cost nothing

Table = NDArray[np.floating]


@dataclass(frozen=True)
class Part:
    """An element for the search: its name, the sheet it begins on, mm2, and its candidates."""

    name: str
    sheet: int
    area: float
    choices: tuple[Candidate, ...]


def step_cost(candidate: Candidate, card: Lab) -> float:
    """How far an element's own tones are from even, readable steps."""
    from_card = difference(card, candidate.body)
    cost = 2.0 * max(0.0, 1 - from_card / STANDS_OUT) + (20.0 if from_card < APART + 1 else 0.0)
    if candidate.laid[0][0].role == "line":
        cost += max(0.0, candidate.body[0] - OUTLINE) / 5
    if candidate.line is not None:
        lines = difference(candidate.line, candidate.body)
        cost += NEVER if lines < LEAST_STEP else 1.5 * max(0.0, 1 - lines / 18)
    steps = [difference(a, b) for a, b in pairwise(candidate.colours)]
    for step in steps:
        cost += NEVER if step < LEAST_STEP else 1.5 * max(0.0, 1 - step / GOOD_STEP)
        cost += max(0.0, step - LARGEST_STEP) / 8
    if len(steps) > 1:
        cost += 0.6 * float(np.std(steps) / np.mean(steps))
    tones = candidate.coats[-len(candidate.colours) :]
    for coat, (below, here) in zip(tones[1:], pairwise(candidate.colours), strict=True):
        cost += NEVER if here[0] > below[0] + 1 else 0.0
        # pads of one hue may still make mud of one another
        cost += 8.0 if turned_brown(below, own_colour(coat.ink), here) else 0.0
    return cost + 0.25 * len(candidate.pads)


def hue_cost(candidate: Candidate, wanted: float | None) -> float:
    """How far an element is from the hue that its name suggests."""
    if wanted is None:
        return 0.0
    colour = candidate.body
    if chroma(colour) < 8:
        return 2.5
    off = degrees_apart(hue(colour), wanted)
    # brown is a dull orange: the hue alone would be met by a bright yellow
    bright = max(0.0, chroma(colour) - 42) / 12 if wanted == BROWN else 0.0
    return min(5.0, bright + off / 100 + 4.0 * max(0.0, off - OFF_HUE) / 60)


def apart_costs(one: Sequence[Candidate], other: Sequence[Candidate]) -> Table:
    """Two elements side by side (n, m): apart in lightness first, for colour-blind eyes as well; in harmony a little."""
    a, b = np.array([c.body for c in one])[:, None, :], np.array([c.body for c in other])[None, :, :]
    a, b = np.broadcast_arrays(a, b)
    plain = differences(a, b)
    weakest = plain
    for matrix in (PROTAN, DEUTAN):
        weakest = np.minimum(weakest, differences(as_seen_by(a, matrix), as_seen_by(b, matrix)))
    light = np.abs(a[..., 0] - b[..., 0])
    cost = 3.0 * np.maximum(0, 1 - weakest / WELL_APART) + 1.5 * np.maximum(0, 1 - light / LIGHT_APART)
    # as the warning has it, with some room
    merges = (plain < APART + 1) & (light < LIGHTNESS_APART + 1)
    return np.asarray(cost + 20.0 * merges - 0.3 * harmony(a, b))


def over_costs(stock: Stock, under: Sequence[Candidate], over: Sequence[Candidate], share: float) -> Table:
    """One element laid over another (n, m): it must show there, keep its hue and make no mud; ``share`` of it lies so."""
    grounds = np.array([_internal(stock, c) for c in under])
    r = np.repeat(grounds[:, None, :], len(over), axis=1)
    before = labs_of_internal(r, stock.finish)
    cost = np.zeros((len(under), len(over)))
    for n in range(max(len(c.coats) for c in over)):
        own = [j for j, c in enumerate(over) if len(c.coats) > n]
        laid = [over[j].coats[n].ink.deposit(over[j].coats[n].coats, stock.finish) for j in own]
        r[:, own] = layers.over(
            r[:, own], np.array([d.absorbed for d in laid]), np.array([d.scattered for d in laid])
        )
        here = before.copy()
        here[:, own] = labs_of_internal(r[:, own], stock.finish)
        steps = differences(before, here)
        for j in own:
            # a white ground may look like nothing; what goes onto it may not
            if n or not over[j].ground:
                cost[:, j] += np.where(steps[:, j] < LEAST_STEP, NEVER / 2, 0)
                cost[:, j] += _spoilt(over[j].coats[n].ink, before[:, j], here[:, j])
        before = here
    return np.asarray(cost * min(1.0, share / 0.5))


def _spoilt(ink: Ink, before: Table, here: Table) -> Table:
    """What it costs that a tone is mud, or no longer itself, over each ground (k, 3)."""
    own = own_colour(ink)
    mud = turned_brown(own, before, here) & (not ink.chemistry.opaque)
    lost = hue_lost(own, here) & (own[0] > before[:, 0] + DEEPER)
    return np.asarray(np.where(mud, 15.0, np.where(lost, 30.0, 0.0)))


def _internal(stock: Stock, candidate: Candidate) -> Table:
    r = stock.internal
    for coat in candidate.coats[: 1 + bool(candidate.ground)]:
        deposit = coat.ink.deposit(coat.coats, stock.finish)
        r = layers.over(r, deposit.absorbed, deposit.scattered)
    return np.asarray(r)


def sheet_costs(one: Sequence[Candidate], other: Sequence[Candidate]) -> Table:
    """Two elements close together on one sheet (n, m): a mask or a cleaning for inks that make mud of one another."""
    a, b = np.array([c.body for c in one]), np.array([c.body for c in other])
    strong = (np.hypot(a[:, 1], a[:, 2]) > 18)[:, None] & (np.hypot(b[:, 1], b[:, 2]) > 18)[None, :]
    hues = (np.degrees(np.arctan2(lab[:, 2], lab[:, 1])) for lab in (a, b))
    opposite = degrees_apart(next(hues)[:, None], next(hues)[None, :]) > OPPOSITE_DEGREES
    return np.asarray(np.where(strong & opposite, 1.2, 0.0))
