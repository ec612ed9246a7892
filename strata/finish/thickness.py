"""How thick a finished card is at its highest, and what it weighs, piece by piece."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from shapely import Point
from shapely.geometry.base import BaseGeometry

from strata.finish.pieces import Piece, strip_name
from strata.panel.size import Format
from strata.plan.scene import Scene

FOLDED = 2
# thicknesses of a folded card
FOAM_WEIGHT = 1e-4
# g/mm3, foam tape with its glue; it lies under a third of what it lifts
FOAM_SHARE = 1 / 3
PASTE_THICK, PASTE_WEIGHT = 0.4, 1.2e-3
# mm that glaze and paste stand up, g/mm3
ENVELOPE_GSM, ENVELOPE_FLAPS = 100.0, 2.2
# paper of an envelope, and how much of it there is for its front


@dataclass(frozen=True)
class Part:
    """What adds to a card: mm at its highest place, or g."""

    name: str
    amount: float


def layers_under(scene: Scene) -> list[Part]:
    """What lies under the ink at the middle of the card: base, mats, stiffener, foam, panel. Without a finish: the
    usual folded base of the panel's own stock."""
    finish, panel = scene.plan.finish, scene.stock
    if finish is None:
        return [Part("Base, folded", FOLDED * panel.thickness_mm), Part("Panel", panel.thickness_mm)]
    folded = 1 if finish.fold == "none" else FOLDED
    if finish.alone:
        return [Part("Card, inked on its front", folded * panel.thickness_mm)]
    found = [Part("Base", folded * scene.stocks[finish.base].thickness_mm)]
    found += [Part(f"Mat {n}", scene.stocks[m.stock].thickness_mm) for n, m in enumerate(finish.mats, 1)]
    if finish.foam:
        found.append(Part("Foam under the panel", finish.foam))
    if finish.stiffener:
        found.append(Part("Stiffener", scene.stocks[finish.stiffener].thickness_mm))
    return [*found, Part("Panel", panel.thickness_mm)]


def _tops(scene: Scene) -> Iterator[Part]:
    """Everything that stands on the panel, with the mm from the panel's face to its top."""
    pieces: list[tuple[BaseGeometry, float]] = []
    for surface in scene.layer_set.surfaces:
        under = max((h for shape, h in pieces if shape.intersects(surface.outline)), default=0.0)
        card = surface.card
        height = under + card.foam + card.copies * scene.stocks[card.stock].thickness_mm
        pieces.append((surface.outline, height))
        yield Part(scene.called(scene.plan.thing(surface.thing)), height)
    for thing in scene.plan.things:
        if thing.note is not None:
            spot = Point(scene.placed(thing).x, scene.placed(thing).y)
            under = max((h for shape, h in pieces if shape.intersects(spot)), default=0.0)
            yield Part(scene.called(thing), under + thing.note.thickness)
    if any(scene.ink(p).chemistry.key == "glaze" for p in scene.plan.passes):
        yield Part("glaze or paste", PASTE_THICK)
    if (finish := scene.plan.finish) is None:
        return
    for n, strip in enumerate(finish.strips, 1):
        cards = [strip.stock, *([strip.shadow] if strip.shadow else [])]
        yield Part(strip_name(finish, n), strip.foam + sum(scene.stocks[c].thickness_mm for c in cards))


def thickness_of(scene: Scene) -> list[Part]:
    """From the table up to the highest place of the card, mm."""
    highest = max(_tops(scene), key=lambda p: p.amount, default=None)
    return [*layers_under(scene), *([highest] if highest is not None and highest.amount else [])]


def weight_of(scene: Scene, pieces: Iterable[Piece], envelope: Format | None) -> list[Part]:
    """g of every piece, of foam, paste and the envelope; gems and thread are not known."""
    pieces = list(pieces)
    found = [Part(p.name, p.area * scene.stocks[p.stock].weight_gsm / 1e6) for p in pieces]
    for surface in scene.layer_set.surfaces:
        card = surface.card
        grams = float(surface.outline.area) * card.copies * scene.stocks[card.stock].weight_gsm / 1e6
        lifted = float(surface.outline.area) * card.foam * FOAM_SHARE * FOAM_WEIGHT
        found.append(Part(scene.called(scene.plan.thing(surface.thing)), grams + lifted))
    foam = 0.0
    finish = scene.plan.finish
    if finish is not None:
        foam += finish.foam * FOAM_SHARE * sum(p.area for p in pieces if p.key == "panel")
        foam += sum(s.foam * s.width * s.height * FOAM_SHARE for s in finish.strips)
    if foam:
        found.append(Part("Foam", foam * FOAM_WEIGHT))
    paste = sum(scene.inked_area(p) for p in scene.plan.passes if scene.ink(p).chemistry.key == "glaze")
    if paste:
        found.append(Part("Glaze or paste", paste * PASTE_THICK * PASTE_WEIGHT))
    if envelope is not None:
        grams = envelope.width * envelope.height * ENVELOPE_FLAPS * ENVELOPE_GSM / 1e6
        found.append(Part("Envelope", grams))
    return found
