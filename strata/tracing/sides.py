"""The sides of the sheet to a fraction of a pixel, and how the lens bends them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
_SAMPLES = 400
_WORTH = 0.25
# px: bends smaller than this are noise
_OFF_CENTRE, _HELD = 0.15, 30.0
# of half the diagonal, how far a lens's middle may lie from the picture's; px that it weighs there, a whole such half away


@dataclass(frozen=True)
class Lens:
    """How a lens bends, by one parameter; radii in units of ``half``, from ``centre`` px.

    The division model (Fitzgibbon, CVPR 2001): straight = bent / (1 + strength
    r2), r of the bent; or, ``cubic``, the first term of Brown's (1966): bent =
    straight (1 + strength r2), r of the straight. Lenses are nearer to the one
    or the other; over a sheet's width they differ by some tenths of a millimetre.
    """

    strength: float
    centre: tuple[float, float]
    half: float
    cubic: bool = False

    def straight(self, points: Floats) -> Floats:
        """Where points (n, 2) px of the picture would lie without the lens's bend."""
        moved = (points - self.centre) / self.half
        square = (moved**2).sum(axis=-1, keepdims=True)
        if self.cubic:
            # r = u (1 + strength u2) for u by Newton's method
            r = np.sqrt(square)
            u = r.copy()
            for _ in range(6):
                u -= (u * (1 + self.strength * u * u) - r) / np.maximum(1 + 3 * self.strength * u * u, 0.2)
            return np.asarray(moved * (u / np.maximum(r, 1e-9)) * self.half + self.centre)
        return np.asarray(moved / (1 + self.strength * square) * self.half + self.centre)

    def bent(self, x: Floats32, y: Floats32) -> tuple[Floats32, Floats32]:
        """The way back, for arrays of x and y."""
        if self.strength == 0:
            return x, y
        u, v = (x - self.centre[0]) / self.half, (y - self.centre[1]) / self.half
        square = u * u + v * v
        if self.cubic:
            swell = (1 + self.strength * square) * self.half
            return np.asarray(u * swell + self.centre[0], np.float32), np.asarray(
                v * swell + self.centre[1], np.float32
            )
        root = np.sqrt(np.clip(1 - 4 * self.strength * square, 0, None))
        factor = 2 / (1 + root) * self.half
        return np.asarray(u * factor + self.centre[0], np.float32), np.asarray(
            v * factor + self.centre[1], np.float32
        )

    def bent_points(self, points: Floats) -> Floats:
        """The way back for points (n, 2)."""
        x, y = self.bent(*points.astype(np.float32).T)
        return np.column_stack([x, y]).astype(float)


def sampled(picture: Floats32 | NDArray[np.uint8], points: Floats) -> Floats:
    """The values (n, k) or (n, k, 3) of a picture (h, w) or (h, w, 3) at points (n, k, 2) px between its pixels."""
    import cv2

    x, y = points[..., 0].astype(np.float32), points[..., 1].astype(np.float32)
    return np.asarray(cv2.remap(picture, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE), float)


def side_points(grey: Floats32, start: Floats, end: Floats, reach: float, lens: Lens) -> Floats:
    """Points on the sheet's edge near the line from a corner to the next (n, 2), px; the sheet lies to its right.

    ``start`` and ``end`` as they would be without the lens's bend.

    Across the line the brightness goes from the sheet's to the table's; the
    edge is where it is half-way.
    """
    run = end - start
    out = np.array([run[1], -run[0]]) / np.hypot(*run)
    t = np.linspace(0.05, 0.95, _SAMPLES)[:, None]
    feet = lens.bent_points(start + t * run)
    offsets = np.arange(-reach, reach + 0.25, 0.5)
    values = sampled(grey, feet[:, None, :] + offsets[None, :, None] * out)
    third = max(3, len(offsets) // 4)
    inner, outer = np.median(values[:, :third], axis=1), np.median(values[:, -third:], axis=1)
    contrast = outer - inner
    usual = np.median(contrast)
    # where another thing touches the better half of a side, the rest of it still tells
    strong = np.percentile(np.abs(contrast), 85)
    if abs(usual) < 0.4 * strong:
        usual = strong * np.sign(contrast[np.abs(contrast) > 0.5 * strong].sum())
    good = (np.sign(contrast) == np.sign(usual)) & (np.abs(contrast) > 0.5 * abs(usual)) & (abs(usual) > 4)
    level = (values - inner[:, None]) / np.where(contrast == 0, 1, contrast)[:, None] - 0.5
    crossing = (level[:, :-1] < 0) & (level[:, 1:] >= 0)
    good &= crossing.sum(axis=1) == 1
    k = np.argmax(crossing, axis=1)
    rows = np.arange(len(k))
    below, above = level[rows, k], level[rows, k + 1]
    at = offsets[k] + 0.5 * (-below) / np.where(above == below, 1, above - below)
    found = feet + at[:, None] * out
    return np.asarray(found[good])


def line_through(points: Floats) -> tuple[Floats, Floats, Floats]:
    """(point, unit direction, signed distances) of the line through points, outliers left out."""
    kept = points
    for _ in range(4):
        middle = kept.mean(axis=0)
        _, _, axes = np.linalg.svd(kept - middle, full_matrices=False)
        direction = axes[0]
        normal = np.array([-direction[1], direction[0]])
        off = (points - middle) @ normal
        usual = float(np.median(off))
        spread = max(0.3, 3 * 1.4826 * float(np.median(np.abs(off - usual))))
        near = np.abs(off - usual) <= spread
        if near.sum() < 10:
            break
        kept = points[near]
    return middle, direction, off


def fit_lens(sides: list[Floats], width: int, height: int) -> Lens:
    """The lens that leaves the four sides as straight as they can be (plumb lines; Brown 1971)."""
    centre, half = (width / 2, height / 2), float(np.hypot(width, height) / 2)
    few = [s[:: max(1, len(s) // 120)] for s in sides]

    def bend(strength: float, cubic: bool) -> float:
        lens = Lens(strength, centre, half, cubic)
        return float(
            np.mean([np.mean(np.minimum(np.abs(line_through(lens.straight(s))[2]), 6.0)) for s in few])
        )

    plain = bend(0.0, False)
    if plain < _WORTH:
        return Lens(0.0, centre, half)
    kinds = [(*_least(lambda v, c=cubic: bend(v, c)), cubic) for cubic in (False, True)]  # type: ignore[misc]
    rest = min(left for _, left, _ in kinds)
    if plain - rest <= _WORTH or rest >= 0.6 * plain:
        return Lens(0.0, centre, half)
    return min((_centred(few, Lens(v, centre, half, kind)) for v, _, kind in kinds), key=lambda m: m[1])[0]


def _centred(sides: list[Floats], lens: Lens) -> tuple[Lens, float]:
    """The lens with its middle where the sides are straightest, and px by which they still are not: of a picture that was
    cut to size it is not the picture's own."""
    from scipy.optimize import least_squares

    offs = [line_through(lens.straight(s))[2] for s in sides]
    kept = [
        s[np.abs(o) < max(1.5, 4 * float(np.median(np.abs(o))))] for s, o in zip(sides, offs, strict=True)
    ]

    def moved(values: Floats) -> Lens:
        strength, x, y = values.tolist()
        return replace(
            lens, strength=strength, centre=(lens.centre[0] + x * lens.half, lens.centre[1] + y * lens.half)
        )

    def off(values: Floats) -> Floats:
        straight = moved(values)
        return np.concatenate([_off_line(straight.straight(s)) for s in kept] + [_HELD * values[1:]])

    start = np.array([lens.strength, 0.0, 0.0])
    bounds = [-0.3, -_OFF_CENTRE, -_OFF_CENTRE], [0.3, _OFF_CENTRE, _OFF_CENTRE]
    found = least_squares(
        off, start, bounds=bounds, loss="soft_l1", f_scale=0.5, x_scale=[0.01, 0.01, 0.01], max_nfev=12
    )
    return moved(found.x), float(np.mean(np.minimum(np.abs(found.fun[:-2]), 6.0)))


def _off_line(points: Floats) -> Floats:
    """Signed distances (n,) of points (n, 2) from the line that leaves least of them."""
    away = points - points.mean(axis=0)
    (xx, xy), (_, yy) = away.T @ away
    turn = 0.5 * np.arctan2(2 * xy, xx - yy)
    return np.asarray(away @ np.array([-np.sin(turn), np.cos(turn)]))


def _least(bend: Callable[[float], float]) -> tuple[float, float]:
    """Where a bend is least, and how large it is there: golden section (Kiefer 1953), as it has one least."""
    low, high = -0.24, 0.24
    golden = (5**0.5 - 1) / 2
    one, two = high - golden * (high - low), low + golden * (high - low)
    at_one, at_two = bend(one), bend(two)
    while high - low > 2e-4:
        if at_one < at_two:
            high, two, at_two = two, one, at_one
            one = high - golden * (high - low)
            at_one = bend(one)
        else:
            low, one, at_one = one, two, at_two
            two = low + golden * (high - low)
            at_two = bend(two)
    best = (low + high) / 2
    return best, bend(best)
