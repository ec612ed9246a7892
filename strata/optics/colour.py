"""Colorimetry: CIELAB (D50, 2 degrees), XYZ and sRGB.

CIE 15:2018 for CIELAB; IEC 61966-2-1 for sRGB, adapted to D50 with the
Bradford matrix of ICC.1:2022; differences by scikit-image.
"""

from __future__ import annotations

import json
import math
import re
from functools import cache, lru_cache
from pathlib import Path
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from strata.errors import BadValue, finite

Floats = NDArray[np.floating]
BandIndex = NDArray[np.intp]
Lab = tuple[float, float, float]
Angle = TypeVar("Angle", float, Floats)

_TABLE = json.loads((Path(__file__).parent / "data" / "weights_d50.json").read_text())
XYZ_WEIGHTS: Floats = np.array(_TABLE["xyz_weights"])
# (3, 36): observer times illuminant, 380..730 nm; derived by tools/derive_weights.py
WHITE: Floats = np.asarray(XYZ_WEIGHTS.sum(axis=1), dtype=np.float64)
# XYZ of the perfect diffuser under these weights

_ICC_D50 = np.array([0.96422, 1.0, 0.82521])
_RGB_FROM_XYZ = np.array(
    [
        [3.1338561, -1.6168667, -0.4906146],
        [-0.9787684, 1.9161415, 0.0334540],
        [0.0719453, -0.2289914, 1.4052427],
    ]
)
# linear sRGB from XYZ D50: IEC 61966-2-1 primaries, Bradford-adapted (ICC.1:2022 annex E)
RGB_FROM_XYZ: Floats = _RGB_FROM_XYZ * (_ICC_D50 / WHITE)
_XYZ_FROM_RGB: Floats = np.linalg.inv(RGB_FROM_XYZ)

_EPSILON = 216 / 24389
_KAPPA = 24389 / 27


def checked_lab(value: object, field: str) -> Lab:
    """A CIELAB triple from untrusted input; raises BadValue with the field's name."""
    if not isinstance(value, (list, tuple)) or len(value) != 3:
        raise BadValue(f"{field} must be three numbers, L*, a* and b*.", field)
    return (
        finite(value[0], f"{field}.L", 0.0, 110.0),
        finite(value[1], f"{field}.a", -200.0, 200.0),
        finite(value[2], f"{field}.b", -200.0, 200.0),
    )


def xyz_from_lab(lab: Floats) -> Floats:
    """XYZ (white Y = 1) of CIELAB colours of shape (..., 3)."""
    fy = (lab[..., 0] + 16) / 116
    f = np.stack([fy + lab[..., 1] / 500, fy, fy - lab[..., 2] / 200], axis=-1)
    cubed = f**3
    return np.where(cubed > _EPSILON, cubed, (116 * f - 16) / _KAPPA) * WHITE


def lab_from_xyz(xyz: Floats) -> Floats:
    """CIELAB of XYZ colours (white Y = 1) of shape (..., 3)."""
    ratio = np.maximum(xyz / WHITE, 0)
    f = np.where(ratio > _EPSILON, np.cbrt(ratio), (_KAPPA * ratio + 16) / 116)
    lightness = 116 * f[..., 1] - 16
    a = 500 * (f[..., 0] - f[..., 1])
    return np.stack([lightness, a, 200 * (f[..., 1] - f[..., 2])], axis=-1)


def encode_srgb(linear: Floats) -> Floats:
    """The sRGB transfer curve, linear to encoded, both 0..1 (clipped)."""
    clipped = np.clip(linear, 0, 1)
    return np.where(clipped <= 0.0031308, 12.92 * clipped, 1.055 * clipped ** (1 / 2.4) - 0.055)


def decode_srgb(encoded: Floats) -> Floats:
    """The sRGB transfer curve the other way, encoded to linear, both 0..1."""
    return np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)


_LIGHT_OF_BYTE = decode_srgb(np.arange(256) / 255).astype(np.float32)


def linear_of_bytes(rgb: NDArray[np.uint8]) -> NDArray[np.float32]:
    """Linear light 0..1 of sRGB bytes of any shape."""
    return np.asarray(_LIGHT_OF_BYTE[rgb])


@lru_cache(20_000)
def _hex(lab: Lab) -> tuple[str, bool]:
    linear = xyz_from_lab(np.array(lab)) @ RGB_FROM_XYZ.T
    in_gamut = bool(np.all(linear > -0.002) and np.all(linear < 1.002))
    red, green, blue = (round(float(v) * 255) for v in encode_srgb(linear))
    return f"#{red:02x}{green:02x}{blue:02x}", in_gamut


def hex_of(lab: Lab) -> tuple[str, bool]:
    """The sRGB hex code of a colour and whether sRGB can hold it."""
    lightness, a, b = lab
    return _hex((float(lightness), float(a), float(b)))


def lab_of_hex(code: str) -> Lab:
    """CIELAB (D50) of an sRGB hex code; raises BadValue for anything else."""
    if not re.fullmatch(r"#?[0-9a-fA-F]{6}", code):
        raise BadValue(f"“{code}” is not a colour code such as #3a7f9c.", "hex")
    digits = code.lstrip("#")
    lightness, a, b = lab_of_rgb(np.array([int(digits[i : i + 2], 16) for i in (0, 2, 4)]))
    return float(lightness), float(a), float(b)


def lab_of_rgb(rgb: NDArray[np.integer]) -> Floats:
    """CIELAB (..., 3) of sRGB bytes (..., 3)."""
    return lab_from_xyz(decode_srgb(rgb / 255) @ _XYZ_FROM_RGB.T)


@cache
def _delta_e():  # type: ignore[no-untyped-def]
    # skimage pulls scipy in: half a second that only callers of a difference should pay
    from skimage.color import deltaE_ciede2000

    return deltaE_ciede2000


def differences(first: Floats, second: Floats) -> Floats:
    """CIEDE2000 between two arrays of CIELAB colours (..., 3) (scikit-image; Sharma et al. 2005)."""
    return np.asarray(_delta_e()(first, second), dtype=np.float64)


@lru_cache(maxsize=1 << 16)
def difference(first: Lab, second: Lab) -> float:
    """CIEDE2000 between two colours; kept, since an edit leaves most pairs as they were."""
    return float(differences(np.array(first), np.array(second)))


def chroma(lab: Lab) -> float:
    """C*ab."""
    return math.hypot(lab[1], lab[2])


def hue(lab: Lab) -> float:
    """h_ab in degrees, 0..360."""
    return math.degrees(math.atan2(lab[2], lab[1])) % 360


def degrees_apart(first: Angle, second: Angle) -> Angle:
    """The angle between two directions in degrees, 0..180; of arrays for each pair."""
    return abs((first - second + 180) % 360 - 180)


def hue_apart(first: Lab, second: Lab) -> float:
    """The angle between two hues, 0..180 degrees."""
    return degrees_apart(hue(first), hue(second))
