"""How bright the plastic and the openings are at each place of a straightened sheet.

Light falls unevenly, so no one threshold serves: the plastic's brightness is
carried on from the sheet's rim, the openings' from the openings themselves,
and each pixel is placed between the two.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from strata.tracing.apart import in_gap, rim_of, told_apart
from strata.tracing.light import LIGHTNESS, not_cut_off, share_full
from strata.tracing.mat import Printed
from strata.tracing.printing import mask_of
from strata.tracing.smooth import smooth_model, softened, spread

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
_GRID_MM = 0.25
# mm a pixel of the coarse grid on which brightness is spread
_NEAR_MM = 6.0
# how far the brightness of a place tells of its neighbours'
_CLOSE_GRID_MM, _CLOSE_MM, _CLEAR_BLURS, _DARK = 0.12, 1.2, 3.0, 2.0
# mm a pixel, mm of surroundings that tell, times an edge's spread that is kept clear of it, of 255 what is dark
_PAST_MM = 1.2
# what is printed on a table is finer
_FROM, _LEAST_WAY, _CLOSER = 0.2, 0.05, 3.5
# from where on the way from sheet to opening a level may be, how long that is at least, and by what a place is followed more closely
_FAR_MM, _SPARSE = 20.0, 0.005
# mm, and the share of them that is open, within which openings tell how bright they are
_ALONE, _CREST, _DARKEST = 0.003, 0.75, 0.5
# share of its surroundings up to which no wide opening is near a place; how open the crest of a narrow one looks at least, of 1;
# of 255 in light, below which not even many pixels together tell by how much they differ
_CLEARLY_LIGHTER, _CLEARLY_COLOURED = 30.0, 25.0
_LEAST_CONTRAST = 8.0
# of 255: less and nothing on the sheet stands out
_BAND = 64
# rows


@dataclass(frozen=True)
class Kinds:
    """Which places of a coarse picture of the sheet are surely bare and surely open, and how to tell them apart.

    ``hidden``: where lines of a mat may lie, of which nothing is believed;
    ``by_colour``: the two differ in colour and hardly in lightness.
    """

    bare: NDArray[np.bool_]
    open: NDArray[np.bool_]
    weights: Floats32 | None
    hidden: NDArray[np.bool_] | None = None
    by_colour: bool = False


def contrast_weights(one: NDArray[np.uint8], other: NDArray[np.uint8]) -> Floats32 | None:
    """The mix of the three channels that tells two kinds of pixels (n, 3) apart best (Fisher 1936).

    None when the two differ in colour and lightness alone does well enough:
    it is what JPEG keeps sharp, while it halves the resolution of colour. But a
    channel that is as light as a picture can be tells no more how light it is,
    and its edges lie further out: the red of a card of kraft, well lit. Then
    the others alone tell, where they do.
    """
    first, second = one.reshape(-1, 3).astype(float), other.reshape(-1, 3).astype(float)
    if len(first) < 20 or len(second) < 20:
        return None
    gap = second.mean(axis=0) - first.mean(axis=0)
    lighter, coloured = _differ(gap)
    gap = gap if gap.sum() >= 0 else -gap
    rest, _ = not_cut_off(np.maximum(share_full(first), share_full(second)), gap)
    if rest is None and lighter and coloured:
        return None
    noise = first.var(axis=0) + second.var(axis=0) + 25.0
    mix = np.clip(gap / noise, 0, None) * (1.0 if rest is None else rest)
    return np.asarray(mix / mix.sum(), np.float32) if mix.sum() > 0 else None


def _differ(gap: Floats) -> tuple[bool, bool]:
    """Whether two kinds of pixels whose means differ by ``gap`` (3,) clearly differ in lightness, and in colour."""
    lighter = float(gap @ LIGHTNESS)
    return abs(lighter) > _CLEARLY_LIGHTER, float(np.abs(gap - lighter).max()) > _CLEARLY_COLOURED


def kinds(rgb: NDArray[np.uint8], scale: float, printed: Printed | None = None) -> Kinds | None:
    """From a straightened sheet (h, w, 3) of ``scale`` px/mm; None where nothing stands out from the sheet.

    Lines ``printed`` on the table are neither: they are looked past.
    """
    import cv2

    if printed is not None:
        rgb = cv2.medianBlur(rgb, round(_PAST_MM * scale) // 2 * 2 + 1)

    shrink = min(1.0, 1 / (_GRID_MM * scale))
    small = cv2.resize(rgb, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA)
    apart = told_apart(small, rim_of(small.shape[:2], scale * shrink))
    if apart is None or apart[1].sum() < 4:
        return None
    bare, open_ = apart
    hidden: NDArray[np.bool_] | None = None
    if printed is not None:
        hidden = mask_of(printed, small.shape[:2], scale * shrink)
        bare, open_ = bare & ~hidden, open_ & ~hidden
    one, other = small[bare], small[open_]
    lighter, coloured = _differ(other.mean(axis=0) - one.mean(axis=0))
    return Kinds(bare, open_, contrast_weights(one, other), hidden, by_colour=coloured and not lighter)


def brightness(grey: Floats32, found: Kinds, scale: float) -> tuple[Floats32, Floats32] | None:
    """(bare sheet, opening): how bright either is at each place, on the coarse grid of ``found``.

    ``grey`` (h, w) 0..255 of ``scale`` px/mm. None where the two are too alike.
    """
    import cv2

    bare, open_ = found.bare, found.open
    shape = bare.shape[1::-1]
    near = _NEAR_MM * scale * shape[0] / grey.shape[1]
    grey = cv2.resize(grey, shape, interpolation=cv2.INTER_AREA)
    if abs(float(np.median(grey[open_])) - float(np.median(grey[bare]))) < _LEAST_CONTRAST:
        return None
    # far from what is known a polynomial may run away; it must stay a brightness that there is
    low, high = np.percentile(grey[bare], [1, 99])
    base = np.clip(smooth_model(grey, bare, degree=3), 0.8 * low, 1.25 * high).astype(np.float32)
    sheet = base + spread(grey - base, bare, near, 0.02)
    guess = _carried_on(grey, sheet, open_)
    opening = guess + spread(grey - guess, open_, near, 0.02)
    return np.asarray(sheet, np.float32), np.asarray(opening, np.float32)


def _carried_on(grey: Floats32, sheet: Floats32, open_: NDArray[np.bool_]) -> Floats32:
    """How bright openings are at each place (h, w) as those that are known tell.

    A shadow darkens sheet and table alike, so that what lasts is by how much they differ; stains are on the sheet alone, and
    what lasts is how bright the table is. Whichever bears out the known ones better.
    """
    seen, bare = logarithm(grey, _DARKEST), logarithm(sheet, _DARKEST)
    table, lit = logarithm(_smooth(grey, open_), _DARKEST), bare + _smooth(seen - bare, open_)
    own = min((table, lit), key=lambda guess: float(np.abs(guess - seen)[open_].mean()))
    return np.asarray(np.exp(own) - np.float32(_DARKEST), np.float32)


def _smooth(values: Floats32, known: NDArray[np.bool_]) -> Floats32:
    """A surface through known values (h, w), never beyond them, and the usual one where few are near: a polynomial runs away."""
    low, usual, high = np.percentile(values[known], [1, 50, 99]).astype(np.float32)
    full = softened(known.astype(np.float32), _FAR_MM / _GRID_MM)
    near = full / (full + np.float32(_SPARSE))
    return np.asarray(np.clip(usual + near * (smooth_model(values, known) - usual), low, high), np.float32)


def logarithm(values: Floats32, dark: float = _DARK) -> Floats32:
    """The natural logarithm of light 0..255, above what is too dark to tell."""
    return np.asarray(np.log(np.maximum(values, 0) + np.float32(dark)), np.float32)


def closer(
    grey: Floats32,
    two: tuple[Floats32, Floats32],
    scale: float,
    blur: Floats32,
    hidden: NDArray[np.bool_] | None = None,
) -> tuple[Floats32, Floats32]:
    """(bare sheet, opening) as ``two``, followed more closely: shadows and grain within a millimetre or two.

    Once it is roughly known which is which, every place clear of an edge tells
    of those around it. Which is which is asked in steps that the eye takes for
    equal: an opening in half the light is still an opening. ``blur`` (rows,
    columns): px by which edges are wide, all over it; ``hidden`` (h, w) where neither is seen.
    """
    import cv2

    shrink = min(1.0, 1 / (_CLOSE_GRID_MM * scale))
    shape = (max(2, round(grey.shape[1] * shrink)), max(2, round(grey.shape[0] * shrink)))
    small = cv2.resize(grey, shape, interpolation=cv2.INTER_AREA)
    bare, opening = (cv2.resize(v, shape, interpolation=cv2.INTER_LINEAR) for v in two)
    tone, low, high = (logarithm(v) for v in (small, bare, opening))
    lighter = float(np.median(opening - bare)) > 0
    sign = np.float32(1 if lighter else -1)
    part = sign * (tone - low) / np.maximum(sign * (high - low), np.float32(_LEAST_WAY))
    open_ = (part > in_gap(0.5, np.asarray(part, np.float32), _FROM, 1.0)).astype(np.uint8)
    wide = np.maximum(1.0, cv2.resize(blur, shape, interpolation=cv2.INTER_LINEAR))
    clear = np.maximum(1, np.rint(_CLEAR_BLURS * wide * shrink + 0.5))
    seen = np.ones(small.shape, np.uint8)
    if hidden is not None:
        seen = 1 - cv2.resize(hidden.astype(np.uint8), shape, interpolation=cv2.INTER_NEAREST)
    near = _CLOSE_MM * scale * shrink
    # where all is blurred too little is left to be followed closely, and beside lines of a mat but the narrowest bars
    close = [near / _CLOSER] if _CLEAR_BLURS * float(np.median(blur)) * shrink < 1.5 * near / _CLOSER else []
    reaches = [near, *(close if hidden is None else [])]
    bare_at, open_at = ((_within(m) > clear) & (seen > 0) for m in (1 - open_, open_))
    bare = _followed(small, bare, bare_at, reaches)
    if lighter:
        lone = _lone(small, open_ & seen, open_at, near) & (part > _CREST)
        opening = np.asarray(opening + spread(small - opening, lone, near, _ALONE), np.float32)
    else:
        narrow = _crests(small, (1 - open_) & seen & (_within(1 - bare_at.astype(np.uint8)) > clear))
        bare = _followed(small, bare, narrow, close)
    return bare, _followed(small, opening, open_at, reaches)


def _within(mask: NDArray[np.uint8]) -> Floats32:
    """How many px each pixel of a mask (h, w) lies within it, along rows, columns or diagonals."""
    import cv2

    framed = cv2.copyMakeBorder(mask, 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=0)
    return np.asarray(cv2.distanceTransform(framed, cv2.DIST_C, 3)[1:-1, 1:-1], np.float32)


def _lone(
    plane: Floats32, open_: NDArray[np.uint8], wide: NDArray[np.bool_], near: float
) -> NDArray[np.bool_]:
    """The lightest lines of narrow openings (h, w) that have no ``wide`` one within ``near`` px: blurred, they are not quite as
    light as openings are, and tell only where nothing else does. What is no three px wide is dust."""
    import cv2

    alone = softened(wide.astype(np.float32), near) < _ALONE
    broad = cv2.morphologyEx(open_, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
    return np.asarray(_crests(plane, broad) & alone)


def _followed(plane: Floats32, field: Floats32, known: NDArray[np.bool_], reaches: list[float]) -> Floats32:
    """A field drawn to what is known of it around each place, first from afar, then from near by."""
    for reach in reaches:
        field = np.asarray(field + spread(plane - field, known, reach, 0.02), np.float32)
    return field


def _crests(plane: Floats32, where: NDArray[np.uint8]) -> NDArray[np.bool_]:
    """Of narrow places (h, w) the lightest line: between two openings it is lit through least, and tells of a stained sheet."""
    import cv2

    return np.asarray((where > 0) & (plane >= cv2.dilate(plane, np.ones((5, 5), np.uint8))))


def mixed(rgb: NDArray[np.uint8], tones: Floats32, weights: Floats32 | None) -> Floats32:
    """One plane (h, w) 0..255 from three channels; ``tones`` (256,) says what each value counts."""
    plane = np.empty(rgb.shape[:2], np.float32)
    # in bands that stay in the processor's cache: of twelve megapixels every plane more is 48 MB
    for top in range(0, len(rgb), _BAND):
        band = slice(top, top + _BAND)
        plane[band] = _band_mixed(rgb[band], tones, weights)
    return plane


def _band_mixed(rgb: NDArray[np.uint8], tones: Floats32, weights: Floats32 | None) -> Floats32:
    import cv2

    if weights is None:
        return np.asarray(cv2.LUT(cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY), tones), np.float32)
    total = np.zeros(rgb.shape[:2], np.float32)
    for channel in range(3):
        if weights[channel] > 0.01:
            counts = np.asarray(weights[channel] * tones, np.float32)
            cv2.add(total, cv2.LUT(cv2.extractChannel(rgb, channel), counts), dst=total)
    return total
