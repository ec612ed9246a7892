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

from strata.tracing.straighten import Seat, per_mm, straighten
from strata.units import MM_PER_INCH

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
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
_SEEN, _PLAIN = 0.6, 2.5
# share of a piece that is seen at least; of 255, by how much an even table differs within one
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

    @property
    def along(self) -> Floats:
        """The direction (2,) in which strokes follow one another."""
        return np.asarray(self.wave / np.hypot(*self.wave))


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
    """By how many times it is larger, told at about so many px/mm."""
    far = _AROUND * max(width, height)
    flat, seen = _around(rgb, seat, width, height, scale, far)
    comb = _comb(flat, seen)
    step = None if comb is None else _step(flat, comb)
    unit = None if step is None else _unit(*step)
    if comb is None or step is None or unit is None:
        return None
    # the picture is whole blocks wide and high: a mm across is not quite as many px as one down
    by_mm = np.array([flat.shape[1] / (width + 2 * far), flat.shape[0] / (height + 2 * far)])
    return unit / float(np.hypot(*(comb.along / step[1] / by_mm)))


def _around(
    rgb: NDArray[np.uint8], seat: Seat, width: float, height: float, scale: float, far: float
) -> tuple[Floats32, NDArray[np.bool_]]:
    """The surroundings of a sheet in its plane (h, w), grey, and where they are seen, the sheet left out."""
    import cv2

    grey, within = cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY), np.zeros(rgb.shape[:2], np.uint8)
    within[2:-2, 2:-2] = 255
    flat, inside = (straighten(p, seat, width, height, scale, far) for p in (grey, within))
    seen = inside == 255
    top, left = (
        round(n * far / (of + 2 * far)) - 2 for n, of in zip(seen.shape, (height, width), strict=True)
    )
    seen[top : len(seen) - top, left : seen.shape[1] - left] = False
    return flat.astype(np.float32), seen


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
            piece = flat[y - half : y + half, x - half : x + half]
            if shares[y, x] < _SEEN or float(piece.std()) < _PLAIN:
                continue
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


def _step(flat: Floats32, comb: _Comb) -> tuple[Floats, float] | None:
    """Rows (n, m) of the picture along the strokes' line, each level, and how many strokes a px there are by all of
    them; None where they are few, or go on otherwise than in their pieces."""
    import cv2

    rough = float(np.hypot(*comb.wave))
    across = np.array([-comb.along[1], comb.along[0]])
    middle = comb.middles.mean(axis=0)
    reach = np.abs((comb.middles - middle) @ comb.along).max() + _BLOCK / 2
    t, r = np.arange(-reach, reach, 1.0), np.arange(-_ACROSS, _ACROSS + 1, 2.0)
    if len(t) * rough < _STROKES:
        return None
    at = (middle + t[None, :, None] * comb.along + r[:, None, None] * across).astype(np.float32)
    rows = cv2.remap(flat, at[..., 0], at[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    rows = rows - cv2.blur(rows, (round(2.5 / rough) | 1, 1), borderType=cv2.BORDER_REPLICATE)
    tried = rough * np.linspace(1 - _ALIKE, 1 + _ALIKE, 481)
    best = int(_power(rows, tried).sum(axis=0).argmax())
    edge = len(tried) // 8
    return (rows, float(tried[best])) if edge < best < len(tried) - edge else None


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
        return MM_PER_INCH / 16 if sixteenths > 0.3 * eighths else MM_PER_INCH / 8
    return None
