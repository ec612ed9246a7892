"""Which pad can do the work of another, over all the cards in the house: a first answer, before any build."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from strata.optics.colour import differences
from strata.optics.dabs import dabs
from strata.optics.inks import Ink
from strata.optics.stack import Stock

Floats = NDArray[np.float64]
AMOUNTS = (0.5, 1.0, 2.0, 3.0)
# coats in which another pad is tried: a light hand, one, two, three
FARTHEST = 12.0
# CIEDE2000, mean over the cards, past which a pad is no stand-in


@dataclass(frozen=True)
class Likeness:
    """``coats`` of ``ink`` look like one coat of the other: CIEDE2000, mean and largest over the cards."""

    ink: str
    coats: float
    mean: float
    worst: float


def tried(inks: Sequence[Ink], stocks: Sequence[Stock]) -> Floats:
    """CIELAB (cards, inks, amounts, 3) of every ink in every amount on every card."""
    return (
        np.stack([dabs(inks, s, AMOUNTS) for s in stocks])
        if stocks
        else np.zeros((0, len(inks), len(AMOUNTS), 3))
    )


def alike(
    ink: Ink,
    others: Sequence[Ink],
    stocks: Sequence[Stock],
    keep: int = 5,
    known: Floats | None = None,
) -> tuple[tuple[Likeness, ...], tuple[Likeness, ...]]:
    """(what can stand in for ``ink``, what ``ink`` can stand in for), nearest first.

    ``known``: as ``tried`` tells it of ``others``, where that was worked out before.
    """
    if not stocks:
        return (), ()
    every = tried(others, stocks) if known is None else known
    kept = [i for i, o in enumerate(others) if o.key != ink.key]
    others, every = [others[i] for i in kept], every[:, kept]
    if not others:
        return (), ()
    own = np.stack([dabs([ink], s, AMOUNTS)[0] for s in stocks])  # (cards, amounts, 3)
    for_it = differences(every, own[:, None, 1:2])
    by_it = differences(own[:, None], every[:, :, 1:2])
    return _nearest(for_it, others, keep), _nearest(by_it, others, keep)


def _nearest(off: object, others: Sequence[Ink], keep: int) -> tuple[Likeness, ...]:
    """From differences (cards, inks, amounts): each ink at its best amount."""
    values = np.asarray(off)
    mean, worst = values.mean(axis=0), values.max(axis=0)
    best = mean.argmin(axis=1)
    order = np.argsort(mean[np.arange(len(others)), best])[:keep]
    return tuple(
        Likeness(others[i].key, AMOUNTS[best[i]], float(mean[i, best[i]]), float(worst[i, best[i]]))
        for i in order.tolist()
        if mean[i, best[i]] <= FARTHEST
    )
