"""Which places of a straightened sheet are surely bare and which surely open: what is strange to the sheet, from the level
on that most edge crosses."""

from __future__ import annotations

from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from strata.tracing.smooth import smooth_model, spread

Floats32 = NDArray[np.float32]
_RIM_MM, _STRANGE_AS = 3.0, 1.6
# mm of the sheet's rim; natural logarithm that is as strange as any
_OF_STRANGEST = 0.4
# share of the strangest that an opening is at least
_STRANGEST, _SURELY_BARE = 99.0, 0.6
# percentile; share of that level up to which there is surely bare sheet
_LEAST_STRANGE, _MUCH, _TWO_KINDS = 12.0, 0.25, 0.85
# of 255; share of the sheet; share of variance: evenly spread values have 0.75 of theirs between halves
_NEAR_PX, _KEPT = 12.0, 0.9
# px around a place, 3 mm, in which the sheet tells how light it is there; share of what was open that still is
_CLEARER, _STEEPLY = 1.2, 0.6
# times more clear edge there is where every channel is asked, or one is enough; share of a level by which a clear edge crosses it
_GAP_BINS, _EVEN, _HARDLY_ANY, _LEAST_GAP = 40, 0.06, 2e-4, 0.09
# of a range of values; shares of it over three pixels, of all places, and of it, for a gap


def rim_of(shape: tuple[int, ...], scale: float) -> NDArray[np.bool_]:
    """The strip inside the edge in which there is bare sheet for the most part."""
    width = max(3, round(_RIM_MM * scale))
    inset = max(1, round(0.5 * scale))
    rim = np.zeros(shape, bool)
    rim[inset:-inset, inset:-inset] = True
    rim[width:-width, width:-width] = False
    return rim


def told_apart(
    small: NDArray[np.uint8], rim: NDArray[np.bool_]
) -> tuple[NDArray[np.bool_], NDArray[np.bool_]] | None:
    """(bare sheet, opening) pixels (h, w) that are surely one or the other, both away from any edge; None where nothing
    stands out. ``rim``: where there is bare sheet for the most part."""
    tones = [np.log(small[..., c].astype(np.float32) / 255 + 0.06) for c in range(3)]
    off = np.stack([t - smooth_model(t, rim) for t in tones])
    # in each channel openings are to one side of the sheet: what is darker where they are lighter is a shadow
    most = np.abs(off).max(axis=0)
    strangest = off[:, most >= np.percentile(most, _STRANGEST)]
    sides = np.sign(np.median(strangest, axis=1)).astype(np.float32)
    # on a stained sheet the strangest may be stains; openings have more edge, and a clear one
    ways = [(way, every) for way in (sides, -sides) for every in (False, True)]
    each = [found for way in ways if (found := _stands_out(off, *way)) is not None]
    if not each:
        return None
    # what one channel tells well needs no other: those that JPEG has spoilt would only add to the noise
    found = max(each, key=lambda found: found.clear / (_CLEARER if found.every else 1))
    again = _stands_out(_around(off, found.bare), found.sides, found.every)
    if again is not None and (again.plane > again.level)[found.plane > found.level].mean() > _KEPT:
        found = again
    edge = np.zeros(rim.shape, bool)
    edge[2:-2, 2:-2] = True
    return found.bare & edge, found.open & edge


class _Strange(NamedTuple):
    """How strange each pixel is to the one side of the sheet (h, w) 0..255, the level from which on it is an opening, and
    the one up to which it is surely none; ``sides`` (3,): whether openings are lighter (1) in each channel or darker;
    ``every``: whether openings are so in every channel, or in one; ``clear``: how much clear edge it has."""

    plane: NDArray[np.uint8]
    level: float
    sure: float
    sides: NDArray[np.float32]
    every: bool
    clear: float

    @property
    def open(self) -> NDArray[np.bool_]:
        """(h, w) what is an opening, clear of its edges."""
        return _inner(self.plane > self.level)

    @property
    def bare(self) -> NDArray[np.bool_]:
        """(h, w) what surely is sheet, clear of edges."""
        return _inner(self.plane <= self.sure)


def _inner(mask: NDArray[np.bool_]) -> NDArray[np.bool_]:
    import cv2

    return np.asarray(cv2.erode(mask.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0)


def _around(off: Floats32, bare: NDArray[np.bool_]) -> Floats32:
    """``off`` (3, h, w) from the bare sheet around each place, and not from all of it: shadows and stains are followed."""
    return np.stack([channel - spread(channel, bare, _NEAR_PX, 0.02) for channel in off])


def _stands_out(off: Floats32, sides: NDArray[np.float32], every: bool) -> _Strange | None:
    """What is strange to the one side of a sheet; None where nothing is. ``off`` (3, h, w): natural logarithm by which
    each pixel is lighter than the sheet; ``every``: what is strange in every channel, as no single ink is, or in any."""
    import cv2

    towards = off * sides[:, None, None]
    strange = towards.min(axis=0) if every else towards.max(axis=0)
    signed = np.asarray(strange * np.float32(255 / _STRANGE_AS), np.float32)
    plane = np.asarray(np.rint(np.clip(signed, 0, 255)), np.uint8)
    inner = plane[3:-3, 3:-3]
    level, _ = cv2.threshold(inner, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    above, below = inner[inner > level], inner[inner <= level]
    if not len(above) or float(above.mean()) - float(below.mean()) < max(
        _LEAST_STRANGE, 3 * float(below.std())
    ):
        return None
    if len(above) > _MUCH * inner.size:
        # a shadow over much of the sheet is told from its light half first, and openings from the shadow then
        higher, _ = cv2.threshold(above[None], 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
        level = higher if _apart(above, higher) > _TWO_KINDS else level
    # where few openings are, the two halves of a shadowed sheet are told apart first; openings are stranger than that
    most = float(np.percentile(inner, 99.5))
    level = max(level, _OF_STRANGEST * most)
    gap = _gap(plane, 0.0, most) if most > 0 else None
    level = _into(gap, level)
    sure = _SURELY_BARE * level
    # shadows and stains are sheet as well
    if gap is not None:
        sure = max(sure, gap[0] + 0.1 * (gap[1] - gap[0]))
    return _Strange(plane, level, sure, sides, every, _clear(signed, level))


def _clear(signed: Floats32, level: float) -> float:
    """How much clear edge there is where a ``level`` is crossed: by how many pixels that go from about the sheet to beyond
    it, or up by most of its height, within three; by what share of all that cross it, and by how high it is.

    Stains and soft shadows are wider, noise is finer. Where the lower side is as strange to the other side there is no
    sheet: beside an opening in a shadow, the shadow would seem open.
    """
    import cv2

    kernel, soft = np.ones((3, 3), np.uint8), cv2.GaussianBlur(signed, (0, 0), 1.0)
    least, most = cv2.erode(soft, kernel), cv2.dilate(soft, kernel)
    across = (most > level) & (least <= level)
    below = (least < _STEEPLY * level) | (most - least > _STEEPLY * level)
    clear = int(np.count_nonzero(across & below & (least > -_STEEPLY * level)))
    return float(clear * clear / max(1, int(np.count_nonzero(across))) * level**0.5)


def in_gap(level: float, plane: NDArray[Any], low: float, high: float) -> float:
    """A level moved into the range of values between two that even places have none of; as it is where none is wide."""
    return _into(_gap(plane, low, high), level)


def _into(gap: tuple[float, float] | None, level: float) -> float:
    """A level moved into the middle fifth of a gap, as it is where there is none."""
    if gap is None:
        return level
    start, end = gap
    clear = 0.4 * (end - start)
    return float(np.clip(level, start + clear, end - clear))


def _gap(plane: NDArray[Any], low: float, high: float) -> tuple[float, float] | None:
    """A range of values between two that even places have none of; None where none is wide.

    Of several it is the one that most edge crosses: that of every opening, while
    shadows and stains have few edges, and part only what lies in them.
    """
    import cv2

    kernel = np.ones((3, 3), np.uint8)
    even = cv2.dilate(plane, kernel) - cv2.erode(plane, kernel) < _EVEN * (high - low)
    counts, edges = np.histogram(plane[even], bins=_GAP_BINS, range=(low, high))
    full = np.flatnonzero(counts > _HARDLY_ANY * max(1, int(np.count_nonzero(even))))
    # what lies beyond either end is full of sheet, or of opening
    full = np.concatenate([[-1], full, [_GAP_BINS]])
    wide = np.flatnonzero(np.diff(full) - 1 >= _LEAST_GAP * _GAP_BINS)
    gaps = [(float(edges[full[k] + 1]), float(edges[full[k + 1]])) for k in wide]
    # of one side any edge tells: openings in a shadow are parted from it by less than most of a level
    return max(gaps, key=lambda g: _crossed(plane, (g[0] + g[1]) / 2)) if gaps else None


def _crossed(plane: NDArray[Any], level: float) -> int:
    """How many pairs of neighbours lie on either side of a level."""
    above = plane > level
    return int(np.count_nonzero(above[1:] != above[:-1]) + np.count_nonzero(above[:, 1:] != above[:, :-1]))


def _apart(values: NDArray[np.uint8], level: float) -> float:
    """The share of their variance that lies between those above a level and those below it (Otsu 1979)."""
    upper = values > level
    share = float(upper.mean())
    if not 0 < share < 1:
        return 0.0
    gap = float(values[upper].mean()) - float(values[~upper].mean())
    return share * (1 - share) * gap * gap / max(1e-9, float(values.var()))
