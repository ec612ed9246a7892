"""Where the sheet lies in the picture: the table's light, the sheet apart from it, its four corners."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TypeGuard

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import LinearRing

from strata.tracing.candidates import borne_out, four_sides, unlike
from strata.tracing.quads import clockwise, crossing, quad_area
from strata.tracing.sides import line_through
from strata.tracing.smooth import smooth_model

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
_SMALL = 1000
# px of the longer side of the picture in which the sheet is looked for
_FRAME = 0.03
# share of the picture's sides that counts as its frame
_LEAST_STRANGE = 10
# of 255: below it the grain of a table is told apart, not a sheet
_FINE = (11, 15)
# px of the small copy: what is looked past
_BORNE_OUT, _CLEARLY_BETTER = 0.6, 0.12
# share of four sides that are seen, and by which one finding is better than another
_WITHIN, _RIM, _WINDOW, _WINDOWS = 0.985, 6, 8, 4
# of a paper's size, px that are its rim, px round an opening, openings that make a sheet of a thing on paper
_UNLIKE, _CLEARLY_UNLIKE = 0.1, 0.03
# logarithm by which proportions may be off as they are seen, and more than another's
_SEVERAL, _EDGE_PX, _STRAIGHT, _MOSTLY = 4, 3, 1.5, 0.6
# things side by side; px of the small copy; px by which an outline leaves a straight side, and share of a side that must not
_LEAST_SHEET = 0.06
# share of the picture that a sheet takes at least


@dataclass(frozen=True)
class Found:
    """``corners`` (4, 2) px of the full picture, clockwise from top left; ``sure`` when they fit the sheet well.

    ``printed``: found only when fine lines were looked past, as those of a cutting mat.
    """

    corners: Floats
    scale: float
    sure: bool
    whole: bool = False
    printed: bool = False


def find_corners(rgb: NDArray[np.uint8], proportion: float | None = None, windowed: bool = True) -> Found:
    """The sheet's corners to about a pixel of a small copy; the whole picture where no sheet stands out.

    Where it does not stand out clearly, what is finer than a sheet is looked
    past: the lines and figures of a mat; then four straight sides are looked
    for in what does, of the sheet's ``proportion`` (width by height) where it
    is known. A sheet on a sheet of paper is the sheet, where what is looked
    for is ``windowed`` as stencils are; a picture inked on a card is no sheet.
    """
    import cv2

    height, width = rgb.shape[:2]
    scale = min(1.0, _SMALL / max(height, width))
    small = cv2.resize(rgb, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    strange = _strangeness(small)
    thing = _thing(strange)
    plain = _standing_out(thing, scale)
    if not _fits(plain, proportion):
        # what stands out most may be but the lit half of a sheet, or the ink on it
        faint = _thing(strange, faint=True)
        other = _standing_out(faint, scale)
        if _fits(other, proportion):
            thing, plain = faint, other
    if not _fits(plain, proportion) or _at_the_frame(plain, small):
        one = _parted(strange, scale, proportion)
        if one is not None:
            return one
    if thing is not None and plain is not None and plain.sure:
        better = _by_sides(thing, scale, proportion, plain)
        return better or (_upon(small, thing, plain, scale) if windowed else None) or plain
    for fine in _FINE:
        found = _standing_out(_thing(_strangeness(cv2.medianBlur(small, fine))), scale, past=fine)
        if found is not None and found.sure:
            return replace(found, printed=True)
    sides = None if thing is None else _by_sides(thing, scale, proportion)
    if sides is not None and (sides.sure or plain is None):
        return sides
    return plain or Found(
        np.array([[0, 0], [width, 0], [width, height], [0, height]], float), 1.0, sure=False, whole=True
    )


def _standing_out(thing: Thing | None, scale: float, past: int = 0) -> Found | None:
    """The largest thing that is unlike the table, if it has the shape of a sheet; ``past``: px of what touches it and
    is none of it."""
    import cv2

    if thing is None:
        return None
    own, box = thing
    outline, _ = cv2.findContours(own, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if past:
        whole = cv2.drawContours(np.zeros(own.shape, np.uint8), [max(outline, key=len)], -1, 1, cv2.FILLED)
        round_ = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * past + 1, 2 * past + 1))
        outline, _ = cv2.findContours(
            cv2.morphologyEx(whole, cv2.MORPH_OPEN, round_), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE
        )
        if not outline:
            return None
    hull = cv2.convexHull(max(outline, key=len))
    area = float(cv2.contourArea(hull))
    quad = _quad(hull)
    fit = area / max(1.0, float(cv2.contourArea(quad.astype(np.float32))))
    if area < _LEAST_SHEET * own.size or not 0.86 < fit < 1.12:
        return None
    # a figure of a mat or a thumb that stands out of a side lifts a hull, and not most of the side
    along, straight = _crossed(max(outline, key=len).reshape(-1, 2).astype(float), quad)
    corners = clockwise(((along if straight > _MOSTLY else quad) + 0.5) / scale - 0.5)
    return Found(corners, 1 / scale, sure=0.96 < fit < 1.045 and not _fills(box, own.shape))


def _fits(found: Found | None, proportion: float | None) -> TypeGuard[Found]:
    """Whether a sheet stands out clearly, and has the proportion that it is known to have."""
    return found is not None and found.sure and unlike(found.corners, proportion) < _UNLIKE


def _at_the_frame(found: Found, small: NDArray[np.uint8]) -> bool:
    """Whether a corner of what was found lies at the picture's edge: something may touch the sheet that runs out of it."""
    far = np.array(small.shape[1::-1], float) * found.scale - _EDGE_PX * found.scale
    return bool(((found.corners < _EDGE_PX * found.scale) | (found.corners > far)).any())


def _parted(strange: Floats32, scale: float, proportion: float | None) -> Found | None:
    """The sheet of several that lie side by side, where a line of the table shows between them: the largest that has its shape
    and ``proportion``."""
    for thing in _things(strange):
        one = _standing_out(thing, scale)
        if not _fits(one, proportion):
            continue
        # bold lines of a mat that run into a sheet draw its hull out
        seen = borne_out(thing[0], (one.corners + 0.5) * scale - 0.5)
        if seen is not None and seen > _BORNE_OUT:
            return one
    return None


Thing = tuple[NDArray[np.uint8], NDArray[np.int32]]
# a mask (h, w) of 0 and 1, and its box (left, top, width, height, ..)


def _thing(strange: Floats32, faint: bool = False) -> Thing | None:
    """The largest connected thing that is unlike the table, or that is so only ``faint``ly; None where nothing is."""
    return next(iter(_things(strange, faint, closed=True)), None)


def _things(strange: Floats32, faint: bool = False, closed: bool = False) -> list[Thing]:
    """Connected things that are unlike the table, the largest first; ``closed``: looking past fine lines through them."""
    import cv2

    plane = np.rint(strange * 255).astype(np.uint8)
    level, _ = cv2.threshold(plane, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    if faint:
        level, _ = cv2.threshold(plane[plane <= level][None], 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    mask = (plane > level).astype(np.uint8)
    if closed:
        kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (5, 5))
        mask = cv2.morphologyEx(mask, cv2.MORPH_CLOSE, kernel)
    _, labels, stats, _ = cv2.connectedComponentsWithStats(mask, connectivity=8 if closed else 4)
    if level < _LEAST_STRANGE:
        return []
    sizes = stats[1:, cv2.CC_STAT_WIDTH] * stats[1:, cv2.CC_STAT_HEIGHT]
    largest = 1 + np.argsort(-sizes, kind="stable")[:_SEVERAL]
    return [((labels == k).astype(np.uint8), stats[k]) for k in largest]


def _by_sides(
    thing: Thing, scale: float, proportion: float | None, other: Found | None = None
) -> Found | None:
    """A sheet whose outline is not its own alone: something touches it, or a corner lies outside the picture.

    None where an ``other`` finding is borne out by the outline about as well.
    """
    own, _ = thing
    four = four_sides(own, proportion)
    if four is None or quad_area(four.corners) < _LEAST_SHEET * own.size:
        return None
    if other is not None:
        seen = borne_out(own, (other.corners + 0.5) * scale - 0.5)
        if seen is not None and four.seen < seen + _CLEARLY_BETTER:
            return None
        if unlike(four.corners, proportion) > unlike(other.corners, proportion) + _CLEARLY_UNLIKE:
            # half a sheet in the light has sides that are clearer than those of the whole
            return None
    corners = clockwise((four.corners + 0.5) / scale - 0.5)
    return Found(corners, 1 / scale, sure=four.seen > _BORNE_OUT)


def _upon(small: NDArray[np.uint8], plain: Thing, paper: Found, scale: float) -> Found | None:
    """A sheet that lies on paper, where what was found is the paper: it has openings that show it, openings have none."""
    import cv2

    if _windows(plain[0]) >= _WINDOWS:
        return None
    quad = (paper.corners + 0.5) * scale - 0.5
    middle = quad.mean(axis=0)
    inner = cv2.fillConvexPoly(
        np.zeros(small.shape[:2], np.uint8), np.rint(middle + _WITHIN * (quad - middle)).astype(np.int32), 1
    )
    core = cv2.erode(inner, np.ones((2 * _RIM + 1, 2 * _RIM + 1), np.uint8))
    strange = np.where(inner > 0, _strangeness(small, (inner - core) > 0), 0).astype(np.float32)
    thing = _thing(strange)
    if thing is None:
        return None
    own, _ = thing
    outlines, _ = cv2.findContours(own, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    hull = cv2.convexHull(max(outlines, key=len))
    area, four = float(cv2.contourArea(hull)), _quad(hull)
    fit = area / max(1.0, quad_area(four))
    if _windows(own) < _WINDOWS or not 0.96 < fit < 1.045 or area < 0.15 * quad_area(quad):
        return None
    return Found(clockwise((four + 0.5) / scale - 0.5), 1 / scale, sure=True)


def _windows(thing: NDArray[np.uint8]) -> int:
    """How many openings a thing (h, w, 0 or 1) has."""
    import cv2

    outlines, levels = cv2.findContours(thing, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    return sum(int(n[3] >= 0 and len(o) >= _WINDOW) for o, n in zip(outlines, levels[0], strict=True))


def _fills(box: NDArray[np.int32], shape: tuple[int, ...]) -> bool:
    """Whether a thing (left, top, width, height, ..) touches three sides of the picture or more: that is the table."""
    left, top, width, height = (int(v) for v in box[:4])
    sides = (left, top, shape[1] - left - width, shape[0] - top - height)
    return bool(sum(side <= 1 for side in sides) >= 3)


def _strangeness(small: NDArray[np.uint8], frame: NDArray[np.bool_] | None = None) -> Floats32:
    """How unlike the table each pixel is, 0..1; the table is known from the picture's frame, or where ``frame`` is."""
    import cv2

    height, width = small.shape[:2]
    if frame is None:
        frame = np.ones((height, width), bool)
        rim = max(3, int(_FRAME * min(height, width)))
        frame[rim:-rim, rim:-rim] = False
    worst = np.zeros((height, width), np.float32)
    for channel in range(3):
        values = np.log(cv2.GaussianBlur(small[..., channel], (0, 0), 1).astype(np.float32) / 255 + 0.04)
        worst = np.maximum(worst, np.abs(values - smooth_model(values, frame)))
    return np.asarray(np.clip(worst / 1.6, 0, 1), np.float32)


def _quad(hull: NDArray[np.int32]) -> Floats:
    """Four corners of a convex outline: its straight sides, crossed; corners may be rounded."""
    import cv2

    length = cv2.arcLength(hull, True)
    rough = np.asarray(cv2.boxPoints(cv2.minAreaRect(hull)), float)
    for share in np.linspace(0.005, 0.1, 40):
        simple = cv2.approxPolyDP(hull, share * length, True)
        if len(simple) == 4:
            rough = np.asarray(simple.reshape(4, 2), float)
        if len(simple) <= 4:
            break
    dense = shapely.segmentize(LinearRing(hull.reshape(-1, 2)), 1.0)
    return _crossed(shapely.get_coordinates(dense), rough)[0]


def _crossed(points: Floats, rough: Floats) -> tuple[Floats, float]:
    """Rough corners moved to where the lines cross that most points (n, 2) run along, side by side; and the share of a side,
    at least, that is on its line. As they are, and nought, where a side has hardly any points or they would move far."""
    run = np.roll(rough, -1, axis=0) - rough
    lengths = np.hypot(*run.T)
    lines, shares = [], []
    for start, side, length in zip(rough, run, lengths, strict=True):
        along = (points - start) @ side / length**2
        off = np.abs((points - start) @ np.array([side[1], -side[0]])) / length
        own = points[(along > 0.15) & (along < 0.85) & (off < 0.08 * length)]
        if len(own) < max(10, 0.4 * length):
            return rough, 0.0
        middle, direction, rest = line_through(own)
        lines.append((middle, direction))
        shares.append(float((np.abs(rest) < _STRAIGHT).mean()))
    around = list(zip([lines[-1], *lines[:-1]], lines, strict=True))
    if min(abs(u[0] * v[1] - u[1] * v[0]) for (_, u), (_, v) in around) < 0.2:
        return rough, 0.0
    found = np.array([crossing(one, other) for one, other in around])
    if float(np.abs(found - rough).max()) > 0.12 * float(lengths.mean()):
        return rough, 0.0
    return found, min(shares)
