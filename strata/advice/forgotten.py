"""Openings with no pass: a whole group is easily forgotten."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Mend, Situation, Subject
from strata.panel.things import IMAGE
from strata.plan.scene import Scene


class Forgotten:
    """Every group of openings has a pass, or is left bare on purpose."""

    code = "forgotten"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        inked = {p.group for p in scene.plan.passes}
        bare = set(scene.plan.bare)
        # a further set is laid for some of its parts: only what has been begun can be forgotten there
        begun = {p.element for p in scene.plan.passes}
        for (element, sheet), group in scene.layer_set.groups.items():
            if (element, sheet) in inked or (element, sheet) in bare:
                continue
            origin = scene.layer_set.origin(sheet)
            if origin.kind in ("free", "card") or (origin.thing != IMAGE and element not in begun):
                continue
            count = len(group.openings)
            nouns = situation.nouns_of(sheet)
            what = nouns.count(count)
            leave = Mend.one("Leave bare card here", "leave_bare", {"element": element, "sheet": sheet})
            yield Finding(
                self.code,
                "note",
                f"{what} of {element} on {situation.part(sheet)} {'has' if count == 1 else 'have'} no ink.",
                f"Forgotten {nouns.shapes} are the commonest reason to take up a {nouns.one} again.",
                Subject("element", (element,), sheet),
                (),
                (*self._suggestion(scene, element, sheet), leave),
            )

    @staticmethod
    def _suggestion(scene: Scene, element: str, sheet: int) -> Iterator[Mend]:
        """The next deeper ink of the family that the element already wears."""
        own = [p for p in scene.plan.of_element(element) if p.sheet <= sheet and p.medium == "ink"]
        if not own:
            return
        kin = scene.family(own[-1].ink)
        ink = kin[min(kin.index(own[-1].ink) + 1, len(kin) - 1)]
        yield Mend.one(
            f"Give it {scene.inks[ink].name}", "add_pass", {"element": element, "sheet": sheet, "ink": ink}
        )
