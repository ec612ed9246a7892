"""Words that must be read: their contrast, their strokes, their side up, and nothing over them."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Mend, Situation, Subject
from strata.advice.remedies import along_family
from strata.optics.colour import difference
from strata.panel.things import Thing
from strata.phrases import first_up

CONTRAST = 25.0
# L* between the words and what lies under them, for an arm's length
COLOURED = 35.0
# CIEDE2000 that does instead
THIN = 0.3
# mm of stroke
COVERED = 0.08
# share of the words under something else
LEANING = 60.0
# degrees


class Greeting:
    """A greeting that cannot be read costs the card."""

    code = "greeting"

    def look(self, situation: Situation) -> Iterator[Finding]:
        for thing in situation.scene.plan.things:
            if thing.kind == "words":
                yield from self._inked(situation, thing)
                yield from self._upright(situation, thing)
                yield from self._covered(situation, thing)

    def _inked(self, situation: Situation, thing: Thing) -> Iterator[Finding]:
        scene, name = situation.scene, situation.scene.called(thing)
        laid = [t for t in situation.tones if scene.layer_set.origin(t[0].sheet).thing == thing.key]
        if not laid:
            return
        item, rung, verdict = laid[-1]
        lighter = abs(rung.here[0] - rung.before[0])
        if lighter < CONTRAST and difference(rung.here, rung.before) < COLOURED and verdict != "unseen":
            yield Finding(
                self.code,
                "look",
                f"{first_up(name)} is hard to read: {lighter:.0f} of lightness between it and what is under it.",
                f"At an arm's length words want about {CONTRAST:.0f}.",
                Subject.of(item),
                (item.key,),
                situation.offered(along_family(situation, item, rung, 1)),
            )
        width = scene.group(item).typical_width
        if width < THIN:
            yield Finding(
                self.code,
                "note",
                f"The strokes of {name} are {width:.1f} mm wide: ink closes them, or they break.",
                "Make it larger, or stamp it with a hard pad and a light hand.",
                Subject("panel", (thing.key, "strokes")),
            )

    def _upright(self, situation: Situation, thing: Thing) -> Iterator[Finding]:
        scene = situation.scene
        if LEANING < scene.placed(thing).turn % 360 < 360 - LEANING:
            yield Finding(
                self.code,
                "look",
                f"{first_up(scene.called(thing))} stands on its head or on its side.",
                "It is read with the card upright.",
                Subject("panel", (thing.key, "upright")),
                (),
                (Mend.one("Set it upright", "move_thing", {"thing": thing.key, "turn": 0}),),
            )

    def _covered(self, situation: Situation, thing: Thing) -> Iterator[Finding]:
        """The first thing that hides a good part of the words; said once."""
        scene = situation.scene
        laid, name = scene.layer_set, scene.called(thing)
        mends: tuple[Mend, ...]
        own = [e for e in laid.elements if laid.origin(laid.sheets_of(e)[0]).thing == thing.key]
        for kind, other, share in (over for e in own for over in situation.ground.over(e)):
            if share < COVERED:
                continue
            if kind == "card":
                piece = laid.surface_by_key[other].thing
                what = scene.called(scene.plan.thing(piece))
                mends = (Mend.one(f"Print it on {what}", "set_thing", {"thing": thing.key, "on": piece}),)
            elif kind == "ink" and scene.ink(scene.plan.find(other)).chemistry.opaque:
                what = situation.name(scene.plan.find(other))
                own_passes = [p.key for p in scene.plan.passes if p.element in own]
                mends = tuple(
                    Mend.one(f"Lay {name} last of all", "place_pass", {"pass": key, "to": "top"})
                    for key in own_passes[-1:]
                )
            else:
                continue
            yield Finding(
                self.code,
                "stop",
                f"{first_up(what)} lies over {name}: {share:.0%} of it is hidden.",
                "Words that are partly hidden cannot be read.",
                Subject("panel", (thing.key, "covered")),
                () if kind == "card" else (other,),
                mends,
            )
            return
