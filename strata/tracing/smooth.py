"""What is known here and there of a picture, carried on over all of it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
_FEW = 8000
# px that a surface of ten terms is fitted to, of as many as there are
_ALIKE = 1e-10
# of singular values of normal equations: what is smaller than that of the largest is not told by what is known
_ENOUGH = 4
# px of standard deviation: a blur that is wider is as good on a coarser grid


def smooth_model(values: Floats32, weight: NDArray[np.bool_], degree: int = 2) -> Floats32:
    """A polynomial surface through the weighted pixels of (h, w) values; outliers lose their say (Tukey 1974)."""
    height, width = values.shape
    y, x = np.nonzero(weight)
    if len(x) > _FEW:
        pick = np.random.default_rng(5).choice(len(x), _FEW, replace=False)
        x, y = x[pick], y[pick]
    terms = [(i, j) for i in range(degree + 1) for j in range(degree + 1 - i)]

    def basis(u: Floats, v: Floats) -> Floats:
        return np.stack([u**i * v**j for i, j in terms], axis=-1)

    a = basis(2 * x / width - 1, 2 * y / height - 1)
    b = values[y, x].astype(float)
    solution = np.zeros(len(terms))
    solution[0] = float(np.median(b)) if len(b) else 0.0
    for turn in range(8):
        off = b - a @ solution if turn else b - np.median(b)
        far = 4.7 * max(1e-3, 1.4826 * float(np.median(np.abs(off))))
        share = np.clip(1 - (off / far) ** 2, 0, None) ** 2
        if (share > 0).sum() < 3 * len(terms):
            break
        weighed = (a * share[:, None]).T
        # of ten equations, the shortest solution where what is known lies on a line
        solution = np.linalg.lstsq(weighed @ a, weighed @ b, rcond=_ALIKE)[0]
    powers = np.zeros((degree + 1, degree + 1))
    powers[tuple(np.array(terms).T)] = solution
    u, v = (np.vander(2 * np.arange(n) / n - 1, degree + 1, increasing=True) for n in (width, height))
    return np.asarray((v @ powers.T) @ u.T, np.float32)


def spread(values: Floats32, known: NDArray[np.bool_], sigma: float, doubt: float) -> Floats32:
    """Normalised convolution (Knutsson & Westin 1993): near known pixels (h, w) their mean, far from any of them nought.

    ``sigma`` px; ``doubt``: what share of its surroundings is known where half of it is believed.
    """
    share = known.astype(np.float32)
    total = softened(np.where(known, values, 0).astype(np.float32), sigma)
    weight = softened(share, sigma)
    return np.asarray(total / (weight + np.float32(doubt)), np.float32)


def softened(plane: Floats32, sigma: float) -> Floats32:
    """A plane (h, w) blurred by ``sigma`` px of standard deviation, on as coarse a grid as that allows."""
    import cv2

    by = max(1, int(sigma / _ENOUGH))
    size = plane.shape[1::-1]
    small = cv2.resize(plane, [-(-n // by) for n in size], interpolation=cv2.INTER_AREA)
    # means of ``by`` pixels blur by a variance of (by2 - 1) / 12, lines between them by twice that
    rest = (sigma**2 - (by**2 - 1) / 4) ** 0.5
    wide, high = (rest * m / n for n, m in zip(size, small.shape[1::-1], strict=True))
    soft = cv2.GaussianBlur(small, (0, 0), wide, sigmaY=high, borderType=cv2.BORDER_REFLECT)
    return np.asarray(cv2.resize(soft, size, interpolation=cv2.INTER_LINEAR), np.float32)
