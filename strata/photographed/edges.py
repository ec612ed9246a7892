"""The cut edges of a panel in a photograph: where, along each side, the card ends."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from strata.photographed.regions import Predicted
from strata.picture.raster import Floats32
from strata.swatchcard.marks import Placed

Floats = NDArray[np.float64]
REACH, FINE = 1.4, 0.1
# mm to either side in which an edge is looked for, and between looks
SPACED, CORNER = 2.0, 4.0
# mm between places along a side, and kept from the corners
CLEAR, SCATTER = 0.12, 0.35
# change of the logarithm within 0.4 mm that is an edge; mm from the side's own line past which it is something else


def sampled(linear: Floats32, placed: Placed, points: Floats) -> Floats32:
    """Light (rows, columns, 3) of a photograph at points (rows, columns, 2) mm of the panel."""
    import cv2

    px = placed.project(points.reshape(-1, 2)) - 0.5
    at = px.reshape(points.shape).astype(np.float32)
    return np.asarray(
        cv2.remap(linear, at, None, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE), np.float32
    )


def cut_edges(linear: Floats32, at: Placed, own: Predicted) -> tuple[Floats, Floats, Floats]:
    """Places (n, 2) mm on the panel's sides, the way out (n, 2), and mm by which the card ends further out (n,)."""
    w, h = own.width, own.height
    found = []
    for start, along, out, length in (
        ((0.0, 0.0), (1.0, 0.0), (0.0, -1.0), w),
        ((w, 0.0), (0.0, 1.0), (1.0, 0.0), h),
        ((0.0, h), (1.0, 0.0), (0.0, 1.0), w),
        ((0.0, 0.0), (0.0, 1.0), (-1.0, 0.0), h),
    ):
        t = np.arange(CORNER, length - CORNER, SPACED)
        spots = np.array(start) + t[:, None] * np.array(along)
        off, sure = _ends(linear, at, spots, np.array(out))
        kept = _on_a_line(t, off, sure)
        found.append((spots[kept], np.repeat(np.array([out]), int(kept.sum()), axis=0), off[kept]))
    a, b, c = (np.concatenate(x) for x in zip(*found, strict=True))
    return a, b, c


def _ends(linear: Floats32, at: Placed, spots: Floats, out: Floats) -> tuple[Floats, NDArray[np.bool_]]:
    """mm (n,) at which each profile across a side changes most, and whether that is clear."""
    steps = np.arange(-REACH, REACH + FINE / 2, FINE)
    points = spots[:, None, :] + steps[None, :, None] * out
    tone = np.log(np.maximum(sampled(linear, at, points), 0) + 0.012)
    half = 2
    change = np.abs(tone[:, 2 * half :] - tone[:, : -2 * half]).sum(axis=2) / 3
    best = np.argmax(change, axis=1)
    middle = steps[half:-half]
    inner = np.clip(best, 1, change.shape[1] - 2)
    rows = np.arange(len(spots))
    a, b, c = change[rows, inner - 1], change[rows, inner], change[rows, inner + 1]
    bow = a - 2 * b + c
    shift = np.where(np.abs(bow) > 1e-9, 0.5 * (a - c) / np.where(np.abs(bow) > 1e-9, bow, 1.0), 0.0)
    return middle[inner] + np.clip(shift, -1, 1) * FINE, change[rows, best] > CLEAR


def _on_a_line(t: Floats, off: Floats, sure: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Which places of a side agree on a gently bowed line; none where too few do."""
    kept = sure.copy()
    for _ in range(4):
        if kept.sum() < 8:
            return np.zeros(len(t), bool)
        line = np.polynomial.Polynomial.fit(t[kept], off[kept], 2)
        away = np.abs(off - line(t))
        kept = sure & (away < max(2.5 * float(np.median(away[kept])), 0.05))
    good = kept.sum() >= max(8, 0.4 * len(t)) and float(np.abs(away[kept]).max(initial=0)) < SCATTER
    return kept if good else np.zeros(len(t), bool)
