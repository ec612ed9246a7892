"""Which four sides are the sheet's where more than the sheet stands out: a second one touching it, a corner outside the
picture, paper beneath."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from strata.tracing.quads import Line, clockwise, crossing, quad_area

Floats = NDArray[np.float64]
Mask = NDArray[np.uint8]
_STRAIGHT, _LEAST_RUN = 2.5, 0.04
# px of the small copy by which an outline may leave a straight side; share of its longer side that one is at least
_SAME_WAY, _SAME_PLACE = np.radians(2.0), 4.0
_MOST_LINES = 12
_ALONG, _BESIDE = 120, 4.0
# points of a side that are looked at, px beside it
_LEAST_SEEN, _LEAST_SIDE, _LEAST_FULL, _OFF = 0.5, 0.2, 0.6, 0.05
# shares: of all sides, of each, of what they enclose; log by which proportions may be off
_ROUGHLY_PARALLEL = np.radians(18)


@dataclass(frozen=True)
class Four:
    """``corners`` (4, 2) px clockwise; ``seen``: the share of its sides that the outline bears out."""

    corners: Floats
    seen: float


def four_sides(mask: Mask, proportion: float | None) -> Four | None:
    """Of the straight runs of a thing's outline, the four that are a sheet's; None where none are.

    ``mask`` (h, w) is 1 on the thing. ``proportion``: width by height of the
    sheet, lying either way, where it is known.
    """
    lines = _runs(mask)
    pairs = [
        (a, b)
        for a, b in combinations(lines, 2)
        if _turn(a, b) < _ROUGHLY_PARALLEL and abs(_between(a, b)) > 0.12 * min(mask.shape)
    ]
    best: tuple[float, Four] | None = None
    for (a, b), (c, d) in combinations(pairs, 2):
        if min(_turn(a, c), _turn(a, d), _turn(b, c), _turn(b, d)) < np.radians(60):
            continue
        corners = clockwise(np.array([crossing(p, q) for p in (a, b) for q in (c, d)]))
        seen = borne_out(mask, corners)
        if seen is None:
            continue
        off = unlike(corners, proportion)
        # perspective makes a sheet a little longer or shorter than it is
        worth = seen * float(np.exp(-max(0.0, off - _OFF) / 0.1)) * quad_area(corners) ** 0.15
        if best is None or worth > best[0]:
            best = worth, Four(corners, seen)
    return None if best is None else best[1]


def _runs(mask: Mask) -> list[Line]:
    """Straight runs of the outline, longest first; those of the picture's own frame are none."""
    import cv2

    outlines, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    ring = max(outlines, key=len).reshape(-1, 2).astype(float)
    simple = cv2.approxPolyDP(ring.astype(np.float32), _STRAIGHT, True).reshape(-1, 2).astype(float)
    found: list[Line] = []
    runs = zip(simple, np.roll(simple, -1, axis=0), strict=True)
    for start, end in sorted(runs, key=lambda s: -float(np.hypot(*(s[1] - s[0])))):
        length = float(np.hypot(*(end - start)))
        if length < _LEAST_RUN * max(mask.shape) or _on_frame(start, end, mask.shape):
            continue
        own = start, (end - start) / length
        if not any(_turn(own, line) < _SAME_WAY and abs(_between(line, own)) < _SAME_PLACE for line in found):
            found.append(own)
    return found[:_MOST_LINES]


def _on_frame(start: Floats, end: Floats, shape: tuple[int, ...]) -> bool:
    height, width = shape
    for axis, far in ((0, width - 1), (1, height - 1)):
        if max(start[axis], end[axis]) <= 3 or min(start[axis], end[axis]) >= far - 3:
            return True
    return False


def _turn(a: Line, b: Line) -> float:
    return float(np.arccos(min(1.0, abs(float(a[1] @ b[1])))))


def _between(a: Line, b: Line) -> float:
    return float((b[0] - a[0]) @ np.array([-a[1][1], a[1][0]]))


def unlike(corners: Floats, proportion: float | None) -> float:
    """By what natural logarithm a sheet of these corners has another proportion (width by height) than it is known to
    have, lying either way; nought where none is known."""
    return 0.0 if proportion is None else float(unlike_each(corners, proportion))


def unlike_each(corners: Floats, proportion: float) -> Floats:
    """The same of each of several sheets (..., 4, 2)."""
    run = np.linalg.norm(np.roll(corners, -1, axis=-2) - corners, axis=-1)
    wide = (run[..., 0] + run[..., 2]) / (run[..., 1] + run[..., 3])
    return np.asarray(np.minimum(np.abs(np.log(wide / proportion)), np.abs(np.log(wide * proportion))))


def borne_out(mask: Mask, corners: Floats) -> float | None:
    """The share of four sides with the thing on their inside and none of it on their outside; None for no sheet."""
    import cv2

    height, width = mask.shape
    middle, seen = corners.mean(axis=0), []
    for start, end in zip(corners, np.roll(corners, -1, axis=0), strict=True):
        run = end - start
        out = np.array([run[1], -run[0]]) / np.hypot(*run)
        out *= np.sign((start - middle) @ out)
        at = start + np.linspace(0.04, 0.96, _ALONG)[:, None] * run
        inside = _at(mask, at - _BESIDE * out)
        outside = _at(mask, at + _BESIDE * out)
        within = (at[:, 0] >= 0) & (at[:, 1] >= 0) & (at[:, 0] < width) & (at[:, 1] < height)
        seen.append(float(((inside > 0) & (outside == 0) & within).sum()) / _ALONG)
    if min(seen) < _LEAST_SIDE or np.mean(seen) < _LEAST_SEEN:
        return None
    own = cv2.fillConvexPoly(np.zeros(mask.shape, np.uint8), np.rint(corners).astype(np.int32), 1)
    if (own & mask).sum() < _LEAST_FULL * max(1, own.sum()):
        return None
    return float(np.mean(seen))


def _at(mask: Mask, points: Floats) -> Mask:
    x, y = np.rint(points).astype(int).T
    within = (x >= 0) & (y >= 0) & (x < mask.shape[1]) & (y < mask.shape[0])
    found = np.zeros(len(points), np.uint8)
    found[within] = mask[y[within], x[within]]
    return found
