"""What is printed on a mat, looked past in the openings of a straightened sheet.

Beside the sheet lines are found to a tenth of a millimetre. Where they show in
openings they are measured anew: where each runs, and what an opening looks
like across it. By that the sheet's edges are read under them; where a line is
as light or dark as the sheet itself, they are carried over from either side.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from strata.tracing.mat import QUARTERS, Printed

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
_NARROWEST, _WIDEST, _OFF_BY, _CLEARANCE = 0.4, 1.1, 0.14, 0.06
# mm of a line with its blur, at least and at most, what it is off by, and what is kept clear beside it
_EDGE_PX, _TURNS = 2.0, 3
# px over which an edge that was carried over goes from sheet to opening; how often it is
_REACH, _STEP, _ALONG, _BARE = 0.85, 0.05, 0.25, 0.55
# mm across a line that are measured, of a profile and along it; from where on there is none of it
_OPEN, _STANDS_OUT, _OWN, _LIKE = 0.85, 0.12, 12, 0.11
# how open both sides are where a line is measured, by how much it stands out, of how many places; mm by which widths are alike
_TELLS = 0.25
# how open an opening looks under a line so that reading it there and carrying it over are worth the same
_FIGURE, _AROUND_PX, _LEAST_PRINT = 0.35, 3, 0.08
# mm of what is printed broadly, px of blur around it, and how open print looks at least so that it is told from the sheet


@dataclass(frozen=True)
class Lines:
    """The lines of one direction on a straightened sheet: ``mask`` (h, w) where they lie; of each pixel of it (n,)
    ``off`` mm from its line's middle, ``half`` of that one's width, and how open an opening ``looks`` under it,
    nought where that is not known; ``across`` (x, y) the way over them."""

    mask: NDArray[np.bool_]
    off: Floats32
    half: Floats32
    looks: Floats32
    across: Floats

    @property
    def reach(self) -> Floats32:
        """mm from a line's middle to where it is surely over (n,)."""
        return np.asarray(self.half + np.float32(_CLEARANCE), np.float32)


@dataclass(frozen=True)
class Profile:
    """One line where it shows in openings: ``n`` places (mm along it) and how far (mm) it is off there; how open
    openings look ``across`` it, -_REACH .. _REACH."""

    along: Floats
    off: Floats
    across: Floats


def past_print(share: Floats32, printed: Printed, scale: float) -> tuple[Floats32, NDArray[np.bool_]]:
    """How open each pixel (h, w) of a sheet of ``scale`` px/mm is, what is printed on the table looked past; and
    where lines hide it."""
    lines = lines_measured(share, printed, scale)
    known = past_figures(share, lines)
    return bridged(known, lines, scale), np.logical_or(*(one.mask for one in lines))


def mask_of(printed: Printed, shape: tuple[int, ...], scale: float) -> NDArray[np.bool_]:
    """(h, w) where lines may lie on a straightened sheet of ``scale`` px/mm."""
    masks = [_laid(printed, way, shape, scale)[0] for way in (0, 1)]
    return np.asarray(np.logical_or(*masks))


def _laid(
    printed: Printed,
    way: int,
    shape: tuple[int, ...],
    scale: float,
    moved: Floats | None = None,
) -> tuple[NDArray[np.bool_], NDArray[np.intp], Floats32, Floats32]:
    """(mask, which line, mm off it, half its width) of the lines of one direction; ``moved`` (lines, 2): mm by which
    each is elsewhere, and by what share of the way along it more."""
    y, x = (v.astype(np.float32) for v in np.mgrid[: shape[0], : shape[1]])
    over, along = _ways(printed.angle + QUARTERS[way])
    places, widths = printed.places[way], printed.widths[way]
    at = (np.float32(over[0]) * (x + 0.5) + np.float32(over[1]) * (y + 0.5)) / np.float32(scale)
    which = np.searchsorted((places[1:] + places[:-1]) / 2, at.ravel()).reshape(at.shape)
    off = at - places.astype(np.float32)[which]
    if moved is not None:
        run = (np.float32(along[0]) * (x + 0.5) + np.float32(along[1]) * (y + 0.5)) / np.float32(scale)
        step, tilt = moved.astype(np.float32).T
        off -= step[which] + tilt[which] * run
    half = np.clip(widths + _OFF_BY, _NARROWEST, _WIDEST).astype(np.float32)[which] / 2
    mask = np.abs(off) < half
    return mask, which[mask], off[mask], half[mask]


def _ways(angle: float) -> tuple[Floats, Floats]:
    """Unit vectors (x, y) across lines and along them."""
    over = np.array([np.cos(angle), np.sin(angle)])
    return over, np.array([-over[1], over[0]])


def lines_measured(share: Floats32, printed: Printed, scale: float) -> list[Lines]:
    """The lines of either direction where they really run, and how openings look under them."""
    found = []
    for way, quarter in enumerate(QUARTERS):
        seen = [_profile(share, place, printed.angle + quarter, scale) for place in printed.places[way]]
        moved = _moved(printed.places[way], seen)
        mask, which, off, half = _laid(printed, way, share.shape, scale, moved)
        looks = _looks(seen, printed, way, which, off)
        found.append(Lines(mask, off, half, looks, _ways(printed.angle + quarter)[0]))
    return found


_OFFSETS = np.arange(-_REACH, _REACH + _STEP / 2, _STEP)


def _profile(share: Floats32, place: float, angle: float, scale: float) -> Profile | None:
    """A line where there is opening on both its sides; None where that is nowhere."""
    import cv2

    over, along = _ways(angle)
    size = np.array(share.shape[1::-1]) / scale
    reach = float(np.hypot(*size))
    run = np.arange(-reach, reach, _ALONG)
    at = (place + _OFFSETS)[None, :, None] * over + run[:, None, None] * along
    inside = ((at > 1) & (at < size - 1)).all(axis=(1, 2))
    if inside.sum() < 3:
        return None
    run, (x, y) = run[inside], np.moveaxis(at[inside] * scale - 0.5, -1, 0).astype(np.float32)
    values = np.asarray(cv2.remap(share, x, y, cv2.INTER_LINEAR), float)
    bare = np.abs(_OFFSETS) > _BARE
    clear = (np.abs(values[:, bare] - 1) < 1 - _OPEN).all(axis=1)
    if clear.sum() < 3:
        return None
    values, run = values[clear], run[clear]
    unlike = np.where(bare, 0, np.abs(values - 1))
    shows = unlike.max(axis=1) > 2 * _STANDS_OUT
    centre = (unlike * _OFFSETS).sum(axis=1) / np.maximum(unlike.sum(axis=1), 1e-9)
    profile = np.where(bare, 1.0, np.median(values, axis=0))
    return Profile(run[shows], centre[shows], profile) if shows.sum() >= 3 else None


def _moved(places: Floats, seen: list[Profile | None]) -> Floats:
    """(lines, 2): mm by which each line is elsewhere, and by what share of the way along it more.

    A mat is flat and printed exactly, but seen askew: all lines of one
    direction are off by a little that goes evenly over the sheet. What one is
    off besides is its own.
    """
    none = np.zeros((len(places), 2))
    shown = [(k, p) for k, p in enumerate(seen) if p is not None]
    if not shown:
        return none
    which = np.concatenate([np.full(len(p.off), k) for k, p in shown])
    off, along = np.concatenate([p.off for _, p in shown]), np.concatenate([p.along for _, p in shown])
    terms = np.column_stack([np.ones(len(off)), places[which], along])
    kept = np.abs(off - np.median(off)) < _BARE / 2
    # what is seen of one line or two does not tell how they go over the sheet
    few = len(shown) < 3 or len(off) < 4 * _OWN
    fit = np.array([float(np.median(off)), 0, 0])
    for _ in range(0 if few else 3):
        fit = np.linalg.lstsq(terms[kept], off[kept], rcond=None)[0]
        rest = off - terms @ fit
        kept = np.abs(rest) < max(0.03, 3 * 1.4826 * float(np.median(np.abs(rest[kept]))))
    rest = off - terms @ fit
    moved = np.column_stack([fit[0] + fit[1] * places, np.full(len(places), fit[2])])
    for k, _ in shown:
        own = rest[which == k]
        moved[k, 0] += float(np.median(own)) * len(own) / (len(own) + _OWN)
    return np.asarray(moved)


def _looks(
    seen: list[Profile | None], printed: Printed, way: int, which: NDArray[np.intp], off: Floats32
) -> Floats32:
    """How open an opening looks at each pixel under a line (n,), by the nearest line of its width that shows."""
    places, widths = printed.places[way], printed.widths[way]
    shown = [k for k, p in enumerate(seen) if p is not None and len(p.off) >= _OWN]
    looks = np.zeros(len(which), np.float32)
    for k in range(len(places)):
        alike = [j for j in shown if abs(widths[j] - widths[k]) < _LIKE]
        if not alike:
            continue
        like = seen[min(alike, key=lambda j: abs(places[j] - places[k]))]
        own = which == k
        if like is not None:
            middle = float(np.median(like.off))
            looks[own] = np.interp(off[own] + middle, _OFFSETS, like.across)
    return looks


def past_figures(share: Floats32, lines: list[Lines]) -> Floats32:
    """How open each pixel is, broad print on the table (figures, bold angles) taken for table.

    In an opening it looks as open as the middle of a bold line does; a rim that
    it shares with opening tells it from a shade on the sheet.
    """
    import cv2

    broad = [one.looks[(np.abs(one.off) < _STEP) & (one.looks > 0)] for one in lines]
    middles = np.concatenate(broad)
    if not len(middles):
        return share
    looks = float(np.percentile(middles, 2))
    if not _LEAST_PRINT < looks < 1 - 2 * _FIGURE:
        return share
    soft = cv2.GaussianBlur(share, (0, 0), 1.0)
    like = (np.abs(soft - looks) < _FIGURE * looks).astype(np.uint8)
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * _AROUND_PX - 1,) * 2)
    count, label = cv2.connectedComponents(cv2.morphologyEx(like, cv2.MORPH_OPEN, kernel))
    beside = cv2.dilate((share > _OPEN).astype(np.uint8), kernel, iterations=3) > 0
    size, touching = (np.bincount(label[m], minlength=count) for m in (label > 0, beside))
    # in an opening most of a figure's rim is table: on the sheet a shade lies clear of it
    table = touching > _FIGURE * size
    table[0] = False
    # strokes too thin to be broad go on from what is
    own = cv2.dilate(table[label].astype(np.uint8), kernel, iterations=2) & like
    around = cv2.dilate(own, kernel, iterations=2) > 0
    return np.asarray(
        np.where(around, np.minimum(share / np.float32(looks), np.maximum(share, 1)), share), np.float32
    )


def bridged(share: Floats32, lines: list[Lines], scale: float) -> Floats32:
    """How open each pixel is (h, w), under lines on the table by how openings look there and by what lies beside them.

    A line is darker or lighter than what it is printed on, but it is no plastic:
    where an edge of the sheet crosses it, it goes on as it does on either side.
    How far the edge is (a signed distance) is carried over from side to side,
    which keeps it straight; the more a line differs from the sheet, the more
    is read under it.
    """
    looks = np.ones(share.shape, np.float32)
    for one in lines:
        looks[one.mask] *= one.looks
    read = np.clip(share / np.maximum(looks, np.float32(0.05)), 0, 1)
    trust = looks**2 / (looks**2 + np.float32(_TELLS**2))
    hidden = np.logical_or(*(one.mask for one in lines))
    share = np.where(hidden, trust * read + (1 - trust) * share, share)
    known = share.copy()
    for one in lines:
        # first as though there were table wherever both sides are open
        carried = np.minimum(*_beside(known, one, scale))
        share[one.mask] = np.maximum(known[one.mask], carried)
    for _ in range(_TURNS):
        far = _signed(share)
        for one in lines:
            after, before = _beside(far, one, scale)
            part = (one.off + one.reach) / (2 * one.reach)
            between = part * after + (1 - part) * before
            carried = np.clip(0.5 + between / _EDGE_PX, 0, 1)
            share[one.mask] = trust[one.mask] * read[one.mask] + (1 - trust[one.mask]) * carried
    return np.asarray(share, np.float32)


def _beside(plane: Floats32, one: Lines, scale: float) -> list[Floats32]:
    """What a plane (h, w) holds on either side of each pixel under a line (n,)."""
    from scipy.ndimage import map_coordinates

    y, x = np.nonzero(one.mask)
    found = []
    for way in (1, -1):
        step = (way * one.reach - one.off) * np.float32(scale)
        places = [v + np.float32(a) * step for a, v in zip(one.across[::-1], (y, x), strict=True)]
        found.append(np.asarray(map_coordinates(plane, places, order=1, mode="nearest"), np.float32))
    return found


def _signed(share: Floats32) -> Floats32:
    """px to the nearest edge, positive in openings (Felzenszwalb & Huttenlocher 2012)."""
    import cv2

    open_ = (share > 0.5).astype(np.uint8)
    inside, outside = (
        cv2.distanceTransform(m, cv2.DIST_L2, cv2.DIST_MASK_PRECISE) for m in (open_, 1 - open_)
    )
    return np.asarray(np.where(open_ > 0, inside - 0.5, 0.5 - outside), np.float32)
