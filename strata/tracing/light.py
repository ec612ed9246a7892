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
_MUCH_ODDER, _HALO = 2.3, 0.05
# measured over 24 conditions of table, light and camera, mixed as light (0.2 to 2.1) and encoded (2.6 to 5.6 where
# sheet and table differ enough for it to matter); share of an edge's contrast
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
    """Whether edges of a picture (h, w) or (h, w, 3) are those of light; None when they do not tell.

    ``feet`` (n, 2) px lie on edges, ``normals`` (n, 2) across them. Judged by
    lightness, which JPEG keeps sharp: single channels are spoilt by its coarse
    colour. Cameras mix light, so that only edges that are much odder as light
    are said to be encoded ones; and never where they have halos, which are a
    camera's doing too and are symmetric in what it sharpens: encoded values.
    """
    import cv2

    if len(feet) < 60:
        return None
    plane = picture if picture.ndim == 2 else cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY)
    across = _told(profiles(np.ascontiguousarray(plane), feet, normals))
    if across is None:
        return None
    if _halo(across) > _HALO:
        return True
    encoded, light = (_oddness(across, curve(of_light)) for of_light in (False, True))
    if light > _MUCH_ODDER * encoded:
        return False
    return True if light < encoded else None


def _told(across: Floats) -> Floats | None:
    """Of profiles (n, OFFSETS) those that tell, each from dark to light: clear ones between two even tones."""
    turned = across[:, :10].mean(axis=1) > across[:, -10:].mean(axis=1)
    across = np.where(turned[:, None], across[:, ::-1], across)
    contrast = across[:, -10:].mean(axis=1) - across[:, :10].mean(axis=1)
    flat = np.maximum(across[:, :10].std(axis=1), across[:, -10:].std(axis=1)) < 0.12 * contrast
    good = flat & (contrast > 25) & (across[:, -10:].mean(axis=1) < 252)
    return across[good] if good.sum() >= 60 else None


def _halo(across: Floats) -> float:
    """By how much of its contrast the mean edge rises over its lighter side before it comes down to it."""
    mean = across.mean(axis=0)
    return float((mean.max() - mean[-10:].mean()) / (mean[-10:].mean() - mean[:10].mean()))


def _oddness(across: Floats, tones: Floats32) -> float:
    """How far the mean edge (n, OFFSETS) is from symmetric when values count as ``tones``, of its contrast."""
    mean = np.interp(across, np.arange(256), tones).mean(axis=0)
    share = (mean - mean[:10].mean()) / (mean[-10:].mean() - mean[:10].mean())
    fine = np.linspace(-REACH, REACH, 641)
    share = np.interp(fine, OFFSETS, share)
    middle = float(np.interp(0.5, share, fine)) if np.all(np.diff(share[240:400]) > -0.02) else 0.0
    away = np.linspace(0, 4.5, 91)
    best = min(
        float(np.mean((np.interp(m + away, fine, share) + np.interp(m - away, fine, share) - 1) ** 2))
        for m in middle + np.linspace(-0.6, 0.6, 61)
    )
    return float(best**0.5)
