"""How wide edges are, and where they are wider than others: a lens is sharpest in its middle, and at one distance."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from strata.tracing.sides import sampled
from strata.tracing.smooth import smooth_model

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
AT_THE_EDGE = 0.5
# how open the edge between sheet and opening is
_INTERQUARTILE, _FINEST, _PIXELS = 1.349, 0.25, 2.5
# of a normal distribution, of its standard deviation; mm of lines that are to be seen; px of an edge up to which it is the pixels' fault
_ASIDE, _ALL = 0.25, 0.75
# of half a sheet's size, from which something is said to be aside of its middle; share of it that is all of it
EVEN = np.ones((1, 1), np.float32)
# edges are as wide everywhere
_WITHIN, _ENOUGH, _MANY = 0.1, 200, 20000
# of 1 by how open they are that pixels are an edge's; so many tell of a picture, and more than that tell no more
_LEAST_STEEP, _MOST_PX = 0.05, 8.0
# of 1 from pixel to pixel, px: flatter, or wider, is no edge
_TILES, _IN_EACH, _ENOUGH_TILES, _LEAST, _MOST = 10, 40, 12, 0.5, 2.5
# a side; edge pixels that tell of one; of them that tell of a picture; how much wider than usual, and how much less, edges are told to be


def edge_px(bands: Sequence[Floats32]) -> float:
    """How wide the usual edge is, px of standard deviation: from how steep it is at its middle.

    ``bands`` (h, w): how open each pixel is, in bands of a picture's rows; one of them may be the whole.
    """
    steep = np.concatenate(
        [_steepness(b, *_thinned(on_edges(b, _WITHIN), _MANY // len(bands))) for b in bands]
    )
    if len(steep) < _ENOUGH:
        return 1.0
    usual, clear = float(np.median(steep)), _middle_of(np.sort(steep))
    # the skirts of a glint, a shadow or a stain are no edges, and hold the more pixels the flatter they are
    usual = clear if clear > 2 * usual else usual
    return float(min(_MOST_PX, _spread(max(usual, _LEAST_STEEP))))


def wider_at(bands: Sequence[Floats32], usual: float) -> Floats32:
    """How many times as wide as ``usual`` (px of standard deviation) edges are (rows, columns), all over a picture.

    ``bands`` (h, w): how open each pixel is, in bands of rows evenly spaced from its top down; one of them may be the whole.
    """
    rows, columns, steep = [], [], []
    for n, band in enumerate(bands):
        x, y = _thinned(on_edges(band, _WITHIN), 5 * _MANY // len(bands))
        steep.append(_steepness(band, x, y))
        rows.append((n + y / band.shape[0]) / len(bands))
        columns.append(x / band.shape[1])
    down, across = (np.minimum(np.concatenate(v) * _TILES, _TILES - 1).astype(int) for v in (rows, columns))
    every, tile = np.concatenate(steep), down * _TILES + across
    # what is flatter is the skirt of something else
    own = every > _LEAST_STEEP / 2
    order = np.lexsort((every[own], tile[own]))
    every, tile = every[own][order], tile[own][order]
    found, known = np.zeros(_TILES**2, np.float32), np.zeros(_TILES**2, np.float32)
    ends = np.searchsorted(tile, np.arange(_TILES**2 + 1))
    for i, (first, end) in enumerate(pairwise(ends.tolist())):
        if end - first >= _IN_EACH:
            found[i], known[i] = np.log(_spread(_middle_of(every[first:end])) / usual), 1
    if known.sum() < _ENOUGH_TILES:
        return EVEN
    told = found[known > 0]
    # a lens changes slowly over its picture: what is wider by itself lies at a shadow's rim or a glint's
    even = smooth_model(found.reshape(_TILES, _TILES), known.reshape(_TILES, _TILES) > 0)
    return np.asarray(np.exp(even.clip(told.min(), told.max())).clip(_LEAST, _MOST), np.float32)


def at_least(wider: Floats32) -> Floats32:
    """``wider``, but nowhere less than usual: what seems sharper may be so beside a shadow that makes all else seem wide."""
    return np.maximum(wider, np.float32(1))


def there(wider: Floats32, places: Floats) -> Floats:
    """How many times as wide as usual edges are, once at least, at places (n, 2), shares of the picture's width and height."""
    return sampled(at_least(wider), places * wider.shape[::-1] - 0.5)


def unsharp(blur: Floats32, scale: float) -> str | None:
    """Where a sheet is so little sharp that its finest lines do not show, to follow on "not sharp"; None where it is sharp.

    ``blur`` (rows, columns): px by which edges are wide, all over it; ``scale`` px/mm. A line's light, spread by a normal
    distribution, stays under half of what it is where the line is thinner than that distribution's interquartile range.
    """
    soft = (blur * _INTERQUARTILE / scale > _FINEST) & (blur > _PIXELS)
    if not soft.any():
        return None
    low, right = (2 * (np.mean(at) + 0.5) / n - 1 for at, n in zip(np.nonzero(soft), soft.shape, strict=True))
    sides = {"top": -low, "bottom": low, "left": -right, "right": right}
    aside = [side for side, far in sides.items() if far > _ASIDE]
    if aside:
        return f" at its {' '.join(aside)}"
    return "" if soft.mean() > _ALL else " towards its edges"


def on_edges(share: Floats32, within: float) -> NDArray[np.int32]:
    """Columns and rows (2, n) of the pixels, clear of the picture's rim, that are as open as an edge, ``within`` so much."""
    import cv2

    near = cv2.inRange(share[1:-1, 1:-1], AT_THE_EDGE - within, AT_THE_EDGE + within)
    found = cv2.findNonZero(near)
    return np.zeros((2, 0), np.int32) if found is None else found.reshape(-1, 2).T + 1


def _thinned(places: NDArray[np.int32], most: int) -> NDArray[np.int32]:
    return places[:, :: max(1, places.shape[1] // most)]


def _steepness(share: Floats32, x: NDArray[np.int32], y: NDArray[np.int32]) -> Floats32:
    """By how much it becomes more open a px (n,)."""
    steep = np.hypot(share[y, x + 1] - share[y, x - 1], share[y + 1, x] - share[y - 1, x]) / 2
    return np.asarray(steep, np.float32)


def _spread(steep: float) -> float:
    """px of standard deviation of an edge that is so steep at its middle."""
    return float(1 / (np.sqrt(2 * np.pi) * steep))


def _middle_of(steep: Floats32) -> float:
    """The median of ascending steepness, each counted by its square: a flat edge has the more pixels."""
    sums = np.cumsum(steep.astype(np.float64) ** 2)
    return float(steep[np.searchsorted(sums, sums[-1] / 2)])
