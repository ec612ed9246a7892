"""Colours that cannot be trusted: hiding power never seen, or a swatch that is no measurement."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Situation, Subject

TRUSTED = 10.0
# CIEDE2000 of margin over which a maker should see the colour on scrap before she plans on it


class Guessed:
    """Said once a pad, and only where the guess matters."""

    code = "guessed"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        said: set[str] = set()
        for item, rung, verdict in situation.tones:
            if item.ink in said or verdict in ("unseen", "wrong way"):
                continue
            ink = scene.ink(item)
            if ink.estimated and rung.before[0] < rung.alone[0] - 10:
                said.add(item.ink)
                sentence = f"How well {situation.name(item)} hides what is under it is an estimate."
                reason = "It has been measured on white card only; one swatch on black settles it."
            elif rung.margin > TRUSTED:
                said.add(item.ink)
                sentence = (
                    f"{situation.name(item)} on {item.element} cannot be told beforehand: dab it on scrap."
                )
                reason = f"The prediction is only good to about {rung.margin:.0f}; a swatch on this card makes it better."
            else:
                continue
            yield Finding(self.code, "note", sentence, reason, Subject.of(item), (item.key,))
