"""Fit the few bands in which pictures are computed: strata/optics/data/quadrature.json.

A subset of the 36 bands and a 3 x k matrix that gives XYZ from reflectance at
those bands, fitted to random stacks of random dyes and pigments on random
card. Errors are weighted by the local slope of CIELAB, so that darks count.
"""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np

from strata.optics import layers
from strata.optics.colour import XYZ_WEIGHTS, differences, lab_from_xyz, xyz_from_lab
from strata.optics.spectrum import BANDS, _newton, reflectance

TARGET = Path(__file__).parent.parent / "strata" / "optics" / "data" / "quadrature.json"
COUNT = 10


def random_colour(rng: np.random.Generator, low: float, high: float) -> tuple[float, float, float]:
    """A colour a pad could have: inside the solid of surface colours with room to spare.

    Colours close to its surface would need spectra with cliffs, which no ink has.
    """
    while True:
        chroma, turn = rng.uniform(0, 90), rng.uniform(0, 2 * np.pi)
        a, b = chroma * np.cos(turn), chroma * np.sin(turn)
        lightness = rng.uniform(low, high)
        beyond = np.array([[lightness, 1.3 * a, 1.3 * b]])
        xyz = xyz_from_lab(beyond)
        if xyz.min() > 0.004 and _newton(xyz)[1][0] < 1e-7:
            return lightness, a, b


def stacks(count: int, seed: int) -> np.ndarray:
    """Seen reflectances (count, 36) of random stacks of one to four inks, any thickness."""
    rng = np.random.default_rng(seed)
    cards = [layers.inside(reflectance((rng.uniform(20, 97), *rng.normal(0, 4, 2)))) for _ in range(12)]
    cards += [layers.inside(reflectance((96.0, 0.0, 2.0)))] * 8
    white = layers.inside(reflectance((96.0, 0.0, 2.0)))
    dyes = [
        np.maximum(-np.log(layers.inside(reflectance(random_colour(rng, 25, 92))) / white), 0) / 2
        for _ in range(60)
    ]
    result = np.zeros((count, BANDS))
    for i in range(count):
        r = cards[rng.integers(len(cards))]
        for _ in range(rng.integers(1, 5)):
            thickness = rng.choice([0.5, 1.0, 1.6, 2.0, rng.uniform(0, 1)])
            scatter = rng.uniform(0.3, 4.0) if rng.random() < 0.2 else 0.0
            r = layers.over(r, thickness * dyes[rng.integers(60)], np.full(BANDS, scatter * thickness))
        result[i] = layers.outside(r)
    return result


def fit(bands: list[int], seen: np.ndarray, weight: np.ndarray) -> np.ndarray:
    """The 3 x k matrix for the bands by weighted least squares (weights (n, 3)).

    A heavy row holds the perfect white exactly.
    """
    exact = seen @ XYZ_WEIGHTS.T
    matrix = np.zeros((3, len(bands)))
    for channel in range(3):
        w = weight[:, channel : channel + 1]
        left = np.vstack([seen[:, bands] * w, np.full((1, len(bands)), 1e3)])
        right = np.concatenate([exact[:, channel] * w[:, 0], [1e3 * XYZ_WEIGHTS[channel].sum()]])
        matrix[channel] = np.linalg.lstsq(left, right, rcond=None)[0]
    return matrix


def error(bands: list[int], matrix: np.ndarray, seen: np.ndarray) -> np.ndarray:
    """CIEDE2000 of the quadrature against all 36 bands."""
    return differences(lab_from_xyz(seen[:, bands] @ matrix.T), lab_from_xyz(seen @ XYZ_WEIGHTS.T))


def choose(seen: np.ndarray, weight: np.ndarray) -> list[int]:
    """The subset of bands with the least weighted error: best exchange from several starts."""
    exact = seen @ XYZ_WEIGHTS.T
    grams = [(seen * weight[:, c : c + 1]).T @ (seen * weight[:, c : c + 1]) for c in range(3)]
    rights = [(seen * weight[:, c : c + 1]).T @ (exact[:, c] * weight[:, c]) for c in range(3)]
    totals = [float(((exact[:, c] * weight[:, c]) ** 2).sum()) for c in range(3)]

    def cost(bands: list[int]) -> float:
        at = np.ix_(bands, bands)
        return sum(
            t - float(r[bands] @ np.linalg.lstsq(g[at], r[bands], rcond=1e-13)[0])
            for g, r, t in zip(grams, rights, totals, strict=True)
        )

    rng, winner, least = np.random.default_rng(3), [], np.inf
    for start in range(8):
        bands = (
            [int(b) for b in np.linspace(3, 31, COUNT)]
            if not start
            else sorted(rng.choice(BANDS, COUNT, replace=False).tolist())
        )
        now = cost(bands)
        while True:
            trials = [
                sorted([*bands[:place], other, *bands[place + 1 :]])
                for place in range(COUNT)
                for other in range(BANDS)
                if other not in bands
            ]
            costs = [cost(t) for t in trials]
            if min(costs) >= now * 0.999:
                break
            now, bands = min(costs), trials[int(np.argmin(costs))]
        if now < least:
            least, winner = now, bands
    return winner


def main() -> None:
    seen = stacks(4000, 1)
    # the slope of the cube root in CIELAB, flattened where its linear part begins
    weight = 1 / np.maximum(seen @ XYZ_WEIGHTS.T, 0.01) ** (2 / 3)
    bands = choose(seen, weight)
    matrix = fit(bands, seen, weight)
    check = error(bands, matrix, stacks(3000, 2))
    TARGET.write_text(
        json.dumps(
            {
                "source": "tools/fit_quadrature.py",
                "bands_nm": [380 + 10 * b for b in bands],
                "xyz_weights": [[round(float(v), 8) for v in row] for row in matrix],
            },
            indent=1,
        )
        + "\n"
    )
    print(bands, f"mean {check.mean():.4f} p99 {np.percentile(check, 99):.4f} max {check.max():.4f}")


if __name__ == "__main__":
    main()
