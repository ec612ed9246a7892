"""In which quantity light was mixed at the edges of a picture: encoded values, or light itself.

A lens spreads light evenly to both sides of an edge. In the right quantity
the blurred edge is therefore symmetric about its middle; taken in another,
the middle is off by a fraction of a pixel, always to the same side. A camera
mixes light and encodes it afterwards (sRGB, IEC 61966-2-1); a drawing
program mixes the encoded values.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from strata.optics.colour import decode_srgb
from strata.tracing.sharpening import level_at_the_edge
from strata.tracing.sides import sampled

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
REACH = 8.0
# px to both sides of an edge that a profile shows
_HALO, _MOST, _AWAY = 0.05, 3.0, 3.0
# share of an edge's contrast from which there is a halo; evidence that is told at most; px to both sides of an edge's middle in
# which it is looked at
_DRAWN, _DRAWN_THOUGH_UNEVEN, _UNEVEN = 0.65, 1.5, 2.2
# evidence from which edges were mixed in encoded values where all is evenly bright, and where it is not; of 255, what no lamp is
# as even as (docs/decisions/0008)
_STEP, _OUTERMOST = 0.25, 0.1
# px; share of profiles at either end
_SHARPENED = 0.02
# halo from which a picture may have been sharpened
_FEW, _EVEN, _LEVEL, _ALL_EVEN = 60, 17, 0.03, 0.9
# profiles that tell together at least; values at either end of one in which nothing else may lie; share of the contrast by which they rise or fall at
# most; of profiles without any noise from which a program drew them: exact drawings 1, photographs up to 0.53
_WHITE, _LAMP, _THIRDS = 252, 1.06, (1 / 3, 2 / 3)
# of 255, from which what is light may have been lighter than a camera tells; times as light as another a lamp lights one part of nine; by which these
# are parted
LIGHTNESS = np.array([0.299, 0.587, 0.114])
# of encoded red, green and blue, as JPEG has it (ITU-T T.871)
_FULL, _OFTEN, _SELDOM = 250, 0.2, 0.02
# of 255, what may be lighter than that; share from which it is, and up to which it is not
_ENOUGH, _APART = 200, 25.0
# edges that are asked; of 255, by which channels differ that tell
OFFSETS = np.arange(-REACH, REACH + _STEP / 2, _STEP)


def curve(of_light: bool) -> Floats32:
    """256 values 0..255: what each encoded value counts when edges are looked for."""
    steps = np.arange(256) / 255
    if not of_light:
        return np.asarray(255 * steps, np.float32)
    return np.asarray(255 * decode_srgb(steps), np.float32)


Way = Callable[[Floats], Floats]
# from points (n, 2) px of one picture to those of another


def profiles(channel: NDArray[Any], feet: Floats, normals: Floats, way: Way | None = None) -> Floats:
    """Values of a plane across an edge at points (n, 2) px along unit normals (n, OFFSETS); ``way`` from there to ``channel``."""
    at = feet[:, None, :] + normals[:, None, :] * OFFSETS[None, :, None]
    if way is not None:
        at = way(at.reshape(-1, 2)).reshape(at.shape)
    return sampled(channel, at)


@dataclass(frozen=True)
class Edges:
    """What the edges of a picture tell of how it came to be.

    ``encoded``: how much odder they are as light than as encoded values
    (natural logarithm; nought where they do not tell); ``uneven``: how far
    their lighter side is usually from its own middle, of 255; ``mean``
    (OFFSETS,): their mean from 0 to 1, where it has a halo; ``dark`` and
    ``light``: the encoded values on either side, 0..255; ``overexposed``:
    whether their lighter side is lighter than the camera tells.
    """

    encoded: float = 0.0
    uneven: float = 0.0
    mean: Floats | None = field(default=None, compare=False)
    dark: float = 0.0
    light: float = 255.0
    overexposed: bool = False

    @cached_property
    def lit(self) -> float:
        """The light on them, 0 as on their darker side and 1 as on their lighter one: one half but where a telephone has
        sharpened them."""
        return 0.5 if self.mean is None else level_at_the_edge(self.mean, OFFSETS, self.dark, self.light)

    @property
    def sharpened(self) -> bool:
        """Whether a telephone has sharpened them."""
        return self.lit != 0.5


def mixed_in_values(sides: Edges, openings: Edges | None = None) -> bool:
    """Whether a picture was mixed in encoded values, as a drawing program does, by all that the sheet's sides and its
    openings tell.

    What is drawn has one tone throughout, or one an opening. A lamp never lights a sheet so evenly all around, and what was
    made smaller on its way, or freed of noise, has edges that are nearly symmetric in those values and yet lie where light
    has them.
    """
    if sides.encoded and sides.uneven >= _UNEVEN:
        return False
    telling = [edges for edges in (sides, openings) if edges and edges.encoded]
    even = all(edges.uneven < _UNEVEN for edges in telling)
    line = _DRAWN if even else _DRAWN_THOUGH_UNEVEN
    return bool(telling) and sum(edges.encoded for edges in telling) > line * len(telling)


def edges_of(picture: NDArray[np.uint8], feet: Floats, normals: Floats, way: Way | None = None) -> Edges:
    """What edges of a picture (h, w) or (h, w, 3) at ``feet`` (n, 2) px, ``normals`` (n, 2) across them, tell.

    Judged by lightness, which JPEG keeps sharp: single channels are spoilt by
    its coarse colour. ``way``: from where the feet are given to the picture. Edges with halos are a camera's, which sharpens encoded
    values and makes them symmetric in those.
    """
    import cv2

    if len(feet) < _FEW:
        return Edges()
    plane, cut = (picture, False) if picture.ndim == 2 else _telling(picture, feet, normals, way)
    plane = np.ascontiguousarray(plane)
    across = profiles(plane, feet, normals, way)
    turned, good, white = _told(across)
    told = good & ~white

    def light_on(some: NDArray[np.bool_]) -> Floats:
        """What lies between pixels is between them in the quantity that is asked about."""
        of_light = profiles(cv2.LUT(plane, curve(of_light=True)), feet[some], normals[some], way)
        return _turned(of_light, turned[some])

    if white.sum() > max(_FEW, told.sum()):
        return Edges(
            overexposed=_lit_by_a_lamp(feet[white], _turned(across, turned)[white, :10].mean(axis=1))
        )
    if told.sum() < _FEW:
        return Edges()
    across = _turned(across, turned)[told]
    cut = cut and _lit_by_a_lamp(feet[told], across[:, :10].mean(axis=1))
    mean = across.mean(axis=0)
    dark, light = float(mean[:_EVEN].mean()), float(mean[-_EVEN:].mean())
    bright = across[:, -10:].mean(axis=1)
    uneven = 1.4826 * float(np.median(np.abs(bright - np.median(bright))))
    halo = float(mean.max() - light) / (light - dark)
    drawn = _mean_edge(across)
    sides = (drawn if halo > _SHARPENED else None, dark, light)
    if halo > _HALO:
        return Edges(-_MOST, uneven, *sides, cut)
    seen = _mean_edge(light_on(told))
    encoded = min(_oddness(drawn), _oddness(_rounded(drawn, 1 / (light - dark))))
    return Edges(float(np.clip(np.log(_oddness(seen) / encoded), -_MOST, _MOST)), uneven, *sides, cut)


def share_full(values: NDArray[Any]) -> Floats:
    """The share of encoded values (n, 3) that may be lighter than a picture tells, a channel (3,)."""
    return np.asarray((values >= _FULL).mean(axis=0), float)


def not_cut_off(full: Floats, apart: Floats) -> tuple[NDArray[np.bool_] | None, bool]:
    """Of three channels of two sides those that still tell, where others are cut off: ``full`` (3,) as `share_full`, ``apart``
    (3,) by how much the sides differ, of 255. None where none is cut off or no other tells; and whether that is why.

    What is as light on both sides is no edge and cuts off none; white, cut off in all three, is for others to see.
    """
    telling = apart >= _APART
    cut, rest = telling & (full > _OFTEN), telling & (full < _SELDOM)
    if cut.any() and rest.any():
        return rest, False
    return None, bool(cut.any() and not cut.all())


def _telling(
    picture: NDArray[np.uint8], feet: Floats, normals: Floats, way: Way | None
) -> tuple[NDArray[np.uint8], bool]:
    """The lightness (h, w) of a picture; where one channel or two are as light as a picture can be beside the edges, that of the
    rest: cut off on one side, an edge of light looks as one that was drawn. And whether that was so, and the rest did not tell."""
    import cv2

    few = slice(None, None, max(1, len(feet) // _ENOUGH))
    across = profiles(picture, feet[few], normals[few], way)
    ends = np.stack([across[:, :10].mean(axis=1), across[:, -10:].mean(axis=1)])
    lighter = ends[1] - ends[0]
    apart = np.median(np.sign(lighter @ LIGHTNESS)[:, None] * lighter, axis=0)
    rest, full = not_cut_off(share_full(ends.max(axis=0)), apart)
    if rest is None:
        grey = np.asarray(cv2.cvtColor(picture, cv2.COLOR_RGB2GRAY), np.uint8)
        return grey, full
    weights = np.where(rest, LIGHTNESS, 0.0)
    return np.asarray(cv2.transform(picture, weights[None] / weights.sum()), np.uint8), False


def _turned(across: Floats, turned: NDArray[np.bool_]) -> Floats:
    """Profiles (n, OFFSETS), those that are ``turned`` (n,) the other way around."""
    return np.where(turned[:, None], across[:, ::-1], across)


def _told(across: Floats) -> tuple[NDArray[np.bool_], NDArray[np.bool_], NDArray[np.bool_]]:
    """For each of some profiles (n, OFFSETS) whether it goes from light to dark; whether it is a clear one between two
    even tones; and whether it is one that may be overexposed.

    What is nearly white may be, but not where hardly a value has any noise: no camera is so even.
    """
    turned = across[:, :10].mean(axis=1) > across[:, -10:].mean(axis=1)
    across = _turned(across, turned)
    contrast = across[:, -10:].mean(axis=1) - across[:, :10].mean(axis=1)
    dark, light = across[:, _EVEN - 1 :: -1], across[:, -_EVEN:]
    flat = np.maximum(dark.std(axis=1), light.std(axis=1)) < 0.12 * contrast
    good = flat & (contrast > 25) & _level(dark, contrast) & _level(light, contrast)
    white = good & (across[:, -10:].mean(axis=1) >= _WHITE)
    return turned, good, white & (not _exact(across[good]))


def _lit_by_a_lamp(feet: Floats, dark: Floats) -> bool:
    """Whether what is dark, encoded values (n,) at ``feet`` (n, 2) all over a sheet, is as unevenly lit as a lamp does it:
    what is white there may be much lighter than white. A scanner is set so that paper is just white."""
    column, row = (np.searchsorted(np.quantile(at, _THIRDS), at) for at in feet.T)
    light, place = decode_srgb(dark / 255), 3 * row + column
    count = np.bincount(place, minlength=9)
    means = np.bincount(place, light, minlength=9)[count > 9] / count[count > 9]
    return bool(means.max() > _LAMP * means.min())


def _level(end: Floats, contrast: Floats) -> NDArray[np.bool_]:
    """Whether an end (n, _EVEN) of each profile, from its edge outwards, neither rises nor falls; or less and less, as a
    halo does.

    Where the next edge is near, its blur reaches into the end and lifts or lowers it a little: the middle of the edge
    then seems elsewhere, in every fine line to the same side.
    """
    half, quarter = _EVEN // 2, _EVEN // 4
    slope = end[:, :half].mean(axis=1) - end[:, -half:].mean(axis=1)
    near, far = (
        part[:, :quarter].mean(axis=1) - part[:, quarter:].mean(axis=1)
        for part in (end[:, :half], end[:, -half:])
    )
    fades = (near * far > 0) & (np.abs(near) > 2 * np.abs(far))
    return np.asarray((np.abs(slope) < _LEVEL * contrast) | fades)


def _exact(across: Floats) -> bool:
    """Whether hardly a profile (n, OFFSETS) has any noise at its ends. Of photographs half have none where JPEG has
    smoothed them, and what is overexposed on the lighter side alone."""
    even = np.maximum(np.ptp(across[:, :10], axis=1), np.ptp(across[:, -10:], axis=1)) < 0.05
    return len(across) >= _FEW and bool(even.mean() > _ALL_EVEN)


def _aligned(across: Floats) -> Floats:
    """Profiles from 0 to 1 (n, OFFSETS), moved so that each crosses its own middle at nought: feet are not quite on their
    edges."""
    low, high = across[:, :_EVEN].mean(axis=1), across[:, -_EVEN:].mean(axis=1)
    share = (across - low[:, None]) / (high - low)[:, None]
    level = share - 0.5
    k = np.argmax(level >= 0, axis=1).clip(1, len(OFFSETS) - 1)
    rows = np.arange(len(k))
    below, above = level[rows, k - 1], level[rows, k]
    at = OFFSETS[k - 1] + _STEP * (-below) / np.where(above == below, 1, above - below)
    wanted = OFFSETS[None, :] + at.clip(-1.5, 1.5)[:, None]
    place = ((wanted - OFFSETS[0]) / _STEP).clip(0, len(OFFSETS) - 1.001)
    left = place.astype(int)
    part = place - left
    return np.asarray(share[rows[:, None], left] * (1 - part) + share[rows[:, None], left + 1] * part)


def _mean_edge(across: Floats) -> Floats:
    """The mean edge (OFFSETS,) of profiles (n, OFFSETS), from 0 to 1, the outermost of them left out at each place: a line
    of a mat that runs beside an edge would lift it."""
    few, last = int(_OUTERMOST * len(across)), len(across) - 1
    share = np.partition(_aligned(across).T, (few, last - few), axis=1)
    mean = share[:, few : len(across) - few].mean(axis=1)
    return np.asarray((mean - mean[:10].mean()) / (mean[-10:].mean() - mean[:10].mean()))


def _rounded(share: Floats, level: float) -> Floats:
    """A mean edge as it was before values were cut down to whole ones, ``level`` of its contrast each: between its
    sides they lost half of one, at them nothing."""
    cut = (share > 0.6 * level) & (share < 1 - 0.4 * level)
    return np.asarray(share + np.where(cut, level / 2, 0.0))


def _oddness(share: Floats) -> float:
    """How far a mean edge (OFFSETS,) from 0 to 1 is from symmetric about its middle."""
    fine = np.linspace(-REACH, REACH, 641)
    share = np.interp(fine, OFFSETS, share)
    middle = float(np.interp(0.5, share, fine)) if np.all(np.diff(share[240:400]) > -0.02) else 0.0
    away = np.linspace(0, _AWAY, 91)

    def odd(m: float) -> float:
        return float(np.mean((np.interp(m + away, fine, share) + np.interp(m - away, fine, share) - 1) ** 2))

    near = min(middle + np.linspace(-0.6, 0.6, 61), key=odd)
    # a hundredth of a px off its middle, a symmetric edge seems as odd as a camera's taken for a drawing's
    return max(1e-6, math.sqrt(min(map(odd, near + np.linspace(-0.02, 0.02, 81)))))
