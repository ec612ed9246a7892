"""A pad that cannot be inked with: dry, wished for, put away; or one that is running low."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Situation, Subject
from strata.advice.remedies import nearest_at_hand
from strata.plan.media import BOTTLES

MANY = 6
# cards
WHY = {
    "dry": "has run dry",
    "wished for": "is only wished for",
    "away": "is put away",
}


class MissingPad:
    """Said once a pad, however many passes it has: the table stops without it."""

    code = "missing_pad"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        for key in dict.fromkeys(p.ink for p in scene.plan.passes):
            if key in BOTTLES:
                continue
            if key in situation.at_hand:
                yield from self._low(situation, key)
                continue
            ink = scene.inks[key]
            passes = tuple(p.key for p in scene.plan.passes if p.ink == key)
            where = list(dict.fromkeys(p.element for p in scene.plan.passes if p.ink == key))
            yield Finding(
                self.code,
                "stop",
                f"{ink.name or key} {WHY.get(ink.state, WHY['away'])}: {', '.join(where)} cannot be inked.",
                "At the table you would have to stop. Another pad may do its work: ask for a stand-in.",
                Subject("pad", (key,)),
                passes,
                situation.offered(nearest_at_hand(situation, key)),
            )

    def _low(self, situation: Situation, key: str) -> Iterator[Finding]:
        """A pad that runs low is enough for a card or two."""
        scene = situation.scene
        ink, cards = scene.inks[key], scene.plan.cards
        if ink.state == "low" and cards >= MANY:
            yield Finding(
                self.code,
                "note",
                f"{ink.name or key} is running low, and {cards} cards are to be made.",
                "Ink them all with it before another pad takes its place, or have a second one ready.",
                Subject("pad", (key,)),
                tuple(p.key for p in scene.plan.passes if p.ink == key),
            )
