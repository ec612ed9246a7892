"""A brush chosen too big for its openings, or so fine that it leaves streaks."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Mend, Situation, Subject
from strata.plan.tools import OTHERS


class BrushFit:
    """Only speaks of a brush that the maker chose; the proposed one fits by its nature."""

    code = "brush_fit"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        for item in scene.plan.passes:
            if item.brush is None or item.brush in OTHERS:
                continue
            chosen, width = scene.brush(item), scene.group(item).typical_width
            best = scene.tools.fitting(width)
            mend = (Mend.one(f"Take the {best.label}", "set_brush", {"pass": item.key, "brush": None}),)
            if chosen.wants > width and chosen.diameter > best.diameter:
                yield Finding(
                    self.code,
                    "look",
                    f"The {chosen.label} is too big for {item.element} on {situation.part(item.sheet)}.",
                    f"The {situation.nouns_of(item.sheet).shapes} are about {width:.1f} mm wide; this brush wants {chosen.wants:.1f} mm, and creeps under the edges.",
                    Subject.of(item),
                    (item.key,),
                    mend,
                )
            elif chosen.diameter * 2.5 < best.diameter:
                yield Finding(
                    self.code,
                    "note",
                    f"The {chosen.label} will streak on {item.element} on {situation.part(item.sheet)}.",
                    f"The {situation.nouns_of(item.sheet).shapes} are about {width:.0f} mm wide; a larger brush fills them evenly and faster.",
                    Subject.of(item),
                    (item.key,),
                    mend,
                )
