"""From what the camera says to what the inks are: white by the bare card, then by inks that are known.

A camera's channels are not the observer's, and lamp light is not D50; bare
card alone cannot tell the difference. Inks whose colour is known can: a
matrix that leaves the card's white where it is (G. Finlayson and M. Drew,
"Constrained least-squares regression in color spaces", J. Electronic Imaging
6, 1997) is fitted in CIELAB, pulled towards no change where there are few.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from strata.optics.colour import RGB_FROM_XYZ, differences, lab_from_xyz, xyz_from_lab

Floats = NDArray[np.float64]
_XYZ_FROM_RGB: Floats = np.asarray(np.linalg.inv(RGB_FROM_XYZ), float)
TRUST = 0.1
# standard deviation of the matrix from no change, before anything is known
LEAST_KNOWN, ENOUGH = 2, 8
# known inks before any correction, and before it is trusted in full: a few say little of the other hues
STRONGER = (-0.09, -0.026, -0.023)
# what a channel that a picture holds as nothing is likely to be, as a share of the mean of the other
# two: medians over 6,000 dyes with one or two Gaussian absorptions (docs/decisions/0012)
BOTTOM = 0.0015
# linear; below it a channel of eight bits says nothing


def linear_of(labs: Floats) -> Floats:
    """Linear sRGB (n, 3) of CIELAB (n, 3); strong colours go below nothing."""
    return np.asarray(xyz_from_lab(labs) @ RGB_FROM_XYZ.T, float)


def lab_of(linear: Floats) -> Floats:
    """CIELAB (n, 3) of linear sRGB (n, 3)."""
    return np.asarray(lab_from_xyz(np.maximum(linear @ _XYZ_FROM_RGB.T, 0)), float)


def restored(linear: Floats) -> tuple[Floats, NDArray[np.bool_]]:
    """Colours with channels that the picture could not hold put where they likely are, and which rows those are."""
    lost = linear < BOTTOM
    lost &= linear.max(axis=1, keepdims=True) > 0.06  # a black is not a strong colour
    out = linear.copy()
    for c, share in enumerate(STRONGER):
        others = linear[:, [k for k in range(3) if k != c]].mean(axis=1)
        out[:, c] = np.where(lost[:, c], share * others, out[:, c])
    return out, np.asarray(lost.any(axis=1))


@dataclass(frozen=True)
class Correction:
    """A matrix (3, 3) on linear RGB relative to the card; ``error`` the mean CIEDE2000 of known inks left out in turn."""

    matrix: Floats
    card: Floats
    known: int = 0
    error: float | None = None

    def lab(self, relative: Floats) -> Floats:
        """CIELAB (n, 3) of colours relative to the bare card (n, 3)."""
        return lab_of((relative @ self.matrix) * self.card)


def _matrix(free: Floats) -> Floats:
    """Rows sum so that white (1, 1, 1) stays: six numbers off the diagonal decide."""
    out = np.eye(3)
    for c in range(3):
        for j, k in enumerate(i for i in range(3) if i != c):
            out[k, c] = free[2 * c + j]
            out[c, c] -= free[2 * c + j]
    return out


def _fit(relative: Floats, wanted: Floats, card: Floats) -> Floats:
    from scipy.optimize import least_squares

    chroma = np.hypot(wanted[:, 1], wanted[:, 2])
    s_c, s_h = 1 + 0.045 * chroma, 1 + 0.015 * chroma
    trust = TRUST * min(1.0, len(relative) / ENOUGH)

    def off(free: Floats) -> Floats:
        # CIE94's weights: smooth where CIEDE2000 is not
        got = lab_of((relative @ _matrix(free)) * card)
        d = got - wanted
        d_c = np.hypot(got[:, 1], got[:, 2]) - chroma
        d_h = np.sqrt(np.maximum(d[:, 1] ** 2 + d[:, 2] ** 2 - d_c**2, 1e-12))
        return np.concatenate([d[:, 0], d_c / s_c, d_h / s_h, free / trust])

    return _matrix(least_squares(off, np.zeros(6), loss="soft_l1").x)


def correction(relative: Floats, wanted: Floats, card: Floats) -> Correction:
    """The correction from known inks: ``relative`` (n, 3) as read, ``wanted`` (n, 3) CIELAB, ``card`` its linear RGB."""
    if len(relative) < LEAST_KNOWN:
        return Correction(np.eye(3), card)
    found = Correction(_fit(relative, wanted, card), card, len(relative))
    if len(relative) < 4:
        return found
    left_out = []
    for i in range(len(relative)):
        rest = np.arange(len(relative)) != i
        one = Correction(_fit(relative[rest], wanted[rest], card), card)
        left_out.append(float(differences(one.lab(relative[i : i + 1]), wanted[i : i + 1])[0]))
    return Correction(found.matrix, card, len(relative), float(np.mean(left_out)))
