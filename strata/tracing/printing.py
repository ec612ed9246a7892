"""What is printed on a mat, looked past in the openings of a straightened sheet.

Beside the sheet lines are found to a tenth of a millimetre. Where they show in
openings they are measured anew: where each runs, and what an opening looks
like across it. By that the sheet's edges are read under them; where a line is
as light or dark as the sheet itself, they are carried over from either side.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from strata.tracing.carried import Lines, bridged
from strata.tracing.mat import Printed, Ruling

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
Box = tuple[int, int, int, int]
_NARROWEST, _WIDEST, _OFF_BY = 0.4, 1.1, 0.14
# mm of a line with its blur, at least and at most, and what it is off by
_REACH, _STEP, _ALONG, _BARE = 0.85, 0.05, 0.25, 0.55
# mm across a line that are measured, of a profile and along it; from where on there is none of it
_OPEN, _STANDS_OUT, _SHOWS, _OWN, _LIKE = 0.85, 0.12, 0.08, 12, 0.11
# how open both sides are where a line is measured, by how much it stands out and still shows, of how many places; mm by
# which widths are alike
_TELLS, _READ = 0.25, 0.7
# how open an opening looks under a line so that reading it there and carrying it over are worth the same; share of
# what is read from which nothing is hidden
_FIGURE, _RIM, _AROUND_PX, _LEAST_PRINT = 0.35, 0.2, 3, 0.08
# share by which print may look otherwise, and of it that lies by an opening; px of blur around it; how open it looks at
# least so that it is told from the sheet
_SHEET, _CLEAR_PX, _PIECE = 0.4, 9, 50.0
# how open sheet looks at most; px by which it lies clear of openings; mm2 of a piece of it
_CLOSE, _AROUND = (0.15, 0.5), (0.3, 1.5)
_SOME, _SHADED, _A_LITTLE, _CLOSELY, _LIGHTER = 0.5, 0.25, 0.03, 0.3, 0.2
# mm from what looks like print between which the sheet is looked at; mm2 of it around that tell, and what share of print's
# look it then has; mm2 where a shadow ends, the share of what is close, and of the lightest fifth around


@dataclass(frozen=True)
class Profile:
    """One line where it shows in openings: ``n`` places (mm along it) and how far (mm) it is off there; how open
    openings look ``across`` it, -_REACH .. _REACH."""

    along: Floats
    off: Floats
    across: Floats

    @property
    def middle(self) -> float:
        """mm by which it is off for the most part."""
        return float(np.median(self.off))

    @property
    def half(self) -> float:
        """mm from its middle to where an opening looks open again."""
        under = np.abs(_OFFSETS[np.abs(self.across - 1) > _SHOWS] - self.middle)
        return float(np.clip(under.max(initial=0.0) + _STEP, _NARROWEST / 2, _BARE))


def past_print(share: Floats32, printed: Printed, scale: float) -> tuple[Floats32, NDArray[np.bool_]]:
    """How open each pixel (h, w) of a sheet of ``scale`` px/mm is, what is printed on the table looked past; and
    where lines hide it."""
    lines = lines_measured(share, printed, scale)
    looks = np.ones(share.shape, np.float32)
    for one in lines:
        looks[one.mask] *= one.looks
    trust = looks**2 / (looks**2 + np.float32(_TELLS**2))
    return bridged(past_figures(share, lines, scale), lines, looks, trust, scale), trust < _READ


def mask_of(printed: Printed, shape: tuple[int, ...], scale: float) -> NDArray[np.bool_]:
    """(h, w) where lines may lie on a straightened sheet of ``scale`` px/mm."""
    masks = [_laid(ruling, shape, scale)[0] for ruling in printed.rulings]
    return np.asarray(np.logical_or.reduce(masks))


def _laid(
    ruling: Ruling,
    shape: tuple[int, ...],
    scale: float,
    moved: Floats | None = None,
    halves: Floats | None = None,
) -> tuple[NDArray[np.bool_], NDArray[np.intp], Floats32, Floats32]:
    """(mask, which line, mm off it, half its width) of the lines of one direction; ``moved`` (lines, 2): mm by which
    each is elsewhere, and by what share of the way along it more; ``halves`` (lines,): half of how wide they are, mm."""
    y, x = (v.astype(np.float32) for v in np.mgrid[: shape[0], : shape[1]])
    over, along = _ways(ruling.angle)
    places, widths = ruling.places, ruling.widths
    at = (np.float32(over[0]) * (x + 0.5) + np.float32(over[1]) * (y + 0.5)) / np.float32(scale)
    which = ruling.nearest(at)
    off = at - places.astype(np.float32)[which]
    if moved is not None:
        run = (np.float32(along[0]) * (x + 0.5) + np.float32(along[1]) * (y + 0.5)) / np.float32(scale)
        step, tilt = moved.astype(np.float32).T
        off -= step[which] + tilt[which] * run
    if halves is None:
        halves = _halves(widths)
    half = halves.astype(np.float32)[which]
    mask = np.abs(off) < half
    return mask, which[mask], off[mask], half[mask]


def _halves(widths: Floats) -> Floats:
    """Half of how wide lines are with their blur (mm), of widths as they were found beside the sheet."""
    return np.asarray(np.clip(widths + _OFF_BY, _NARROWEST, _WIDEST) / 2)


def _ways(angle: float) -> tuple[Floats, Floats]:
    """Unit vectors (x, y) across lines and along them."""
    over = np.array([np.cos(angle), np.sin(angle)])
    return over, np.array([-over[1], over[0]])


def lines_measured(share: Floats32, printed: Printed, scale: float) -> list[Lines]:
    """The lines of either direction where they really run, and how openings look under them."""
    found = []
    shown = [[_profile(share, place, r.angle, scale) for place in r.places] for r in printed.rulings]
    grid = _clear(printed.grid, shown)
    for n, (ruling, seen) in enumerate(zip(printed.rulings, shown, strict=True)):
        moved = _moved(ruling.places, seen)
        own = _clear([ruling], [seen])
        # what runs aslant is printed as the grid is
        like = _like(ruling, own if own or n < len(printed.grid) else grid)
        halves = [h if p is None else p.half for h, p in zip(_halves(ruling.widths), like, strict=True)]
        mask, which, off, half = _laid(ruling, share.shape, scale, moved, np.array(halves))
        looks = _looks(like, which, off)
        found.append(Lines(mask, off, half, looks, _ways(ruling.angle)[0]))
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


Shown = list[tuple[float, float, Profile]]
# mm across, mm wide, what is seen of it


def _clear(rulings: Sequence[Ruling], seen: list[list[Profile | None]]) -> Shown:
    """The lines that show well."""
    return [
        (float(place), float(wide), profile)
        for ruling, profiles in zip(rulings, seen, strict=False)
        for place, wide, profile in zip(ruling.places, ruling.widths, profiles, strict=True)
        if profile is not None and len(profile.off) >= _OWN
    ]


def _like(ruling: Ruling, shown: Shown) -> list[Profile | None]:
    """For each line the nearest one of its width that shows well, itself if it does; None where none does."""
    found: list[Profile | None] = []
    for place, wide in zip(ruling.places, ruling.widths, strict=True):
        alike = [(abs(at - place), n, p) for n, (at, own, p) in enumerate(shown) if abs(own - wide) < _LIKE]
        found.append(min(alike)[2] if alike else None)
    return found


def _looks(like: list[Profile | None], which: NDArray[np.intp], off: Floats32) -> Floats32:
    """How open an opening looks at each pixel under a line (n,), nought where that is not known."""
    looks = np.zeros(len(which), np.float32)
    for k, profile in enumerate(like):
        if profile is None:
            continue
        own = which == k
        # what is lighter than a light sheet, or darker than a dark one, is not read but carried over
        looks[own] = np.maximum(np.interp(off[own], _OFFSETS - profile.middle, profile.across), 0)
    return looks


def _shades(
    soft: Floats32, label: NDArray[np.int32], boxes: dict[int, Box], looks: float, scale: float
) -> list[int]:
    """Of what looks like print, labelled (h, w), that which is sheet in a shadow, or inked: the sheet beside it is on the
    way to look so, and beside print it looks like itself. ``boxes``: where each of those asked about lies (x, y, width,
    height, px); ``looks``: how open print does; ``scale`` px/mm."""
    import cv2

    # the sheet is of one piece, figures in openings are islands
    near_open = cv2.dilate((soft > _SHEET).astype(np.uint8), np.ones((_CLEAR_PX, _CLEAR_PX), np.uint8)) > 0
    _, piece, stats, _ = cv2.connectedComponentsWithStats((soft < _SHEET).astype(np.uint8))
    large = stats[:, cv2.CC_STAT_AREA] > _PIECE * scale * scale
    large[0] = False
    found, reach = [], round(_AROUND[1] * scale)
    for i, (x, y, wide, high) in boxes.items():
        own = slice(max(0, y - reach), y + high + reach), slice(max(0, x - reach), x + wide + reach)
        away = cv2.distanceTransform((label[own] != i).astype(np.uint8), cv2.DIST_L2, 5) / scale
        sheet = large[piece[own]] & ~near_open[own]
        close, around = (
            soft[own][sheet & (away > low) & (away < high)] / looks for low, high in (_CLOSE, _AROUND)
        )
        if _on_the_way(close, around, scale):
            found.append(i)
    return found


def _on_the_way(close: Floats32, around: Floats32, scale: float) -> bool:
    """Whether the sheet beside something, of 1 as print looks, goes over into it: pixels close to it and all around (n,)."""
    if len(around) > _SOME * scale * scale and np.median(around) > _SHADED:
        return True
    # where a shadow ends, on a narrow wall: what is close may be the rest of a bold figure, but then all beyond is bare
    told = min(len(close), len(around)) > _A_LITTLE * scale * scale
    return bool(told and np.median(close) > _CLOSELY and np.percentile(around, 80) > _LIGHTER)


def past_figures(share: Floats32, lines: list[Lines], scale: float) -> Floats32:
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
    count, label, stats, _ = cv2.connectedComponentsWithStats(cv2.morphologyEx(like, cv2.MORPH_OPEN, kernel))
    beside = cv2.dilate((share > _OPEN).astype(np.uint8), kernel, iterations=3) > 0
    size, touching = (np.bincount(label[m], minlength=count) for m in (label > 0, beside))
    # in an opening most of a figure's rim is table: on the sheet a shade lies clear of it
    table = touching > _RIM * size
    table[0] = False
    boxes = {int(i): tuple(stats[i, :4].tolist()) for i in np.flatnonzero(table)}
    table[_shades(soft, label, boxes, looks, scale)] = False
    # strokes too thin to be broad go on from what is
    own = cv2.dilate(table[label].astype(np.uint8), kernel, iterations=2) & like
    around = cv2.dilate(own, kernel, iterations=2) > 0
    return np.asarray(
        np.where(around, np.minimum(share / np.float32(looks), np.maximum(share, 1)), share), np.float32
    )
