"""Water over dye: what a damp wipe takes away besides what it is meant for."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Situation, Subject

MEANT = 0.2
# share of another element's ink that may be touched before it is worth a word
LIFTED = ("dye", "hybrid")


class Water:
    """Dye that has dried still moves with water: only its own element's is meant to be lifted."""

    code = "water"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene, ground = situation.scene, situation.ground
        for j, layer in enumerate(ground.layers):
            if layer.kind != "lift" or not layer.pass_key:
                continue
            item = scene.plan.find(layer.pass_key)
            rows = ground.covered[:, j]
            others = set()
            for below in ground.layers[:j]:
                if below.ink is None or not below.pass_key or below.ink.chemistry.key not in LIFTED:
                    continue
                under = scene.plan.find(below.pass_key)
                at = ground.first[below.pass_key]
                own = float(ground.stacks.counts[ground.covered[:, at]].sum())
                hit = float(ground.stacks.counts[ground.covered[:, at] & rows].sum())
                if under.element != item.element and own and hit / own >= MEANT:
                    others.add(under.element)
            if others:
                yield Finding(
                    self.code,
                    "look",
                    f"The damp wipe on {item.element} also takes ink from {', '.join(sorted(others))}.",
                    "Dye and hybrid ink move with water even when dry: mask what is to stay.",
                    Subject.of(item),
                    (item.key,),
                )
