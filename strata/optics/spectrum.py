"""Colour to reflectance: the smoothest bounded spectrum that has a given colour.

LHTSS, "least hyperbolic tangent slope squared": S. A. Burns, "Numerical
methods for smoothest reflectance reconstruction", Color Research and
Application 45(1), 2020. Minimise the sum of w[i] (z[i+1] - z[i])^2 where
R = (tanh z + 1) / 2, subject to weights . R = XYZ; solved by Newton's method
on the Lagrangian. Burns has w = 1; here w follows how measured surfaces vary
(docs/decisions/0002), which brings the overprint error from 3.5 to 3.2.
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from functools import lru_cache
from pathlib import Path

import numpy as np

from strata.errors import BadValue
from strata.optics.colour import XYZ_WEIGHTS, Floats, Lab, lab_from_xyz, xyz_from_lab

BANDS = 36
# 380..730 nm by 10

_ROUNDS, _HALVINGS = 40, 12
_SETTLED = 1e-8
# largest XYZ residual: far under a tenth of a CIEDE2000

_STEP_WEIGHTS = np.array(
    json.loads((Path(__file__).parent / "data" / "smoothness.json").read_text())["step_weights"]
)
# derived by tools/derive_weights.py
_STEPS = np.diff(np.eye(BANDS), axis=0)
_LAPLACIAN = 2 * _STEPS.T @ np.diag(_STEP_WEIGHTS) @ _STEPS


def _newton(xyz: Floats) -> tuple[Floats, Floats]:
    """Reflectances (n, 36) and largest residuals (n,) for XYZ (n, 3)."""
    count = len(xyz)
    z = np.zeros((count, BANDS)) + np.arctanh(np.clip(2 * xyz[:, 1:2] - 1, -0.98, 0.98))
    multipliers = np.zeros((count, 3))
    moving = np.arange(count)
    for _ in range(_ROUNDS):
        step = _step(z[moving], multipliers[moving], xyz[moving])
        if step is None and count > 1:
            # one colour without an answer must not take the others' away
            each = [_newton(one[None]) for one in xyz]
            return np.concatenate([e[0] for e in each]), np.concatenate([e[1] for e in each])
        if step is None:
            return (np.tanh(z) + 1) / 2, np.full(count, np.inf)
        # a full Newton step overshoots for colours near the solid's surface
        damping = np.minimum(1.0, 3.0 / np.maximum(np.abs(step[:, :BANDS]).max(axis=1), 1e-9))
        z[moving] = np.clip(z[moving] + step[:, :BANDS] * damping[:, None], -18, 18)
        multipliers[moving] += step[:, BANDS:] * damping[:, None]
        moving = moving[np.abs(step[:, :BANDS]).max(axis=1) >= 1e-9]
        if not len(moving):
            break
    reflectance = (np.tanh(z) + 1) / 2
    return reflectance, np.abs(reflectance @ XYZ_WEIGHTS.T - xyz).max(axis=1)


def _step(z: Floats, multipliers: Floats, xyz: Floats) -> Floats | None:
    """One Newton step (n, 36 + 3); None where the system cannot be solved."""
    count, diagonal = len(z), np.arange(BANDS)
    t = np.tanh(z)
    slope = (1 - t * t) / 2
    weighted = slope[:, None, :] * XYZ_WEIGHTS  # (n, 3, 36)
    pull = multipliers @ XYZ_WEIGHTS
    system = np.zeros((count, BANDS + 3, BANDS + 3))
    system[:, :BANDS, :BANDS] = _LAPLACIAN
    system[:, diagonal, diagonal] += -2 * slope * t * pull + 1e-12
    system[:, :BANDS, BANDS:] = weighted.transpose(0, 2, 1)
    system[:, BANDS:, :BANDS] = weighted
    # a saturated spectrum has no slope left to answer the constraints with; this keeps the system solvable
    corner = BANDS + np.arange(3)
    system[:, corner, corner] = -1e-13
    gradient = z @ _LAPLACIAN + slope * pull
    residual = (t + 1) / 2 @ XYZ_WEIGHTS.T - xyz
    right = -np.concatenate([gradient, residual], axis=1)
    try:
        return np.asarray(np.linalg.solve(system, right[:, :, None])[:, :, 0])
    except np.linalg.LinAlgError:
        return None


@lru_cache(maxsize=4096)
def _single(lightness: float, a: float, b: float) -> Floats:
    lightness = min(max(lightness, 0.05), 99.95)
    low, high, best = 0.0, 1.0, None
    share = 1.0
    for _ in range(_HALVINGS):
        lab = np.array([[lightness, a * share, b * share]])
        found, residual = _newton(np.clip(xyz_from_lab(lab), 1e-6, None))
        if residual[0] < _SETTLED:
            best, low = found[0], share
            if share == 1.0:
                break
        else:
            high = share
        share = (low + high) / 2
    if best is None:
        best = np.full(BANDS, float(xyz_from_lab(np.array([lightness, 0.0, 0.0]))[1]))
    best.setflags(write=False)
    return best


_READY: dict[Lab, Floats] = {}
_MOST_READY = 8192


def prepare(labs: Iterable[Lab]) -> None:
    """Find many reflectances at once: the same answers as one by one, in a tenth of the time."""
    wanted = [lab for lab in dict.fromkeys(labs) if lab not in _READY]
    if not wanted:
        return
    if len(_READY) + len(wanted) > _MOST_READY:
        _READY.clear()
    values = np.array(wanted, dtype=float)
    values[:, 0] = np.clip(values[:, 0], 0.05, 99.95)
    low, high = np.zeros(len(wanted)), np.ones(len(wanted))
    share = np.ones(len(wanted))
    best: list[Floats | None] = [None] * len(wanted)
    open_ = np.arange(len(wanted))
    for _ in range(_HALVINGS):
        lab = values[open_] * np.stack([np.ones(len(open_)), share[open_], share[open_]], axis=1)
        found, residual = _newton(np.clip(xyz_from_lab(lab), 1e-6, None))
        for at, spectrum, off in zip(open_.tolist(), found, residual, strict=True):
            if off < _SETTLED:
                best[at], low[at] = spectrum, share[at]
            else:
                high[at] = share[at]
        open_ = open_[low[open_] < 1.0]
        share[open_] = (low[open_] + high[open_]) / 2
        if not len(open_):
            break
    for key, spectrum in zip(wanted, best, strict=True):
        if spectrum is not None:
            kept = spectrum.copy()
            kept.setflags(write=False)
            _READY[key] = kept


def reflectance(lab: Lab) -> Floats:
    """The smoothest reflectance (36,), within 0..1, of one colour; cached.

    A colour that no surface can have (outside the optimal-colour solid) is
    answered with the nearest one of its lightness and hue that a surface can.
    """
    ready = _READY.get(lab)
    return _single(*lab) if ready is None else ready


def lab_of_spectrum(nm: Floats, values: Floats) -> Lab:
    """CIELAB D50 / 2 degrees of reflectances ``values`` (n,) measured at ``nm`` (n,), rising.

    Between the wavelengths it is interpolated, past the ends held (ASTM E308, 7.3.2).
    Raises BadValue where they do not cover 420 to 680 nm in steps of at most 20.
    """
    if len(nm) < 3 or nm[0] > 420 or nm[-1] < 680 or float(np.diff(nm).max()) > 20 or np.diff(nm).min() <= 0:
        raise BadValue("A spectrum must cover 420 to 680 nm in steps of at most 20 nm.", "spectrum")
    if not np.isfinite(values).all() or values.min() < -0.05 or values.max() > 2:
        raise BadValue("Reflectances lie between 0 and 1, or 0 and 100 per cent.", "spectrum")
    bands = np.interp(np.arange(380, 731, 10.0), nm, np.maximum(values, 0))
    lightness, a, b = lab_from_xyz(XYZ_WEIGHTS @ bands)
    return float(lightness), float(a), float(b)
