"""The nearest of many colours by CIEDE2000, without asking CIEDE2000 of all of them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from strata.optics.colour import Floats, differences

Floats32 = NDArray[np.float32]
FIRST, MOST = 1500, 16_000
# colours asked exactly at first, and at most
SAFE, SPARE = 3.0, 1.0
# how many times the quick measure may exceed the exact one, and a little besides


def quick(target: Floats, labs: Floats32) -> Floats32:
    """A cheap stand-in for CIEDE2000 (n,): CIE94 (CIE 116-1995) with the mean of both chromas."""
    lightness, a, b = (np.float32(v) for v in target)
    d_l, d_a, d_b = labs[:, 0] - lightness, labs[:, 1] - a, labs[:, 2] - b
    chroma = np.hypot(labs[:, 1], labs[:, 2])
    own = np.float32(np.hypot(a, b))
    d_c = chroma - own
    d_h2 = np.maximum(d_a * d_a + d_b * d_b - d_c * d_c, 0)
    mean = (chroma + own) / 2
    s_c, s_h = 1 + np.float32(0.045) * mean, 1 + np.float32(0.015) * mean
    return np.asarray(d_l * d_l + (d_c / s_c) ** 2 + d_h2 / (s_h * s_h), np.float32)


def nearest(target: Floats, labs: Floats32, keep: int) -> tuple[NDArray[np.intp], Floats]:
    """(indices, CIEDE2000) of the ``keep`` nearest of ``labs`` (n, 3), nearest first.

    The quick measure shortlists; the shortlist grows until nothing outside
    it can be nearer (up to MOST, for targets far from everything).
    """
    measured = quick(target, labs)
    count = min(len(labs), max(FIRST, 4 * keep))
    chosen = np.argpartition(measured, count - 1)[:count]
    exact = differences(np.broadcast_to(target, (count, 3)), labs[chosen].astype(float))
    worst = float(np.partition(exact, min(keep, count) - 1)[min(keep, count) - 1])
    reach = (SAFE * worst + SPARE) ** 2
    wider = np.flatnonzero(measured <= reach)
    if len(wider) > count:
        if len(wider) > MOST:
            wider = np.argpartition(measured, MOST - 1)[:MOST]
        chosen = wider
        exact = differences(np.broadcast_to(target, (len(chosen), 3)), labs[chosen].astype(float))
    order = np.argsort(exact, kind="stable")[:keep]
    return chosen[order], exact[order]
