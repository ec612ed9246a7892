"""Where the sheet lies in the picture: the table's light, the sheet apart from it, its four corners."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from itertools import product
from typing import TypeGuard

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import LinearRing

from strata.tracing.alongside import side_within
from strata.tracing.candidates import borne_out, four_sides, unlike
from strata.tracing.quads import clockwise, crossing, quad_area
from strata.tracing.sides import line_through
from strata.tracing.things import Floats32, Thing, strangeness, thing_of, things_of

Floats = NDArray[np.float64]
_SMALL = 1000
# px of the longer side of the picture in which the sheet is looked for
_FINE = (11, 15)
# px of the small copy: what is looked past
_BORNE_OUT, _CLEARLY_BETTER = 0.6, 0.12
# share of four sides that are seen, and by which one finding is better than another
_WITHIN, _RIM, _WINDOW, _WINDOWS = 0.985, 6, 8, 4
# of a paper's size, px that are its rim, px round an opening, openings that make a sheet of a thing on paper
_UNLIKE, _CLEARLY_UNLIKE = 0.1, 0.03
# logarithm by which proportions may be off as they are seen, and more than another's
_EDGE_PX, _STRAIGHT, _MOSTLY = 3, 1.5, 0.6
# px of the small copy; px by which an outline leaves a straight side, and share of a side that must not
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

    scale = min(1.0, _SMALL / max(rgb.shape[:2]))
    small = cv2.resize(rgb, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    found = _found(small, scale, proportion, windowed)
    if found is None:
        height, width = rgb.shape[:2]
        all_of_it = np.array([[0, 0], [width, 0], [width, height], [0, height]], float)
        return Found(all_of_it, 1.0, sure=False, whole=True)
    if proportion is None or not found.sure or _fits(found, proportion):
        return found
    corners = side_within(small, (found.corners + 0.5) * scale - 0.5, proportion)
    return found if corners is None else replace(found, corners=(corners + 0.5) / scale - 0.5)


def _found(small: NDArray[np.uint8], scale: float, proportion: float | None, windowed: bool) -> Found | None:
    """The sheet in a small copy of the picture; None where none stands out."""

    strange = strangeness(small)
    thing = thing_of(strange)
    plain = _standing_out(thing, scale)
    for other in _other_things(small, strange, by_colour=proportion is not None):
        if _within(plain, small, proportion):
            break
        found = _standing_out(other, scale)
        if _fits(found, proportion) and not (_fits(plain, proportion) and _at_the_frame(found, small)):
            thing, plain = other, found
    if not _within(plain, small, proportion):
        one = _parted(strange, scale, proportion)
        if one is not None:
            return one
    if thing is not None and plain is not None and plain.sure:
        better = _by_sides(thing, scale, proportion, plain)
        return better or (_upon(small, thing, plain, scale) if windowed else None) or plain
    on_a_mat = _on_a_mat(small, scale, proportion)
    if on_a_mat is not None:
        return on_a_mat
    sides = None if thing is None else _by_sides(thing, scale, proportion)
    if sides is not None and (sides.sure or plain is None):
        return sides
    return plain


def _on_a_mat(small: NDArray[np.uint8], scale: float, proportion: float | None) -> Found | None:
    """The sheet on a mat, by what is left when its lines are looked past: as what was found clearly at first, but where one
    lies within the picture and has the proportion that it is known to have."""
    import cv2

    clear: list[Found] = []
    ways = (False,) if proportion is None else (False, True)
    for fine, of_colour in product(_FINE, ways):
        looked_past = strangeness(cv2.medianBlur(small, fine), of_colour=of_colour)
        found = _standing_out(thing_of(looked_past), scale, past=fine)
        if found is None or not found.sure or (of_colour and not _fits(found, proportion)):
            continue
        clear.append(replace(found, printed=True))
        if _within(found, small, proportion):
            return clear[-1]
    return clear[0] if clear else None


def _other_things(small: NDArray[np.uint8], strange: Floats32, by_colour: bool) -> Iterator[Thing | None]:
    """What may be the sheet where what stands out most is but its lit half, or the ink on it, or a shadow that lies across.

    ``by_colour`` alone it may be anything beside the sheet as well: only where its proportion is known.
    """
    yield thing_of(strange, faint=True)
    if by_colour:
        yield thing_of(strangeness(small, of_colour=True))


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
    if area < _LEAST_SHEET * own.size:
        # a speck has no four corners either
        return None
    quad = _quad(hull)
    fit = area / max(1.0, float(cv2.contourArea(quad.astype(np.float32))))
    if not 0.86 < fit < 1.12:
        return None
    # a figure of a mat or a thumb that stands out of a side lifts a hull, and not most of the side
    along, straight = _crossed(max(outline, key=len).reshape(-1, 2).astype(float), quad)
    corners = clockwise(((along if straight > _MOSTLY else quad) + 0.5) / scale - 0.5)
    return Found(corners, 1 / scale, sure=0.96 < fit < 1.045 and not _fills(box, own.shape))


def _fits(found: Found | None, proportion: float | None) -> TypeGuard[Found]:
    """Whether a sheet stands out clearly, and has the proportion that it is known to have."""
    return found is not None and found.sure and unlike(found.corners, proportion) < _UNLIKE


def _within(found: Found | None, small: NDArray[np.uint8], proportion: float | None) -> bool:
    """Whether it fits, and lies within the picture."""
    return _fits(found, proportion) and not _at_the_frame(found, small)


def _at_the_frame(found: Found, small: NDArray[np.uint8]) -> bool:
    """Whether a corner of what was found lies at the picture's edge: something may touch the sheet that runs out of it."""
    far = np.array(small.shape[1::-1], float) * found.scale - _EDGE_PX * found.scale
    return bool(((found.corners < _EDGE_PX * found.scale) | (found.corners > far)).any())


def _parted(strange: Floats32, scale: float, proportion: float | None) -> Found | None:
    """The sheet of several that lie side by side, where a line of the table shows between them: the largest that has its shape
    and ``proportion``."""
    for thing in things_of(strange):
        one = _standing_out(thing, scale)
        if not _fits(one, proportion):
            continue
        # bold lines of a mat that run into a sheet draw its hull out
        seen = borne_out(thing[0], (one.corners + 0.5) * scale - 0.5)
        if seen is not None and seen > _BORNE_OUT:
            return one
    return None


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
    strange = np.where(inner > 0, strangeness(small, (inner - core) > 0), 0).astype(np.float32)
    thing = thing_of(strange)
    if thing is None:
        return None
    own, _ = thing
    outlines, _ = cv2.findContours(own, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    hull = cv2.convexHull(max(outlines, key=len))
    area = float(cv2.contourArea(hull))
    if _windows(own) < _WINDOWS or area < 0.15 * quad_area(quad):
        return None
    four = _quad(hull)
    if not 0.96 < area / max(1.0, quad_area(four)) < 1.045:
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
