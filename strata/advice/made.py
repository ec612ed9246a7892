"""The card as a thing that is made: how thick it gets, and how many at once."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Situation, Subject

PLAIN_RATE = 5.0
# mm that a common letter service takes at its plain rate
FOLDS = 2
# thicknesses of the base card


class Thickness:
    """Before anything is glued: what lies on what, foam and notes included."""

    code = "thickness"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        base = (FOLDS + 1) * scene.stock.thickness_mm
        heights: dict[str, float] = {}
        highest, top = base, ""
        for thing in scene.plan.things:
            under = heights.get(thing.on.split("/")[0], base) if thing.on else base
            height = under
            if thing.card is not None:
                stock = scene.stocks[thing.card.stock]
                height += thing.card.foam + thing.card.copies * stock.thickness_mm
            if thing.note is not None:
                height += thing.note.thickness
            heights[thing.key] = height
            if height > highest:
                highest, top = height, scene.called(thing)
        if highest > PLAIN_RATE:
            yield Finding(
                self.code,
                "note",
                f"At {top} the card is about {highest:.1f} mm thick.",
                f"Over {PLAIN_RATE:.0f} mm or stiff costs more to post: check your postal service before it is glued.",
                Subject("panel", ("thickness",)),
            )


class Batch:
    """One mistake repeated on every card costs the whole batch."""

    code = "batch"

    def look(self, situation: Situation) -> Iterator[Finding]:
        scene = situation.scene
        words = [scene.called(t) for t in scene.plan.things if t.kind == "words"]
        stamped = [n for _, n in scene.layer_set.groups if scene.layer_set.worked_as(n) == "stamp set"]
        if scene.plan.cards > 1 and (words or stamped):
            what = words[0] if words else "a stamp"
            yield Finding(
                self.code,
                "note",
                f"{scene.plan.cards} cards at once: print {what} on one, look, then on the rest.",
                "A stamp upside down or the wrong one is found on the first card, not on the last.",
                Subject("batch"),
            )
