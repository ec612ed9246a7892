"""XYZ from few bands: a fixed subset of the 36, its weights tuned to the picture at hand."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np

from strata.optics.colour import XYZ_WEIGHTS, BandIndex, Floats

_TABLE = json.loads((Path(__file__).parent.parent / "optics" / "data" / "quadrature.json").read_text())
BANDS: BandIndex = np.array([(nm - 380) // 10 for nm in _TABLE["bands_nm"]], dtype=np.intp)
# indices into the 36 bands; chosen by tools/fit_quadrature.py
GENERAL: Floats = np.array(_TABLE["xyz_weights"])
# (3, k): XYZ from seen reflectance at those bands, for any inks

_HOLD = 3e-3
# ridge towards the general weights: enough to stay sane where the picture shows few colours


def tuned(seen: Floats) -> Floats:
    """The (3, k) weights that fit a picture's own colours best.

    ``seen`` (n, 36): reflectances of pixels sampled from it. Weighted least
    squares, weighted by the slope of CIELAB's cube root, with a pull towards
    the general weights.
    """
    few = seen[:, BANDS]
    exact = seen @ XYZ_WEIGHTS.T
    result = np.empty_like(GENERAL)
    ridge = _HOLD * np.sqrt(len(seen)) * np.eye(len(BANDS))
    for channel in range(3):
        weight = 1 / np.maximum(exact[:, channel : channel + 1], 0.01) ** (2 / 3)
        rest = (exact[:, channel] - few @ GENERAL[channel]) * weight[:, 0]
        left = np.vstack([few * weight, ridge])
        right = np.concatenate([rest, np.zeros(len(BANDS))])
        result[channel] = GENERAL[channel] + np.linalg.lstsq(left, right, rcond=None)[0]
    return result
