"""Inks that will not show, or will not read as themselves: the pass is wasted, or wrong."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Mend, Situation, Subject
from strata.advice.remedies import along_family, more_coats, opaque_instead, take_off, white_ground
from strata.advice.verdicts import DARK, UNSEEN
from strata.plan.model import Pass
from strata.tones.ladder import Rung

OPAQUE = "So few coats do not hide what lies under it."
TRANSLUCENT = "It is translucent, and what lies under it takes its hue away."


class Lost:
    """By share of its area: where a pass also lies on bare card it shows there, and nothing is said."""

    code = "lost"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        for item, rung, verdict in situation.told("unseen", "unlike"):
            name, opaque = situation.name(item), scene.ink(item).chemistry.opaque
            if verdict == "unseen":
                dark = rung.before[0] < DARK and not opaque
                on = scene.ground(item).name if scene.ground(item).lab[0] < DARK else "what is under it"
                sentence = f"{name} on {item.element} will not show on {on}."
                reason = (
                    "A dye is translucent: a dark ground swallows it."
                    if dark
                    else f"Before and after differ by {rung.change:.1f}; under {UNSEEN:.0f} the eye sees nothing."
                )
            else:
                sentence = f"{name} on {item.element} will not read as itself here."
                reason = OPAQUE if opaque else TRANSLUCENT
            mends = situation.offered(self._mends(situation, item, rung))
            yield Finding(self.code, "stop", sentence, reason, Subject.of(item), (item.key,), mends)

    @staticmethod
    def _mends(situation: Situation, item: Pass, rung: Rung) -> Iterator[Mend]:
        yield from white_ground(situation, item, rung)
        yield from more_coats(situation, item, rung)
        yield from opaque_instead(situation, item, rung)
        yield from along_family(situation, item, rung, 1)
        yield from take_off(situation.scene, item)
