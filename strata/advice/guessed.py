"""An opaque ink never seen on dark card: how well it hides is a guess."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Situation, Subject


class Guessed:
    """Said only where the guess matters: over something clearly darker than the ink."""

    code = "guessed"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        for item, rung, _ in situation.rungs():
            if scene.ink(item).estimated and rung.before[0] < rung.alone[0] - 10:
                yield Finding(
                    self.code,
                    "note",
                    f"How well {situation.name(item)} hides what is under it is an estimate.",
                    "It has been measured on white card only; one swatch on black settles it.",
                    Subject.of(item),
                    (item.key,),
                )
