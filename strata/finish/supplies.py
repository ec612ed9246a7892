"""What a build takes in all: pads, stock by the sheet, foam, envelopes; what of it is not in the house."""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping
from dataclasses import dataclass

from strata.finish.finished import Finished
from strata.optics.stack import Stock
from strata.plan.media import BOTTLES

GONE = {"used up": "is used up", "wished for": "is only wished for"}
TAPE = 10.0
# mm wide: strips of foam under a third of what they lift
SHARE = 1 / 3


@dataclass(frozen=True)
class Supply:
    """One thing: what kind, its name, how much of it, where it is kept; ``wanting``: why it must be got first."""

    kind: str
    name: str
    amount: str
    place: str = ""
    wanting: str = ""


def supplies_of(
    made: Finished,
    places: Mapping[str, str],
    stocks: Mapping[str, Stock],
    at_hand: Collection[str],
    why: Mapping[str, str],
) -> list[Supply]:
    """For all cards. ``places``: where pads are kept now, by key; ``stocks``: the cards of the house as they are now.

    ``at_hand``: keys of the inks that can be used; ``why``: in words, for the others.
    """
    scene, cards = made.scene, made.scene.plan.cards
    inks = dict.fromkeys(k for p in scene.plan.passes for k in p.stripes)
    found = [
        Supply(
            "pad",
            scene.ink_of(key).name or key,
            "1",
            places.get(key, ""),
            "" if key in BOTTLES or key in at_hand else why.get(key, "is not in the drawer"),
        )
        for key in inks
    ]
    found.sort(key=lambda s: (not s.wanting, not s.place, s.place, s.name))
    for s in made.from_stock:
        stock = stocks[s.stock]
        wanting = GONE.get(stock.state, "")
        if s.laid is not None:
            if not wanting and stock.sheets is not None and stock.sheets < s.laid.new:
                wanting = f"is short: {stock.sheets or 'none'} in the house"
            found.append(Supply("stock", s.name, f"{s.laid.new} x {s.sheet.label}", stock.place, wanting))
    foam = _foam(made) * cards
    if foam:
        found.append(Supply("foam", f"Foam tape, {TAPE:g} mm wide", f"{math.ceil(foam / 100) / 10:g} m"))
    if made.envelope is not None:
        found.append(Supply("envelope", f"Envelope, {made.envelope.label}", str(cards)))
    return found


def _foam(made: Finished) -> float:
    """mm of tape for one card."""
    finish = made.finish
    lifted = [p.area for p in made.pieces.pieces if finish.foam and p.key == "panel"]
    lifted += [s.width * s.height for s in finish.strips if s.foam]
    lifted += [float(s.outline.area) for s in made.scene.layer_set.surfaces if s.card.foam]
    return sum(lifted) * SHARE / TAPE
