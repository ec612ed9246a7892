"""The picture beside a sheet's sides: of twelve megapixels a third or two fifths, and all that finding the sides asks for."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from strata.tracing.fields import contrast_weights, mixed

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
_TILE, _SOFT, _SEARCHED = 64, 8, 16.0
# px a tile of the picture that is looked at or not; that a blur reaches beyond it; that are searched besides


def plane_beside(
    rgb: NDArray[np.uint8], corners: Floats, tones: Floats32, sides: Floats, reach: float
) -> Floats32:
    """One plane (h, w), 0..255, of a picture (h, w, 3), in which sheet and table differ most, a little smoothed.

    ``corners`` (4, 2) px of the sheet; ``tones`` (256,) what each value counts. Of the plane there is what lies within
    ``reach`` px of the ``sides``, which run through points (n, 2), and as much again; elsewhere it is nought.
    """
    import cv2

    weights = _weights(rgb, corners)
    plane = np.zeros(rgb.shape[:2], np.float32)
    for rows, columns in _along(sides, plane.shape, 2 * reach + _SEARCHED):
        top, left = max(0, rows.start - _SOFT), max(0, columns.start - _SOFT)
        part = mixed(rgb[top : rows.stop + _SOFT, left : columns.stop + _SOFT], tones, weights)
        soft = cv2.GaussianBlur(part, (0, 0), 1.0)
        plane[rows, columns] = soft[rows.start - top :, columns.start - left :][
            :_TILE, : columns.stop - columns.start
        ]
    return plane


def _weights(rgb: NDArray[np.uint8], corners: Floats) -> Floats32 | None:
    """The mix of channels that tells apart what lies within the sides between four corners and what lies beyond."""
    middle = corners.mean(axis=0)
    t = np.linspace(0.05, 0.95, 200)[:, None]
    sides = np.vstack([corners[i] + t * (corners[(i + 1) % 4] - corners[i]) for i in range(4)])
    kinds = []
    for factor in (0.975, 1.03):
        x, y = np.rint(middle + factor * (sides - middle)).astype(int).T
        within = (x >= 0) & (y >= 0) & (x < rgb.shape[1]) & (y < rgb.shape[0])
        kinds.append(rgb[y[within], x[within]])
    return contrast_weights(*kinds)


def _along(path: Floats, shape: tuple[int, ...], margin: float) -> list[tuple[slice, slice]]:
    """Rows and columns of a picture (h, w) that together hold all within ``margin`` px of a closed path (n, 2)."""
    import cv2

    high, wide = (-(-n // _TILE) for n in shape)
    # a cell more on each side: what lies beyond the picture reaches into it
    cells = np.zeros((high + 2, wide + 2), np.uint8)
    cv2.polylines(cells, [np.floor(path / _TILE).astype(np.int32) + 1], isClosed=True, color=1)
    around = 2 * (int(margin / _TILE) + 2) + 1
    near = cv2.dilate(cells, np.ones((around, around), np.uint8))[1:-1, 1:-1]
    found = []
    for i, row in enumerate(near):
        ends = np.flatnonzero(np.diff(row, prepend=0, append=0))
        for first, last in zip(ends[::2], ends[1::2], strict=True):
            found.append((slice(i * _TILE, (i + 1) * _TILE), slice(int(first) * _TILE, int(last) * _TILE)))
    return found
