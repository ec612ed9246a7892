"""What is said at a step, in the words of the kind of set that is worked with."""

from __future__ import annotations

from strata.order.parting import Parting
from strata.panel.laid import Surface
from strata.panel.things import IMAGE
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
    "damp": "Wipe",
    "wash": "Wash",
    "wait": "Wait",
    "seal": "Seal",
    "lift": "Lift",
    "glue": "Glue",
    "heat": "Heat",
    "prep": "Prepare",
}
# what is done at a step of each kind, in one word
SIDES = ("right", "lower right", "foot", "lower left", "left", "upper left", "head", "upper right")
# eight ways from angle 0 on, by eighths of a turn
OWN_NAME = {"jig": "in the corner of the jig", "marks": "on its marks", "eye": "to the layer below, by eye"}


def seated(scene: Scene, sheet: Sheet, again: bool, copy: int = 1) -> str:
    """Taking a sheet, a step or a piece in hand."""
    where = OWN_NAME[scene.plan.register]
    kind, own = scene.layer_set.worked_as(sheet.number), scene.layer_set.origin(sheet.number).own
    if kind == "free":
        return "Lay the panel on scrap paper: this is worked without a sheet."
    if kind == "stamp set":
        if sheet.seat:
            paler = ", without inking it afresh," if sheet.seat.strength < 1 else ""
            return f"Print step {sheet.seat.of} once more{paler} as {sheet.name}, {where}."
        apart = " on a scrap of the same card" if sheet.loose else f" {where}"
        return f"Take step {own}{' again' if again else ''} ({sheet.name}) and line it up{apart}."
    if kind == "die-cut":
        times = "" if sheet.copies == 1 else f", cut {sheet.copies} times"
        return f"Take piece {own}{' again' if again else ''} ({sheet.name}{times}) off the panel, on scrap paper."
    if sheet.seat:
        return f"Seat sheet {sheet.seat.of} in its second place ({sheet.name}) {where}."
    which = "your second " if copy > 1 else ""
    return f"Seat {which}sheet {own}{' again' if again else ''} ({sheet.name}) {where}, number up."


def named(scene: Scene, number: int, copy: int = 1) -> str:
    """A part by its noun and the number that stands on it: a second seat is the same sheet, a second copy is not."""
    laid = scene.layer_set
    seat, origin = laid.sheet(number).seat, laid.origin(number)
    if origin.kind == "free":
        return "the panel"
    if origin.kind in ("words", "card"):
        return scene.called(scene.plan.thing(origin.thing))
    which = "your second " if copy > 1 else ""
    own = f"{which}{NOUNS[laid.worked_as(number)].one} {seat.of if seat else origin.own}"
    return own if origin.thing == IMAGE else f"{own} of {scene.called(scene.plan.thing(origin.thing))}"


def lifted(scene: Scene, number: int, copy: int = 1) -> tuple[str, tuple[str, ...]]:
    """(sentence, reasons) when it leaves the hand."""
    if scene.layer_set.worked_as(number) == "free":
        return "Lift the panel and look at it in the light.", (
            "Streaks and rings show while they can still be softened.",
        )
    if scene.layer_set.worked_as(number) == "stamp set":
        return f"Clean {named(scene, number)} and put it back. Is everything printed that should be?", (
            "Ink that dries on a stamp spoils the next print.",
        )
    if scene.layer_set.worked_as(number) == "die-cut":
        return f"Lay {named(scene, number)} aside. Is all of it inked, the cut edges too?", (
            "White edges show once the pieces are stacked.",
        )
    return f"Wipe {named(scene, number, copy)} and lift it. Is every opening inked?", (
        "A whole group of openings is easily forgotten.",
    )


def inked(scene: Scene, item: Pass, brush: Brush) -> str:
    """Laying the ink."""
    ink, where = scene.ink(item), item.element
    coats = f", {item.coats} coats" if item.coats > 1 else ""
    stamped = scene.layer_set.worked_as(item.sheet) == "stamp set"
    if item.medium != "ink":
        said = _worked(scene, item, brush)
    elif item.generation > 1:
        times = {2: "second", 3: "third"}[item.generation]
        said = f"Print {where} again with what is left of {ink.name}: the {times} print, without inking."
    elif item.more:
        names = [scene.ink_of(k).name for k in item.more]
        side = SIDES[round(item.form.angle / 45) % len(SIDES)]
        said = f"{ink.name} with {' and '.join(names)} from one pad on {where}, {names[-1]} at the {side}{coats}."
    elif item.form.join:
        said = f"{ink.name} softly over the border on {where}, {brush.label}."
    elif stamped and item.form.kind == "all":
        often = "" if item.coats == 1 else f", {item.coats} times on the same spot"
        said = f"{ink.name} from the pad on {where}, print it{often}, {item.hand} hand."
    elif stamped:
        said = f"{ink.name} on part of {where}, dabbed on the stamp with {brush.article} {brush.label}{coats}, then print."
    else:
        said = f"{ink.name} on {where}{coats}, {item.hand} hand, {brush.label}."
    return said


def _worked(scene: Scene, item: Pass, brush: Brush) -> str:
    """What is done with something else than ink from a pad."""
    name, where = scene.ink(item).name, item.element
    return {
        "lift": f"Lift a {item.hand} share of the colour off {where} with a damp wipe.",
        "spatter": f"Spatter {name} over {where}, drops of about {item.width:g} mm.",
        "shadow": f"{name}: a line {item.width:g} mm wide along one side of {where}.",
        "lights": f"{name}: short strokes of light on {where}.",
        "dry brush": f"{name}, hardly any on the {brush.label}, over the middle of {where}.",
        "gloss": f"Clear ink on {where}, powder, shake off, melt.",
        "seal": f"Seal {where}.",
    }[item.medium]


def parted(way: Parting) -> str:
    """How a group is kept off its neighbours."""
    if way.way == "hand":
        return f"A light hand, no mask: {way.room:.1f} mm to the next opening."
    if way.way == "cut":
        return f"A mask cut to its outline parts it: {way.cutting:.0f} minutes to cut."
    return (
        "A straight strip of tape parts it."
        if way.strips == 1
        else f"{way.strips} straight strips of tape part it."
    )


def following(scene: Scene) -> str:
    """What comes down on the panel next."""
    return {"stamp set": "the next print", "die-cut": "the next piece"}.get(
        scene.layer_set.kind, "the next sheet"
    )


def washed(scene: Scene, number: int, damp: bool, copy: int = 1) -> str:
    """Cleaning in between."""
    if damp:
        return f"Lift {named(scene, number, copy)}, go over it with a damp wipe, then with a dry cloth."
    if scene.layer_set.worked_as(number) == "stamp set":
        return f"Clean {named(scene, number)} and dry it."
    return f"Lift {named(scene, number, copy)} and wash it."


def set_on(scene: Scene, number: int, lowest: bool) -> tuple[str, str]:
    """(sentence, reason) of what is glued on when everything is dry."""
    sheet = scene.layer_set.sheet(number)
    surface = next((s for s in scene.layer_set.surfaces if number in s.sheets), None)
    if surface is not None:
        return _piece_set_on(scene, surface)
    if scene.layer_set.worked_as(number) == "die-cut":
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


def _piece_set_on(scene: Scene, surface: Surface) -> tuple[str, str]:
    """(sentence, reason) of gluing a piece of card in its place."""
    card = surface.card
    # cut from the whole thing, or from one of its sheets
    one = surface.key != surface.thing
    name = named(scene, surface.sheets[0]) if one else scene.called(scene.plan.thing(surface.thing))
    stack = f" Glue its {card.copies} layers into a stack first." if card.copies > 1 else ""
    how = f"on foam of {card.foam:g} mm" if card.foam else "flat"
    return (
        f"Set {name} ({scene.stocks[card.stock].name}) on, {how}.{stack}",
        "Card hides what is under it: greeting and prints first, pieces from the lowest up.",
    )
