"""Mends that several rules offer."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Mend, Situation
from strata.optics.colour import chroma, difference
from strata.plan.model import MOST_COATS_A_PASS, Pass
from strata.plan.scene import Scene


def along_family(scene: Scene, item: Pass, step: int) -> Iterator[Mend]:
    """One step deeper (+1) or lighter (-1) in the ink's family, where there is one."""
    kin = scene.family(item.ink)
    at = kin.index(item.ink) + step
    if 0 <= at < len(kin):
        word = "Deepen" if step > 0 else "Lighten"
        kind = "deepen" if step > 0 else "lighten"
        yield Mend.one(f"{word} to {scene.inks[kin[at]].name}", kind, {"pass": item.key})


def another_coat(item: Pass) -> Iterator[Mend]:
    """One more coat of the same ink."""
    if item.coats < min(4, MOST_COATS_A_PASS):
        word = "a second coat" if item.coats == 1 else "one more coat"
        yield Mend.one(f"Give it {word}", "set_coats", {"pass": item.key, "coats": item.coats + 1})


def white_ground(scene: Scene, item: Pass) -> Iterator[Mend]:
    """A coat of the whitest opaque ink beneath, through the same openings."""
    whites = [k for k, i in scene.inks.items() if i.chemistry.opaque and not i.chemistry.needs_seal]
    whites = [k for k in whites if _paleness(scene, k) > 85]
    if not whites or scene.ink(item).chemistry.opaque:
        return
    white = max(whites, key=lambda k: _paleness(scene, k))
    if any(p.group == item.group and p.ink == white for p in scene.plan.passes):
        return
    values = {
        "element": item.element,
        "sheet": item.sheet,
        "ink": white,
        "coats": 2 if scene.stock.lab[0] < 45 else 1,
        "at": scene.plan.index(item.key),
    }
    yield Mend.one(f"Lay {scene.inks[white].name} under it first", "add_pass", values)


def _paleness(scene: Scene, ink: str) -> float:
    own = max(scene.inks[ink].swatches, key=lambda s: s.lab[0])
    return own.lab[0] - chroma(own.lab)


def opaque_instead(scene: Scene, item: Pass) -> Iterator[Mend]:
    """The opaque ink that comes nearest to the colour this ink was chosen for."""
    wanted = scene.alone[item.key]
    opaque = [k for k, i in scene.inks.items() if i.chemistry.opaque and k != item.ink]
    if not opaque:
        return
    nearest = min(opaque, key=lambda k: difference(scene.on_stock(k), wanted))
    if difference(scene.on_stock(nearest), wanted) < 22:
        label = f"Use the opaque {scene.inks[nearest].name}"
        yield Mend.one(label, "set_ink", {"pass": item.key, "ink": nearest})


def nearest_at_hand(situation: Situation, ink: str) -> Iterator[Mend]:
    """The pad at hand whose colour alone on this card is nearest, in all passes of the missing one."""
    scene = situation.scene
    others = [k for k in sorted(situation.at_hand) if k in scene.inks and k != ink]
    if others:
        wanted = scene.on_stock(ink)
        nearest = min(others, key=lambda k: difference(scene.on_stock(k), wanted))
        own = [p for p in scene.plan.passes if p.ink == ink]
        amounts = {p.key: {"coats": p.coats, "hand": p.hand} for p in own}
        label = f"Use {scene.inks[nearest].name} instead"
        yield Mend.one(label, "replace_ink", {"ink": ink, "to": nearest, "amounts": amounts})


def take_off(scene: Scene, item: Pass) -> Iterator[Mend]:
    """Do without this pass."""
    yield Mend.one(f"Take {scene.ink(item).name} off", "remove_pass", {"pass": item.key})
