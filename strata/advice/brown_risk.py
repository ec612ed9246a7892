"""Brown: two hues that cancel where they lie over each other, or run together on one sheet."""

from __future__ import annotations

import math
from collections.abc import Iterator

from strata.advice.base import Finding, Mend, Situation, Subject
from strata.advice.mixing import turned_brown
from strata.advice.remedies import along_family, opaque_instead, take_off
from strata.optics.colour import chroma
from strata.optics.stack import Coat, predict
from strata.plan.model import Pass

NO_ROOM_FOR_MASK = 1.0
# mm between openings under which tape cannot keep two inks apart


class BrownRisk:
    """By the predicted colour: its chroma gone and neither parent's hue left; never by the angle of hues alone."""

    code = "brown_risk"

    def look(self, situation: Situation) -> Iterator[Finding]:
        yield from self._over_each_other(situation)
        yield from self._on_one_sheet(situation)

    def _over_each_other(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        for item, rung, _ in situation.told("brown"):
            worst = next(p for p in rung.places if turned_brown(rung.alone, p.before, p.here))
            share = situation.judge.browned(rung)
            where = "" if share > 0.9 else f" on {share:.0%} of it"
            into = "grey" if chroma(worst.here) < 9 else "brown"
            yield Finding(
                self.code,
                "look",
                f"{situation.name(item)} on {item.element} turns {into}{where}.",
                f"Of chroma {chroma(rung.alone):.0f} over {chroma(worst.before):.0f} only {chroma(worst.here):.0f} is left: the two hues cancel. The prediction is good to about {rung.margin:.0f}.",
                Subject.of(item),
                (item.key,),
                situation.offered(
                    opaque_instead(situation, item, rung),
                    along_family(situation, item, rung, 1),
                    take_off(scene, item),
                ),
            )

    def _on_one_sheet(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        passes = [p for p in scene.plan.passes if p.medium == "ink" and not p.form.join]
        said: set[tuple[frozenset[str], int]] = set()
        for j, later in enumerate(passes):
            for earlier in passes[:j]:
                if earlier.sheet != later.sheet or earlier.element == later.element:
                    continue
                where = (frozenset((earlier.element, later.element)), later.sheet)
                if where in said or not self._mixes_brown(situation, earlier, later):
                    continue
                gap = scene.layer_set.gaps.get(where, math.inf)
                if gap < NO_ROOM_FOR_MASK:
                    said.add(where)
                    yield from self._tight(situation, earlier, later, gap)

    @staticmethod
    def _mixes_brown(situation: Situation, one: Pass, other: Pass) -> bool:
        """What is left of one on the brush or the sheet, half and half with the other."""
        scene = situation.scene
        alone = scene.alone[one.key], scene.alone[other.key]
        halves = [Coat(scene.ink_of(p.ink), scene.thickness(p) / 2) for p in (one, other)]
        return bool(turned_brown(*alone, predict(scene.ground(other), halves)))

    def _tight(self, situation: Situation, earlier: Pass, later: Pass, gap: float) -> Iterator[Finding]:
        """Said only while a smaller brush would help: with the detail brush she has done what can be done."""
        scene = situation.scene
        if scene.brush(later).diameter <= 8:
            return
        yield Finding(
            self.code,
            "look",
            f"{situation.name(earlier)} and {situation.name(later)} can run together on {situation.part(later.sheet)}, between {earlier.element} and {later.element}.",
            f"Only {gap:.1f} mm parts them, too little for a mask, and mixed they turn brown.",
            Subject("pair", tuple(sorted((earlier.element, later.element))), later.sheet),
            (later.key, earlier.key),
            (Mend.one("Use a detail brush", "set_brush", {"pass": later.key, "brush": "detail"}),),
        )
