"""Shades the wrong way round: a paler dye over a deeper one in the same openings."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Mend, Situation, Subject

CLEARLY_LIGHTER = 4.0
# L* between the inks alone


class WrongWay:
    """Light first means the deeper ink goes over the lighter; an opaque ink may do as it likes."""

    code = "wrong_way"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        for item, rung, _ in situation.rungs():
            if scene.plan.school_of(item.element) != "light first" or scene.ink(item).chemistry.opaque:
                continue
            # only what really lies there: two blends of one ground may never meet
            under = {u.pass_key for u in rung.places[0].under}
            for other in scene.plan.of_element(item.element):
                if other.medium != "ink" or other.form.join or other.key not in under:
                    continue
                if other.group != item.group or scene.plan.index(other.key) >= scene.plan.index(item.key):
                    continue
                if (
                    rung.alone[0] - scene.alone[other.key][0] < CLEARLY_LIGHTER
                    or scene.ink(other).chemistry.opaque
                ):
                    continue
                light, deep = situation.name(item), situation.name(other)
                yield Finding(
                    self.code,
                    "look",
                    f"On {item.element}, {light} goes over the deeper {deep}: the shades are the wrong way round.",
                    f"A translucent light ink cannot lighten what is under it, and the brush carries {deep} into the paler pad.",
                    Subject.of(item),
                    (item.key, other.key),
                    (
                        Mend.one(
                            f"Put {light} first",
                            "set_school",
                            {"element": item.element, "school": "light first"},
                        ),
                        Mend.one(
                            "I work deep first here",
                            "set_school",
                            {"element": item.element, "school": "deep first"},
                        ),
                    ),
                )
                break
