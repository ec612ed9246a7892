"""How far a predicted colour may be off: nine times in ten it lies within so many CIEDE2000.

Doubts of different kinds add in quadrature; of each kind the greatest counts.
The figures are coverages of published overprints with the judged set left
out, or simulations where nothing is published (docs/decisions/0022). A margin
is "about", never "at most".
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from strata.optics.colour import Lab, hex_of
from strata.optics.inks import Ink, Swatch
from strata.optics.layers import INTERNAL
from strata.optics.stack import Coat, Stock, predict
from strata.optics.swatches import lies_on

INK_ON_INK = 4.0
# two or three inks, all measured
BY_CARDS = 2.5
# at least, however many made cards were photographed (docs/decisions/0030)
LEAST = 1.0
# one ink on its own card: no reading is better
OTHER_COATS = 2.0
# as many coats as nobody measured, on its own card
OTHER_CARD, OTHER_FINISH = 3.0, 5.0
# one ink on another light card; on one that takes ink in another way
ON_BLACK = 8.0
SCREEN_COLOUR = 17.0
# a swatch from sRGB with a channel at its end: the colour may lie anywhere beyond
_CARD_DARK, _CARD_LIGHT = 35.0, 55.0
_INK_DARK, _INK_LIGHT = 14.0, 22.0
# L* of a card, and of ink below, at which it is black, and at which it is not
_GUESSED = ((30.0, 65.0, 88.0), (12.0, 5.0, 0.0))
# L* of the ground, and what a guessed scattering is worth there: kraft 5, black 12
_HARDLY = 0.05
# coats


def margin(stock: Stock, coats: Sequence[Coat]) -> float:
    """CIEDE2000 within which the true colour lies about nine times in ten; 0 on bare card."""
    coats = tuple(c for c in coats if c.coats > _HARDLY)
    if not coats:
        return 0.0
    grounds = [predict(stock, coats[:i]) for i in range(len(coats))]
    inks = len({c.ink.key for c in coats})
    doubts = [
        max(_own(c.ink) for c in coats),
        max(_guessed(c.ink, ground) for c, ground in zip(coats, grounds, strict=True)),
        ON_BLACK * _black(stock, coats, grounds),
    ]
    if inks == 1:
        together = sum(c.coats for c in coats)
        doubts.append(_placed(coats[0].ink, stock, together))
    else:
        doubts.append(_on_one_another(coats) * math.sqrt(max(inks - 1, 2) / 2))
        # another light card is within what ink on ink was measured on; another finish is not
        if any(_astray(c.ink, stock) for c in coats):
            doubts.append(OTHER_FINISH)
    return max(LEAST, math.sqrt(sum(d * d for d in doubts)))


def _on_one_another(coats: tuple[Coat, ...]) -> float:
    """What ink on ink leaves open: less where made cards have told of all the inks, never less than a photograph tells."""
    cards = min(c.ink.learned.cards for c in coats)
    return max(BY_CARDS, INK_ON_INK / math.sqrt(1 + cards))


def _share(value: float, all_at: float, none_at: float) -> float:
    return min(1.0, max(0.0, (none_at - value) / (none_at - all_at)))


def _own(ink: Ink) -> float:
    """What the swatches themselves leave open: their readings apart, or a screen colour that is cut off."""
    return max(max(s.spread or 0.0, SCREEN_COLOUR if _cut_off(s) else 0.0) for s in ink.swatches)


def _cut_off(swatch: Swatch) -> bool:
    code, _ = hex_of(swatch.lab)
    ends = {code[i : i + 2] for i in (1, 3, 5)}
    return swatch.how == "screen colour" and bool(ends & {"00", "ff"})


def _guessed(ink: Ink, ground: Lab) -> float:
    """An opaque ink's scattering that was not measured matters where the ground is dark."""
    return float(np.interp(ground[0], *_GUESSED)) if ink.estimated else 0.0


def _black(stock: Stock, coats: tuple[Coat, ...], grounds: list[Lab]) -> float:
    """How much of the doubt about clear inks on black applies, 0 to 1: on black card, or over black ink.

    An opaque ink seen on that very card is known there, and so is what lies on it.
    """
    known = [c.ink.chemistry.opaque and _on_own_card(c.ink, stock) for c in coats]
    card = 0.0 if known[0] else _share(stock.lab[0], _CARD_DARK, _CARD_LIGHT)
    ink = max(
        (
            _share(g[0], _INK_DARK, _INK_LIGHT)
            for g, c in zip(grounds[1:], coats[1:], strict=True)
            if not c.ink.chemistry.opaque
        ),
        default=0.0,
    )
    return max(card, ink)


def _on_own_card(ink: Ink, stock: Stock) -> bool:
    return any(_made_on(s, stock) for s in ink.swatches)


def _made_on(swatch: Swatch, stock: Stock) -> bool:
    known = swatch.finish and stock.finish
    alike = not known or INTERNAL[swatch.finish] == INTERNAL[stock.finish]
    return alike and lies_on(swatch, stock)


def _placed(ink: Ink, stock: Stock, coats: float) -> float:
    """One ink by itself: by how near its nearest swatch is to this card and this many coats."""
    own = [s for s in ink.swatches if _made_on(s, stock)]
    if own:
        near = min(abs(s.coats - coats) for s in own)
        return 0.0 if near < _HARDLY else OTHER_COATS
    return OTHER_FINISH if _astray(ink, stock) else OTHER_CARD


def _astray(ink: Ink, stock: Stock) -> bool:
    """Whether an ink was only seen on card of another finish than this one's."""
    told = {INTERNAL[s.finish] for s in ink.swatches if s.finish}
    return bool(stock.finish and told) and INTERNAL[stock.finish] not in told
