"""Openings with no pass: a whole group is easily forgotten."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Edit, Finding, Mend, Situation, Subject
from strata.panel.things import IMAGE
from strata.phrases import first_up
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
        unused = self._unused(scene, inked | bare)
        for sheet, elements in unused.items():
            yield self._sheet(situation, sheet, elements)
        for (element, sheet), group in scene.layer_set.groups.items():
            if (element, sheet) in inked or (element, sheet) in bare or sheet in unused:
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
    def _unused(scene: Scene, settled: set[tuple[str, int]]) -> dict[int, list[str]]:
        """Sheets of the image through which nothing goes at all, once others are in use, with their elements."""
        laid = scene.layer_set
        own = [
            key
            for key in laid.groups
            if laid.origin(key[1]).thing == IMAGE and laid.origin(key[1]).kind != "free"
        ]
        used = {sheet for element, sheet in own if (element, sheet) in settled}
        if not used:
            return {}
        found: dict[int, list[str]] = {}
        for element, sheet in own:
            if sheet not in used:
                found.setdefault(sheet, []).append(element)
        return {sheet: elements for sheet, elements in found.items() if len(elements) > 1}

    def _sheet(self, situation: Situation, sheet: int, elements: list[str]) -> Finding:
        leave = tuple(Edit("leave_bare", {"element": e, "sheet": sheet}) for e in elements)
        part = situation.part(sheet)
        return Finding(
            self.code,
            "note",
            f"{first_up(part)} is never used: {', '.join(elements)} have openings on it.",
            "A whole sheet left out is seen when the others are washed and put away.",
            Subject("sheet", (), sheet),
            (),
            (Mend("Leave bare card there", leave),),
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
