"""Which colours of a card are known well enough to put a photograph of it right."""

from __future__ import annotations

from strata.optics.inks import Ink, Swatch
from strata.optics.stack import Stock
from strata.optics.swatches import lies_on

SAME_CARD = 1.0
# CIEDE2000 within which a nameless swatch was made on this very stock
NOT_BY = ("screen colour", "typed")
# ways of knowing a colour by which a photograph is not to be put right


def trusted_swatch(ink: Ink, stock: Stock, coats: float) -> Swatch | None:
    """The swatch of an ink on a stock in so many coats, where it was measured well enough to go by."""
    for swatch in ink.swatches:
        near = abs(swatch.coats - coats) < 0.01 and lies_on(swatch, stock, SAME_CARD)
        if near and swatch.how not in NOT_BY:
            return swatch
    return None
