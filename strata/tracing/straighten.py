"""From the picture to the sheet: perspective, lens and what bow is left in its sides."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from strata.tracing.beside import plane_beside
from strata.tracing.light import Edges, curve, edges_of, mixed_in_values
from strata.tracing.quads import crossing, quad_area
from strata.tracing.sides import Lens, contrast_of, fit_lens, line_through, seam_points, side_points

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
MOST_PX = 16_000_000
MOST_PER_MM = 40.0
_ASKEW, _LEAST_POINTS, _STRAYS = 0.02, 60, 2.0
# of 1; points of a side; px by which a tenth of them may lie off it
_BLOCK = 8
# px
_KNOTS = 33
# points along a side at which its bow is known


@dataclass(frozen=True)
class Seat:
    """How the sheet lies in the picture.

    ``corners`` (4, 2) px where its sides cross in the picture; ``straight``
    the same without the lens; ``bows`` (4, _KNOTS) px by which each side
    leaves the straight line between its corners, outwards; ``told``: what its
    sides tell of how the picture came to be.
    """

    corners: Floats
    straight: Floats
    lens: Lens
    bows: Floats
    sure: bool
    told: Edges = field(default_factory=Edges)

    def turned(self, quarter_turns: int) -> Seat:
        """The same with another corner as the top left."""
        corners, straight, bows = (
            np.roll(v, -quarter_turns, axis=0) for v in (self.corners, self.straight, self.bows)
        )
        return replace(self, corners=corners, straight=straight, bows=bows)


def scaled(seat: Seat, by: float) -> Seat:
    """The same seat in a picture that is shown ``by`` times as large."""
    lens = replace(
        seat.lens, centre=(seat.lens.centre[0] * by, seat.lens.centre[1] * by), half=seat.lens.half * by
    )
    return replace(
        seat, corners=seat.corners * by, straight=seat.straight * by, lens=lens, bows=seat.bows * by
    )


def seat_from(corners: Floats, width: int, height: int) -> Seat:
    """A seat from corners that a person gave, or the whole picture: nothing is refined."""
    lens = Lens(0.0, (width / 2, height / 2), float(np.hypot(width, height) / 2))
    return Seat(corners, corners, lens, np.zeros((4, _KNOTS)), sure=True)


def refine(rgb: NDArray[np.uint8], corners: Floats, scale: float, lines: bool = False) -> Seat:
    """The seat in a picture (h, w, 3) from corners known to about ``scale`` px, by the sheet's sides.

    First in the encoded values; then, once it is known in what quantity the
    picture's edges are symmetric, in that. ``lines``: light ones of a mat cross
    them, which weigh more as light than what is looked for.
    """
    height, width = rgb.shape[:2]
    rough = seat_from(corners, width, height)
    reach = 6 * scale + 8 + 0.004 * max(width, height)
    first = _sides(
        plane_beside(rgb, corners, curve(of_light=False), corners, reach), corners, rough.lens, reach
    )
    if first is None:
        return replace(rough, sure=False)
    feet, normals = _feet(first)
    # along a row of pixels every point of a side is cut at the same place: such sides cannot tell
    askew = np.abs(normals).min(axis=1) > _ASKEW
    told = edges_of(rgb, feet[askew], normals[askew])
    if not mixed_in_values(told) and not lines:
        reach = 12.0 + 1.5 * float(np.abs(first.bows).max())
        grey = plane_beside(rgb, first.corners, curve(of_light=True), feet, reach)
        first = _sides(grey, first.straight, first.lens, reach) or first
    # of a mat's lines it is known that they cross the sides
    return replace(first, told=told, sure=lines or first.sure)


def _sides(grey: Floats32, straight: Floats, lens: Lens, reach: float) -> Seat | None:
    """Sides, lens and corners, found again from their own last finding; None where a side is not clear."""
    height, width = grey.shape
    for _ in range(3):
        sides = _points(grey, straight, reach, lens)
        if sides is None:
            return None
        lens = fit_lens(sides, width, height)
        straight_sides = [lens.straight(s) for s in sides]
        lines = [line_through(s) for s in straight_sides]
        straight = np.array([crossing(lines[i - 1][:2], lines[i][:2]) for i in range(4)])
        bowed = float(max(np.percentile(np.abs(line[2]), 95) for line in lines))
        reach = min(reach, 12.0 + 1.2 * bowed)
    bows, strays = zip(
        *(_bow(s, straight[i], straight[(i + 1) % 4]) for i, s in enumerate(straight_sides)), strict=True
    )
    # a seam of the table beside a side draws half of it away
    return Seat(lens.bent_points(straight), straight, lens, np.array(bows), sure=max(strays) < _STRAYS)


def _points(grey: Floats32, straight: Floats, reach: float, lens: Lens) -> list[Floats] | None:
    """Points (n, 2) px on each of the four sides; None where two sides or more are not clear, or one is not and no sheet
    that touches it tells where it lies."""
    ends = list(zip(straight, np.roll(straight, -1, axis=0), strict=True))
    sides = [side_points(grey, *two, reach, lens) for two in ends]
    unclear = [i for i, s in enumerate(sides) if len(s) < _LEAST_POINTS]
    if len(unclear) == 1:
        i = unclear[0]
        usual = float(np.median([contrast_of(grey, *ends[k], reach, lens) for k in range(4) if k != i]))
        sides[i] = seam_points(grey, *ends[i], reach, lens, usual)
    return None if any(len(s) < _LEAST_POINTS for s in sides) else sides


def _feet(seat: Seat) -> tuple[Floats, Floats]:
    """Points along the four sides in the picture, and the directions across them."""
    t = np.linspace(0.06, 0.94, 800)
    feet, normals = [], []
    for i in range(4):
        start, run = seat.straight[i], seat.straight[(i + 1) % 4] - seat.straight[i]
        out = np.array([run[1], -run[0]]) / np.hypot(*run)
        bow = np.interp(t, np.linspace(0, 1, _KNOTS), seat.bows[i])
        feet.append(seat.lens.bent_points(start + t[:, None] * run + bow[:, None] * out))
        normals.append(np.repeat(out[None], len(t), axis=0))
    return np.vstack(feet), np.vstack(normals)


def _bow(points: Floats, start: Floats, end: Floats) -> tuple[Floats, float]:
    """The smooth bow of a side over its length, px outwards, nought at both corners; and how far from it a tenth of its
    points lie at least, px."""
    run = end - start
    length = float(np.hypot(*run))
    out = np.array([run[1], -run[0]]) / length
    t, off = (points - start) @ run / length**2, (points - start) @ out
    from_usual = np.abs(off - np.median(off))
    kept = from_usual < max(2.0, 6 * float(np.median(from_usual)))
    bow, knots = np.zeros(_KNOTS), np.linspace(0, 1, _KNOTS)
    if kept.sum() >= _LEAST_POINTS:
        fit = np.linalg.lstsq(_bows(t[kept]), off[kept], rcond=None)[0]
        bow = _bows(knots) @ fit
    bow = bow if np.abs(bow).max() > 0.3 else np.zeros(_KNOTS)
    rest = off - np.interp(t, knots, bow)
    return bow, float(np.percentile(np.abs(rest - np.median(rest)), 90))


def _bows(t: Floats) -> Floats:
    """The three shapes (n, 3) of which a side's bow is made, at shares of the way along it (n,)."""
    return np.stack([t * (1 - t), t * (1 - t) * (t - 0.5), t * (1 - t) * (t - 0.5) ** 2], axis=1)


def aspect(seat: Seat, width: int, height: int) -> float:
    """Width by height of the sheet itself, from its corners (Zhang & He, "Whiteboard scanning", 2007)."""
    n2, n3 = _directions(seat.straight - np.array(seat.lens.centre))
    focal2 = -(n2[0] * n3[0] + n2[1] * n3[1]) / (n2[2] * n3[2]) if abs(n2[2] * n3[2]) > 1e-9 else np.inf
    plain = (
        np.hypot(*(seat.straight[1] - seat.straight[0])) + np.hypot(*(seat.straight[2] - seat.straight[3]))
    ) / (np.hypot(*(seat.straight[3] - seat.straight[0])) + np.hypot(*(seat.straight[2] - seat.straight[1])))
    usual = (0.5 * max(width, height)) ** 2, (6 * max(width, height)) ** 2
    if not usual[0] < focal2 < usual[1]:
        focal2 = (1.1 * max(width, height)) ** 2 if np.isfinite(focal2) else np.inf
    if not np.isfinite(focal2):
        return float(plain)
    one = (n2[0] ** 2 + n2[1] ** 2) / focal2 + n2[2] ** 2
    two = (n3[0] ** 2 + n3[1] ** 2) / focal2 + n3[2] ** 2
    return float(np.sqrt(one / two))


def _directions(corners: Floats) -> tuple[Floats, Floats]:
    """The directions of the sheet's width and height up to the focal length, from four centred corners."""
    m1, m2, m4, m3 = np.column_stack([corners, np.ones(4)])[[0, 1, 2, 3]]
    k2 = np.dot(np.cross(m1, m4), m3) / np.dot(np.cross(m2, m4), m3)
    k3 = np.dot(np.cross(m1, m4), m2) / np.dot(np.cross(m3, m4), m2)
    return np.asarray(k2 * m2 - m1), np.asarray(k3 * m3 - m1)


def per_mm(seat: Seat, width: float, height: float) -> float:
    """Pixels a mm that keep the picture's detail."""
    fine = (quad_area(seat.straight) / (width * height)) ** 0.5 * 1.1
    return float(min(fine, MOST_PER_MM, (MOST_PX / (width * height)) ** 0.5))


def straighten(
    picture: NDArray[Any], seat: Seat, width: float, height: float, scale: float, around: float = 0.0
) -> NDArray[Any]:
    """The sheet seen from straight above, and so many mm ``around`` it, about ``scale`` px/mm; ``picture`` (h, w) or (h, w, 3).

    Its sides are whole numbers of blocks: where each block lies is reckoned,
    between blocks the way is as good as straight.
    """
    import cv2

    wide, high = width + 2 * around, height + 2 * around
    columns, rows = (max(2, round(v * scale / _BLOCK)) for v in (wide, high))
    # a block more on each side, so that the outermost pixels lie between two blocks as well
    u = (((np.arange(-1, columns + 1) + 0.5) / columns * wide - around) / width).astype(np.float32)[None, :]
    v = (((np.arange(-1, rows + 1) + 0.5) / rows * high - around) / height).astype(np.float32)[:, None]
    x, y = _in_picture(seat, u, v)
    full = ((columns + 2) * _BLOCK, (rows + 2) * _BLOCK)
    inner = slice(_BLOCK, -_BLOCK), slice(_BLOCK, -_BLOCK)
    x, y = (cv2.resize(m, full, interpolation=cv2.INTER_LINEAR)[inner] for m in (x, y))
    return np.asarray(cv2.remap(picture, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE))


def _in_picture(seat: Seat, u: Floats32, v: Floats32) -> tuple[Floats32, Floats32]:
    """Where places of the sheet lie in the picture, px; u and v run from 0 to 1 over its width and height."""
    import cv2

    square = np.array([[0, 0], [1, 0], [1, 1], [0, 1]], np.float32)
    h = cv2.getPerspectiveTransform(square, seat.straight.astype(np.float32)).astype(np.float32)
    depth = h[2, 0] * u + h[2, 1] * v + h[2, 2]
    x = (h[0, 0] * u + h[0, 1] * v + h[0, 2]) / depth
    y = (h[1, 0] * u + h[1, 1] * v + h[1, 2]) / depth
    if np.any(seat.bows):
        dx, dy = _swelling(seat, u, v)
        x, y = x + dx, y + dy
    return seat.lens.bent(x, y)


def in_picture(seat: Seat, places: Floats) -> Floats:
    """Where places (n, 2) of the sheet, 0..1 over its width and height, lie in the picture, px (n, 2)."""
    u, v = places.astype(np.float32).T
    x, y = _in_picture(seat, u, v)
    return np.column_stack([x, y]).astype(float)


def shown(
    seat: Seat, photo: tuple[int, ...], size: tuple[float, float], shape: tuple[int, ...], around: float = 0.0
) -> NDArray[np.bool_]:
    """(h, w) of ``shape`` what of a sheet of ``size`` mm (width, height), and so many mm ``around`` it, lies in its
    photograph (height, width px)."""
    u, v = (
        ((((np.arange(n) + 0.5) / n) * (mm + 2 * around) - around) / mm).astype(np.float32)
        for n, mm in zip(shape[1::-1], size, strict=True)
    )
    x, y = _in_picture(seat, u[None, :], v[:, None])
    return np.asarray((x > 1) & (x < photo[1] - 1) & (y > 1) & (y < photo[0] - 1))


def on_sheet(seat: Seat, points: Floats) -> Floats:
    """The way back of ``in_picture``: places (n, 2) of the sheet, 0..1 over its width and height, of points (n, 2) px."""
    import cv2

    square = np.array([[0, 0], [1, 0], [1, 1], [0, 1]], np.float32)
    back = cv2.getPerspectiveTransform(seat.straight.astype(np.float32), square)

    def flat(of: Floats) -> Floats:
        return np.asarray(cv2.perspectiveTransform(of[None].astype(float), back)[0], float)

    aim = flat(seat.lens.straight(points))
    found = aim
    for _ in range(4):
        # what bow is left in the sides is small: each turn leaves a small share of what is off
        found = found + aim - flat(seat.lens.straight(in_picture(seat, found)))
    return found


def _swelling(seat: Seat, u: Floats32, v: Floats32) -> tuple[Floats32, Floats32]:
    """The bows of the four sides carried into the sheet (Coons 1967), px."""
    knots = np.linspace(0, 1, _KNOTS)
    run = np.roll(seat.straight, -1, axis=0) - seat.straight
    out = np.column_stack([run[:, 1], -run[:, 0]]) / np.hypot(run[:, 0], run[:, 1])[:, None]
    top, right, bottom, left = (
        np.interp(along, knots, bow).astype(np.float32)
        for along, bow in (
            (u, seat.bows[0]),
            (v, seat.bows[1]),
            (u, seat.bows[2][::-1]),
            (v, seat.bows[3][::-1]),
        )
    )
    shares = ((1 - v) * top, u * right, v * bottom, (1 - u) * left)
    dx = sum(np.float32(out[i, 0]) * s for i, s in enumerate(shares))
    dy = sum(np.float32(out[i, 1]) * s for i, s in enumerate(shares))
    return np.asarray(dx, np.float32), np.asarray(dy, np.float32)
