"""Stacks: coats of ink on one another on a stock, and the colour they make."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from functools import cached_property, lru_cache

import numpy as np

from strata.errors import BadValue, finite
from strata.optics import layers, spectrum
from strata.optics.colour import XYZ_WEIGHTS, Floats, Lab, checked_lab, lab_from_xyz
from strata.optics.inks import HOWS, MOST_COATS, Ink, find_deposits, one_of
from strata.optics.layers import FINISHES

TRAP_LOSS = 0.3
# largest share that an ink fails to lay down on wet ink
TRAP_RATE = 3.0
# how fast that loss sets in with the coats still wet beneath
DRIED = 0.25
# coats laid on dry ink from which on nothing wet is left beneath: a trace at a soft edge leaves it as it was

HANDS: dict[str, float] = {"light": 0.5, "medium": 1.0, "heavy": 1.6}
# multiples of one measured coat


MOST_SHEETS = 9999
STOCK_STATES = ("plenty", "low", "used up", "wished for")


@dataclass(frozen=True)
class Stock:
    """The card under the ink: CIELAB colour, weight in g/m2, thickness in mm.

    The ``finish`` (one of FINISHES, empty where nobody knows) says how light is
    thrown back inside it. What follows is the maker's and changes no colour; ``key`` is what
    swatches call the card by, ``sheets`` how many whole ones are in the house (None: nobody counts them).
    """

    lab: Lab
    name: str = ""
    weight_gsm: float = 270.0
    thickness_mm: float = 0.33
    finish: str = ""
    place: str = field(default="", compare=False)
    state: str = field(default="plenty", compare=False)
    notes: str = field(default="", compare=False)
    how: str = field(default="", compare=False)
    when: str = field(default="", compare=False)
    sheets: int | None = field(default=None, compare=False)
    key: str = field(default="", compare=False)

    def __post_init__(self) -> None:
        checked_lab(self.lab, "card.lab")
        one_of(self.finish, FINISHES, "finish")
        one_of(self.state, STOCK_STATES, "state")
        one_of(self.how, HOWS, "how")
        whole = isinstance(self.sheets, int) and not isinstance(self.sheets, bool)
        if self.sheets is not None and not (whole and 0 <= self.sheets <= MOST_SHEETS):
            raise BadValue(f"Sheets in the house are counted from 0 to {MOST_SHEETS}.", "sheets")

    @cached_property
    def internal(self) -> Floats:
        """Internal reflectance r (36,)."""
        return layers.inside(spectrum.reflectance(self.lab), self.finish)


def prepare(inks: Iterable[Ink], stocks: Iterable[Stock]) -> None:
    """Find what all swatches tell on these stocks together, in a tenth of the time of one by one."""
    stocks = tuple(stocks)
    finishes = {s.finish for s in stocks}
    fresh = [ink for ink in inks if any(not ink.is_ready(f) for f in finishes)]
    seen = [(s.lab, s.on, ink.chemistry.opaque) for ink in fresh for s in ink.swatches]
    spectrum.prepare([*seen, *((s.lab, None, False) for s in stocks)])
    for finish in finishes:
        find_deposits(fresh, finish)


@dataclass(frozen=True)
class Coat:
    """One ink laid down: how many measured coats (hand included), on wet ink or dry."""

    ink: Ink
    coats: float
    wet: bool = False

    def __post_init__(self) -> None:
        finite(self.coats, "coats", 0.0, MOST_COATS)


def take(wet_below: Floats) -> Floats:
    """The share t of an ink that stays (trapping) on so many coats still wet; 1 on dry ink or bare card."""
    return np.asarray(1.0 - TRAP_LOSS * (1.0 - np.exp(-TRAP_RATE * wet_below)))


def still_wet(wet_below: Floats, coats: Floats) -> Floats:
    """How much of what was wet is so still, once so many coats are to go onto it dry."""
    return np.asarray(wet_below * np.maximum(0.0, 1.0 - coats / DRIED))


@dataclass(frozen=True)
class Stack:
    """Coats on a stock, bottom first."""

    stock: Stock
    coats: tuple[Coat, ...]

    @property
    def internal(self) -> Floats:
        """Internal reflectance r (36,) of the whole."""
        return self.laid[0]

    @cached_property
    def laid(self) -> tuple[Floats, Floats]:
        """Internal reflectance r (36,) of the whole, and how many coats of it are still wet ()."""
        r = self.stock.internal
        wet: Floats = np.zeros(())
        for coat in self.coats:
            deposit = coat.ink.deposit(coat.coats, self.stock.finish)
            t = take(wet) if coat.wet else np.ones(())
            r = layers.over(r, t * deposit.absorbed, t * deposit.scattered)
            wet = (wet if coat.wet else still_wet(wet, np.asarray(coat.coats))) + t * coat.coats
        return r, wet

    @cached_property
    def lab(self) -> Lab:
        """CIELAB D50 of the whole; exactly the stock's own colour where nothing was laid."""
        if not any(c.coats > 0 for c in self.coats):
            return self.stock.lab
        return lab_of_internal(self.internal, self.stock.finish)


def labs_of_internal(internal: Floats, finish: str) -> Floats:
    """CIELAB (..., 3) of internal reflectances (..., 36) on card of a finish."""
    return np.asarray(lab_from_xyz(layers.outside(internal, finish) @ XYZ_WEIGHTS.T), np.float64)


def lab_of_internal(internal: Floats, finish: str) -> Lab:
    """CIELAB of an internal reflectance (36,) on card of a finish."""
    lightness, a, b = labs_of_internal(internal, finish).tolist()
    return lightness, a, b


@lru_cache(maxsize=1 << 14)
def _predicted(stock: Stock, coats: tuple[Coat, ...]) -> Lab:
    return Stack(stock, coats).lab


def predict(stock: Stock, coats: Sequence[Coat]) -> Lab:
    """CIELAB of coats (bottom first) on a stock, dried. Raises BadValue past 64 coats."""
    if len(coats) > 64:
        raise BadValue("A stack of more than 64 passes is more than card can take.", "passes")
    return _predicted(stock, tuple(coats))
