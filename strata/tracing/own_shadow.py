"""A sheet's own shadow in its openings: where it stands off the table, or is thick, and the lamp to one side.

One side of every opening, the one towards the lamp, then goes over into the table through its shadow, and the side
across from it does not. Nothing else does that: a blur, shaken or not, and a halo are alike on both sides of what is
open, and what lies on the table knows nothing of how an edge is turned.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from strata.tracing.sides import sampled

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
_EVERY, _MOST = 0.3, 6000
# mm along outlines, and places that are looked at at most
_OUT, _IN, _STEP = 0.8, 1.5, 0.05
# mm from an edge that are looked at, towards the sheet and into the opening
_AWAY = np.arange(-_OUT, _IN + _STEP / 2, _STEP)
_ENDS, _CLEAR, _FEW = 4, 0.25, 100
# values at either end that are the sheet's and the opening's, by how much of 1; places that tell
_SHOWS, _SURE = 0.004, 14.0
# mm of light that sides towards the lamp lack and those across from it do not; times what chance makes of it. Photographs
# without: up to 0.0014 mm, or under eleven times (docs/decisions/0008)
_LACKS, _PLATEAU, _RESOLVED = 1.8, 0.03, 0.15
# mm of edge that are off for each mm of light that is lacking; how open a shadow is that was taken for sheet, from which that
# shows, and over how many mm at least


def own_shadow(share: Floats32, shapes: Sequence[Polygon], scale: Floats) -> float:
    """mm by which outlines are off, taken over all of them, since the sheet's own shadow falls into its openings; 0 where it
    does not.

    ``share`` (h, w): how open each pixel is; ``shapes`` mm; ``scale`` (x, y) px/mm.
    """
    if not shapes:
        return 0.0
    feet, inward = _edges(shapes)
    if len(feet) > _MOST:
        pick = np.random.default_rng(13).choice(len(feet), _MOST, replace=False)
        feet, inward = feet[pick], inward[pick]
    across = sampled(share, (feet[:, None] + inward[:, None] * _AWAY[None, :, None]) * scale - 0.5)
    clear = (across[:, :_ENDS].mean(axis=1) < _CLEAR) & (across[:, -_ENDS:].mean(axis=1) > 1 - _CLEAR)
    if clear.sum() < _FEW:
        return 0.0
    across, inward = across[clear].clip(-0.5, 1.5), inward[clear]
    lacks = np.where(_AWAY < 0, across, 1 - across).sum(axis=1) * _STEP
    way, surely = _lopsided(lacks, inward)
    amount = float(np.hypot(*way))
    if amount < _SHOWS or surely < _SURE:
        return 0.0
    return _LACKS * amount + _taken_for_sheet(across, inward @ (way / amount)) / np.pi


def _edges(shapes: Sequence[Polygon]) -> tuple[Floats, Floats]:
    """Places (n, 2) mm all along outlines, and unit vectors (n, 2) from there into the opening."""
    feet, inward = [], []
    for shape in shapes:
        for n, ring in enumerate((shape.exterior, *shape.interiors)):
            points = shapely.get_coordinates(shapely.segmentize(ring, _EVERY))
            way = np.diff(points, axis=0)
            length = np.hypot(*way.T)
            told = length > 1e-6
            way = way[told] / length[told, None]
            left = np.column_stack([-way[:, 1], way[:, 0]])
            feet.append((points[1:] + points[:-1])[told] / 2)
            # what is open lies within its outline, and outside of its holes
            inward.append(left if shapely.is_ccw(ring) == (n == 0) else -left)
    return np.concatenate(feet), np.concatenate(inward)


def _lopsided(lacks: Floats, inward: Floats) -> tuple[Floats, float]:
    """By how much more edges lack (n,) the more they are turned one way (2,), outliers without a say (Tukey 1974); and how
    many times what chance makes of it that is."""
    terms, weight = np.column_stack([np.ones(len(inward)), inward]), np.ones(len(inward))
    for _ in range(6):
        found = np.linalg.lstsq(terms * weight[:, None], lacks * weight, rcond=None)[0]
        off = lacks - terms @ found
        usual = 1.4826 * float(np.median(np.abs(off))) + 1e-4
        weight = np.sqrt(np.clip(1 - (off / (4.7 * usual)) ** 2, 0, None))
    weighed = terms * weight[:, None]
    spread = np.linalg.pinv(weighed.T @ weighed)[1:, 1:] * usual**2
    way = np.asarray(found[1:], float)
    chance = float(np.sqrt(max(way @ spread @ way, 1e-18)) / max(float(np.hypot(*way)), 1e-9))
    return way, float(np.hypot(*way)) / chance


def _taken_for_sheet(across: Floats, turned: Floats) -> float:
    """mm of shadow that lie outside the outlines, by how open profiles (n, _AWAY) are there; ``turned`` (n,) how much each
    edge is turned towards the lamp, -1 to 1."""
    towards, from_it = across[turned > 0.7], across[turned < -0.7]
    if min(len(towards), len(from_it)) < _FEW / 5:
        return 0.0
    differs = np.abs(np.median(towards, axis=0) - np.median(from_it, axis=0))[_AWAY < -_STEP]
    wide = float((differs > _PLATEAU).sum()) * _STEP
    return wide if wide > _RESOLVED else 0.0
