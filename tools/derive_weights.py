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
    # the charts shipped are one chart measured several times, and another: one of each size
    charts = {len(chart): chart for chart in colour.SDS_COLOURCHECKERS.values()}
    sets.extend(np.array([s.copy().align(shape).values for s in chart.values()]) for chart in charts.values())
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


def derive_camera() -> dict[str, object]:
    """The simulated camera: daylight's components, its three channels, and its maker's matrix to sRGB.

    The channels are Gaussians (the red one with a little violet, as dyes of
    filters have), far enough from the observer that colours go wrong under
    lamp light as they do in life. The matrix is what a maker would fit: least
    squares over published surfaces under D50.
    """
    import colour
    from colour.quality.cfi2017 import load_TCS_CIE2017

    from strata.optics.colour import RGB_FROM_XYZ, XYZ_WEIGHTS

    shape = colour.SpectralShape(380, 730, 10)
    basis = colour.colorimetry.SDS_BASIS_FUNCTIONS_CIE_ILLUMINANT_D_SERIES
    components = [basis[k].copy().align(shape).values for k in ("S0", "S1", "S2")]
    nm = np.arange(380, 731, 10)

    def bell(middle: float, width: float) -> np.ndarray:
        return np.exp(-0.5 * ((nm - middle) / width) ** 2)

    channels = np.array([bell(600, 32) + 0.12 * bell(445, 20), bell(535, 38), bell(458, 26)])
    surfaces = load_TCS_CIE2017(colour.SpectralShape(380, 780, 5)).copy().align(shape).values.T
    surfaces = np.vstack([np.clip(surfaces, 0, 1), np.full((30, 36), 0.9)])
    d50 = np.asarray(colour.SDS_ILLUMINANTS["D50"].copy().align(shape).values)
    raw = (surfaces * d50) @ channels.T / (d50 @ channels.T)
    matrix = np.linalg.lstsq(raw, surfaces @ XYZ_WEIGHTS.T @ RGB_FROM_XYZ.T, rcond=None)[0]
    return {
        "source": "Components of daylight: CIE 15:2018, 10 nm; channels and matrix as tools/derive_weights.py says",
        "daylight": [[round(float(v), 3) for v in c] for c in components],
        "channels": [[round(float(v), 6) for v in c] for c in channels],
        "matrix": [[round(float(v), 6) for v in row] for row in matrix],
    }


if __name__ == "__main__":
    camera = Path(__file__).parent.parent / "strata" / "camera" / "data" / "camera.json"
    camera.write_text(json.dumps(derive_camera(), indent=1) + "\n")
    for name, table in (("weights_d50", derive()), ("smoothness", derive_smoothness())):
        (DATA / f"{name}.json").write_text(json.dumps(table, indent=1) + "\n")
