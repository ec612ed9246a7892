"""Mends that several rules offer: each is tried on the grounds of the pass, and offered only where it would then be well."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from strata.advice.base import Mend, Situation
from strata.advice.verdicts import FINE, own_colour
from strata.optics.colour import Lab, chroma, differences, hue_apart
from strata.optics.dabs import dabs
from strata.optics.stack import Coat, Stock
from strata.plan.model import MOST_COATS_A_PASS, Pass
from strata.plan.scene import Scene
from strata.tones.ladder import Rung

WHITE_ENOUGH = 85.0
# L* less C*ab of a ground
LIKE, SAME_HUE, AS_LIGHT = 14.0, 25.0, 18.0
# CIEDE2000, degrees and L* within which an opaque ink does the work of another
MOST_GROUND = 3
# coats of white


def _well(situation: Situation, item: Pass, rung: Rung, ink: str, coats: int | None = None) -> bool:
    fresh, tried = situation.judge.tried(item, rung, ink, coats)
    return situation.judge.of(fresh, tried, situation.below(rung)) in FINE


def along_family(situation: Situation, item: Pass, rung: Rung, step: int) -> Iterator[Mend]:
    """The nearest deeper (+1) or lighter (-1) ink of the family with which the pass is well."""
    scene = situation.scene
    kin = scene.family(item.ink)
    at = kin.index(item.ink)
    further = kin[at + 1 :] if step > 0 else kin[:at][::-1]
    for ink in further:
        if ink in situation.at_hand and _well(situation, item, rung, ink):
            word = "Deepen" if step > 0 else "Lighten"
            yield Mend.one(f"{word} to {scene.inks[ink].name}", "set_ink", {"pass": item.key, "ink": ink})
            return


def more_coats(situation: Situation, item: Pass, rung: Rung) -> Iterator[Mend]:
    """As many coats of the same ink as it takes, where that is one or two more."""
    for coats in range(item.coats + 1, min(item.coats + 2, 4, MOST_COATS_A_PASS) + 1):
        if _well(situation, item, rung, item.ink, coats):
            word = "a second coat" if coats == 2 else f"{coats} coats"
            yield Mend.one(f"Give it {word}", "set_coats", {"pass": item.key, "coats": coats})
            return


def white_ground(situation: Situation, item: Pass, rung: Rung) -> Iterator[Mend]:
    """The whitest opaque ink beneath, through the same openings, in as many coats as it takes."""
    scene = situation.scene
    if scene.ink(item).chemistry.opaque:
        return
    whites = [k for k in situation.at_hand if k in scene.inks and is_white(scene, k)]
    if not whites or any(p.group == item.group and p.ink in whites for p in scene.plan.passes):
        return
    white = max(sorted(whites), key=lambda k: scene.inks[k].paleness)
    for coats in range(1, MOST_GROUND + 1):
        fresh, tried = situation.judge.tried(
            item, rung, item.ink, beneath=Coat(scene.inks[white], float(coats))
        )
        if situation.judge.of(fresh, tried, None) in FINE:
            break
    else:
        return
    values = {
        "element": item.element,
        "sheet": item.sheet,
        "ink": white,
        "coats": coats,
        "form": {"kind": "all"},
        "at": scene.plan.index(item.key),
    }
    label = f"Lay {scene.inks[white].name} under it first"
    yield Mend.one(label if coats == 1 else f"{label}, {coats} coats", "add_pass", values)


def is_white(scene: Scene, ink: str) -> bool:
    """Whether a pad serves as a white ground: opaque, pale, and nothing that must be sealed."""
    pad = scene.inks[ink]
    return pad.chemistry.opaque and not pad.chemistry.needs_seal and pad.paleness > WHITE_ENOUGH


def _others(situation: Situation, ink: str) -> list[str]:
    """The pads at hand but one."""
    return [k for k in sorted(situation.at_hand) if k in situation.scene.inks and k != ink]


def _compared(scene: Scene, keys: list[str], stock: Stock, wanted: Lab) -> list[tuple[str, Lab, float]]:
    """One coat of each pad alone on a card, and its CIEDE2000 from a colour: all at once, a drawer may be large."""
    colours = dabs([scene.inks[k] for k in keys], stock, (1.0,))[:, 0]
    offs = differences(colours, np.broadcast_to(wanted, colours.shape)).tolist()
    labs: list[Lab] = [(lightness, a, b) for lightness, a, b in colours.tolist()]
    return list(zip(keys, labs, offs, strict=True))


def opaque_instead(situation: Situation, item: Pass, rung: Rung) -> Iterator[Mend]:
    """The opaque ink at hand that comes nearest to what this pad looks like: of its hue, and as light."""
    scene, wanted = situation.scene, own_colour(situation.scene.ink(item))
    near = []
    others = [k for k in _others(situation, item.ink) if scene.inks[k].chemistry.opaque]
    for key, colour, off in _compared(scene, others, scene.ground(item), wanted):
        same_hue = chroma(wanted) < 15 or (chroma(colour) >= 12 and hue_apart(colour, wanted) < SAME_HUE)
        if same_hue and abs(colour[0] - wanted[0]) < AS_LIGHT and off < LIKE:
            near.append((off, key))
    for _, key in sorted(near):
        if _well(situation, item, rung, key):
            label = f"Use the opaque {scene.inks[key].name}"
            yield Mend.one(label, "set_ink", {"pass": item.key, "ink": key})
            return


def nearest_at_hand(situation: Situation, ink: str) -> Iterator[Mend]:
    """The pad at hand whose colour alone on this card is nearest, in all passes of the missing one."""
    scene = situation.scene
    others = _others(situation, ink)
    if others:
        nearest, _, _ = min(
            _compared(scene, others, scene.stock, scene.on_stock(ink)), key=lambda row: row[2]
        )
        own = [p for p in scene.plan.passes if p.ink == ink]
        amounts = {p.key: {"coats": p.coats, "hand": p.hand} for p in own}
        label = f"Use {scene.inks[nearest].name} instead"
        yield Mend.one(label, "replace_ink", {"ink": ink, "to": nearest, "amounts": amounts})


def take_off(scene: Scene, item: Pass) -> Iterator[Mend]:
    """Do without this pass."""
    yield Mend.one(f"Take {scene.ink(item).name} off", "remove_pass", {"pass": item.key})
