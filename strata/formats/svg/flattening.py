"""Outlines of lines and Bezier curves to rings of straight pieces, mm: many outlines at once.

A drawing has thousands of small shapes, and what is worked out for one by one takes
longer than to read it: four curves of a dot, and those of all dots beside it, are one
product of matrices (Farin, Curves and Surfaces for CAGD, 5th edition, 2002, chapter 5).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from strata.formats.svg.values import AS_IT_IS, Matrix

Floats = NDArray[np.float64]
Command = tuple[str, tuple[tuple[float, float], ...]]
Rings = list[tuple[Floats, bool]]
TOLERANCE, RELATIVE = 0.004, 0.0004
# largest distance of a flattened curve from the curve: mm, and as a share of the shape's size
MOST_POINTS = 3_000_000
_MOST_PIECES = 2000
_FARTHEST = 1e6
# mm; coordinates beyond are drawn nowhere


class _Laid:
    """The points of several outlines one after another; whose they are, which are curves' and which begin and end a ring."""

    def __init__(self, outlines: Sequence[Sequence[Command]]) -> None:
        self.points: list[tuple[float, float]] = []
        self.ends: list[int] = []
        # how many points there are after each outline
        self.curves: dict[int, list[int]] = {2: [], 3: []}
        # by degree the numbers of the points at which curves begin
        self.rings: list[list[tuple[int, int, bool]]] = []
        # of each outline: first point, the one after the last, closed
        for commands in outlines:
            self.rings.append(self._lay(commands))
            self.ends.append(len(self.points))

    def _lay(self, commands: Sequence[Command]) -> list[tuple[int, int, bool]]:
        points, found = self.points, []
        first: int | None = None
        start = (0.0, 0.0)
        for name, own in commands:
            if name in ("moveTo", "closePath", "endPath"):
                if first is not None:
                    found.append((first, len(points), name == "closePath"))
                first = None
                if name != "moveTo":
                    continue
                start = own[0]
            if first is None:
                first = len(points)
                points.append(start)
            if name in ("curveTo", "qCurveTo"):
                self.curves[len(own)].append(len(points) - 1)
            if name != "moveTo":
                points.extend(own)
        if first is not None:
            found.append((first, len(points), False))
        return found


def flattened(commands: Sequence[Command], matrix: Matrix = AS_IT_IS) -> Rings:
    """(points (n, 2), closed) of every subpath under an affine map, curves in straight pieces within tolerance. In mm.

    Each subpath begins with its ``moveTo``, or where the one before began.
    """
    return flattened_each([commands], [matrix])[0]


def flattened_each(outlines: Sequence[Sequence[Command]], matrices: Sequence[Matrix]) -> list[Rings]:
    """The same of each of several outlines; none of what lies too far out or has too many points."""
    laid = _Laid(outlines)
    if not laid.points:
        return [[] for _ in outlines]
    counts = np.diff(laid.ends, prepend=0)
    owner = np.repeat(np.arange(len(outlines)), counts)
    ends = _mapped(np.array(laid.points, float), matrices, owner)
    used = np.flatnonzero(counts)
    starts = (np.array(laid.ends) - counts)[used]
    high, low = (extreme.reduceat(ends, starts, axis=0) for extreme in (np.maximum, np.minimum))
    sound = np.zeros(len(outlines), bool)
    sound[used] = (
        np.maximum(np.abs(high), np.abs(low)).max(axis=1) <= _FARTHEST
    )  # what is no number is not within
    tolerance = np.full(len(outlines), TOLERANCE)
    tolerance[used] = np.clip(RELATIVE * (high - low).max(axis=1), 1e-6, TOLERANCE)

    made = np.ones(len(ends), int)
    # how many points of the rings each of the points makes: none where it only pulls at a curve, all of a curve where it ends one
    for degree, begun in laid.curves.items():
        at = np.array(begun, int)
        pieces = _pieces(ends[at[:, None] + np.arange(degree + 1)], tolerance[owner[at]])
        made[(at[:, None] + np.arange(1, degree)).ravel()] = 0
        made[at + degree] = np.where(sound[owner[at]], pieces, 1)
    sound[used] &= np.add.reduceat(made, starts) <= MOST_POINTS
    made[~sound[owner]] = 0
    after = np.cumsum(made)
    points = _laid_out(ends, laid.curves, made, after)
    before = after - made
    return [
        [(points[before[a] : after[b - 1]], closed) for a, b, closed in rings] if good else []
        for rings, good in zip(laid.rings, sound.tolist(), strict=True)
    ]


def _mapped(own: Floats, matrices: Sequence[Matrix], owner: NDArray[np.int_]) -> Floats:
    """Points (n, 2) under the affine map of whose they are."""
    if all(m == AS_IT_IS for m in matrices):
        return own
    a, b, c, d, e, f = np.array(matrices).T[:, owner]
    x, y = own.T
    return np.stack([a * x + c * y + e, b * x + d * y + f], axis=1)


def _pieces(own: Floats, tolerance: Floats) -> NDArray[np.int_]:
    """Into how many pieces curves (n, degree + 1, 2) are to be cut."""
    # a curve of degree n strays n (n - 1) / 8 of its largest second difference over the squared pieces
    degree = own.shape[1] - 1
    second = np.abs(own[:, :-2] - 2 * own[:, 1:-1] + own[:, 2:]).max(axis=(1, 2), initial=0)
    found = np.ceil(np.sqrt(degree * (degree - 1) / 8 * 1.42 * second / tolerance))
    return np.asarray(np.fmin(np.fmax(found, 1), _MOST_PIECES), int)


def _laid_out(
    ends: Floats, curves: dict[int, list[int]], made: NDArray[np.int_], after: NDArray[np.int_]
) -> Floats:
    """The points of all rings one after another, the curves cut into their pieces."""
    points = np.empty((int(after[-1]), 2))
    alone = made == 1
    points[after[alone] - 1] = ends[alone]
    for degree, begun in curves.items():
        at = np.array(begun, int)
        pieces = made[at + degree]
        for count in set(pieces.tolist()) - {0, 1}:
            here = at[pieces == count]
            place = after[here + degree, None] - count + np.arange(count)
            points[place] = _weights(degree, count) @ ends[here[:, None] + np.arange(degree + 1)]
    return points


@lru_cache(maxsize=4096)
def _weights(degree: int, count: int) -> Floats:
    """Bernstein's polynomials at the ends of so many pieces: (count, degree + 1)."""
    t = np.linspace(0, 1, count + 1)[1:, None]
    u = 1 - t
    return np.hstack([math.comb(degree, k) * u ** (degree - k) * t**k for k in range(degree + 1)])
