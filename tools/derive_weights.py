"""Derive the constants in strata/optics/data/: observer weights and smoothness weights.

Run in the development environment (it needs colour-science, which the
application itself does not): ``python tools/derive_weights.py``.
"""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np

DATA = Path(__file__).parent.parent / "strata" / "optics" / "data"


def derive_smoothness() -> dict[str, object]:
    """How freely measured surfaces change from band to band, as 35 weights with mean 1.

    For z = artanh(2R - 1) of published surface reflectances, the weight of
    each step is (mean variance / variance) ** 0.5: half-way, in the exponent,
    between no prior (Burns's equal weights) and the full inverse variance.
    No overprint is among the surfaces.
    """
    import colour
    from colour.quality.cfi2017 import load_TCS_CIE2017

    shape = colour.SpectralShape(380, 730, 10)
    sets = [load_TCS_CIE2017(colour.SpectralShape(380, 780, 5)).copy().align(shape).values.T]
    sets.extend(
        np.array([s.copy().align(shape).values for s in chart.values()])
        for chart in colour.SDS_COLOURCHECKERS.values()
    )
    surfaces = np.clip(np.vstack(sets), 0.005, 0.995)
    z = np.arctanh(np.clip(2 * surfaces - 1, -0.99, 0.99))
    variance = (np.diff(z, axis=1) ** 2).mean(axis=0)
    weights = np.sqrt(variance.mean() / variance)
    return {
        "source": "CIE 224:2017 test colours and the published colour-rendition charts"
        " shipped with colour-science",
        "surfaces": len(surfaces),
        "step_weights": [round(float(w), 5) for w in weights / weights.mean()],
    }


def derive() -> dict[str, object]:
    """CIE 1931 2-degree colour matching functions times CIE D50, 380..730 nm by 10, sum of y = 1."""
    import colour

    shape = colour.SpectralShape(380, 730, 10)
    cmfs = colour.MSDS_CMFS["CIE 1931 2 Degree Standard Observer"].copy().align(shape)
    light = colour.SDS_ILLUMINANTS["D50"].copy().align(shape)
    weights = np.asarray(cmfs.values) * np.asarray(light.values)[:, None]
    weights = weights / weights[:, 1].sum()
    return {
        "source": "CIE 1931 2-degree observer, CIE standard illuminant D50 (CIE 15:2018), 10 nm",
        "first_nm": 380,
        "step_nm": 10,
        "xyz_weights": [[round(float(v), 9) for v in row] for row in weights.T],
    }


if __name__ == "__main__":
    for name, table in (("weights_d50", derive()), ("smoothness", derive_smoothness())):
        (DATA / f"{name}.json").write_text(json.dumps(table, indent=1) + "\n")
