"""What is said at a step, in the words of the kind of set that is worked with."""

from __future__ import annotations

from strata.plan.model import Pass
from strata.plan.scene import Scene
from strata.plan.tools import Brush
from strata.sheets.model import Sheet
from strata.sheets.nouns import NOUNS

STEP_WORDS = {
    "place": "Seat",
    "mask": "Mask",
    "unmask": "Unmask",
    "ink": "Ink",
    "wipe": "Wipe",
    "clean": "Clean",
    "wash": "Wash",
    "wait": "Wait",
    "seal": "Seal",
    "lift": "Lift",
    "glue": "Glue",
}
# what is done at a step of each kind, in one word
OWN_NAME = {"jig": "in the corner of the jig", "marks": "on its marks", "eye": "to the layer below, by eye"}


def seated(scene: Scene, sheet: Sheet, again: bool) -> str:
    """Taking a sheet, a step or a piece in hand."""
    where = OWN_NAME[scene.plan.register]
    if scene.layer_set.kind == "stamp set":
        if sheet.seat:
            paler = ", without inking it afresh," if sheet.seat.strength < 1 else ""
            return f"Print step {sheet.seat.of} once more{paler} as {sheet.name}, {where}."
        apart = " on a scrap of the same card" if sheet.loose else f" {where}"
        return f"Take step {sheet.number}{' again' if again else ''} ({sheet.name}) and line it up{apart}."
    if scene.layer_set.kind == "die-cut":
        times = "" if sheet.copies == 1 else f", cut {sheet.copies} times"
        return f"Take piece {sheet.number}{' again' if again else ''} ({sheet.name}{times}) off the panel, on scrap paper."
    if sheet.seat:
        return f"Seat sheet {sheet.seat.of} in its second place ({sheet.name}) {where}."
    return f"Seat sheet {sheet.number}{' again' if again else ''} ({sheet.name}) {where}, number up."


def named(scene: Scene, number: int) -> str:
    """A part by its noun and the number that stands on it: a second seat is the same sheet."""
    seat = scene.layer_set.sheet(number).seat
    return f"{NOUNS[scene.layer_set.kind].one} {seat.of if seat else number}"


def lifted(scene: Scene, number: int) -> tuple[str, tuple[str, ...]]:
    """(sentence, reasons) when it leaves the hand."""
    if scene.layer_set.kind == "stamp set":
        return f"Clean {named(scene, number)} and put it back. Is everything printed that should be?", (
            "Ink that dries on a stamp spoils the next print.",
        )
    if scene.layer_set.kind == "die-cut":
        return f"Lay {named(scene, number)} aside. Is all of it inked, the cut edges too?", (
            "White edges show once the pieces are stacked.",
        )
    return f"Wipe {named(scene, number)} and lift it. Is every opening inked?", (
        "A whole group of openings is easily forgotten.",
    )


def inked(scene: Scene, item: Pass, brush: Brush) -> str:
    """Laying the ink."""
    ink = scene.ink(item)
    coats = f", {item.coats} coats" if item.coats > 1 else ""
    if scene.layer_set.kind == "stamp set" and item.form.kind == "all":
        often = "" if item.coats == 1 else f", {item.coats} times on the same spot"
        return f"{ink.name} from the pad on {item.element}, print it{often}, {item.hand} hand."
    if scene.layer_set.kind == "stamp set":
        return f"{ink.name} on part of {item.element}, dabbed on the stamp with {brush.article} {brush.label}{coats}, then print."
    return f"{ink.name} on {item.element}{coats}, {item.hand} hand, {brush.label}."


def following(scene: Scene) -> str:
    """What comes down on the panel next."""
    return {"stamp set": "the next print", "die-cut": "the next piece"}.get(
        scene.layer_set.kind, "the next sheet"
    )


def washed(scene: Scene, number: int) -> str:
    """Cleaning in between."""
    if scene.layer_set.kind == "stamp set":
        return f"Clean {named(scene, number)} and dry it."
    return f"Lift {named(scene, number)} and wash it."


def set_on(scene: Scene, number: int, lowest: bool) -> tuple[str, str]:
    """(sentence, reason) of what is glued on when everything is dry."""
    sheet = scene.layer_set.sheet(number)
    if scene.layer_set.kind == "die-cut":
        stack = "" if sheet.copies == 1 else f" Stack its {sheet.copies} copies first."
        where = "on the panel" if lowest else "on what lies there"
        return (
            f"Glue {named(scene, number)} ({sheet.name}) {where}.{stack}",
            "Pieces are stacked from the lowest up, where the drawing shows them.",
        )
    return (
        f"Cut out {sheet.name} and set it on, with foam beneath if you like.",
        "It was printed apart so that it stands before the rest.",
    )
