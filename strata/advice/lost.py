"""Inks that will not read as themselves: no change at all, or their hue gone."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Situation, Subject
from strata.advice.remedies import along_family, another_coat, opaque_instead, take_off, white_ground
from strata.optics.colour import Lab, chroma, difference, hue_apart

NO_CHANGE = 2.0
# CIEDE2000 between before and after; less is not seen at all
HUE_LOST = 40.0
# degrees between the ink alone and the ink here
NO_CHANGE_DARK = 7.0
# the same on near-black, where CIEDE2000 counts differences that no maker calls a colour
DARK = 30.0
# L* under which a ground swallows a dye
COLOURFUL = 15.0
# C*ab that an ink must have before it has a hue to lose
DULLED = 0.5
# share of its chroma that must be left


def hue_lost(alone: Lab, here: Lab) -> bool:
    """True when a colourful ink ends as another hue, or grey."""
    if chroma(alone) < COLOURFUL or difference(alone, here) < 12:
        return False
    turned = chroma(here) >= 6 and hue_apart(alone, here) > HUE_LOST
    return turned or chroma(here) < DULLED * chroma(alone)


OPAQUE = "One coat does not hide what lies under it."
TRANSLUCENT = "It is translucent, and what lies under it takes its hue away."


class Lost:
    """What matters is not "no change" but "far from the ink's own colour, its hue lost"."""

    code = "lost"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        for item, rung, _ in situation.rungs():
            name = situation.name(item)
            dark = rung.before[0] < DARK and not scene.ink(item).chemistry.opaque
            if rung.change < (NO_CHANGE_DARK if dark else NO_CHANGE) and rung.role != "line":
                on = scene.stock.name if scene.stock.lab[0] < DARK else "what is under it"
                reason = (
                    "A dye is translucent: a dark ground swallows it."
                    if dark
                    else f"Before and after differ by {rung.change:.1f}; under {NO_CHANGE:.0f} the eye sees nothing."
                )
                yield Finding(
                    self.code,
                    "stop",
                    f"{name} on {item.element} will not show on {on}.",
                    reason,
                    Subject.of(item),
                    (item.key,),
                    (
                        *white_ground(scene, item),
                        *opaque_instead(scene, item),
                        *along_family(scene, item, 1),
                        *another_coat(item),
                        *take_off(scene, item),
                    ),
                )
            elif hue_lost(rung.alone, rung.here) and rung.role != "line":
                yield Finding(
                    self.code,
                    "stop",
                    f"{name} on {item.element} will not read as itself here.",
                    OPAQUE if scene.ink(item).chemistry.opaque else TRANSLUCENT,
                    Subject.of(item),
                    (item.key,),
                    (
                        *opaque_instead(scene, item),
                        *white_ground(scene, item),
                        *another_coat(item),
                        *take_off(scene, item),
                    )
                    if scene.ink(item).chemistry.opaque
                    else (*opaque_instead(scene, item), *white_ground(scene, item), *take_off(scene, item)),
                )
