"""Which swatches are one and the same dab, and on which card they lie.

A card has an identity of its own: read again, its colour changes, but a dab
measured on it then still takes the place of the one measured there before.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import TYPE_CHECKING

from strata.optics.colour import Lab, difference
from strata.optics.inks import Swatch

if TYPE_CHECKING:
    from strata.optics.stack import Stock

SAME_COLOUR = 0.01
# L*, a*, b*: two readings of a card that nobody named are the same reading
SAME_COATS = 0.0015
# measured coats: rounded to three decimals on the way through files
ALIKE = 2.0
# CIEDE2000 between a nameless swatch's card and a stock that may be taken for it


def same_card(one: Swatch, other: Swatch) -> bool:
    """Whether two swatches lie on one card: by the card's key where both know it, else by its colour."""
    if one.card and other.card:
        return one.card == other.card
    return all(abs(a - b) < SAME_COLOUR for a, b in zip(one.on, other.on, strict=True))


def same_place(one: Swatch, other: Swatch) -> bool:
    """Whether two swatches are the same dab measured twice: one card, as many coats."""
    return abs(one.coats - other.coats) < SAME_COATS and same_card(one, other)


def with_readings(known: Iterable[Swatch], fresh: Iterable[Swatch]) -> tuple[Swatch, ...]:
    """``known`` with every fresh reading in the place of the same dab's, or after them; the last one holds."""
    result = list(known)
    for swatch in fresh:
        at = [i for i, old in enumerate(result) if same_place(old, swatch)]
        if at:
            result[at[0]] = swatch
            result = [s for i, s in enumerate(result) if i not in at[1:]]
        else:
            result.append(swatch)
    return tuple(result)


def lies_on(swatch: Swatch, stock: Stock, within: float = ALIKE) -> bool:
    """Whether a swatch was made on a stock: by its key, else by a colour within so many CIEDE2000."""
    if swatch.card and stock.key:
        return swatch.card == stock.key
    return difference(swatch.on, stock.lab) < within


def named(swatch: Swatch, cards: Mapping[str, Lab]) -> Swatch:
    """A nameless swatch with the key of the card (key: CIELAB) that has exactly its card's colour, if there is one."""
    if swatch.card:
        return swatch
    for key, lab in cards.items():
        if all(abs(a - b) < SAME_COLOUR for a, b in zip(swatch.on, lab, strict=True)):
            return replace(swatch, card=key)
    return swatch
