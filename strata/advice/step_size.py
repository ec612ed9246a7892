"""Steps too small to read, and steps too large to join softly."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Mend, Situation, Subject
from strata.advice.remedies import along_family, another_coat
from strata.plan.model import Pass
from strata.plan.scene import Scene
from strata.tones.ladder import Rung

LEAST_READABLE = 4.0
# CIEDE2000 between two tones seen at arm's length, edges blended
LONG_BLEND = 10.0
# mm of soft edge over which any two colours run into each other without a line
LARGEST_SOFT = 30.0
# CIEDE2000 that a brush can still blend away at the join


class StepSize:
    """Judged between a tone and the ground it lies on, in the same colours as the picture."""

    code = "step_size"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        for item, rung, below in situation.rungs():
            if below is None or rung.role == "ground":
                continue
            under = scene.plan.find(below.pass_key)
            name = situation.name(item)
            if 2.0 <= rung.change < LEAST_READABLE:
                yield Finding(
                    self.code,
                    "look",
                    f"{name} on {item.element} is only a small step from what is under it.",
                    f"The difference is {rung.change:.1f}; under {LEAST_READABLE:.0f} nobody sees two tones at arm's length.",
                    Subject.of(item),
                    (item.key,),
                    (*along_family(scene, item, 1), *another_coat(item)),
                )
            elif self._hard_join(item, under, rung):
                yield Finding(
                    self.code,
                    "look",
                    f"The step from {situation.name(under)} to {name} on {item.element} is too large to join softly.",
                    f"The difference is {rung.change:.0f}; over {LARGEST_SOFT:.0f} a brush leaves a visible edge where one shade ends in the middle of an opening.",
                    Subject.of(item),
                    (item.key, under.key),
                    (*self._between(scene, item, under), *along_family(scene, item, -1)),
                )

    @staticmethod
    def _hard_join(item: Pass, under: Pass, rung: Rung) -> bool:
        """Only a shade that ends inside an opening needs a soft join; a cut edge may be as hard as it likes."""
        if item.form.soft is not None and item.form.soft >= LONG_BLEND:
            return False
        return rung.change > LARGEST_SOFT and item.form.kind != "all" and item.group == under.group

    @staticmethod
    def _between(scene: Scene, item: Pass, under: Pass) -> Iterator[Mend]:
        kin = scene.family(item.ink)
        if under.ink in kin:
            middle = (kin.index(item.ink) + kin.index(under.ink)) // 2
            if kin[middle] not in (item.ink, under.ink):
                values = {
                    "element": item.element,
                    "sheet": item.sheet,
                    "ink": kin[middle],
                    "at": scene.plan.index(item.key),
                    "form": {
                        "kind": item.form.kind,
                        "angle": item.form.angle,
                        "place": item.form.place,
                        "extent": min(1.0, item.form.extent + 0.15),
                        "span": item.form.span,
                    },
                }
                yield Mend.one(f"Put {scene.inks[kin[middle]].name} between", "add_pass", values)
