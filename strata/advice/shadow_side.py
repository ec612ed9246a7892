"""Shadows that fall to several sides: one card has one light."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import asdict, replace

from strata.advice.base import Finding, Mend, Situation, Subject
from strata.advice.verdicts import DEEPER
from strata.optics.colour import degrees_apart
from strata.panel.laid import FREE

ASTRAY = 100.0
# degrees from the card's shadow side
TURNED = ("side", "corner")


class ShadowSide:
    """Only where most shades keep to the card's side: then one that does not is a slip."""

    code = "shadow_side"

    def look(self, situation: Situation) -> Iterator[Finding]:
        light = situation.scene.plan.materials.light
        shades = [
            (item, rung)
            for item, rung, _ in situation.tones
            if item.form.kind in TURNED
            and item.sheet != FREE
            and rung.role in ("shadow", "midtone", "accent")
            and rung.here[0] < rung.before[0] - DEEPER
        ]
        wrong = [found for found in shades if degrees_apart(found[0].form.angle, light) > ASTRAY]
        if len(shades) < 3 or len(wrong) * 2 >= len(shades):
            return
        for item, _ in wrong:
            turned = asdict(replace(item.form, angle=light % 360))
            yield Finding(
                self.code,
                "note",
                f"The shadow of {item.element} falls to another side than the rest of the card.",
                "Lights and shadows that agree make the picture round; one that does not looks like a slip.",
                Subject.of(item),
                (item.key,),
                (
                    Mend.one(
                        "Turn it to the card's shadow side", "set_form", {"pass": item.key, "form": turned}
                    ),
                ),
            )
