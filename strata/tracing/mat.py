"""What is printed on the table (the grid of a cutting mat), found beside the sheet; ``printing`` looks past it.

Thin lines beside the sheet are added up along every direction (a Radon
transform); in the one in which their profile is sharpest its peaks are the
lines, carried on under the sheet by their common distance.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
Array = Floats | Floats32
Rgb = NDArray[np.uint8]
_PER_MM = 7.0
# px a mm of the picture in which lines are looked for
_BESIDE, _OFF = 40.0, 1.5
# mm around the sheet that are looked at, and as near to it as lines are believed
_THIN = 1.6
# mm: what is printed is thinner than that
_FINE, _STEP = 0.1, 1.0
# degrees
QUARTERS = (0.0, np.pi / 2)
_LEAST_LINES, _CLEAR, _APART = 3, 6.0, 3.0
# lines of one direction, times the spread of its profile by which one stands out, mm from line to line at least
_SLANTS, _ASKEW, _AS_SEEN = (30, 45, 60, 120, 135, 150), 0.4, 0.4
# degrees from a grid's own lines at which a mat has others, by which they may seem elsewhere, and share of how clear the grid's are
_TALLEST = 16
# lines of one direction by which their distance is told
_BROAD = 9
# samples of a profile to both sides of a line
_FEW, _LEAST_SEEN, _FAINT = 120_000, 0.04, 8.0
# pixels by which a direction is chosen; share of the surroundings that must be seen; of 255, what stands out at all


@dataclass(frozen=True)
class Ruling:
    """Lines of one direction: the way over them (radians from the sheet's width), places and widths (mm across it)."""

    angle: float
    places: Floats
    widths: Floats

    def nearest(self, across: Array) -> NDArray[np.intp]:
        """Which line lies nearest to places (mm across), of any shape."""
        between = (self.places[1:] + self.places[:-1]) / 2
        return np.searchsorted(between, across.ravel()).reshape(across.shape)


@dataclass(frozen=True)
class Printed:
    """Lines on the table: those of its ``grid``, and what runs ``slanted`` over it."""

    grid: tuple[Ruling, Ruling]
    slanted: tuple[Ruling, ...] = ()

    @property
    def rulings(self) -> tuple[Ruling, ...]:
        """All of them."""
        return (*self.grid, *self.slanted)

    @property
    def apart(self) -> float:
        """mm from line to line, as large as the sheet was taken to be: what tells its size where theirs is known."""
        steps = [float(np.polyfit(np.arange(len(r.places)), r.places, 1)[0]) for r in self.grid]
        return float(np.mean(steps))


def find_printed(rgb: Rgb, corners: Floats, width: float, height: float) -> Printed | None:
    """The lines of a mat around a sheet of ``width`` x ``height`` mm whose corners (4, 2) px are known; None where there are none."""
    points = _thin_beside(rgb, corners, width, height)
    if points is None:
        return None
    pick = np.random.default_rng(3).choice(len(points[0]), min(len(points[0]), _FEW), replace=False)
    few = points[0][pick], points[1][pick], points[2][pick]
    best = max((_sharpness(few, a), a) for a in np.radians(np.arange(-45, 45, _STEP)))[1]
    fine = best + np.radians(np.arange(-_STEP, _STEP + _FINE / 2, _FINE))
    angle = float(max((_sharpness(few, a), a) for a in fine)[1])
    (one, tall), (two, high) = (_lines_across(points, angle + quarter) for quarter in QUARTERS)
    if min(len(one.places), len(two.places)) < _LEAST_LINES:
        return None
    return Printed((one, two), tuple(_slanted(points, (one, two), min(tall, high))))


def _lines_across(points: Points, angle: float) -> tuple[Ruling, float]:
    """The regular lines of one direction, and how much they usually stand out."""
    mm, mean = _profile(points, angle)
    peaks, widths = _peaks(mm, mean)
    places = _regular(peaks, np.interp(peaks, mm, mean))
    if not len(places):
        return Ruling(angle, places, places), 0.0
    nearest = np.abs(places[:, None] - peaks).argmin(axis=1)
    seen = np.abs(peaks[nearest] - places) < _THIN / 2
    ruling = Ruling(angle, places, np.where(seen, widths[nearest], np.median(widths)))
    return ruling, float(np.median(np.interp(places, mm, mean)))


def _slanted(points: Points, grid: tuple[Ruling, Ruling], usual: float) -> list[Ruling]:
    """The lines that run over a grid at the angles mats have, each by itself: where they are seen for as much of
    their way as its own are, which ``usual``ly stand out so much."""
    clear = np.logical_and.reduce([np.abs(_off(points, r)) > _THIN / 2 for r in grid])
    rest = points[0][clear], points[1][clear], points[2][clear]
    found = []
    for degrees in _SLANTS:
        near = grid[0].angle + np.radians(degrees + np.arange(-_ASKEW, _ASKEW + _FINE / 4, _FINE / 2))
        angle = float(max((float(_profile(rest, a)[1].max(initial=0)), a) for a in near)[1])
        mm, mean = _profile(rest, angle)
        places, widths = _peaks(mm, mean)
        seen = np.interp(places, mm, mean) > _AS_SEEN * usual
        if seen.any():
            found.append(Ruling(angle, places[seen], widths[seen]))
    return found


def _off(points: Points, ruling: Ruling) -> Floats:
    """mm by which points (n,) lie off the nearest line."""
    at = np.cos(ruling.angle) * points[0] + np.sin(ruling.angle) * points[1]
    return np.asarray(at - ruling.places[ruling.nearest(at)])


Points = tuple[Floats, Floats, Floats32]


def _thin_beside(rgb: Rgb, corners: Floats, width: float, height: float) -> Points | None:
    """(x, y, response) of all pixels beside the sheet, mm from its corner: how unlike what lies around they are."""
    import cv2

    size = np.array([width, height]) + 2 * _BESIDE
    out = np.rint(size * _PER_MM).astype(int)
    own = (np.array([[0, 0], [width, 0], [width, height], [0, height]]) + _BESIDE) * _PER_MM
    way = cv2.getPerspectiveTransform(corners.astype(np.float32), own.astype(np.float32))
    flat = cv2.warpPerspective(rgb, way, out.tolist(), flags=cv2.INTER_AREA, borderMode=cv2.BORDER_CONSTANT)
    seen = cv2.warpPerspective(np.full(rgb.shape[:2], 255, np.uint8), way, out.tolist()) == 255
    seen = cv2.erode(seen.astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
    x0, y0 = np.floor(own[0] - _OFF * _PER_MM).astype(int)
    x1, y1 = np.ceil(own[2] + _OFF * _PER_MM).astype(int)
    seen[y0:y1, x0:x1] = False
    if seen.mean() < _LEAST_SEEN:
        return None
    rest = cv2.medianBlur(flat, int(_THIN * _PER_MM) // 2 * 2 + 1)
    thin = np.abs(flat.astype(np.int16) - rest).max(axis=2).astype(np.float32)
    # a glint or a crumb must not outweigh a line
    cap = float(np.percentile(thin[seen], 99.5))
    if cap < _FAINT:
        return None
    y, x = np.nonzero(seen)
    return x / _PER_MM - _BESIDE, y / _PER_MM - _BESIDE, np.minimum(thin[y, x], np.float32(cap))


def _profile(points: Points, angle: float) -> tuple[Floats, Floats]:
    """(mm across, mean response) over lines of one direction; nought where hardly anything is seen."""
    x, y, value = points
    across = (np.cos(angle) * x + np.sin(angle) * y) * 2 * _PER_MM
    low = int(np.floor(across.min()))
    at = np.rint(across - low).astype(int)
    count = np.bincount(at)
    mean = np.bincount(at, value) / np.maximum(count, 1)
    mean[count < 0.12 * np.percentile(count, 95)] = 0
    return (np.arange(len(mean)) + low) / (2 * _PER_MM), mean


def _sharpness(points: Points, angle: float) -> float:
    return sum(float(np.var(_profile(points, angle + quarter)[1])) for quarter in QUARTERS)


def _peaks(mm: Floats, mean: Floats) -> tuple[Floats, Floats]:
    """mm at which a profile has its peaks, and how wide they are (at a third of their height); of several close
    together the tallest."""
    from scipy.signal import find_peaks

    seen = mean[mean > 0]
    usual = float(np.median(seen))
    spread = 1.4826 * float(np.median(np.abs(seen - usual)))
    height, apart = usual + _CLEAR * max(spread, 0.5), round(2 * _PER_MM * _APART)
    peaks, _ = find_peaks(mean, height=height, distance=apart)
    near = np.arange(-3, 4) + peaks[:, None]
    near = near.clip(0, len(mean) - 1)
    weight = np.maximum(mean[near] - usual, 0)
    places = (mm[near] * weight).sum(axis=1) / weight.sum(axis=1)
    around = np.arange(-_BROAD, _BROAD + 1) + peaks[:, None]
    above = np.maximum(mean[around.clip(0, len(mean) - 1)] - usual, 0)
    widths = (above > above.max(axis=1, keepdims=True) / 3).sum(axis=1) / (2 * _PER_MM)
    return np.asarray(places), np.asarray(widths)


def _regular(mm: Floats, heights: Floats) -> Floats:
    """Of places those that keep a common distance, and those missing between them.

    Of all distances it is the one at which most stands out, less what is missing: figures stand in rows as well.
    """
    tallest = mm[np.argsort(-heights, kind="stable")[:_TALLEST]]
    gaps = np.abs(tallest[:, None] - tallest).ravel()
    gaps = np.unique(np.round(gaps[gaps > _APART], 1))
    if len(mm) < _LEAST_LINES or not len(gaps):
        return np.zeros(0)
    usual = float(np.median(heights))
    chains = [_chain(mm, heights, float(start), float(step)) for step in gaps for start in tallest]
    best, _, hits = max(chains, key=lambda c: c[1] - usual * (len(c[0]) - c[2]))
    return np.array(sorted(best)) if hits >= _LEAST_LINES else np.zeros(0)


def _chain(mm: Floats, heights: Floats, start: float, step: float) -> tuple[list[float], float, int]:
    """Places from one to the next as far as there are any, how much of them was seen, and how many."""
    first = int(np.argmin(np.abs(mm - start)))
    chain, seen, hits = [start], float(heights[first]), 1
    for way in (step, -step):
        at = start
        while mm.min() - 0.1 * step < at + way < mm.max() + 0.1 * step:
            at += way
            nearest = int(np.argmin(np.abs(mm - at)))
            if abs(mm[nearest] - at) < 0.08 * step:
                at, seen, hits = float(mm[nearest]), seen + float(heights[nearest]), hits + 1
            chain.append(at)
    return chain, seen, hits
