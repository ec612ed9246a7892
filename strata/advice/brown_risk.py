"""Brown risk: near-opposite hues over each other, or running together on one sheet."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Mend, Situation, Subject
from strata.advice.remedies import opaque_instead, take_off
from strata.optics.colour import chroma
from strata.order.meeting import near_opposite
from strata.plan.model import Pass

DULL = 0.6
# share of the weaker chroma left in the mixture; below it people say brown
NO_ROOM_FOR_MASK = 1.0
# mm between openings under which tape cannot keep two inks apart


class BrownRisk:
    """Chroma collapse of near-opposite hues."""

    code = "brown_risk"

    def look(self, situation: Situation) -> Iterator[Finding]:
        yield from self._over_each_other(situation)
        yield from self._on_one_sheet(situation)

    def _over_each_other(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        for item, rung, _ in situation.rungs():
            if scene.ink(item).chemistry.opaque or rung.role == "line":
                continue
            for place in rung.places:
                weaker = min(chroma(rung.alone), chroma(place.before))
                if near_opposite(rung.alone, place.before) and chroma(place.here) < DULL * weaker:
                    share = "" if place.share > 0.9 else f" on {place.share:.0%} of it"
                    yield Finding(
                        self.code,
                        "look",
                        f"{situation.name(item)} on {item.element} turns brown{share}.",
                        "It lies over a nearly opposite hue, and two opposites cancel.",
                        Subject.of(item),
                        (item.key,),
                        (*opaque_instead(scene, item), *take_off(scene, item)),
                    )
                    break

    def _on_one_sheet(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        passes = scene.plan.passes
        said: set[tuple[frozenset[str], int]] = set()
        for j, later in enumerate(passes):
            for earlier in passes[:j]:
                if earlier.sheet != later.sheet or earlier.element == later.element:
                    continue
                if not near_opposite(scene.alone[earlier.key], scene.alone[later.key]):
                    continue
                where = (frozenset((earlier.element, later.element)), later.sheet)
                gap = situation.gap(scene.group(earlier), scene.group(later))
                if gap < NO_ROOM_FOR_MASK and where not in said:
                    said.add(where)
                    yield self._tight(situation, earlier, later, gap)

    def _tight(self, situation: Situation, earlier: Pass, later: Pass, gap: float) -> Finding:
        scene = situation.scene
        finer = [Mend.one("Use a detail brush", "set_brush", {"pass": later.key, "brush": "detail"})]
        fine_already = scene.brush(later).diameter <= 8
        return Finding(
            self.code,
            "look",
            f"{situation.name(earlier)} and {situation.name(later)} can run together on {situation.part(later.sheet)}, between {earlier.element} and {later.element}.",
            f"Only {gap:.1f} mm parts two nearly opposite hues: too little for a mask.",
            Subject("pair", tuple(sorted((earlier.element, later.element))), later.sheet),
            (later.key, earlier.key),
            () if fine_already else tuple(finer),
        )
