"""The strokes of a ruler that lies beside a sheet: how large the sheet is, where nobody has said it.

Where the surroundings, seen from straight above, are periodic, a short Fourier transform has one tall peak, which tells
direction and distance of the strokes at once; along the ruler that is made finer over all its strokes. Which strokes are
longer tells millimetres (every fifth and tenth) from fractions of an inch (every second, fourth, eighth).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from strata.tracing.straighten import Seat, in_picture, per_mm

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
INCH = 25.4
_AROUND, _SCALES = 0.25, (9.0, 7.5, 11.0, 6.0)
# share of the longer side around the sheet that is looked at; px/mm at which it is, one after another
_MOST_PX = 12_000_000
# of what is looked at, at once
_BLOCK, _STEP = 128, 48
# px of a piece that is transformed, and from one to the next
_LEAST, _MOST = 3.2, 24.0
# px from stroke to stroke: finer ones are not seen, coarser ones are lines of a mat
_TALL, _ALIKE, _PIECES = 0.07, 0.06, 4
# share of a piece's power that its peak has; by what shares pieces of one ruler differ; how many there are
_ACROSS, _STROKES = 150, 24
# px to both sides of those pieces in which strokes are looked at; how many of them
_SAME = 0.01
# by what share two tellings of one ruler differ at most: what is none is told differently at each scale
_CLEARLY, _PURE = 1.6, 3.0
# times as much power as the other unit has; as any longer wave has where all strokes reach
_LONGER = [k / n for n in (10, 16) for k in range(1, n)]


@dataclass(frozen=True)
class _Comb:
    """Strokes of one direction: ``wave`` (2,) in periods a px, its length and direction; (n, 2) px ``middles`` of pieces."""

    wave: Floats
    middles: Floats


def larger_by_ruler(rgb: NDArray[np.uint8], seat: Seat, width: float, height: float) -> float | None:
    """By how many times a sheet is larger than ``width`` x ``height`` mm, as a ruler beside it says; None where none is
    clear. It lies a little nearer to the camera or further off than the sheet: to about one in a hundred."""
    around = (width + 2 * _AROUND * max(width, height)) * (height + 2 * _AROUND * max(width, height))
    finest = min(1.2 * per_mm(seat, width, height), (_MOST_PX / around) ** 0.5)
    told: list[float] = []
    for scale in (s for s in _SCALES if s < finest):
        # how far apart strokes are in the picture is not known before: pieces hold a few of them, or too many
        by = _at_scale(rgb, seat, width, height, scale)
        alike = [other for other in told if by is not None and abs(by / other - 1) < _SAME]
        if by is not None and alike:
            return (by + alike[0]) / 2
        told += [by] if by is not None else []
    return None


def _at_scale(rgb: NDArray[np.uint8], seat: Seat, width: float, height: float, scale: float) -> float | None:
    """By how many times it is larger, told at so many px/mm."""
    flat, seen = _around(rgb, seat, width, height, scale)
    comb = _comb(flat, seen)
    if comb is None:
        return None
    rows, apart = _strip(flat, comb)
    unit = None if rows is None else _unit(rows, 1 / apart)
    return None if unit is None else unit / (apart / scale)


def _around(
    rgb: NDArray[np.uint8], seat: Seat, width: float, height: float, scale: float
) -> tuple[Floats32, NDArray[np.bool_]]:
    """The surroundings of a sheet in its plane (h, w), grey, ``scale`` px/mm, and where they are seen, the sheet left out."""
    import cv2

    far = _AROUND * max(width, height)
    size = (round((width + 2 * far) * scale), round((height + 2 * far) * scale))
    # every eighth px: between them the way is as good as straight
    few = max(2, size[0] // 8), max(2, size[1] // 8)
    u, v = (
        (np.arange(n) + 0.5) / n * (of + 2 * far) - far for n, of in zip(few, (width, height), strict=True)
    )
    places = np.stack(np.meshgrid(u / width, v / height), axis=-1)
    there = in_picture(seat, places.reshape(-1, 2)).reshape(*places.shape[:2], 2).astype(np.float32)
    x, y = (cv2.resize(there[..., k], size, interpolation=cv2.INTER_LINEAR) for k in (0, 1))
    grey = cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY)
    flat = cv2.remap(grey, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE).astype(np.float32)
    seen = (x > 1) & (y > 1) & (x < rgb.shape[1] - 2) & (y < rgb.shape[0] - 2)
    inner = [round(far * scale) - 2, round((far + width) * scale) + 2, round((far + height) * scale) + 2]
    seen[inner[0] : inner[2], inner[0] : inner[1]] = False
    return flat, seen


def _comb(flat: Floats32, seen: NDArray[np.bool_]) -> _Comb | None:
    """The strongest strokes of one direction and distance, in pieces that lie along them."""
    import cv2

    shares = cv2.boxFilter(seen.astype(np.float32), -1, (_BLOCK, _BLOCK))
    half = _BLOCK // 2
    window = np.outer(np.hanning(_BLOCK), np.hanning(_BLOCK)).astype(np.float32)
    way = np.fft.fftfreq(_BLOCK)
    length = np.hypot(way[:, None], np.fft.rfftfreq(_BLOCK)[None])
    within = (length > 1 / _MOST) & (length < 1 / _LEAST)
    waves, middles, powers = [], [], []
    for y in range(half, flat.shape[0] - half, _STEP):
        for x in range(half, flat.shape[1] - half, _STEP):
            if shares[y, x] < 0.6:
                continue
            piece = flat[y - half : y + half, x - half : x + half]
            inside = seen[y - half : y + half, x - half : x + half]
            level = np.where(inside, piece - piece[inside].mean(), 0) * window
            power = np.abs(np.fft.rfft2(level)) ** 2 * within
            at = np.unravel_index(int(power.argmax()), power.shape)
            total = float(power.sum())
            if total <= 0 or float(power[at]) < _TALL * total:
                continue
            waves.append(_peak(power, at, way))
            middles.append((x, y))
            powers.append(float(power[at]))
    return _together(np.array(waves), np.array(middles, float), np.array(powers))


def _peak(
    power: NDArray[np.floating[Any]], at: tuple[np.intp, ...], way: NDArray[np.floating[Any]]
) -> tuple[float, float]:
    """(x, y) periods a px of a peak, between the steps of the transform (the middle of its power)."""
    rows = (np.arange(-1, 2) + at[0]) % power.shape[0]
    columns = np.clip(np.arange(-1, 2) + at[1], 0, power.shape[1] - 1)
    near = power[np.ix_(rows, columns)] ** 0.5
    y = way[at[0]] + float((near.sum(axis=1) @ np.arange(-1, 2)) / near.sum()) / _BLOCK
    x = at[1] / _BLOCK + float((near.sum(axis=0) @ np.arange(-1, 2)) / near.sum()) / _BLOCK
    return x, y


def _together(waves: Floats, middles: Floats, powers: Floats) -> _Comb | None:
    """Of pieces those that are alike and lie on one line along their strokes, the most powerful such."""
    best, found = 0.0, None
    for k in np.argsort(-powers)[:12] if len(powers) else []:
        along = waves[k] / np.hypot(*waves[k])
        off = np.abs((middles - middles[k]) @ np.array([-along[1], along[0]]))
        alike = np.hypot(*(waves - waves[k]).T) < _ALIKE * np.hypot(*waves[k])
        own = alike & (off < _BLOCK * 0.6)
        if own.sum() >= _PIECES and powers[own].sum() > best:
            best = float(powers[own].sum())
            found = _Comb(np.average(waves[own], axis=0, weights=powers[own]), middles[own])
    return found


def _strip(flat: Floats32, comb: _Comb) -> tuple[Floats | None, float]:
    """Rows (n, along) of the picture along the strokes' line, each level, where there are enough strokes; and px from
    stroke to stroke, by all of them."""
    import cv2

    along = comb.wave / np.hypot(*comb.wave)
    across = np.array([-along[1], along[0]])
    middle = comb.middles.mean(axis=0)
    reach = np.abs((comb.middles - middle) @ along).max() + _BLOCK / 2
    t, r = np.arange(-reach, reach, 1.0), np.arange(-_ACROSS, _ACROSS + 1, 2.0)
    if len(t) * np.hypot(*comb.wave) < _STROKES:
        return None, 0.0
    at = (middle + t[None, :, None] * along + r[:, None, None] * across).astype(np.float32)
    rows = cv2.remap(flat, at[..., 0], at[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    rows = rows - cv2.blur(rows, (round(2.5 / np.hypot(*comb.wave)) | 1, 1), borderType=cv2.BORDER_REPLICATE)
    rough = float(np.hypot(*comb.wave))
    tried = rough * np.linspace(1 - _ALIKE, 1 + _ALIKE, 481)
    power = _power(rows, tried).sum(axis=0)
    best = int(power.argmax())
    inside = len(tried) // 8 < best < len(tried) - len(tried) // 8
    return (rows, 1 / float(tried[best])) if inside else (None, 0.0)


def _power(rows: Floats, waves: Floats) -> Floats:
    """How strong waves (k,), periods a px, are in rows (n, m): (n, k)."""
    t = np.arange(rows.shape[1])
    window = np.hanning(len(t))
    turning = np.exp(-2j * np.pi * t[:, None] * waves[None]) * window[:, None]
    return np.asarray(np.abs(rows @ turning) ** 2)


def _unit(rows: Floats, wave: float) -> float | None:
    """mm from stroke to stroke: which of them are longer shows in rows that the short ones do not reach."""
    energy = (rows**2).sum(axis=1, keepdims=True) + 1e-6

    def of(*shares: float) -> float:
        """The most that waves of such shares of the strokes' own have in any row, on the whole."""
        power = _power(rows, wave * np.array(shares)) / energy
        return float(np.sort(power.mean(axis=1))[-5:].mean())

    # where all strokes reach, none is longer than another: what has longer waves there is a grid, or letters
    own = _power(rows, np.array([wave]))[:, 0] / energy[:, 0]
    pure = np.argsort(own)[-5:]
    longer = _power(rows[pure], wave * np.array(_LONGER)) / energy[pure]
    if float(own[pure].mean()) < _PURE * float(longer.mean(axis=0).max()):
        return None
    tenths, quarters = of(0.2, 0.4, 0.6, 0.8), of(0.25, 0.5, 0.75)
    if tenths > _CLEARLY * quarters:
        return 1.0
    if quarters > _CLEARLY * tenths:
        # the longest come every inch
        eighths, sixteenths = of(1 / 8, 3 / 8, 5 / 8, 7 / 8), of(*(k / 16 for k in range(1, 16, 2)))
        return INCH / 16 if sixteenths > 0.3 * eighths else INCH / 8
    return None
