"""Noise softened, and what a lens's blur does to bent edges undone."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from strata.tracing.focus import there

Floats32 = NDArray[np.float32]
_SOFTENING, _NEAR, _MOST = 0.6, 0.42, 9.0
# px; how far from half open what a blur has moved may look, of 1; px2 of a blur that is undone at most


def smoothed(share: Floats32, blur: float, wider: Floats32) -> Floats32:
    """Noise softened, and what a blur does to bends undone: ``blur`` px by which edges are usually wide, ``wider`` (rows,
    columns; all over it) times that.

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
    px = blur * there(wider, (near.reshape(-1, 2) + 2.5) / (width, height))
    variance = np.minimum(_MOST, px**2 + _SOFTENING**2)
    plain[at] -= np.clip((variance / 2).astype(np.float32) * bend, -0.2, 0.2)
    return np.asarray(plain.reshape(height, width), np.float32)
