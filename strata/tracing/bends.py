"""Noise softened, and what a lens's blur does to bent edges undone."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from strata.tracing.focus import there

Floats32 = NDArray[np.float32]
_SOFTENING, _NEAR = 0.6, 0.42
# px; how far from half open what a blur has moved may look, of 1


def smoothed(share: Floats32, wider: Floats32) -> Floats32:
    """Noise softened, and what a blur does to bends undone; ``wider`` (rows, columns): how many times as wide as usual edges
    are, all over it.

    An even blur moves no straight edge, but it moves a bent one towards its
    inside by half its variance times the curvature: the motion by curvature
    of the heat equation (Merriman, Bence & Osher 1994), taken back here to
    first order where edges are.
    """
    import cv2

    soft = cv2.GaussianBlur(share, (0, 0), _SOFTENING)
    height, width = soft.shape
    near = cv2.findNonZero(cv2.inRange(soft[2:-2, 2:-2], 0.5 - _NEAR, 0.5 + _NEAR))
    if near is None or len(near) < 200:
        return np.asarray(soft, np.float32)
    at = (near.reshape(-1, 2) + 2).astype(np.int64) @ (1, width)
    # derivatives from a somewhat softer picture: they are what noise spoils first
    base = cv2.GaussianBlur(soft, (0, 0), 1.0).ravel()
    left, right, up, down = base[at - 1], base[at + 1], base[at - width], base[at + width]
    x, y = (right - left) / 2, (down - up) / 2
    xx, yy = right - 2 * base[at] + left, down - 2 * base[at] + up
    xy = (base[at + width + 1] - base[at + width - 1] - base[at - width + 1] + base[at - width - 1]) / 4
    steep = x * x + y * y
    bend = (xx * y * y - 2 * x * y * xy + yy * x * x) / np.maximum(steep, 1e-6)
    plain = soft.ravel()
    on_edge = np.abs(plain[at] - 0.5) < 0.1
    slope = (plain[at + 1] - plain[at - 1]) ** 2 + (plain[at + width] - plain[at - width]) ** 2
    typical = float(np.median(slope[on_edge])) ** 0.5 / 2 if on_edge.any() else 0.4
    places = (near.reshape(-1, 2) + 2.5) / (width, height)
    variance = np.minimum(9.0, there(wider, places) ** 2 / (2 * np.pi * max(typical, 0.05) ** 2))
    plain[at] -= np.clip((variance / 2).astype(np.float32) * bend, -0.2, 0.2)
    return np.asarray(plain.reshape(height, width), np.float32)
