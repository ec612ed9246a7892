"""Elements side by side that run into one picture, and elements that run into the card."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations

from strata.advice.base import Finding, Mend, Situation, Subject
from strata.optics.colour import Lab, difference
from strata.panel.laid import PANEL
from strata.phrases import first_up
from strata.plan.model import Pass
from strata.sheets import measures
from strata.tones.ground import Place
from strata.tones.ladder import Rung, main_rung

APART, LIGHTNESS_APART = 7.0, 5.0
# CIEDE2000 and L* under which two areas side by side are one at arm's length
SHADE = 12.0
# CIEDE2000 between an element's own tones that give it an edge of its own


class Neighbours:
    """A face in the coat's brown is no face; an outline, a shadow at the border or a deeper ink parts them."""

    code = "neighbours"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        mains = {e: main_rung(climb) for e, climb in situation.ladders.items() if climb}
        for one, other in combinations(mains, 2):
            a, b = mains[one], mains[other]
            if "line" in (a.role, b.role) or not self._alike(a.here, b.here):
                continue
            if any(self._parted(situation.ladders[e]) or self._words(situation, e) for e in (one, other)):
                continue
            first, second = scene.plan.find(a.pass_key), scene.plan.find(b.pass_key)
            if (
                scene.surface(first) != scene.surface(second)
                or situation.apart(one, other) >= measures.SIDE_BY_SIDE
            ):
                continue
            yield Finding(
                self.code,
                "look",
                f"{first_up(one)} and {other} run into one another: they are {difference(a.here, b.here):.0f} apart.",
                f"Side by side, two areas want about {APART:.0f}, and most of it in lightness. A deeper ink or an outline parts them.",
                Subject("pair", tuple(sorted((one, other)))),
                tuple(sorted((a.pass_key, b.pass_key))),
                situation.offered(self._mends(situation, second, b, a.here)),
            )

    @staticmethod
    def _words(situation: Situation, element: str) -> bool:
        """A greeting is judged by what it lies on."""
        laid = situation.scene.layer_set
        return laid.origin(laid.sheets_of(element)[0]).kind == "words"

    @staticmethod
    def _alike(one: Lab, other: Lab) -> bool:
        return difference(one, other) < APART and abs(one[0] - other[0]) < LIGHTNESS_APART

    @staticmethod
    def _parted(climb: tuple[Rung, ...]) -> bool:
        """An outline, or tones enough to be seen as a body of its own."""
        deepest, lightest = min(r.here[0] for r in climb), max(r.here[0] for r in climb)
        return any(r.role in ("line", "accent") for r in climb) or deepest < lightest - SHADE

    def _mends(self, situation: Situation, item: Pass, rung: Rung, beside: Lab) -> Iterator[Mend]:
        scene = situation.scene
        kin = scene.family(item.ink)
        at = kin.index(item.ink)
        for ink in [*kin[at + 1 :], *kin[:at][::-1]]:
            if ink not in situation.at_hand:
                continue
            _, tried = situation.judge.tried(item, rung, ink)
            well = situation.judge.of(item, tried, situation.below(rung)) in ("well", "deepens")
            if well and not self._alike(tried.here, beside):
                yield Mend.one(
                    f"{item.element}: take {scene.inks[ink].name}", "set_ink", {"pass": item.key, "ink": ink}
                )
                return


class Silhouette:
    """An element that hardly stands out from the card it lies on."""

    code = "silhouette"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        for element, climb in situation.ladders.items():
            inked = [r for r in climb if scene.plan.find(r.pass_key).medium == "ink"]
            # a piece of card has its own edge
            if not inked or any(scene.surface(scene.plan.find(r.pass_key)) != PANEL for r in inked):
                continue
            deepest = max(inked, key=lambda r: max(difference(p.before, p.here) for p in r.places))
            item = scene.plan.find(deepest.pass_key)
            off = max(difference(r.here, scene.stock.lab) for r in inked)
            if off >= APART or any(_on_another(situation, element, p) for r in inked for p in r.places):
                continue
            if any(v in ("unseen", "wrong way") for i, _, v in situation.tones if i.element == element):
                continue
            yield Finding(
                self.code,
                "note",
                f"{first_up(element)} hardly stands out from the card: {off:.0f} at most.",
                "From an arm's length it will be guessed at rather than seen: a deeper pad, or an outline.",
                Subject("element", (element,)),
                (item.key,),
                situation.offered(self._deeper(situation, item, deepest)),
            )

    @staticmethod
    def _deeper(situation: Situation, item: Pass, rung: Rung) -> Iterator[Mend]:
        kin = situation.scene.family(item.ink)
        for ink in kin[kin.index(item.ink) + 1 :]:
            if ink not in situation.at_hand:
                continue
            _, tried = situation.judge.tried(item, rung, ink)
            if difference(tried.here, situation.scene.stock.lab) >= APART + 1:
                yield Mend.one(
                    f"Deepen to {situation.scene.inks[ink].name}", "set_ink", {"pass": item.key, "ink": ink}
                )
                return


def _on_another(situation: Situation, element: str, place: Place) -> bool:
    """Whether something else lies beneath: then it is not the card that it must stand out from."""
    return any(situation.scene.plan.find(u.pass_key).element != element for u in place.under)
