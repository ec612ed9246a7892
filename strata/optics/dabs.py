"""The colours of many inks at several coats on a stock or over what was laid on it, all at once."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from strata.optics import layers
from strata.optics.deposits import around
from strata.optics.inks import Ink
from strata.optics.stack import Stack, Stock, labs_of_internal, prepare, take

Floats = NDArray[np.float64]
COATS = (1.0, 2.0, 3.0)


def deposited(inks: Sequence[Ink], coats: Sequence[float], finish: str) -> tuple[Floats, Floats]:
    """What so many coats of each ink absorb and scatter on card of a finish: K x and S x, (inks, coats, 36) each."""
    pairs = [around(ink.deposits(finish), c) for ink in inks for c in coats]
    low, high = np.array([a.coats for a, _ in pairs]), np.array([b.coats for _, b in pairs])
    share = ((np.tile(coats, len(inks)) - low) / (high - low))[:, None]

    def laid(which: str) -> Floats:
        below = np.array([getattr(a, which) for a, _ in pairs])
        above = np.array([getattr(b, which) for _, b in pairs])
        between = np.maximum(below + share * (above - below), 0)
        return np.asarray(between.reshape(len(inks), len(coats), -1), np.float64)

    return laid("absorbed"), laid("scattered")


def dabs(inks: Sequence[Ink], stock: Stock, coats: Sequence[float] = COATS) -> Floats:
    """CIELAB (inks, coats, 3) of each ink alone on a stock."""
    if not inks:
        return np.empty((0, len(coats), 3))
    return dabs_over(Stack(stock, ()), inks, coats)


def dabs_over(stack: Stack, inks: Sequence[Ink], coats: Sequence[float], wet: bool = False) -> Floats:
    """CIELAB (inks, coats, 3) of each ink on what was laid before, ``wet`` where that is still wet."""
    prepare(inks, [stack.stock])
    finish, (beneath, still) = stack.stock.finish, stack.laid
    t = take(still) if wet else np.ones(())
    absorbed, scattered = deposited(inks, coats, finish)
    return np.asarray(labs_of_internal(layers.over(beneath, t * absorbed, t * scattered), finish), np.float64)
