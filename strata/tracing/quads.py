"""Four corners of a sheet: in which order they come, what they enclose, where the lines between them cross, and along
which lines most of an outline runs."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Line = tuple[Floats, Floats]
# a point (2,), a direction (2,)
_STRAIGHT, _MOSTLY = 1.5, 0.6
# px by which an outline leaves a straight side, and share of a side that must not


def clockwise(corners: Floats) -> Floats:
    """Four corners clockwise (y down), beginning with the one nearest the top left."""
    middle = corners.mean(axis=0)
    angle = np.arctan2(corners[:, 1] - middle[1], corners[:, 0] - middle[0])
    turned = corners[np.argsort(angle)]
    return np.asarray(np.roll(turned, -int(np.argmin(turned.sum(axis=1))), axis=0))


def quad_area(corners: Floats) -> float:
    """What corners (n, 2) in their order enclose (the shoelace formula)."""
    x, y = corners.T
    return 0.5 * abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1)))


def crossing(first: Line, second: Line) -> Floats:
    """Where two lines meet; they must not be parallel."""
    (p, d), (q, e) = first, second
    factor = np.linalg.solve(np.column_stack([d, -e]), q - p)
    return np.asarray(p + factor[0] * d)


def along_most(outline: NDArray[np.integer[Any]], rough: Floats) -> Floats:
    """Rough corners moved to where the lines cross that most of an ``outline`` (n, 1, 2) runs along, side by side; as they are
    where it does not: a figure of a mat or a thumb that stands out of a side lifts a hull, and not most of the side."""
    points, lines = outline.reshape(-1, 2).astype(float), []
    for start, end in zip(rough, np.roll(rough, -1, axis=0), strict=True):
        run = (end - start) / np.hypot(*(end - start))
        along, off = (points - start) @ run, (points - start) @ np.array([-run[1], run[0]])
        length = float(np.hypot(*(end - start)))
        own = (along > 0.1 * length) & (along < 0.9 * length) & (np.abs(off) < 0.06 * length)
        if own.sum() < 0.4 * length:
            return rough
        slope, step = _usual_line(along[own], off[own])
        near = np.abs(off[own] - step - slope * along[own]) < _STRAIGHT
        if near.mean() < _MOSTLY:
            return rough
        at = start + step * np.array([-run[1], run[0]])
        lines.append((at, run + slope * np.array([-run[1], run[0]])))
    return np.array([crossing(lines[i - 1], lines[i]) for i in range(4)])


def _usual_line(along: Floats, off: Floats) -> tuple[float, float]:
    """(slope, step) of the line that most points lie near: least absolute deviations, by weighing anew."""
    terms, weight = np.column_stack([along, np.ones(len(along))]), np.ones(len(along))
    for _ in range(12):
        slope, step = np.linalg.lstsq(terms * weight[:, None], off * weight, rcond=None)[0]
        weight = 1 / np.sqrt(np.maximum(np.abs(off - terms @ (slope, step)), 0.3))
    return float(slope), float(step)
