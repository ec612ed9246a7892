"""A shaded pass on a stamp: it can only be had by inking the stamp in parts."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Mend, Situation, Subject


class InkedInParts:
    """Says what the shading costs, and offers the plain print."""

    code = "inked_in_parts"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        for item in scene.plan.passes:
            stamped = scene.layer_set.worked_as(item.sheet) == "stamp set"
            if stamped and item.form.kind != "all" and item.medium == "ink" and not item.more:
                values = {"pass": item.key, "form": {"kind": "all"}}
                yield Finding(
                    self.code,
                    "note",
                    f"{situation.name(item)} shades {item.element}: ink the stamp in parts.",
                    "A stamp prints what lies on its rubber; a shade is dabbed on with a brush for every print, and no two come out alike.",
                    Subject.of(item),
                    (item.key,),
                    (Mend.one("Ink it all over", "set_form", values),),
                )
