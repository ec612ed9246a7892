"""The ladders of pads that an element may wear, and the colours they would give it on this card."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from strata.optics.colour import Lab, chroma, hue
from strata.optics.stack import Coat, predict
from strata.plan.family import STRENGTHS, Amount, Slot, spread
from strata.plan.scene import Scene

SECTOR, GREY = 30.0, 12.0
# degrees of hue that pads without a family share; C*ab under which they share greyness
MOST_RUNGS = 5
# pads of a ladder made of one hue
DARK_CARD = 55.0
# L* of a card on which a clear ink needs a white ground


@dataclass(frozen=True)
class Ladder:
    """Pads of one family, or of one hue, light to deep on this card."""

    name: str
    pads: tuple[str, ...]
    opaque: bool


@dataclass(frozen=True, eq=False)
class Candidate:
    """An element in a ladder's inks: ``coats`` per tone from the base up, ``lines`` over them; colours in CIELAB."""

    ladder: Ladder
    strength: str
    laid: tuple[tuple[Slot, Amount], ...]
    ground: Amount | None
    coats: tuple[Coat, ...]
    colours: tuple[Lab, ...]
    shares: tuple[float, ...]
    line: Lab | None

    @cached_property
    def body(self) -> Lab:
        """The colour that the element is seen as: its tones by the area each shows."""
        light, a, b = np.average(np.array(self.colours), axis=0, weights=self.shares).tolist()
        return light, a, b

    @property
    def worn(self) -> list[Lab]:
        """The colour of each ink where it is laid, in the order of ``laid``."""
        tones = iter(self.colours)
        return [self.line if self.line and s.role == "line" else next(tones) for s, _ in self.laid]

    @property
    def pads(self) -> frozenset[str]:
        """Keys of all pads it takes."""
        return frozenset(a.ink for _, a in self.laid) | (
            frozenset([self.ground.ink]) if self.ground else frozenset()
        )


def ladders_of(scene: Scene, pads: Sequence[str]) -> list[Ladder]:
    """The families among ``pads``, and for pads of no family the hues."""
    families: dict[str, list[str]] = defaultdict(list)
    for key in sorted(pads):
        ink = scene.inks[key]
        if ink.chemistry.needs_seal or ink.chemistry.key not in ("dye", "pigment", "hybrid"):
            continue
        opaque = ink.chemistry.opaque
        if ink.family:
            families[f"{ink.line} {ink.family}{' (opaque)' if opaque else ''}".strip()].append(key)
        colour = scene.on_stock(key)
        sector = "grey" if chroma(colour) < GREY else f"hue {int(hue(colour) // SECTOR) * SECTOR:.0f}"
        families[f"{sector}{' (opaque)' if opaque else ''}"].append(key)
    found, known = [], set()
    for name, keys in families.items():
        ordered = sorted(keys, key=lambda k: -scene.on_stock(k)[0])
        if len(ordered) > MOST_RUNGS:
            ordered = [ordered[round(i * (len(ordered) - 1) / (MOST_RUNGS - 1))] for i in range(MOST_RUNGS)]
        if tuple(ordered) not in known:
            known.add(tuple(ordered))
            found.append(Ladder(name, tuple(ordered), scene.inks[ordered[0]].chemistry.opaque))
    return found


def candidates(
    scene: Scene, slots: Sequence[Slot], ladders: Sequence[Ladder], white: Amount | None, stock_key: str
) -> list[Candidate]:
    """Every ladder in every strength on these openings, each different one once; ``white``: a ground beneath clear inks."""
    found: dict[object, Candidate] = {}
    for ladder in ladders:
        for strength in STRENGTHS:
            laid = tuple(spread(scene, slots, ladder.pads, strength))
            ground = None if ladder.opaque else white
            key = tuple((s.sheet, s.form, a) for s, a in laid), ground
            if key not in found:
                found[key] = _seen(scene, ladder, strength, laid, ground, stock_key)
    return list(found.values())


def _seen(
    scene: Scene,
    ladder: Ladder,
    strength: str,
    laid: tuple[tuple[Slot, Amount], ...],
    ground: Amount | None,
    stock_key: str,
) -> Candidate:
    stock = scene.stocks[stock_key]
    coats = [Coat(scene.inks[ground.ink], float(ground.coats))] if ground else []
    colours, areas, line = [], [], None
    for slot, amount in laid:
        coat = Coat(scene.inks[amount.ink], scene.of_hand(amount.coats, amount.hand))
        # an outline that is all of its element is its body
        if slot.role == "line" and len(laid) > 1:
            line = predict(stock, [*coats[: 1 + bool(ground)], coat])
            continue
        coats.append(coat)
        colours.append(predict(stock, coats))
        areas.append(slot.area)
    # a tone over another hides that much of it
    shares = [max(0.05, a - sum(areas[i + 1 :]) / 2) / areas[0] for i, a in enumerate(areas)]
    return Candidate(
        ladder, strength, laid, ground, tuple(coats), tuple(colours), tuple(min(1.0, s) for s in shares), line
    )
