"""Where the edge lies in a picture that a telephone has sharpened.

A lens blurs light, the camera encodes it (sRGB, IEC 61966-2-1) and bends its tones a little, and an unsharp mask adds to
each value what it is more than those around it. Of the mean edge of a picture blur and mask are fitted; the edge lies
where light is half-way, whatever has become of the value there.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from strata.optics.colour import decode_srgb, encode_srgb

Floats = NDArray[np.float64]
_STEP, _REACH, _BESIDE = 0.05, 14.0, 6.0
# px between values of a fitted edge, to both sides of it, and that far its picture is asked
_FIRST, _LEAST, _MOST = (1.2, 1.0, 1.5), (0.4, 0.0, 0.5), (6.0, 4.0, 5.0)
# px of blur, amount of the mask and px of its radius from which a fit starts, and between which it stays
_FITS = 0.02
# of an edge's contrast by which a fit may be off (root mean square); sharpened edges are 0.002 to 0.016 off theirs, what is out of focus 0.026
_WEAK, _NEARLY = 0.05, 0.97
# amount of a mask that is none; share of the most from which on it was no mask that made an edge
_BENT = 0.1
# by how much tones are bent: a clear S is 0.5, none is 0, and no edge tells which (docs/decisions/0008)
_VALUES = np.linspace(0, 1, 256)
_TONES = _VALUES - _BENT * np.sin(2 * np.pi * _VALUES) / (2 * np.pi)
_PLACES = np.arange(-_REACH, _REACH + _STEP / 2, _STEP)
_NEAR = np.abs(_PLACES) < 3.0
# px about its middle in which an edge crosses half-way


def level_at_the_edge(edge: Floats, offsets: Floats, dark: float, light: float) -> float:
    """The light on a sharpened edge, 0 as on its ``dark`` side and 1 as on its ``light`` one (encoded, 0..255); one half
    where no mask tells how it came to be.

    ``edge`` (n,): mean of encoded values across it, from 0 to 1, by ``offsets`` (n,) px from where it crosses one half.
    """
    from scipy.optimize import least_squares

    asked = np.abs(offsets) < _BESIDE

    def off(of: Floats) -> Floats:
        made = _sharpened(of, dark, light)
        return np.asarray(np.interp(offsets[asked] + _half_way(made), _PLACES, made) - edge[asked])

    fit = least_squares(off, _FIRST, bounds=(_LEAST, _MOST), x_scale=(0.3, 0.3, 0.5))
    _, amount, _ = fit.x
    if np.sqrt(np.mean(fit.fun**2)) > _FITS or amount < _WEAK or np.any(fit.x > _NEARLY * np.array(_MOST)):
        return 0.5
    value = dark + (light - dark) * float(np.interp(0.0, _PLACES, _sharpened(fit.x, dark, light)))
    low, high, here = decode_srgb(np.array([dark, light, value]) / 255)
    return float((here - low) / (high - low))


def _sharpened(of: Floats, dark: float, light: float) -> Floats:
    """A sharpened edge at nought, from 0 to 1, over ``_PLACES``: of (px of blur, amount, px of the mask's radius)."""
    from scipy.ndimage import gaussian_filter1d
    from scipy.special import ndtr

    blur, amount, radius = of
    low, high = decode_srgb(np.interp([dark / 255, light / 255], _TONES, _VALUES))
    seen = np.interp(encode_srgb(low + (high - low) * ndtr(_PLACES / blur)), _VALUES, _TONES)
    seen = np.clip(seen + amount * (seen - gaussian_filter1d(seen, radius / _STEP, mode="nearest")), 0, 1)
    return np.asarray((seen - dark / 255) / ((light - dark) / 255))


def _half_way(edge: Floats) -> float:
    """Where an edge over ``_PLACES`` crosses one half."""
    return float(np.interp(0.5, edge[_NEAR], _PLACES[_NEAR]))
