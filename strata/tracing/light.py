"""In which quantity light was mixed at the edges of a picture: encoded values, or light itself.

A lens spreads light evenly to both sides of an edge. In the right quantity
the blurred edge is therefore symmetric about its middle; taken in another,
the middle is off by a fraction of a pixel, always to the same side. A camera
mixes light and encodes it afterwards (sRGB, IEC 61966-2-1); a drawing
program mixes the encoded values.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from strata.optics.colour import decode_srgb

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
REACH = 8.0
# px to both sides of an edge that a profile shows
_STEP = 0.25
OFFSETS = np.arange(-REACH, REACH + _STEP / 2, _STEP)


def curve(of_light: bool) -> Floats32:
    """256 values 0..255: what each encoded value counts when edges are looked for."""
    steps = np.arange(256) / 255
    if not of_light:
        return np.asarray(255 * steps, np.float32)
    return np.asarray(255 * decode_srgb(steps), np.float32)


def profiles(channel: NDArray[np.uint8], feet: Floats, normals: Floats) -> Floats:
    """Encoded values across an edge at points (n, 2) px along unit normals (n, OFFSETS)."""
    import cv2

    at = feet[:, None, :] + normals[:, None, :] * OFFSETS[None, :, None]
    x, y = at[..., 0].astype(np.float32), at[..., 1].astype(np.float32)
    return np.asarray(cv2.remap(channel, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE), float)


def mixed_as_light(picture: NDArray[np.uint8], feet: Floats, normals: Floats) -> bool | None:
    """Whether edges of a picture (h, w, 3) are those of light; None when they do not tell.

    ``feet`` (n, 2) px lie on edges, ``normals`` (n, 2) across them.
    """
    encoded, light = 0.0, 0.0
    if len(feet) < 60:
        return None
    for channel in range(3):
        across = profiles(np.ascontiguousarray(picture[..., channel]), feet, normals)
        odd = [_oddness(across, curve(of_light)) for of_light in (False, True)]
        if odd[0] is not None and odd[1] is not None:
            encoded, light = encoded + odd[0], light + odd[1]
    return None if encoded == light else bool(light < encoded)


def _oddness(across: Floats, tones: Floats32) -> float | None:
    """How far the mean edge (n, OFFSETS) is from symmetric when values count as ``tones``, times its contrast."""
    turned = across[:, :10].mean(axis=1) > across[:, -10:].mean(axis=1)
    across = np.where(turned[:, None], across[:, ::-1], across)
    dark, light = across[:, :10].mean(axis=1), across[:, -10:].mean(axis=1)
    contrast = light - dark
    flat = np.maximum(across[:, :10].std(axis=1), across[:, -10:].std(axis=1)) < 0.12 * contrast
    good = flat & (contrast > 25) & (light < 252)
    if good.sum() < 60:
        return None
    mean = np.interp(across[good], np.arange(256), tones).mean(axis=0)
    share = (mean - mean[:10].mean()) / (mean[-10:].mean() - mean[:10].mean())
    fine = np.linspace(-REACH, REACH, 641)
    share = np.interp(fine, OFFSETS, share)
    middle = float(np.interp(0.5, share, fine)) if np.all(np.diff(share[240:400]) > -0.02) else 0.0
    away = np.linspace(0, 4.5, 91)
    best = min(
        float(np.mean((np.interp(m + away, fine, share) + np.interp(m - away, fine, share) - 1) ** 2))
        for m in middle + np.linspace(-0.6, 0.6, 61)
    )
    return float(best**0.5 * contrast[good].mean())
