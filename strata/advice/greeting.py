"""Words that must be read: their contrast, their strokes, their side up, and nothing over them."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Mend, Situation, Subject
from strata.advice.remedies import along_family
from strata.optics.colour import difference

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
        scene = situation.scene
        for thing in scene.plan.things:
            if thing.kind != "words":
                continue
            name = scene.called(thing)
            passes = [
                (item, rung, verdict)
                for item, rung, verdict in situation.tones
                if scene.layer_set.origin(item.sheet).thing == thing.key
            ]
            for item, rung, verdict in passes[-1:]:
                weak = abs(rung.here[0] - rung.before[0]) < CONTRAST
                if weak and difference(rung.here, rung.before) < COLOURED and verdict != "unseen":
                    yield Finding(
                        self.code,
                        "look",
                        f"{name[:1].upper()}{name[1:]} is hard to read: {abs(rung.here[0] - rung.before[0]):.0f} of lightness between it and what is under it.",
                        f"At an arm's length words want about {CONTRAST:.0f}.",
                        Subject.of(item),
                        (item.key,),
                        tuple(along_family(situation, item, rung, 1)),
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
            yield from self._placed(situation, thing.key, name)

    @staticmethod
    def _placed(situation: Situation, key: str, name: str) -> Iterator[Finding]:
        scene = situation.scene
        said = f"{name[:1].upper()}{name[1:]}"
        turn = scene.placed(scene.plan.thing(key)).turn % 360
        if LEANING < turn < 360 - LEANING:
            yield Finding(
                "greeting",
                "look",
                f"{said} stands on its head or on its side.",
                "It is read with the card upright.",
                Subject("panel", (key, "upright")),
                (),
                (Mend.one("Set it upright", "move_thing", {"thing": key, "turn": 0}),),
            )
        elements = {e for e in scene.layer_set.elements if _belongs(situation, e, key)}
        for element in elements:
            for kind, other, share in situation.ground.over(element):
                opaque = kind == "card" or (
                    kind == "ink" and scene.ink(scene.plan.find(other)).chemistry.opaque
                )
                if opaque and share >= COVERED:
                    what = (
                        scene.called(scene.plan.thing(scene.layer_set.surface_by_key[other].thing))
                        if kind == "card"
                        else situation.name(scene.plan.find(other))
                    )
                    yield Finding(
                        "greeting",
                        "stop",
                        f"{what[:1].upper()}{what[1:]} lies over {name}: {share:.0%} of it is hidden.",
                        "Words that are partly hidden cannot be read.",
                        Subject("panel", (key, "covered")),
                        () if kind == "card" else (other,),
                        (Mend.one(f"Bring {name} forward", "stack_thing", {"thing": key, "to": "top"}),)
                        if kind == "card"
                        else (),
                    )
                    return


def _belongs(situation: Situation, element: str, key: str) -> bool:
    laid = situation.scene.layer_set
    return any(laid.origin(s).thing == key for s in laid.sheets_of(element))
