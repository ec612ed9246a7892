"""Colour to reflectance: the smoothest spectrum of that colour between the card's surface and the card.

LHTSS, "least hyperbolic tangent slope squared": S. A. Burns, "Numerical
methods for smoothest reflectance reconstruction", Color Research and
Application 45(1), 2020. Minimise the sum of w[i] (z[i+1] - z[i])^2 where
R = lo + (hi - lo) (tanh z + 1) / 2, subject to weights . R = XYZ. Burns has
w = 1, lo = 0 and hi = 1; here w follows how measured surfaces vary
(docs/decisions/0002), lo is what the surface throws back, and hi the spectrum
of the card: no clear ink lightens what it lies on (docs/decisions/0022).
"""

from __future__ import annotations

import json
from collections.abc import Iterable
from pathlib import Path

import numpy as np

from strata.errors import BadValue
from strata.optics.colour import XYZ_WEIGHTS, Floats, Lab, lab_from_xyz, xyz_from_lab
from strata.optics.layers import SURFACE

BANDS = 36
# 380..730 nm by 10

_ROUNDS, _FEW_ROUNDS, _HALVINGS = 60, 25, 14
# steps towards a colour: for itself, and while the edge of what is possible is looked for
_STEP, _MOST_Z = 1.5, 10.0
_SETTLED, _REACHED = 1e-7, 2e-6
# of z, and of XYZ: far under a tenth of a CIEDE2000
_LIGHTEST = 0.2
# share of the box's luminance towards which pale colours go: of 600 screen colours on white 2.5 off at most; 0.5: 3.3
_PALE = 80.0
# L* of a card that no ink outshines unless it is seen lighter: opaque inks on darker card may

_STEP_WEIGHTS = np.array(
    json.loads((Path(__file__).parent / "data" / "smoothness.json").read_text())["step_weights"]
)
# derived by tools/derive_weights.py
_STEPS = np.diff(np.eye(BANDS), axis=0)
_COVARIANCE: Floats = np.linalg.inv(_STEPS.T @ np.diag(_STEP_WEIGHTS) @ _STEPS + 1e-4 * np.eye(BANDS))
# the last term only keeps it invertible: how light the whole is costs next to nothing

Seen = tuple[Lab, Lab | None, bool]
# a colour, the card it was seen on (None: it is a card), and whether what was seen is an opaque ink


def _smoothest(xyz: Floats, low: float, high: Floats, rounds: int) -> tuple[Floats, Floats]:
    """Reflectances (n, 36) of XYZ (n, 3) between ``low`` and ``high`` (n, 36), and their largest residuals (n,).

    Each step is the smallest change, measured by smoothness, that meets the
    constraints linearised where one stands (a 3 x 3 system).
    """
    z = np.zeros_like(high)
    span = high - low
    moving = np.arange(len(xyz))
    for _ in range(rounds):
        t, own = np.tanh(z[moving]), span[moving]
        reflected = low + own * (1 + t) / 2
        slope = XYZ_WEIGHTS * (own * (1 - t * t) / 2)[:, None, :]  # (m, 3, 36)
        spread = slope @ _COVARIANCE
        system = spread @ slope.transpose(0, 2, 1) + 1e-14 * np.eye(3)
        wanted = xyz[moving] - reflected @ XYZ_WEIGHTS.T + np.einsum("nkb,nb->nk", slope, z[moving])
        step = np.einsum("nkb,nk->nb", spread, np.linalg.solve(system, wanted[:, :, None])[:, :, 0])
        step -= z[moving]
        far = np.abs(step).max(axis=1)
        step *= np.minimum(1.0, _STEP / np.maximum(far, 1e-12))[:, None]
        z[moving] = np.clip(z[moving] + step, -_MOST_Z, _MOST_Z)
        moving = moving[far >= _SETTLED]
        if not len(moving):
            break
    reflected = low + span * (1 + np.tanh(z)) / 2
    return reflected, np.abs(reflected @ XYZ_WEIGHTS.T - xyz).max(axis=1)


def _within(xyz: Floats, high: Floats) -> Floats:
    """Reflectances (n, 36) of XYZ (n, 3) under ``high`` (n, 36), the last one towards an even share of it where none is.

    The colours that a box holds are a convex set, so the last one on the way
    from a colour to one within is unique and moves without a jump. The one
    within is as light as the colour, so that deep ones lose chroma and not
    depth, but at most a fifth of the whole: pale ones lose lightness first.
    """
    found, off = _smoothest(xyz, SURFACE, high, _ROUNDS)
    out = np.flatnonzero(off > _REACHED)
    if not len(out):
        return found
    wanted, roof = xyz[out], high[out]
    span = (roof - SURFACE) @ XYZ_WEIGHTS[1]
    share = np.clip((wanted[:, 1] - SURFACE) / span, 0.02, _LIGHTEST)
    middle = SURFACE + (roof - SURFACE) * share[:, None]
    centre = middle @ XYZ_WEIGHTS.T
    reached, missed = np.zeros(len(out)), np.ones(len(out))
    best = middle.copy()
    for _ in range(_HALVINGS):
        share = (reached + missed) / 2
        tried, off = _smoothest(centre + (wanted - centre) * share[:, None], SURFACE, roof, _FEW_ROUNDS)
        there = off <= _REACHED
        best[there] = tried[there]
        reached, missed = np.where(there, share, reached), np.where(there, missed, share)
    found[out] = best
    return found


_READY: dict[Seen, Floats] = {}
_MOST_READY = 16_384
_WHITE_ROOF: Floats = np.ones(BANDS)


def _roof(seen: Seen) -> Floats:
    """The most that can be reflected (36,), per band."""
    lab, card, opaque = seen
    if card is None or (opaque and (lab[0] > card[0] or card[0] < _PALE)):
        return _WHITE_ROOF
    return np.maximum(reflectance(card), 1.5 * SURFACE)


def _find(wanted: list[Seen]) -> None:
    labs = np.array([lab for lab, _, _ in wanted], dtype=float)
    labs[:, 0] = np.clip(labs[:, 0], 0.05, 99.95)
    found = _within(np.clip(xyz_from_lab(labs), 1e-6, None), np.array([_roof(s) for s in wanted]))
    for key, spectrum in zip(wanted, found, strict=True):
        kept = spectrum.copy()
        kept.setflags(write=False)
        _READY[key] = kept


def prepare(seen: Iterable[Seen]) -> None:
    """Find many reflectances at once: the same answers as one by one, in a tenth of the time."""
    asked = dict.fromkeys(seen)
    wanted = [s for s in asked if s not in _READY]
    if not wanted:
        return
    if len(_READY) + 2 * len(wanted) > _MOST_READY:
        _READY.clear()
        wanted = list(asked)
    cards: list[Seen] = [
        s for s in dict.fromkeys((card or lab, None, False) for lab, card, _ in wanted) if s not in _READY
    ]
    if cards:
        _find(cards)
    inks = [s for s in wanted if s[1] is not None]
    if inks:
        _find(inks)


def reflectance(lab: Lab, card: Lab | None = None, opaque: bool = False) -> Floats:
    """The smoothest reflectance (36,) of a card's colour, or of an ink seen on a ``card``; cached.

    It lies between the surface reflection and 1, for a clear ink the card's
    own spectrum. A colour that none there has is answered with the last one
    that one has, on the way to an even share of the card.
    """
    key = (lab, card, opaque)
    while (ready := _READY.get(key)) is None:
        prepare([key])
    return ready


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
