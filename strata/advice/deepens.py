"""Praise: an ink of another hue that makes a deeper shade of what lies under it."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Situation, Subject
from strata.optics.colour import chroma


class Deepens:
    """Dark blue over green is a deeper green than any green pad: done on purpose, and well done."""

    code = "deepens"

    def look(self, situation: Situation) -> Iterator[Finding]:
        for item, rung, _ in situation.told("deepens"):
            yield Finding(
                self.code,
                "good",
                f"{situation.name(item)} makes a deeper shade of what is under it on {item.element}: good.",
                f"From L* {rung.before[0]:.0f} to {rung.here[0]:.0f}, and chroma {chroma(rung.here):.0f} of {chroma(rung.before):.0f} is kept.",
                Subject.of(item),
                (item.key,),
            )
