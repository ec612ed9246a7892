"""The card as a thing that is made: how thick it gets, and how many at once."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Situation, Subject
from strata.finish.thickness import thickness_of

PLAIN_RATE = 5.0
# mm that a common letter service takes at its plain rate


class Thickness:
    """Before anything is glued: card on card where it really lies, foam and notes included."""

    code = "thickness"

    def look(self, situation: Situation) -> Iterator[Finding]:
        parts = thickness_of(situation.scene)
        highest, top = sum(p.amount for p in parts), parts[-1].name
        if highest > PLAIN_RATE:
            yield Finding(
                self.code,
                "note",
                f"At {top} the card is about {highest:.1f} mm thick.",
                f"Over {PLAIN_RATE:.0f} mm or stiff costs more to post: check your postal service before it is glued.",
                Subject("panel", ("thickness",)),
            )


class Batch:
    """One mistake repeated on every card costs the whole batch."""

    code = "batch"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        words = [scene.called(t) for t in scene.plan.things if t.kind == "words"]
        stamped = [n for _, n in scene.layer_set.groups if scene.layer_set.worked_as(n) == "stamp set"]
        if scene.plan.cards > 1 and (words or stamped):
            what = words[0] if words else "a stamp"
            yield Finding(
                self.code,
                "note",
                f"{scene.plan.cards} cards at once: print {what} on one, look, then on the rest.",
                "A stamp upside down or the wrong one is found on the first card, not on the last.",
                Subject("batch"),
            )
