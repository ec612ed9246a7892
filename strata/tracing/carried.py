"""Edges of a sheet carried on under the lines of a mat."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
_CLEARANCE, _EDGE_PX, _TURNS = 0.06, 2.0, 3
# mm kept clear beside a line; px over which an edge that was carried over goes from sheet to opening; how often it is


@dataclass(frozen=True)
class Lines:
    """The lines of one direction on a straightened sheet: ``mask`` (h, w) where they lie; of each pixel of it (n,)
    ``off`` mm from its line's middle, ``half`` of that one's width, and how open an opening ``looks`` under it,
    nought where that is not known; ``across`` (x, y) the way over them."""

    mask: NDArray[np.bool_]
    off: Floats32
    half: Floats32
    looks: Floats32
    across: Floats

    @property
    def reach(self) -> Floats32:
        """mm from a line's middle to where it is surely over (n,)."""
        return np.asarray(self.half + np.float32(_CLEARANCE), np.float32)


def bridged(share: Floats32, lines: list[Lines], looks: Floats32, trust: Floats32, scale: float) -> Floats32:
    """How open each pixel is (h, w), under lines on the table by how openings look there and by what lies beside them.

    A line is darker or lighter than what it is printed on, but it is no plastic:
    where an edge of the sheet crosses it, it goes on as it does on either side.
    How far the edge is (a signed distance) is carried over from side to side,
    which keeps it straight; the more a line differs from the sheet, the more
    is read under it. ``looks`` (h, w): how open openings look there, ``trust`` (h, w): how much that tells, of 1.
    """
    read = np.clip(share / np.maximum(looks, np.float32(0.05)), 0, 1)
    hidden = np.logical_or.reduce([one.mask for one in lines])
    share = np.where(hidden, trust * read + (1 - trust) * share, share)
    known = share.copy()
    for one in lines:
        # first as though there were table wherever both sides are open
        carried = np.minimum(*_beside(known, one, scale))
        share[one.mask] = np.maximum(known[one.mask], carried)
    for _ in range(_TURNS):
        far = _signed(share)
        for one in lines:
            after, before = _beside(far, one, scale)
            part = (one.off + one.reach) / (2 * one.reach)
            between = part * after + (1 - part) * before
            carried = np.clip(0.5 + between / _EDGE_PX, 0, 1)
            share[one.mask] = trust[one.mask] * read[one.mask] + (1 - trust[one.mask]) * carried
    return np.asarray(share, np.float32)


def _beside(plane: Floats32, one: Lines, scale: float) -> list[Floats32]:
    """What a plane (h, w) holds on either side of each pixel under a line (n,)."""
    from scipy.ndimage import map_coordinates

    y, x = np.nonzero(one.mask)
    found = []
    for way in (1, -1):
        step = (way * one.reach - one.off) * np.float32(scale)
        places = [v + np.float32(a) * step for a, v in zip(one.across[::-1], (y, x), strict=True)]
        found.append(np.asarray(map_coordinates(plane, places, order=1, mode="nearest"), np.float32))
    return found


def _signed(share: Floats32) -> Floats32:
    """px to the nearest edge, positive in openings (Felzenszwalb & Huttenlocher 2012)."""
    import cv2

    open_ = (share > 0.5).astype(np.uint8)
    inside, outside = (
        cv2.distanceTransform(m, cv2.DIST_L2, cv2.DIST_MASK_PRECISE) for m in (open_, 1 - open_)
    )
    return np.asarray(np.where(open_ > 0, inside - 0.5, 0.5 - outside), np.float32)
