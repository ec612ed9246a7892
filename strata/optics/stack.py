"""Stacks: coats of ink on one another on a stock, and the colour they make."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property, lru_cache

import numpy as np

from strata.errors import BadValue, finite
from strata.optics import layers
from strata.optics.colour import XYZ_WEIGHTS, Floats, Lab, checked_lab, lab_from_xyz
from strata.optics.inks import HOWS, MOST_COATS, Ink, one_of
from strata.optics.spectrum import BANDS, reflectance

TRAP_LOSS = 0.35
# tau: largest share that an ink fails to lay down on wet ink
TRAP_RATE = 0.6
# beta: how fast that loss sets in with the density below
TRAP_BANDS = 9
# the density below is the mean of this many highest bands

HANDS: dict[str, float] = {"light": 0.5, "medium": 1.0, "heavy": 1.6}
# multiples of one measured coat


FINISHES = ("smooth", "vellum-finish", "coated")
STOCK_STATES = ("plenty", "low", "used up", "wished for")


@dataclass(frozen=True)
class Stock:
    """The card under the ink: CIELAB colour, weight in g/m2, thickness in mm.

    What follows the thickness is the maker's and changes no colour; ``key`` is what
    swatches call the card by.
    """

    lab: Lab
    name: str = ""
    weight_gsm: float = 270.0
    thickness_mm: float = 0.33
    finish: str = field(default="smooth", compare=False)
    place: str = field(default="", compare=False)
    state: str = field(default="plenty", compare=False)
    notes: str = field(default="", compare=False)
    how: str = field(default="", compare=False)
    when: str = field(default="", compare=False)
    key: str = field(default="", compare=False)

    def __post_init__(self) -> None:
        checked_lab(self.lab, "card.lab")
        one_of(self.finish, FINISHES, "finish")
        one_of(self.state, STOCK_STATES, "state")
        one_of(self.how, HOWS, "how")

    @cached_property
    def internal(self) -> Floats:
        """Internal reflectance r (36,)."""
        return layers.inside(reflectance(self.lab))


@dataclass(frozen=True)
class Coat:
    """One ink laid down: how many measured coats (hand included), on wet ink or dry."""

    ink: Ink
    coats: float
    wet: bool = False

    def __post_init__(self) -> None:
        finite(self.coats, "coats", 0.0, MOST_COATS)


def take(density_below: float, wet: bool) -> float:
    """The share t of an ink that stays (trapping): 1 on dry ink or bare card."""
    if not wet:
        return 1.0
    return 1.0 - TRAP_LOSS * (1.0 - math.exp(-TRAP_RATE * density_below))


def trapped_density(density: Floats) -> float:
    """The mean of the nine highest bands of a density spectrum (36,)."""
    return float(np.sort(density)[-TRAP_BANDS:].mean())


@dataclass(frozen=True)
class Stack:
    """Coats on a stock, bottom first."""

    stock: Stock
    coats: tuple[Coat, ...]

    @cached_property
    def internal(self) -> Floats:
        """Internal reflectance r (36,) of the whole."""
        r = self.stock.internal
        below = np.zeros(BANDS)
        for coat in self.coats:
            deposit = coat.ink.deposit(coat.coats)
            t = take(trapped_density(below), coat.wet)
            r = layers.over(r, t * deposit.absorbed, t * deposit.scattered)
            below = below + 2 * t * deposit.absorbed
        return r

    @cached_property
    def lab(self) -> Lab:
        """CIELAB D50 of the whole; exactly the stock's own colour where nothing was laid."""
        if not any(c.coats > 0 for c in self.coats):
            return self.stock.lab
        return lab_of_internal(self.internal)


def lab_of_internal(internal: Floats) -> Lab:
    """CIELAB of an internal reflectance (36,)."""
    lightness, a, b = lab_from_xyz(XYZ_WEIGHTS @ layers.outside(internal))
    return float(lightness), float(a), float(b)


@lru_cache(maxsize=1 << 14)
def _predicted(stock: Stock, coats: tuple[Coat, ...]) -> Lab:
    return Stack(stock, coats).lab


def predict(stock: Stock, coats: Sequence[Coat]) -> Lab:
    """CIELAB of coats (bottom first) on a stock, dried. Raises BadValue past 64 coats."""
    if len(coats) > 64:
        raise BadValue("A stack of more than 64 passes is more than card can take.", "passes")
    return _predicted(stock, tuple(coats))
