"""By what share of its area each opening of a photograph is likely to be off: how uneven sheet and table are beside its
edge, how wide that is, and what of it lies under lines of a mat."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from strata.tracing.focus import EVEN, there
from strata.tracing.smooth import softened

Floats32 = NDArray[np.float32]
_THIN_PX = 2.0
_GRID_MM, _SLOW_MM, _AROUND_MM, _CLEAR = 0.12, 0.25, 1.0, 3.0
# mm: of the grid on which unevenness is known, what of it moves an edge, how far it tells; times an edge's spread
_WHITER = 0.6
# of how wide an edge is; twice that, as of every bound here, it seems further out where what is light is four times as light
# as the camera's white
_FLOOR_PX, _COLOUR_PX, _HALO_PX, _ALIKE_MM, _SLOPE = 0.035, 0.07, 0.08, 3.0, 1.3 * (2 * np.pi) ** 0.5
# px by which an edge is off at best, where only colour tells (which JPEG halves), and where it was sharpened; mm of an edge that are off alike; px
# of an edge's spread by which a level moves it, and 1.3 of that, since fields that follow closely hide some of what is uneven


def area_errors(
    known: tuple[Floats32, float],
    shapes: list[Polygon],
    scale: NDArray[np.float64],
    blur: float,
    by_colour: bool = False,
    sharpened: bool = False,
    overexposed: bool = False,
    wider: Floats32 = EVEN,
) -> NDArray[np.float64]:
    """For each opening (mm) by what share of its area it is off at most, nineteen times in twenty.

    ``known``: as ``unevenness`` tells it; ``scale`` (x, y) px/mm; ``blur``:
    px by which edges are usually wide, ``wider`` (rows, columns): times that, all over the sheet;
    ``by_colour``: sheet and table differ in colour alone; ``sharpened``: by the telephone; ``overexposed``: what is light is
    lighter than a camera tells. An edge is off by how uneven sheet and opening
    are beside it (of the step between them) times how wide it is; what an
    edge of a certain length is off by is worth the more the thinner the opening.
    """
    if not shapes:
        return np.zeros(0)
    least = _COLOUR_PX if by_colour else _HALO_PX if sharpened else _FLOOR_PX
    if overexposed:
        least = _WHITER * blur
    uneven, grid = known
    size = np.array(uneven.shape[::-1]) / grid / scale
    found = []
    for shape in shapes:
        points = shapely.get_coordinates(shapely.segmentize(shape.exterior, 1.0))
        x, y = np.rint(points * scale * grid - 0.5).astype(int).T
        at = uneven[y.clip(0, uneven.shape[0] - 1), x.clip(0, uneven.shape[1] - 1)]
        alone = max(1.0, shape.length / _ALIKE_MM) ** 0.5
        wide = float(there(wider, points / size).mean())
        # what is hardly wider than a pixel or two is drawn by the lens as much as by the knife
        thin = 1 + (_THIN_PX * wide * shape.length / (2 * shape.area * float(scale[0]))) ** 2
        px = least * thin + float(at.mean()) * _SLOPE * blur * wide / alone
        found.append(2 * px / float(scale[0]) * shape.length / shape.area)
    return np.array(found)


def unevenness(share: Floats32, scale: float, blur: float) -> tuple[Floats32, float]:
    """(h, w) half of how far bare sheet is from 0 and openings from 1 around each place, and px of it a px of ``share``."""
    import cv2

    shrink = min(1.0, 1 / (_GRID_MM * scale))
    small = cv2.resize(share, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA)
    slow, around = _SLOW_MM * scale * shrink, _AROUND_MM * scale * shrink
    size = 2 * max(1, round(_CLEAR * max(1.0, blur) * shrink)) + 1
    total = np.zeros(small.shape, np.float32)
    for mask, level in ((small < 0.5, 0.0), (small >= 0.5, 1.0)):
        known = cv2.erode(mask.astype(np.uint8), np.ones((size, size), np.uint8), borderValue=0).astype(
            np.float32
        )
        # only what is known of either is smoothed: edges are no unevenness
        near = softened(known * (small - np.float32(level)), slow)
        off = known * (near / (softened(known, slow) + np.float32(1e-3))) ** 2
        usual = float(off.sum() / max(1.0, float(known.sum())))
        near_by = softened(off, around) + np.float32(0.01 * usual)
        total += near_by / (softened(known, around) + np.float32(0.01))
    return np.asarray(np.sqrt(total) / 2, np.float32), shrink


_UNDER = 0.075
# mm by which an edge is off that runs under a line of a mat


def errors_under_lines(
    hidden: NDArray[np.bool_], shapes: list[Polygon], scale: NDArray[np.float64]
) -> NDArray[np.float64]:
    """For each opening (mm) by what share of its area it may be off since part of its edge lies under lines of a mat.

    ``hidden`` (h, w): where these lie, ``scale`` (x, y) px/mm.
    """
    found = []
    for shape in shapes:
        points = shapely.get_coordinates(shapely.segmentize(shape.exterior, 0.2))
        x, y = (points * scale).astype(int).T
        under = hidden[y.clip(0, hidden.shape[0] - 1), x.clip(0, hidden.shape[1] - 1)].mean()
        found.append(_UNDER * float(under) * shape.exterior.length / shape.area)
    return np.array(found)
