"""Putting a card together: what is done in which order, how long it takes, and what to mind."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from strata.phrases import counted
from strata.plan.finish import Finish
from strata.plan.scene import Scene

A_CUT, A_FOLD, A_LAYER, A_FOAM = 0.35, 0.5, 0.8, 1.2
# minutes: measured and cut, scored and folded, laid on with even margins, foam stuck on and laid
PRESS = 10.0
KNIFE = "Cut away from your hand, and cap the knife."


@dataclass(frozen=True)
class Task:
    """One thing to do for all cards: in one word and a sentence, minutes of hands; ``waits``: minutes that it then lies.

    ``first``: before anything is inked; ``early``: while ink dries; else when all is dry.
    """

    key: str
    word: str
    sentence: str
    minutes: float
    early: bool = False
    caution: str = ""
    waits: float = 0.0
    first: bool = False


@dataclass(frozen=True)
class Cutting:
    """Cuts for all cards: those that the panels need to come out, the others, and whether panels are trimmed at the end."""

    panels: int
    others: int
    trimmed: bool = False


def assembly_of(scene: Scene, finish: Finish, cuts: Cutting) -> list[Task]:
    """What is to be done beside the inking, for all cards together."""
    cards = scene.plan.cards
    rest = () if finish.alone else _joining(scene, finish, cards, cuts)
    return [*_cut(finish, cards, cuts), *rest]


def _cut(finish: Finish, cards: int, cuts: Cutting) -> Iterator[Task]:
    many = cards > 1
    inked = "card" if finish.alone else "panel"
    said = f"Cut the {inked}{'s' if many else ''}, before anything is inked: {counted(cuts.panels, 'cut')}."
    if cuts.panels:
        yield Task("panel", "Cut", said, cuts.panels * A_CUT, caution=KNIFE, first=True)
    said = f"Cut the other pieces: {counted(cuts.others, 'cut')}."
    if cuts.others:
        yield Task("cut", "Cut", said, cuts.others * A_CUT, True, KNIFE)
    frames = [n for n, m in enumerate(finish.mats, 1) if m.rim]
    if frames:
        said = "Cut the middle out of the frames, and keep it for another card."
        yield Task("frames", "Cut", said, cards * len(frames) * 4 * A_CUT, True, KNIFE)
    if finish.fold != "none":
        said = f"Score and fold the {'bases' if many else 'base'}, the ridge inside."
        yield Task("fold", "Fold", said, cards * A_FOLD, not finish.alone)


def _joining(scene: Scene, finish: Finish, cards: int, cuts: Cutting) -> Iterator[Task]:
    many = cards > 1
    if cuts.trimmed:
        said = f"Trim the {'panels' if many else 'panel'} to size, as much off each side of what is seen."
        yield Task("trim", "Trim", said, cards * 4 * A_CUT, caution=KNIFE)
    if any(t.kind == "words" for t in scene.plan.things):
        yield Task(
            "words",
            "Check",
            "See that the words stand upright before anything is glued: a slip now costs a panel, later a card.",
            0.2,
        )
    if finish.stiffener:
        yield Task(
            "stiffen",
            "Lay on",
            f"Stick the stiffener behind the {'panels' if many else 'panel'}.",
            cards * A_LAYER,
        )
    wet = any(scene.ink(p).chemistry.key in ("dye", "hybrid") for p in scene.plan.passes)
    by = "with tape (wet glue would wake the ink)" if wet else "with glue or tape"
    if finish.mats:
        yield Task(
            "mats",
            "Lay on",
            f"Lay the panel on its mats, the margins even, {by}.",
            cards * len(finish.mats) * A_LAYER,
        )
    how = f"on {finish.foam:g} mm foam" if finish.foam else by
    said = f"Lay {'each' if many else 'it'} on the base {how}; look along the fold that it stands straight."
    yield Task("mount", "Lay on", said, cards * (A_FOAM if finish.foam else A_LAYER))
    for n, strip in enumerate(finish.strips, 1):
        how = f" on {strip.foam:g} mm foam" if strip.foam else ""
        yield Task(f"strip {n}", "Lay on", f"Set the strip for words on{how}, upright.", cards * A_LAYER)
    if not finish.foam:
        yield Task("press", "Press", "Leave it under a weight, clean paper between.", 0.2, waits=PRESS)
