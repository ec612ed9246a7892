"""What a mood asks of a candidate, beside what every colouring must be."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from strata.optics.colour import Lab, chroma, degrees_apart, difference, hue
from strata.proposals.costs import Part, hue_cost
from strata.proposals.ladders import Candidate
from strata.proposals.wishes import Wishes

HUES = tuple(float(h) for h in range(0, 360, 30))
# degrees from which a mood's own hue is chosen
_NAMES_COUNT = {"named": 1.0, "vivid": 0.9, "muted": 0.9, "card": 0.6, "accent": 0.4}


def _off(colour: Lab, wanted: float) -> float:
    return degrees_apart(hue(colour), wanted)


def mood_costs(part: Part, wishes: Wishes, card: Lab, lead: float, focal: bool) -> np.ndarray:
    """Costs (n,) of an element's candidates by the mood; ``lead``: the mood's own hue, degrees; ``focal``: the accent."""
    wanted = wishes.hue(part.name)
    return np.array([_cost(c, wishes, wanted, card, lead, focal) for c in part.choices])


def _cost(c: Candidate, wishes: Wishes, wanted: float | None, card: Lab, lead: float, focal: bool) -> float:
    colour = c.body
    if wishes.like:
        # what was asked for by its colour comes before names, and the mood may only choose among that
        near = min(difference(colour, asked) for asked in wishes.like) / 5
        return near + 0.3 * _by_mood(c, replace(wishes, like=()), None, card, lead, focal)
    return _by_mood(c, wishes, wanted, card, lead, focal)


def _by_mood(
    c: Candidate, wishes: Wishes, wanted: float | None, card: Lab, lead: float, focal: bool
) -> float:
    mood, colour = wishes.mood, c.body
    cost = _NAMES_COUNT.get(mood, 0.0) * hue_cost(c, wanted)
    strong = chroma(colour)
    if mood == "vivid":
        cost += max(0.0, 60 - strong) / 14
    elif mood == "muted":
        cost += max(0.0, strong - 14) / 10
    elif mood in ("one hue", "neighbours", "opposites"):
        cost += _by_lead(colour, mood, lead)
    elif mood == "card":
        own = hue(card) if chroma(card) > 4 else 70.0
        cost += max(0.0, _off(colour, own) - 50) / 30
    elif mood == "accent":
        cost += max(0.0, 50 - strong) / 12 if focal else max(0.0, strong - 16) / 8
    return cost


def _by_lead(colour: Lab, mood: str, lead: float) -> float:
    if chroma(colour) < 7:
        return 1.0
    off = _off(colour, lead)
    if mood == "one hue":
        return max(0.0, off - 18) / 10
    if mood == "neighbours":
        return max(0.0, off - 45) / 15
    return max(0.0, min(off, _off(colour, lead + 180)) - 22) / 12


def leads(parts: Sequence[Part], wishes: Wishes, card: Lab) -> list[float]:
    """The hues that a mood may be led by, the most promising first; one where the mood has none of its own."""
    if wishes.mood not in ("one hue", "neighbours", "opposites") or wishes.like:
        return [0.0]

    def least(lead: float) -> float:
        total = 0.0
        for part in parts:
            costs = mood_costs(part, wishes, card, lead, False)
            names = np.array([0.3 * hue_cost(c, wishes.hue(part.name)) for c in part.choices])
            total += float((costs + names).min()) * (1 + part.area / 1000)
        return total

    return sorted(HUES, key=least)[:2]
