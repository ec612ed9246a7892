"""Why an element wears what it wears, in a few words, and the figures that a proposal is judged by."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import pairwise

from strata.optics.colour import Lab, chroma, degrees_apart, difference, hue
from strata.optics.words import hue_word
from strata.proposals.costs import Part
from strata.proposals.ladders import Candidate
from strata.proposals.wishes import BROWN, Wishes

_NAMED = ("named", "vivid", "muted", "card")
_NEAR = 45.0
# degrees within which an element has the hue that its name says


def _steps(candidate: Candidate) -> list[float]:
    return [difference(a, b) for a, b in pairwise(candidate.colours)]


def reason(part: Part, candidate: Candidate, wishes: Wishes, focal: bool) -> str:
    """What speaks for a candidate on its element."""
    wanted, colour = wishes.hue(part.name), candidate.body
    if wishes.like:
        near = min(wishes.like, key=lambda c: difference(c, colour))
        return f"{difference(near, colour):.0f} from a colour of yours"
    if wishes.mood == "accent":
        return "the one accent" if focal else "kept quiet for the accent"
    off = 180.0 if wanted is None else degrees_apart(hue(colour), wanted)
    said = []
    if wishes.mood in _NAMED and wanted is not None and off < _NEAR:
        said.append(f"its name says {'brown' if wanted == BROWN else hue_word(wanted)}")
    steps = _steps(candidate)
    if steps:
        said.append(f"steps of {min(steps):.0f}" + (f" to {max(steps):.0f}" if len(steps) > 1 else ""))
    if not said:
        said.append("apart from what is beside it" if chroma(colour) > 15 else "quiet beside its neighbours")
    return ", ".join(said)


def figures(chosen: Mapping[str, Candidate], near: Sequence[frozenset[str]], card: Lab) -> dict[str, float]:
    """The least step, the least difference of neighbours and from the card (CIEDE2000), and how many pads."""
    steps = [s for c in chosen.values() for s in _steps(c)]
    apart = [
        difference(chosen[a].body, chosen[b].body) for a, b in (sorted(p) for p in near if p <= set(chosen))
    ]
    from_card = [difference(card, c.body) for c in chosen.values()]
    least = {"least_step": steps, "neighbours_apart": apart, "from_card": from_card}
    found = {name: round(min(values), 1) for name, values in least.items() if values}
    return {**found, "pads": float(len({k for c in chosen.values() for k in c.pads}))}
