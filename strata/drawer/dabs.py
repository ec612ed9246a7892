"""The colours of many inks at several coats on a stock, all at once."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from strata.optics import layers
from strata.optics.colour import XYZ_WEIGHTS, lab_from_xyz
from strata.optics.inks import Ink
from strata.optics.stack import Stock, prepare

Floats = NDArray[np.float64]
COATS = (1.0, 2.0, 3.0)


def deposited(inks: Sequence[Ink], coats: Sequence[float], finish: str) -> tuple[Floats, Floats]:
    """What so many coats of each ink absorb and scatter on card of a finish: K x and S x, (inks, coats, 36) each."""
    laid = [ink.deposit(c, finish) for ink in inks for c in coats]
    size = len(inks), len(coats), -1
    absorbed, scattered = np.array([d.absorbed for d in laid]), np.array([d.scattered for d in laid])
    return absorbed.reshape(size), scattered.reshape(size)


def dabs(inks: Sequence[Ink], stock: Stock, coats: Sequence[float] = COATS) -> Floats:
    """CIELAB (inks, coats, 3) of each ink alone on a stock."""
    if not inks:
        return np.empty((0, len(coats), 3))
    prepare(inks, [stock])
    seen = layers.outside(layers.over(stock.internal, *deposited(inks, coats, stock.finish)), stock.finish)
    return np.asarray(lab_from_xyz(seen @ XYZ_WEIGHTS.T), np.float64)
