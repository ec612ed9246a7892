"""What went wrong, what it now looks like, and what saves it: each way judged by the finished colour at the real place."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from strata.errors import BadValue, UnknownName
from strata.making.cards import Card, card_of
from strata.making.events import Event
from strata.making.making import Making
from strata.making.ways import BY_WHAT, Told, filled, paler, way
from strata.optics.colour import Lab, difference, lab_of_rgb
from strata.optics.inks import Ink
from strata.picture.shown import view
from strata.plan.model import Pass, Plan
from strata.plan.scene import Scene
from strata.recipes.judged import in_words

WRONG = tuple(BY_WHAT)
LOOKED_AT = 140
# px across: enough for the mean colour of a place
_EFFORT = {"leave": 0.0, "again": 0.3, "over": 1.3}
# CIEDE2000 that a way must win to be worth the work: the pad that is in the hand, another one
UNSEEN = 0.5
# mm of a slip that few would see
TRIED = 6
# inks that come nearest when laid alone, each tried in full
Body = Mapping[str, Any]


@dataclass(frozen=True)
class Remedy:
    """One way on. ``events``: (kind, body) to be written for it; ``off``: CIEDE2000 from what was meant, None where
    no colour is in question."""

    key: str
    sentence: str
    events: tuple[tuple[str, Body], ...]
    colour: Lab | None = None
    off: float | None = None


@dataclass(frozen=True)
class Wrong:
    """What happened, in a sentence; the colour meant and the one that is there now; the ways on, best first."""

    sentence: str
    events: tuple[tuple[str, Body], ...]
    remedies: tuple[Remedy, ...]
    meant: Lab | None = None
    now: Lab | None = None


def to_write(events: Iterable[tuple[str, Body]]) -> list[dict[str, Any]]:
    """Events to be written, as JSON values without key and time."""
    return [{"kind": kind, "body": dict(body)} for kind, body in events]


def went_wrong(making: Making, what: str, body: Body, at_hand: Iterable[str]) -> Wrong:
    """Ways on for something that went wrong; raises BadValue and UnknownName for what cannot have happened.

    ``body``: ``card``, ``pass`` (not for a spoilt card), ``ink`` for the wrong
    pad, ``dx``, ``dy`` for a slip or a smear. ``events`` of the answer are
    what happened; those of a remedy come after them.
    """
    if what not in WRONG:
        raise BadValue(f"What went wrong is one of {', '.join(WRONG)}.", "what")
    number = body.get("card")
    if not isinstance(number, int) or not 1 <= number <= len(making.cards):
        raise UnknownName("There is no such card.", "card")
    return _Case(making, making.cards[number - 1], body, at_hand).told(what)


class _Case:
    def __init__(self, making: Making, card: Card, body: Body, at_hand: Iterable[str]) -> None:
        self.making, self.card, self.body = making, card, body
        self.at_hand = [k for k in at_hand if k in making.scene.inks]

    def told(self, what: str) -> Wrong:
        ways: dict[str, Callable[[], Wrong]] = {
            "forgot": self._forgot,
            "pale": self._pale,
            "pad": self._pad,
            "slipped": self._slipped,
            "smudged": self._smudged,
            "spoilt": self._spoilt,
        }
        return ways[what]()

    @property
    def scene(self) -> Scene:
        return self.making.scene

    def _pass(self) -> Pass:
        key = self.body.get("pass")
        item = next((p for p in self.card.plan.passes if p.key == key), None)
        if item is None:
            raise UnknownName("That pass is not on this card.", "pass")
        if item.key not in self.card.inked:
            raise BadValue("That pass is not laid yet; change it in the plan, or skip it.", "pass")
        return item

    def _on(self, **more: Any) -> dict[str, Any]:
        return {"card": self.card.number, "pass": self.body["pass"], **more}

    def _known(self, item: Pass | None, **more: Any) -> dict[str, Any]:
        """What fills the blanks of ways and sentences."""
        known = {"card": self.card.number, **more}
        if item is not None:
            known |= {"pass": item.key, "meant": item.ink, "hand": item.hand}
            known |= {"ink": self._name(item), "element": item.element, **more}
        return known

    def _way(self, what: str, key: str, known: Mapping[str, Any]) -> Remedy:
        """A way on as it stands, where no colour is in question."""
        own = way(what, key)
        return Remedy(key, own.sentence.format(**known), filled(own.events, known))

    def _name(self, item: Pass) -> str:
        return self.scene.ink(item).name or item.ink

    # colours

    def _finished(self, plan: Plan, item: Pass) -> Lab:
        """The mean colour of the finished card where a pass lies."""
        scene = self.scene.with_plan(plan)
        wet = self.making.wet_on(self.card.number) & {p.key for p in plan.passes}
        seen = view(scene, wet, LOOKED_AT)
        layer = next(j for j, own in enumerate(seen.layers) if own.pass_key == item.key)
        weight = seen.stacks.levels[:, layer] * seen.stacks.counts
        labs = lab_of_rgb(seen.finished)
        mean = np.average(labs, axis=0, weights=weight) if weight.sum() > 0 else labs.mean(axis=0)
        return float(mean[0]), float(mean[1]), float(mean[2])

    def _after(self, events: Iterable[tuple[str, Body]]) -> Plan:
        """The card's plan after these events as well."""
        happened = [e for e in self.making.live if e.card == self.card.number]
        more = [Event(f"~{n}", 0.0, kind, body) for n, (kind, body) in enumerate(events)]
        return card_of(self.scene, self.card.number, [*happened, *more]).seen

    def _remedy(
        self,
        key: str,
        sentence: str,
        item: Pass,
        meant: Lab,
        happened: tuple[tuple[str, Body], ...],
        *events: tuple[str, Body],
    ) -> Remedy:
        colour = self._finished(self._after([*happened, *events]), item)
        return Remedy(key, sentence, events, colour, round(difference(colour, meant), 1))

    def _judged(
        self, what: str, item: Pass, known: Mapping[str, Any], told: tuple[Told, ...] | None = None
    ) -> Wrong:
        """Leaving it, the meant ink once more, the best of the others, or another card."""
        happened = filled(BY_WHAT[what].events, known) if told is None else told
        meant = self._finished(self.card.plan, item)
        now = self._finished(self._after(happened), item)
        off = round(difference(now, meant), 1)
        leave = Remedy("leave", "Leave it and go on.", (), now, off)
        ways = [leave]
        coat = "one coat" if item.hand == "medium" else f"one coat, {item.hand} hand"
        for hand in dict.fromkeys((item.hand, "light")):
            said = f"{self._name(item)} over it once more, {coat if hand == item.hand else 'light hand'}."
            again = ("again", self._on(ink=item.ink, coats=1, hand=hand))
            ways.append(self._remedy(f"again:{hand}", said, item, meant, happened, again))
        for ink, hand in self._near(item, meant):
            said = f"{self.scene.inks[ink].name} over it, {hand} hand."
            over = ("again", self._on(ink=ink, coats=1, hand=hand))
            ways.append(self._remedy(f"over:{ink}:{hand}", said, item, meant, happened, over))
        best = sorted(ways, key=lambda w: (w.off or 0.0) + _EFFORT[w.key.split(":")[0]])
        # what is no better than leaving it is no help
        kept = [w for w in best if w.key == "leave" or (w.off or 0.0) < off - 0.3][:4]
        if leave not in kept:
            kept.append(leave)
        return Wrong(
            f"{BY_WHAT[what].sentence.format(**known)} Beside what was meant: {in_words(off)}.",
            happened,
            (*kept, *self._afresh()),
            meant,
            now,
        )

    def _near(self, item: Pass, meant: Lab) -> list[tuple[str, str]]:
        """Inks at hand whose colour on this card comes nearest to what was meant, heavier and lighter."""
        own = self.scene.ink(item)

        def alike(ink: Ink) -> bool:
            return ink.chemistry.key == own.chemistry.key

        known = [
            (difference(self.scene.on_stock(k, 1.0, self.scene.surface(item)), meant), k)
            for k in self.at_hand
            if k != item.ink and alike(self.scene.inks[k])
        ]
        return [(k, hand) for _, k in sorted(known)[: TRIED // 2] for hand in ("medium", "light")]

    def _afresh(self) -> tuple[Remedy, ...]:
        fresh, fewer = (self._way("spoilt", key, self._known(None)) for key in ("fresh", "fewer"))
        several = sum(not c.spoilt for c in self.making.cards) > 1
        return (fresh, fewer) if several else (fresh,)

    # what went wrong

    def _forgot(self) -> Wrong:
        """Ticked off, but not inked."""
        item = self._pass()
        laid = (self.card.number, item.key)
        keys = [e.key for e in self.making.live if e.is_ink and (e.card, e.pass_key) == laid]
        known = self._known(item, done=keys)
        back, skip = (self._way("forgot", key, known) for key in ("back", "skip"))
        if self._is_seated(item):
            back = replace(back, sentence="Ink it now: its sheet still lies there.")
        return Wrong(BY_WHAT["forgot"].sentence.format(**known), (), (back, skip))

    def _is_seated(self, item: Pass) -> bool:
        now = self.making.begun.seated
        if now is None or now[0] != self.card.number:
            return False
        make = self.making.evening.cards[self.card.number - 1]
        return self.making.evening.own_sheet(make, now[1]) == item.sheet

    def _pale(self) -> Wrong:
        """It came out paler: about as with a lighter hand, or a coat fewer."""
        item = self._pass()
        really = paler(item)
        if really is None:
            raise BadValue("One light coat cannot be laid paler; lay it once more.", "pass")
        return self._judged("pale", item, self._known(item, paler=really))

    def _pad(self) -> Wrong:
        item, ink = self._pass(), self.body.get("ink")
        if not isinstance(ink, str) or ink not in self.scene.inks or ink == item.ink:
            raise UnknownName("Say which pad it was.", "ink")
        known = self._known(item, other=self.scene.inks[ink].name)
        return self._judged("pad", item, known, filled(BY_WHAT["pad"].events, {**known, "ink": ink}))

    def _by(self) -> tuple[float, float]:
        dx, dy = self.body.get("dx"), self.body.get("dy")
        if not isinstance(dx, (int, float)) or not isinstance(dy, (int, float)) or not (dx or dy):
            raise BadValue("Say by how much, in mm to the right and down.", "dx")
        return float(dx), float(dy)

    def _slipped(self) -> Wrong:
        """The pass lies beside its place: follow it, leave it, blend its edge away."""
        item, (dx, dy) = self._pass(), self._by()
        left = [p for p in self.card.plan.passes if p.key not in self.card.inked]
        mates = [p.key for p in left if p.element == item.element]
        far = math.hypot(dx, dy)
        known = self._known(item, dx=dx, dy=dy, mates=mates, far=f"{far:.1f}")
        keys = [*(["follow"] if mates else []), "leave", "blend"]
        ways = [self._way("slipped", key, known) for key in keys]
        if far <= UNSEEN:
            ways.sort(key=lambda w: w.key != "leave")
        return self._as_told("slipped", known, ways)

    def _smudged(self) -> Wrong:
        item, (dx, dy) = self._pass(), self._by()
        known = self._known(item, dx=dx, dy=dy)
        return self._as_told("smudged", known, [self._way("smudged", "leave", known)])

    def _as_told(self, what: str, known: Mapping[str, Any], ways: Iterable[Remedy]) -> Wrong:
        said = BY_WHAT[what].sentence.format(**known)
        return Wrong(said, filled(BY_WHAT[what].events, known), (*ways, *self._afresh()))

    def _spoilt(self) -> Wrong:
        return self._as_told("spoilt", self._known(None), ())
