"""Shots as a maker takes them: held in the hand, at a window, over a table."""

from __future__ import annotations

import numpy as np

from strata.camera.shot import Shot

LONG_SIDE, SHORT_SIDE = 2200, 1650


def shot_of(width: float, height: float, seed: int) -> Shot:
    """A shot of a sheet ``width`` x ``height`` mm: a little askew, a little uneven, never twice the same."""
    rng = np.random.default_rng(seed)
    upright = height >= width
    return Shot(
        width=SHORT_SIDE if upright else LONG_SIDE,
        height=LONG_SIDE if upright else SHORT_SIDE,
        tilt_x=float(rng.uniform(-0.16, 0.16)),
        tilt_y=float(rng.uniform(-0.12, 0.12)),
        roll=float(rng.uniform(-0.06, 0.06)),
        fills=0.84,
        k1=float(rng.uniform(-0.012, 0.004)),
        curl=float(rng.uniform(0.0, 0.25)),
        uneven=float(rng.uniform(0.15, 0.4)),
        warmth=float(rng.uniform(-0.02, 0.08)),
        noise=0.012,
        quality=82,
        seed=seed,
    )
