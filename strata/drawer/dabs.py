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


def dabs(inks: Sequence[Ink], stock: Stock, coats: Sequence[float] = COATS) -> Floats:
    """CIELAB (inks, coats, 3) of each ink alone on a stock."""
    if not inks:
        return np.empty((0, len(coats), 3))
    prepare(inks, [stock])
    laid = [ink.deposit(c, stock.finish) for ink in inks for c in coats]
    absorbed, scattered = np.array([d.absorbed for d in laid]), np.array([d.scattered for d in laid])
    seen = layers.outside(layers.over(stock.internal, absorbed, scattered), stock.finish)
    return np.asarray(lab_from_xyz(seen @ XYZ_WEIGHTS.T), np.float64).reshape(len(inks), len(coats), 3)
