"""The sides of the sheet to a fraction of a pixel, and how the lens bends them."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
_SAMPLES = 400
_ROW = 1024
_SEAM = 0.25
# of the table's contrast, that a line of it has between two sheets at least
_WORTH = 0.25
# px: bends smaller than this are noise
_FAR_OFF, _STRONGEST, _OFF_CENTRE, _HELD = 6.0, 0.24, 0.15, 30.0
# px beyond which all is as far off a straight side; strength of a lens at most; of half the diagonal, how far its middle may lie
# from the picture's; px that it weighs there, a whole such half away


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
    """The values (...) or (..., 3) of a picture (h, w) or (h, w, 3) at points (..., 2) px between its pixels."""
    import cv2

    # OpenCV takes no more than 2^15 rows of them
    grid = np.zeros((-(-points[..., 0].size // _ROW) * _ROW, 2), np.float32)
    grid[: points[..., 0].size] = points.reshape(-1, 2)
    x, y = (np.ascontiguousarray(v.reshape(-1, _ROW)) for v in grid.T)
    found = cv2.remap(picture, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    kinds = picture.shape[2:]
    return np.asarray(found.reshape(-1, *kinds)[: points[..., 0].size], float).reshape(
        *points.shape[:-1], *kinds
    )


def side_points(grey: Floats32, start: Floats, end: Floats, reach: float, lens: Lens) -> Floats:
    """Points on the sheet's edge near the line from a corner to the next (n, 2), px; the sheet lies to its right.

    ``start`` and ``end`` as they would be without the lens's bend.

    Across the line the brightness goes from the sheet's to the table's; the
    edge is where it is half-way.
    """
    feet, out, offsets, values = _across(grey, start, end, reach, lens)
    inner, contrast = _contrast(values)
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


def contrast_of(grey: Floats32, start: Floats, end: Floats, reach: float, lens: Lens) -> float:
    """By how much the table is usually lighter than the sheet along a side, as ``side_points`` has it."""
    return float(np.median(_contrast(_across(grey, start, end, reach, lens)[3])[1]))


def seam_points(
    grey: Floats32, start: Floats, end: Floats, reach: float, lens: Lens, contrast: float
) -> Floats:
    """As ``side_points``, where another sheet touches all of a side: of the table a line shows between them at most.

    The edge is where it is half as light as in that line; ``contrast``: by how much the table is lighter than the sheet.
    """
    feet, out, offsets, values = _across(grey, start, end, reach, lens)
    inner, _ = _contrast(values)
    lit = (values - inner[:, None]) * np.sign(contrast)
    top, rows = np.argmax(lit, axis=1), np.arange(len(lit))
    most = lit[rows, top]
    # the last place before the line that is less than half-way up to it
    below = (lit < 0.5 * most[:, None]) & (np.arange(len(offsets)) < top[:, None])
    k = np.clip(len(offsets) - 1 - np.argmax(below[:, ::-1], axis=1), 0, len(offsets) - 2)
    rise = lit[rows, k + 1] - lit[rows, k]
    at = offsets[k] + 0.5 * (0.5 * most - lit[rows, k]) / np.where(rise == 0, 1, rise)
    good = (most > _SEAM * abs(contrast)) & below.any(axis=1)
    return np.asarray((feet + at[:, None] * out)[good])


def _across(
    grey: Floats32, start: Floats, end: Floats, reach: float, lens: Lens
) -> tuple[Floats, Floats, Floats, Floats]:
    """Points along a side (n, 2), the direction outwards, px to either side (k,), and what is seen there (n, k)."""
    run = end - start
    out = np.array([run[1], -run[0]]) / np.hypot(*run)
    t = np.linspace(0.05, 0.95, _SAMPLES)[:, None]
    feet = lens.bent_points(start + t * run)
    offsets = np.arange(-reach, reach + 0.25, 0.5)
    return feet, out, offsets, sampled(grey, feet[:, None, :] + offsets[None, :, None] * out)


def _contrast(values: Floats) -> tuple[Floats, Floats]:
    """How light it is within (n,), and by how much lighter beyond, across a side (n, k)."""
    third = max(3, values.shape[1] // 4)
    inner, outer = np.median(values[:, :third], axis=1), np.median(values[:, -third:], axis=1)
    return inner, outer - inner


def line_through(points: Floats) -> tuple[Floats, Floats, Floats]:
    """(point, unit direction, signed distances) of the line through points, outliers left out."""
    kept = points
    for _ in range(4):
        middle, direction = _line(kept)
        off = _beside(points, middle, direction)
        usual = float(np.median(off))
        spread = max(0.3, 3 * 1.4826 * float(np.median(np.abs(off - usual))))
        near = np.abs(off - usual) <= spread
        if near.sum() < 10:
            break
        kept = points[near]
    return middle, direction, off


def _line(points: Floats) -> tuple[Floats, Floats]:
    """(point, unit direction) of the line that leaves least of points (n, 2): the main axis of their spread (Pearson 1901)."""
    middle = points.mean(axis=0)
    (xx, xy), (_, yy) = (points - middle).T @ (points - middle)
    turn = 0.5 * np.arctan2(2 * xy, xx - yy)
    return middle, np.array([np.cos(turn), np.sin(turn)])


def _beside(points: Floats, middle: Floats, direction: Floats) -> Floats:
    """Signed distances (n,) of points (n, 2) from a line."""
    return np.asarray((points - middle) @ np.array([-direction[1], direction[0]]))


def fit_lens(sides: list[Floats], width: int, height: int) -> Lens:
    """The lens that leaves the four sides as straight as they can be (plumb lines; Brown 1971), its middle where they tell:
    of a picture that was cut to size it is not the picture's own."""
    plain = Lens(0.0, (width / 2, height / 2), float(np.hypot(width, height) / 2))
    few = [s[:: max(1, len(s) // 120)] for s in sides]
    bent = _bend(few, plain)
    if bent < _WORTH:
        return plain
    best = min(
        (_straightest(few, replace(plain, cubic=c)) for c in (False, True)), key=lambda v: _bend(few, v)
    )
    rest = _bend(few, best)
    return best if bent - rest > _WORTH and rest < 0.6 * bent else plain


def _bend(sides: list[Floats], lens: Lens) -> float:
    """px by which sides (n, 2) each usually still are not straight."""
    off = [np.abs(line_through(lens.straight(s))[2]) for s in sides]
    return float(np.mean([np.mean(np.minimum(o, _FAR_OFF)) for o in off]))


def _straightest(sides: list[Floats], lens: Lens) -> Lens:
    """A lens of this kind, its strength and its middle such that the sides are straightest."""
    from scipy.optimize import least_squares

    def bent(values: Floats) -> Lens:
        strength, x, y = values.tolist()
        centre = (lens.centre[0] + x * lens.half, lens.centre[1] + y * lens.half)
        return replace(lens, strength=strength, centre=centre)

    def off(values: Floats) -> Floats:
        straight = [bent(values).straight(s) for s in sides]
        return np.concatenate([_beside(s, *_line(s)) for s in straight] + [_HELD * values[1:]])

    most = np.array([_STRONGEST, _OFF_CENTRE, _OFF_CENTRE])
    found = least_squares(
        off, np.zeros(3), bounds=(-most, most), loss="cauchy", x_scale=[0.01] * 3, max_nfev=30
    )
    return bent(found.x)
