"""A sheet that something else touches along a whole side, a ruler or another sheet of another tone: where it ends within the
two together.

Their common outline has four straight sides too, but other proportions than the
sheet is known to have. Each side in turn is looked for further in, where the
picture changes alike along all of a line, and the rest has the right proportions.
"""

from __future__ import annotations

from itertools import product

import numpy as np
from numpy.typing import NDArray

from strata.tracing.candidates import unlike_each
from strata.tracing.sides import sampled
from strata.tracing.things import Floats32, tones_of

Floats = NDArray[np.float64]
_PLACES, _ASLANT = np.linspace(0.02, 0.7, 240), np.linspace(-0.06, 0.06, 13)
# of the way across, where the sheet's side may lie at its middle, and by how much further at one end: what touches it may run out of the picture
_ALONG, _ENDS = np.linspace(0.05, 0.95, 60), 0.006
# of a line, where it is looked at; of the way across, half of what is compared
_STEP, _ALIKE, _MOSTLY = 0.1, 0.5, 0.75
# natural logarithm by which a sheet and what touches it differ at least; of the usual step, what is alike; of a line, how much is so
_MOST_UNLIKE, _RIM = 0.1, 0.03
# natural logarithm by which proportions may be off; of the way from the middle, how far within and beyond a side it is looked at


def side_within(small: NDArray[np.uint8], corners: Floats, proportion: float) -> Floats | None:
    """``corners`` (4, 2) px of a picture (h, w, 3) with one side further in, so that they have the ``proportion`` (width by
    height, lying either way); None where the picture shows no such side."""
    import cv2

    tones = tones_of(small)
    square = np.array([[0, 0], [1, 0], [1, 1], [0, 1]], np.float32)
    best: tuple[float, Floats] | None = None
    for side, aslant in product(range(4), _ASLANT):
        own = np.roll(corners, -side, axis=0)
        seen_from = cv2.getPerspectiveTransform(square, own.astype(np.float32))
        ends = _laid(seen_from, _lines(_PLACES, np.array([0.0, 1.0]), aslant))
        rest = np.broadcast_to(own[1:3], ends.shape)
        quads = np.stack([ends[:, 0], rest[:, 0], rest[:, 1], ends[:, 1]], axis=1)
        off = unlike_each(quads, proportion)
        here = np.flatnonzero(off < _MOST_UNLIKE)
        if not len(here):
            continue
        worth = np.exp(-off[here] / _MOST_UNLIKE) * _borne_out(tones, seen_from, _PLACES[here], aslant)
        worth *= [_like_the_rest(tones, quad) for quad in quads[here]] if worth.any() else 0.0
        if worth.max() > (best[0] if best else 0):
            best = float(worth.max()), np.roll(quads[here[np.argmax(worth)]], side, axis=0)
    return None if best is None else best[1]


def _lines(places: Floats, along: Floats, aslant: float) -> Floats:
    """Points (n, k, 2) of the unit square at ``along`` (k,) of the line at each of ``places`` (n,) across."""
    across = places[:, None] + aslant * (along - 0.5)
    return np.stack(np.broadcast_arrays(across, along), -1)


def _borne_out(tones: Floats32, seen_from: Floats, places: Floats, aslant: float) -> Floats:
    """Of each of ``places`` (n,) across, how much of the line there is one step alike, times that step; nought where it is none."""
    before, after = (
        sampled(tones, _laid(seen_from, _lines(places + by, _ALONG, aslant))) for by in (-_ENDS, _ENDS)
    )
    step = after - before
    usual = np.median(step, axis=1)
    size = np.linalg.norm(usual, axis=1)
    along = np.einsum("nkc,nc->nk", step, usual / np.maximum(size, 1e-6)[:, None])
    alike = (along > _ALIKE * size[:, None]).mean(axis=1)
    return np.where((alike > _MOSTLY) & (size > _STEP), alike * size, 0.0)


def _like_the_rest(tones: Floats32, quad: Floats) -> bool:
    """Whether a sheet of these corners looks along its first side (from the last corner to the first) as along the other three,
    and what lies beyond does not: paper beneath a sheet goes on around it."""
    middle = quad.mean(axis=0)
    starts, ends = np.roll(quad, 1, axis=0), quad
    sides = starts[:, None] + _ALONG[:, None] * (ends - starts)[:, None]
    within, beyond = (
        np.median(sampled(tones, middle + by * (sides - middle)), axis=1) for by in (1 - _RIM, 1 + _RIM)
    )
    other = np.median(within[1:], axis=0)
    return bool(np.linalg.norm(within[0] - other) < np.linalg.norm(beyond[0] - other))


def _laid(seen_from: Floats, places: Floats) -> Floats:
    """Places (..., 2) of the unit square in the picture."""
    import cv2

    found = cv2.perspectiveTransform(places.reshape(1, -1, 2), seen_from)
    return np.asarray(found.reshape(places.shape), float)
