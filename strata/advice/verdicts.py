"""What a pass comes to where it lies: one verdict, by the predicted colours and by shares of its area.

All rules about tones ask here, so that no pass is found wanting twice over
for one reason, and a mend is offered only where the pass would then be well.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from strata.advice.mixing import COLOURFUL, hue_lost, turned_brown
from strata.optics.colour import Lab, chroma, difference, hue_apart
from strata.optics.inks import Ink
from strata.optics.stack import Coat, predict
from strata.panel.laid import FREE
from strata.plan.model import Pass
from strata.plan.scene import Scene
from strata.tones.ground import Place
from strata.tones.ladder import Rung

Verdict = Literal["wrong way", "unseen", "unlike", "brown", "faint", "doubtful", "hard", "deepens", "well"]
FINE: tuple[Verdict, ...] = ("well", "deepens", "doubtful")

UNSEEN, FAINT, READABLE = 2.0, 3.0, 4.0
# CIEDE2000 between before and after: nothing is seen; surely no tone of its own; two tones at arm's length
DARK, SWALLOWED, LIFTED = 30.0, 0.4, 10.0
# L* under which a ground swallows a dye; share of its chroma and L* gained under which it is swallowed
HUE_KEPT, KEPT, OPPOSED = 50.0, 0.4, 90.0
# degrees from the ground and share of its chroma within which a shadow is one of it; degrees between the two colours
# past which it is none even so
DEEPER, PALER = 4.0, 8.0
# L* by which a shadow is deeper than its ground, and an ink paler than it
MOSTLY, LARGELY, PARTLY = 0.7, 0.5, 0.25
# shares of a pass
SOFT, LONG_BLEND = 40.0, 10.0
# CIEDE2000 that a brush can blend away at a join; mm of soft edge over which any two colours run into each other
KIN = 12.0
# CIEDE2000 between an ink and what it lies on under which they are tones of one colour
NARROW = 8.0
# mm of opening in which no edge is made out


def own_colour(ink: Ink) -> Lab:
    """What a pad looks like: its swatch of about one coat on the lightest card it was seen on."""
    lightest = max(s.on[0] for s in ink.swatches)
    return min((s for s in ink.swatches if s.on[0] > lightest - 1), key=lambda s: abs(s.coats - 1)).lab


def _unseen(place: Place, ink: Ink) -> bool:
    if difference(place.before, place.here) < UNSEEN:
        return True
    if ink.chemistry.opaque or place.before[0] >= DARK:
        return False
    own = chroma(own_colour(ink))
    if own < COLOURFUL:
        return difference(place.before, place.here) < 7.0
    return chroma(place.here) < SWALLOWED * own and place.here[0] - place.before[0] < LIFTED


def _deepened(place: Place) -> bool:
    """A shadow: clearly deeper than its ground, and of its hue."""
    if place.here[0] > place.before[0] - DEEPER:
        return False
    if chroma(place.before) < COLOURFUL:
        return True
    kept = chroma(place.here) >= KEPT * chroma(place.before)
    return kept and hue_apart(place.here, place.before) <= HUE_KEPT


def _share(rung: Rung, test: Callable[[Place], bool]) -> float:
    return sum(p.share for p in rung.places if test(p)) / sum(p.share for p in rung.places)


@dataclass(frozen=True, eq=False)
class Judge:
    """Verdicts on the passes of a scene."""

    scene: Scene
    ladders: Mapping[str, tuple[Rung, ...]]

    def of(self, item: Pass, rung: Rung, below: Rung | None) -> Verdict:
        """What a pass comes to; ``below``: the rung of its element beneath it."""
        if item.medium != "ink" or item.form.join or rung.role == "line" or self._again(item):
            return "well"
        ink = self.scene.ink_of(item.ink)
        unseen = _share(rung, lambda p: _unseen(p, ink))
        faint = _share(rung, lambda p: difference(p.before, p.here) < FAINT)
        if max(unseen, faint) >= MOSTLY and (self._softens(item, rung) or self.deeper_below(item, rung)):
            return "well" if self._softens(item, rung) else "wrong way"
        if unseen >= MOSTLY:
            kin = below is not None and difference(own_colour(ink), rung.before) < KIN
            return "faint" if kin else "unseen"
        return self._mixed(rung, ink) or self._step(item, rung, below, faint)

    def _mixed(self, rung: Rung, ink: Ink) -> Verdict | None:
        """Whether what it makes with its ground is not what was wanted."""
        if _share(rung, lambda p: self._unlike(rung.alone, p)) >= LARGELY:
            return "unlike"
        if not ink.chemistry.opaque and self.browned(rung) >= PARTLY:
            return "brown"
        return None

    def _step(self, item: Pass, rung: Rung, below: Rung | None, faint: float) -> Verdict:
        if below is not None and rung.role not in ("ground", "highlight"):
            if faint >= MOSTLY:
                return "faint"
            if self._hard(item, rung, below):
                return "hard"
            if _share(rung, lambda p: difference(p.before, p.here) < READABLE) >= MOSTLY:
                return "doubtful"
        if hue_lost(rung.alone, rung.here) and _share(rung, _deepened) >= LARGELY and rung.places[0].under:
            return "deepens"
        return "well"

    @staticmethod
    def _unlike(alone: Lab, place: Place) -> bool:
        """Two inks that meet make a colour; only a paler one was to be seen as itself."""
        paler = alone[0] > place.before[0] + PALER
        return paler and not _deepened(place) and bool(hue_lost(alone, place.here))

    def browned(self, rung: Rung) -> float:
        """The share of a pass on which it and what lies beneath made brown or grey, and no shadow of the ground."""
        return _share(rung, lambda p: self._mud(rung, p))

    @staticmethod
    def _mud(rung: Rung, place: Place) -> bool:
        opposed = hue_apart(rung.alone, place.before) > OPPOSED
        return (opposed or not _deepened(place)) and bool(turned_brown(rung.alone, place.before, place.here))

    def _softens(self, item: Pass, rung: Rung) -> bool:
        """Deep first, each paler ink goes back over the deeper one of its element to soften the join."""
        if self.scene.plan.school_of(item.element) != "deep first":
            return False
        own = {p.key for p in self.scene.plan.of_element(item.element)}
        return all(any(u.pass_key in own for u in p.under) for p in rung.places if p.share >= PARTLY)

    def _again(self, item: Pass) -> bool:
        """The same ink once more: another hand, an outline stamped again, the first brush over the join."""
        earlier = self.scene.plan.passes[: self.scene.plan.index(item.key)]
        return any(p.ink == item.ink and p.element == item.element for p in earlier)

    def deeper_below(self, item: Pass, rung: Rung) -> Pass | None:
        """A deeper clear ink in the same openings that a paler one goes all over, where light goes first."""
        plan, scene = self.scene.plan, self.scene
        if plan.school_of(item.element) != "light first" or item.form.kind != "all":
            return None
        if scene.ink_of(item.ink).chemistry.opaque:
            return None
        for other in plan.of_element(item.element):
            lies = _share(rung, lambda p: any(u.pass_key == other.key for u in p.under))  # noqa: B023
            deeper = rung.alone[0] - scene.alone[other.key][0] >= DEEPER
            clear = other.medium == "ink" and not scene.ink_of(other.ink).chemistry.opaque
            if other.group == item.group and clear and deeper and lies >= MOSTLY:
                return other
        return None

    def _hard(self, item: Pass, rung: Rung, below: Rung) -> bool:
        """Only a shade that ends inside an opening needs a soft join; a cut edge may be as hard as it likes."""
        under = self.scene.plan.find(below.pass_key)
        if item.form.kind == "all" or item.group != under.group or rung.role == "accent":
            return False
        if item.sheet != FREE and self.scene.group(item).typical_width < NARROW:
            return False
        if item.form.soft is not None and item.form.soft >= LONG_BLEND:
            return False
        return rung.change - rung.margin / 2 > SOFT

    def tried(
        self, item: Pass, rung: Rung, ink: str, coats: int | None = None, beneath: Coat | None = None
    ) -> tuple[Pass, Rung]:
        """A pass with another ink or count of coats, or with something laid beneath it first, on the grounds it has."""
        scene, stock = self.scene, self.scene.ground(item)
        fresh = replace(item, ink=ink, coats=coats or item.coats)
        own = Coat(scene.ink_of(ink), scene.thickness(fresh), rung.wet and beneath is None)
        places = []
        for place in rung.places:
            under = [u.coat(scene.ink_of(scene.plan.find(u.pass_key).ink)) for u in place.under]
            under += [beneath] if beneath else []
            places.append(replace(place, before=predict(stock, under), here=predict(stock, [*under, own])))
        change = difference(places[0].before, places[0].here)
        alone = predict(stock, [replace(own, wet=False)])
        return fresh, replace(
            rung,
            alone=alone,
            before=places[0].before,
            here=places[0].here,
            change=change,
            places=tuple(places),
        )
