"""What was meant to be seen and lies under something that hides it."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Mend, Situation, Subject
from strata.plan.model import Pass

BURIED, WHOLLY = 0.55, 0.85
# share of a pass that is covered: of what was to shine, of a small part
SHINES = ("metallic", "glaze")
# kinds of ink that are laid to be looked at, whatever comes after
PALE, SMALL = 75.0, 0.02
# L* of an opaque light; share of the panel that is a small part


class Buried:
    """An opaque ink over a glitter, a pale opaque or a small part: not the ground of its own element."""

    code = "buried"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        wide, tall = situation.size
        for item, rung, _ in situation.tones:
            kind = scene.ink(item).chemistry
            shines = kind.key in SHINES
            grounds = rung.role == "ground" and len(scene.plan.of_element(item.element)) > 1
            light = kind.opaque and rung.alone[0] > PALE and not grounds
            small = scene.inked_area(item) < SMALL * wide * tall
            if not (shines or light or small):
                continue
            most = BURIED if shines or light else WHOLLY
            over = self._over(situation, item, most, own_too=shines)
            if over is not None:
                yield Finding(
                    self.code,
                    "look",
                    f"{situation.name(item)} on {item.element} lies under {situation.name(over)}: nothing of it is left to see.",
                    f"{situation.name(over)} is opaque and covers most of it.",
                    Subject.of(item),
                    (item.key, over.key),
                    (
                        Mend.one(
                            f"Lay {situation.name(item)} last of all",
                            "place_pass",
                            {"pass": item.key, "to": "top"},
                        ),
                    ),
                )

    @staticmethod
    def _over(situation: Situation, item: Pass, most: float, own_too: bool) -> Pass | None:
        """The opaque pass that covers most of another, if there is one."""
        ground, scene = situation.ground, situation.scene
        at = ground.first.get(item.key)
        if at is None:
            return None
        rows = ground.covered[:, at]
        total = float(ground.stacks.counts[rows].sum())
        for j, layer in enumerate(ground.layers):
            if j <= at or layer.kind != "ink" or layer.ink is None or not layer.pass_key:
                continue
            other = scene.plan.find(layer.pass_key)
            own = other.element == item.element and not own_too
            kind = layer.ink.chemistry
            if own or other.ink == item.ink or not kind.opaque or kind.key in SHINES:
                continue
            hidden = float(ground.stacks.counts[rows & ground.covered[:, j]].sum())
            if total and hidden / total >= most:
                return other
        return None
