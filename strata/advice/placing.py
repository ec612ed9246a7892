"""Where things lie: a hair off the middle, and register marks where they will be seen."""

from __future__ import annotations

from collections.abc import Iterator

import shapely

from strata.advice.base import Finding, Mend, Situation, Subject
from strata.panel.things import Thing
from strata.phrases import first_up

LEAST_OFF, MOST_OFF = 0.15, 2.0
# mm: nearer is the middle, further is meant


class OffCentre:
    """By less than 2 mm it looks like a slip; by more it looks meant."""

    code = "off_centre"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        wide, tall = situation.size
        lying = [t for t in scene.plan.things if self._judged(t)]
        largest = max(lying, key=lambda t: self._area(situation, t), default=None)
        for thing in lying:
            x0, y0, x1, y1 = scene.layer_set.bounds(thing.key)
            dx, dy = wide / 2 - (x0 + x1) / 2, tall / 2 - (y0 + y1) / 2
            name = scene.called(thing)
            off = [(dx, 0.0, "to the side")] + ([(0.0, dy, "up or down")] if thing is largest else [])
            for by_x, by_y, word in off:
                if LEAST_OFF < abs(by_x or by_y) < MOST_OFF:
                    values = {"thing": thing.key, "by": [round(by_x, 3), round(by_y, 3)]}
                    yield Finding(
                        self.code,
                        "note",
                        f"{first_up(name)} lies {abs(by_x or by_y):.1f} mm off the middle, {word}.",
                        "So little looks like a slip; more looks meant, and none looks right.",
                        Subject("panel", (thing.key, word)),
                        (),
                        (Mend.one("Push it to the middle", "move_thing", values),),
                    )

    @staticmethod
    def _judged(thing: Thing) -> bool:
        """What was placed by hand, straight, on the panel itself."""
        straight = thing.place is not None and not thing.place.turn
        return thing.kind in ("set", "words", "piece") and straight and not thing.on and not thing.counter

    @staticmethod
    def _area(situation: Situation, thing: Thing) -> float:
        x0, y0, x1, y1 = situation.scene.layer_set.bounds(thing.key)
        return (x1 - x0) * (y1 - y0)


class MarksInside:
    """Marks are for register: inside the trim they stay on the card for good, if ink gets through them."""

    code = "marks_inside"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        size, laid = scene.plan.materials.panel, scene.layer_set
        if size is None or scene.plan.register != "marks":
            return
        inside = shapely.box(size.trim, size.trim, size.width - size.trim, size.height - size.trim)
        for thing in scene.plan.things:
            marks = [m for s in laid.sheets if laid.origin(s.number).thing == thing.key for m in s.marks]
            if any(inside.intersects(m) for m in marks):
                yield Finding(
                    self.code,
                    "note",
                    f"Marks of {scene.called(thing)} fall inside the trim.",
                    "What is inked through them stays on the card: cut the panel larger and trim it, or align another way.",
                    Subject("panel", (thing.key,)),
                    (),
                    (Mend.one("Align in the corner of a jig", "set_register", {"register": "jig"}),),
                )
