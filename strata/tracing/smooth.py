"""What is known here and there of a picture, carried on over all of it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
_FEW = 8000
# px that a surface of ten terms is fitted to, of as many as there are


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
    share = np.ones(len(b))
    solution = np.zeros(len(terms))
    solution[0] = float(np.median(b)) if len(b) else 0.0
    for turn in range(8):
        off = b - a @ solution if turn else b - np.median(b)
        far = 4.7 * max(1e-3, 1.4826 * float(np.median(np.abs(off))))
        share = np.clip(1 - (off / far) ** 2, 0, None) ** 2
        if (share > 0).sum() < 3 * len(terms):
            break
        root = np.sqrt(share)[:, None]
        solution = np.linalg.lstsq(a * root, b * root[:, 0], rcond=None)[0]
    u = 2 * np.arange(width) / width - 1
    v = 2 * np.arange(height) / height - 1
    surface = sum(c * np.outer(v**j, u**i) for c, (i, j) in zip(solution, terms, strict=True))
    return np.asarray(surface, np.float32)


def spread(values: Floats32, known: NDArray[np.bool_], sigma: float, doubt: float) -> Floats32:
    """Normalised convolution (Knutsson & Westin 1993): near known pixels (h, w) their mean, far from any of them nought.

    ``sigma`` px; ``doubt``: what share of its surroundings is known where half of it is believed.
    """
    import cv2

    share = known.astype(np.float32)
    total = cv2.GaussianBlur(np.where(known, values, 0).astype(np.float32), (0, 0), sigma)
    weight = cv2.GaussianBlur(share, (0, 0), sigma)
    return np.asarray(total / (weight + np.float32(doubt)), np.float32)
