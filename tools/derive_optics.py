"""Find the constants of the layer law on the published overprints: ``python -m tools.derive_optics``.

Surface reflection, internal reflection by finish, scattering of a clear ink
and the loss on wet ink, on a grid; the criterion is the mean of the errors to
the power of 2.5, which minds large ones. Written from the equations alone, so
that it checks ``strata.optics`` as well.
"""

from __future__ import annotations

import csv
import itertools
from functools import cache
from pathlib import Path

import numpy as np

from strata.optics import layers, spectrum
from strata.optics.colour import XYZ_WEIGHTS, differences, lab_from_xyz, xyz_from_lab

OVERPRINTS = Path(__file__).parent.parent / "tests" / "data" / "overprints.csv"
FINISH = {"FOGRA30L": "absorbent", "TR002": "absorbent", "TR005": "coated"}
GRID = {
    "surface": (0.006, 0.01, 0.015, 0.02),
    "coated": (0.5, 0.6, 0.7),
    "absorbent": (0.9, 0.95, 0.97),
    "scattering": (0.0, 0.01, 0.02, 0.03),
    "loss": (0.0, 0.2, 0.3, 0.4),
}
CHOSEN = {"surface": 0.01, "coated": 0.6, "absorbent": 0.95, "scattering": 0.02, "loss": 0.3}


@cache
def _sets() -> dict[str, dict[tuple[int, ...], tuple[float, ...]]]:
    rows = csv.DictReader(line for line in OVERPRINTS.read_text().splitlines() if not line.startswith("#"))
    found: dict[str, dict[tuple[int, ...], tuple[float, ...]]] = {}
    for row in rows:
        amounts = tuple(int(row[k]) for k in "cmy") if row["k"] == "0" else None
        if amounts:
            found.setdefault(row["set"], {})[amounts] = tuple(float(row[v]) for v in "Lab")
    return found


@cache
def _spectra(name: str, surface: float) -> np.ndarray:
    """Paper, cyan, magenta and yellow (4, 36), inks within the paper."""
    own = _sets()[name]
    xyz = xyz_from_lab(np.array([own[0, 0, 0], own[100, 0, 0], own[0, 100, 0], own[0, 0, 100]]))
    paper, _ = spectrum._smoothest(xyz[:1], surface, np.ones((1, 36)), 60)
    inks, _ = spectrum._smoothest(xyz[1:], surface, np.repeat(paper, 3, axis=0), 60)
    return np.vstack([paper, inks])


@cache
def _absorbed(name: str, surface: float, back: float, scattering: float) -> tuple[np.ndarray, np.ndarray]:
    entering = np.clip((_spectra(name, surface) - surface) / (1 - surface), 1e-5, 1)
    inside = entering / (1 - back + back * entering)
    ground = np.repeat(inside[:1], 3, axis=0)
    return inside[0], layers.absorption_for(inside[1:], ground, np.full((3, 36), scattering))


def errors(surface: float, coated: float, absorbent: float, scattering: float, loss: float) -> np.ndarray:
    """CIEDE2000 of the twelve overprints of cyan, magenta and yellow."""
    found, measured = [], []
    for name, own in _sets().items():
        back = coated if FINISH[name] == "coated" else absorbent
        paper, absorbed = _absorbed(name, surface, back, scattering)
        for amounts, lab in own.items():
            down = [i for i, a in enumerate(amounts) if a]
            if len(down) < 2:
                continue
            r, wet = paper, 0.0
            for i in down:
                share = 1 - loss * (1 - np.exp(-3 * wet))
                r = layers.over(r, share * absorbed[i], np.full(36, share * scattering))
                wet += share
            seen = surface + (1 - surface) * (1 - back) * r / (1 - back * r)
            found.append(lab_from_xyz(XYZ_WEIGHTS @ seen))
            measured.append(lab)
    return differences(np.array(found), np.array(measured))


def criterion(values: dict[str, float]) -> float:
    """What is made small: the mean of the errors to the power of 2.5, as an error."""
    return float((errors(**values) ** 2.5).mean() ** 0.4)


def best() -> tuple[float, dict[str, float]]:
    """The smallest criterion on the grid, and where."""
    every = (dict(zip(GRID, values, strict=True)) for values in itertools.product(*GRID.values()))
    return min(((criterion(v), v) for v in every), key=lambda found: found[0])


if __name__ == "__main__":
    least, where = best()
    print(f"best on the grid {least:.3f} at {where}")
    own = errors(**CHOSEN)
    print(f"as chosen {criterion(CHOSEN):.3f}: mean {own.mean():.2f}, most {own.max():.2f}")
