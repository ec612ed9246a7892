"""Proposals for a colouring, kept by all that they use, so that the next one knows those before."""

from __future__ import annotations

from typing import Any

from strata.kept import Kept
from strata.optics.words import hue_word
from strata.proposals import MOODS, Proposal, Wishes, propose
from strata.proposals.ladders import SECTOR
from studio.builds.looking import outlook
from studio.builds.models import Colouring
from studio.builds.outlook import Outlook
from studio.colours import colour
from studio.inks.services import house

_PROPOSED: Kept[object, Proposal] = Kept(30_000_000, lambda _: 60_000)
LABELS = {
    "least_step": "smallest step between two tones",
    "neighbours_apart": "least between elements side by side",
    "from_card": "least between an element and the card",
    "pads": "pads to pull",
}


def proposed(row: Colouring, values: dict[str, Any]) -> tuple[Outlook, Proposal]:
    """The proposal of a mood, unlike those of the moods ``after`` which it is asked."""
    seen, own = outlook(row), house(row.build.owner)
    before: list[Proposal] = []
    for mood in [*dict.fromkeys(values["after"]), values["mood"]]:
        wishes = Wishes(
            mood,
            frozenset(values["keep"]),
            tuple((c[0], c[1], c[2]) for c in values["like"]),
            values["most_pads"],
            values["white_ground"],
            {k.lower(): v for k, v in values["words"].items()},
        )
        words = tuple(sorted(wishes.words.items()))
        told = (mood, wishes.keep, wishes.like, wishes.most_pads, wishes.white_ground, words)
        key = (seen.key, own.stamp, told, tuple(p.mood for p in before))
        earlier = tuple(before)
        before.append(_PROPOSED.get(key, lambda: propose(seen.scene, own.at_hand, wishes, earlier)))  # noqa: B023
    return seen, before[-1]


def _called(ladder: str) -> str:
    """A ladder as people call it: its line and family, or its hue where it is made of pads of several."""
    if not ladder.startswith("hue "):
        return ladder
    degrees, *rest = ladder.removeprefix("hue ").split()
    return " ".join([f"{hue_word(float(degrees) + SECTOR / 2)} pads", *rest])


def proposal_json(seen: Outlook, found: Proposal) -> dict[str, Any]:
    """A proposal for the screen: what every element wears, and the one change that makes all of it."""
    inks = seen.scene.inks
    edits = [{"kind": kind, "values": dict(values)} for kind, values in found.edits]
    return {
        "mood": found.mood,
        "called": MOODS[found.mood],
        "worn": [
            {
                "element": w.element,
                "ladder": _called(w.ladder),
                "reason": w.reason,
                "pads": [
                    {"key": k, "name": inks[k].name, "colour": colour(lab)}
                    for k, lab in zip(w.pads, w.colours, strict=True)
                ],
            }
            for w in found.worn
        ],
        "pads": [
            {"key": k, "name": inks[k].name, "colour": colour(seen.scene.on_stock(k))}
            for k in dict.fromkeys(k for w in found.worn for k in w.pads)
        ],
        "figures": [{"name": LABELS[k], "value": v} for k, v in found.figures.items()],
        "cost": round(found.cost, 1),
        "exact_among": found.exact_among,
        "edits": edits,
    }
