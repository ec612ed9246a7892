"""Several photographs of one sheet as one: each tells what the others hide (a lamp's glint, a finger, a mat's line).

Each is straightened by itself; the others are laid on the first the way that
they agree best, fitted to a fraction of a pixel, and every place is told by
those that show it clearly.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from strata.errors import NotTheSame
from strata.tracing.doubt import ENOUGH, strange_hue, unclear_mask
from strata.tracing.focus import AT_THE_EDGE, wider_at
from strata.tracing.glare import FAR, coarsely, glints
from strata.tracing.openness import Seen

Floats32 = NDArray[np.float32]
Mask = NDArray[np.bool_]
Turned = tuple[int, bool]
# quarters to the left, and whether it is turned over first
NOT_THE_SAME = "This photograph does not show the same sheet."
_ROUGH, _FINE = 2.0, 6.0
# px/mm at which the way is chosen, and to which it is fitted
_ALIKE, _FITS = 0.5, 0.7
# how much two must agree (correlation) before they are fitted, and after
_NEAR, _FADE = 0.5, 0.6
# mm around what a photograph does not show clearly in which it counts little, and over which it counts again
_LEAST_SEEN = 0.3
# share of the sheet that both must show clearly, or it is fitted by all of it
_LEAST = 0.004
# how much a place counts that a photograph does not show clearly: nothing, unless none does
_CONTRADICT, _SHARP, _AROUND, _MORE = 0.45, 0.35, 0.9, 0.04
# of 1 by which two contradict each other; mm of what does; mm around it that tell, and by how much more is unclear there
_GLINT, _FAINT = 1.15, 0.75
# of 1, what is brighter than openings are; of the usual contrast: in a glint sheet and opening come close to each other; in a shadow they do not
_SQUARE = 0.04
# how unlike its sides may be for a sheet to lie a quarter turned


@dataclass(frozen=True)
class Way:
    """How another photograph lies on the first: turned (and over), then ``fit`` (3, 3) from px of the first to its own,
    of planes of the first one's size."""

    turned: Turned
    fit: NDArray[np.float64]


def way_onto(first: Seen, other: Seen, scale: float) -> Way:
    """How ``other`` lies on ``first`` of ``scale`` px/mm. Raises NotTheSame where they do not show the same sheet.

    Turned the way that correlates best, then by a homography that makes the
    correlation greatest (Evangelidis & Psarakis, "Parametric image alignment
    using enhanced correlation coefficient maximization", PAMI 30, 2008), at
    last without what looks odd in either.
    """
    small = _smaller(first.share, min(1.0, _ROUGH / scale))
    ways = [(q, over) for over in (False, True) for q in _quarters(first.share)]
    found = {way: _alike(small, _onto(other.share, way, small.shape)) for way in ways}
    best = max(found, key=lambda way: found[way])
    if found[best] < _ALIKE:
        raise NotTheSame(NOT_THE_SAME)
    shrink = min(1.0, _FINE / scale)
    one = _smaller(first.share, shrink)
    two = _onto(other.share, best, one.shape)
    strange = [
        _onto(np.zeros_like(s.share) if s.odd is None else s.odd.astype(np.float32), turned, one.shape) > 0
        for s, turned in ((first, (0, False)), (other, best))
    ]
    fit, alike = _fitted(one, two, strange, scale * shrink)
    if alike < _FITS:
        raise NotTheSame(NOT_THE_SAME)
    # between pixel centres of the smaller planes, then of the whole ones
    x, y = first.share.shape[1] / one.shape[1], first.share.shape[0] / one.shape[0]
    larger = np.array([[x, 0, (x - 1) / 2], [0, y, (y - 1) / 2], [0, 0, 1]])
    return Way(best, larger @ fit @ np.linalg.inv(larger))


def _fitted(
    one: Floats32, two: Floats32, strange: list[Mask], scale: float
) -> tuple[NDArray[np.float64], float]:
    """The homography (3, 3) from px of ``one`` to those of ``two``, and how much they agree by it."""
    import cv2

    steps = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 60, 1e-5)
    kernel = np.ones((round(2 * _AROUND * scale) | 1,) * 2, np.uint8)
    odd = [cv2.dilate(mask.astype(np.uint8), kernel) for mask in strange]
    one, two = (np.clip(plane, -0.25, 1.25) for plane in (one, two))
    size, kind = two.shape[1::-1], cv2.MOTION_HOMOGRAPHY
    try:
        _, fit = cv2.findTransformECC(one, two, np.eye(3, dtype=np.float32), kind, steps)
        seen = 1 - np.maximum(odd[1], cv2.warpPerspective(odd[0], fit, size, flags=cv2.INTER_NEAREST))
        if seen.mean() < _LEAST_SEEN:
            seen = np.ones_like(seen)
        alike, fit = cv2.findTransformECC(one, two, fit, kind, steps, inputMask=seen)
    except cv2.error as error:
        raise NotTheSame(NOT_THE_SAME) from error
    return fit.astype(float), float(alike)


def onto(seen: Seen, way: Way, shape: tuple[int, ...]) -> Seen:
    """What another photograph shows as the first one, (h, w) ``shape``, sees it."""
    return replace(
        seen,
        share=_laid(seen.share, way, shape),
        hidden=None if seen.hidden is None else _laid(seen.hidden.astype(np.float32), way, shape) > 0.5,
        odd=None if seen.odd is None else _laid(seen.odd.astype(np.float32), way, shape) > 0.5,
    )


def _laid(plane: Floats32, way: Way, shape: tuple[int, ...]) -> Floats32:
    import cv2

    own, size = _onto(plane, way.turned, shape), (shape[1], shape[0])
    how = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return np.asarray(cv2.warpPerspective(own, way.fit, size, flags=how, borderMode=cv2.BORDER_REPLICATE))


def with_odd(seen: Seen, preview: NDArray[np.uint8]) -> Seen:
    """The same with what looks neither as the sheet nor as the table does: brighter than any opening or with
    the two hardly apart (a lamp's glint), or of another hue (a finger). ``preview`` (h, w, 3) is the straightened sheet, coarser."""
    import cv2

    own = coarsely(preview, seen.share, seen.contrast)
    kernel = np.ones((3, 3), np.uint8)
    odd = (own.share > _GLINT) | (own.share < 1 - _GLINT) | (own.apart < _FAINT)
    if own.open.sum() >= ENOUGH and seen.hidden is None:
        # what is printed on a mat is brighter, and of another hue
        odd |= glints(own)
        odd |= strange_hue(own.rgb, own.open) & (cv2.erode((own.share > FAR).astype(np.uint8), kernel) > 0)
    odd = cv2.morphologyEx(odd.astype(np.uint8), cv2.MORPH_OPEN, kernel)
    size = seen.share.shape[1::-1]
    return replace(seen, odd=cv2.resize(odd, size, interpolation=cv2.INTER_NEAREST) > 0)


def joined(seen: Sequence[Seen], scale: float) -> Seen:
    """One of several, all as the first lies, ``scale`` px/mm: where some are unclear the others tell.

    Where all are clear they count alike; where they contradict each other
    then and nothing says which is wrong, the place is neither sheet nor
    opening, and doubtful.
    """
    counts = _counts(seen, scale)
    total = np.zeros(seen[0].share.shape, np.float32)
    for one, count in zip(seen, counts, strict=True):
        total += count * np.clip(one.share - np.float32(one.half - AT_THE_EDGE), -0.25, 1.25)
    share, blur = total / np.sum(counts, axis=0), max(s.blur for s in seen)
    return replace(
        seen[0],
        share=share,
        half=AT_THE_EDGE,
        # an edge is as wide as in the worst of them: they lie on each other to a fraction of a pixel only
        blur=blur,
        wider=wider_at([share], blur),
        by_colour=any(s.by_colour for s in seen),
        sharpened=any(s.sharpened for s in seen),
        overexposed=any(s.overexposed for s in seen),
        hidden=None,
    )


def _counts(seen: Sequence[Seen], scale: float) -> list[Floats32]:
    """For each (h, w) how much its pixels count: hardly where they are unclear or wrong."""
    import cv2

    shrink = min(1.0, _FINE / scale)
    small = [_smaller(s.share, shrink) for s in seen]
    unclear = [unclear_mask(share, scale * shrink) for share in small]
    odd = [False if s.odd is None else _smaller(s.odd.astype(np.float32), shrink) > 0.5 for s in seen]
    unclear = [mask | strange for mask, strange in zip(unclear, odd, strict=True)]
    hidden = [None if s.hidden is None else _smaller(s.hidden.astype(np.float32), shrink) > 0.2 for s in seen]
    wrong = _wrong(seen, small, unclear, hidden, scale * shrink)
    spread = 2 * max(1, round(_NEAR * scale * shrink)) + 1
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (spread, spread))
    found = []
    for one, bad, wrongly in zip(seen, unclear, wrong, strict=True):
        spoilt = cv2.dilate((_closed_in(bad) | wrongly).astype(np.uint8), kernel)
        soft = cv2.GaussianBlur(1 - spoilt.astype(np.float32), (0, 0), _FADE * scale * shrink / 2) * (
            1 - spoilt
        )
        counts = cv2.resize(soft.astype(np.float32), one.share.shape[1::-1], interpolation=cv2.INTER_LINEAR)
        if one.hidden is not None:
            # a line hides what lies under it, not what lies beside it
            counts[one.hidden] = 0
        found.append(np.asarray(np.maximum(counts, np.float32(_LEAST)), np.float32))
    return found


def _wrong(
    seen: Sequence[Seen], shares: list[Floats32], unclear: list[Mask], hidden: list[Mask | None], scale: float
) -> list[Mask]:
    """For each of several (h, w) where it contradicts the others and is the one that is wrong.

    A glint, a finger, a soft shadow has something unclear around it: who has
    more of that there is wrong. Of sharp ones, a shadow on a dark sheet or
    what is printed on the table hides an opening, and nothing makes one: on a
    dark sheet, and on a mat, who sees an opening is right.
    """
    import cv2
    from scipy import ndimage

    known = [s.copy() for s in shares]
    for share, mask in zip(known, hidden, strict=True):
        if mask is not None:
            share[mask] = np.nan
    with np.errstate(all="ignore"):
        apart = np.nan_to_num(np.fmax.reduce(known) - np.fmin.reduce(known)) > _CONTRADICT
    size = max(3, round(_SHARP * scale) | 1)
    apart = cv2.morphologyEx(apart.astype(np.uint8), cv2.MORPH_OPEN, np.ones((size, size), np.uint8))
    labels, _ = ndimage.label(cv2.dilate(apart, np.ones((size, size), np.uint8)))
    wrong = [np.zeros(apart.shape, bool) for _ in seen]
    reach = round(_AROUND * scale)
    open_wins = all(s.lighter for s in seen) or any(m is not None for m in hidden)
    for number, box in enumerate(ndimage.find_objects(labels), start=1):
        window = tuple(slice(max(0, b.start - reach), b.stop + reach) for b in box)
        own = labels[window] == number
        ring = cv2.dilate(own.astype(np.uint8), np.ones((2 * reach + 1,) * 2, np.uint8)) > 0
        trouble = [float(m[window][ring].mean()) for m in unclear]
        means = [
            float(np.nanmean(k[window][own])) if np.isfinite(k[window][own]).any() else np.nan for k in known
        ]
        for i in range(len(seen)):
            unsure = trouble[i] > min(trouble) + _MORE
            shut = (
                open_wins
                and max(trouble) - min(trouble) <= _MORE
                and means[i] < np.nanmax(means) - _CONTRADICT / 2
            )
            if unsure or shut:
                wrong[i][window] |= own
    return wrong


def _closed_in(mask: Mask) -> Mask:
    """What is unclear with all that it closes around: in the middle of a glint everything is as bright as an opening."""
    from scipy.ndimage import binary_fill_holes

    return np.asarray(binary_fill_holes(mask), bool)


def _quarters(first: Floats32) -> tuple[int, ...]:
    square = abs(first.shape[0] / first.shape[1] - 1) < _SQUARE
    return (0, 1, 2, 3) if square else (0, 2)


def _smaller(plane: Floats32, by: float) -> Floats32:
    import cv2

    size = max(8, round(plane.shape[1] * by)), max(8, round(plane.shape[0] * by))
    return np.asarray(cv2.resize(plane, size, interpolation=cv2.INTER_AREA), np.float32)


def _onto(plane: NDArray[Any], turned: Turned, shape: tuple[int, ...]) -> NDArray[Any]:
    """The plane turned over, then by quarters to the left, at (h, w) ``shape``."""
    import cv2

    own = np.rot90(plane[:, ::-1] if turned[1] else plane, turned[0])
    if own.shape[:2] == tuple(shape[:2]):
        return np.ascontiguousarray(own)
    fewer = own.shape[0] > shape[0]
    how = cv2.INTER_AREA if fewer else cv2.INTER_LINEAR
    return np.asarray(cv2.resize(np.ascontiguousarray(own), (shape[1], shape[0]), interpolation=how))


def _alike(one: Floats32, two: Floats32) -> float:
    """Correlation of two planes, -1..1."""
    a, b = (np.clip(v, 0, 1).ravel() for v in (one, two))
    if a.std() < 1e-6 or b.std() < 1e-6:
        return 0.0
    return float(np.corrcoef(a, b)[0, 1])
