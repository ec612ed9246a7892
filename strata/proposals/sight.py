"""How two colours look together: in harmony by a published model, and apart for colour-blind eyes.

Harmony: L.-C. Ou and M. R. Luo, "A colour harmony model for two-colour
combinations", Color Research and Application 31(3), 2006. It was fitted to
patches on grey, not to cards: a weak term, never a truth.

Colour-blindness: G. M. Machado, M. M. Oliveira and L. A. F. Fernandes, "A
physiologically-based model for simulation of color vision deficiency", IEEE
TVCG 15(6), 2009, severity 1.0.
"""

from __future__ import annotations

import numpy as np

from strata.optics.colour import RGB_FROM_XYZ, Floats, lab_from_xyz, xyz_from_lab

PROTAN = np.array(
    [[0.152286, 1.052583, -0.204868], [0.114503, 0.786281, 0.099216], [-0.003882, -0.048116, 1.051998]]
)
DEUTAN = np.array(
    [[0.367322, 0.860646, -0.227968], [0.280085, 0.672501, 0.047413], [-0.011820, 0.042940, 0.968881]]
)


def as_seen_by(labs: Floats, matrix: Floats) -> Floats:
    """CIELAB (..., 3) as a colour-blind eye sees it: ``matrix`` PROTAN or DEUTAN, on linear sRGB."""
    rgb = xyz_from_lab(labs) @ RGB_FROM_XYZ.T
    return lab_from_xyz(np.clip(rgb, 0, None) @ matrix.T @ np.linalg.inv(RGB_FROM_XYZ).T)


def harmony(first: Floats, second: Floats) -> Floats:
    """Ou and Luo's CH of pairs of CIELAB colours (..., 3): about -2 (clash) to 1.5 (harmony)."""
    c1, c2 = np.hypot(first[..., 1], first[..., 2]), np.hypot(second[..., 1], second[..., 2])
    light = first[..., 0] - second[..., 0]
    apart = (first[..., 1] - second[..., 1]) ** 2 + (first[..., 2] - second[..., 2]) ** 2
    hue2 = np.maximum(apart - (c1 - c2) ** 2, 0)
    chromatic = np.sqrt(hue2 + ((c1 - c2) / 1.46) ** 2)
    by_chroma = 0.04 + 0.53 * np.tanh(0.8 - 0.045 * chromatic)
    total = first[..., 0] + second[..., 0]
    by_sum = 0.28 + 0.54 * np.tanh(-3.88 + 0.029 * total)
    by_difference = 0.14 + 0.15 * np.tanh(-2 + 0.2 * np.abs(light))
    return np.asarray(by_chroma + by_sum + by_difference + _hue_liked(first, c1) + _hue_liked(second, c2))


def _hue_liked(lab: Floats, chroma: Floats) -> Floats:
    hue = np.degrees(np.arctan2(lab[..., 2], lab[..., 1])) % 360
    strong = 0.5 + 0.5 * np.tanh(-2 + 0.5 * chroma)
    by_hue = -0.08 - 0.14 * np.sin(np.radians(hue + 50)) - 0.07 * np.sin(np.radians(2 * hue + 90))
    yellow = (90 - hue) / 10
    return np.asarray(strong * (by_hue + (0.22 * lab[..., 0] - 12.8) / 10 * np.exp(yellow - np.exp(yellow))))
