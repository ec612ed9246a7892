"""Where the sheet of a photograph lies, how large it is, and what lies around it."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from strata.errors import BadFile
from strata.tracing.beneath import PRINTED, SOME, marked
from strata.tracing.corners import Found, find_corners
from strata.tracing.light import Edges
from strata.tracing.mat import find_printed
from strata.tracing.openness import Sheet
from strata.tracing.quads import clockwise, quad_area
from strata.tracing.straighten import Seat, aspect, per_mm, refine, seat_from

_PAST, _MOST_OFF = 0.008, 0.004
# shares of the longer side of a picture: lines of a mat are finer; two findings of a corner differ by no more
GUESSED_LONG_SIDE = 150.0
# mm, of a sheet of which nothing is known
_MOST_UNLIKE = 0.08
# natural logarithm by which proportions may be off
_UNSURE = "The corners of the sheet were not clear; see whether they sit right."
_UNLIKE = "The sheet in the picture has other proportions than the size given, so that no measure of it is right: see whether its corners sit right and the size is as measured."


@dataclass(frozen=True)
class Seated:
    """A sheet where it lies in its photograph; ``said`` of how it lies, ``sized`` of how large it was taken to be;
    ``on_print``: what it lies on has print all over that looks like it."""

    sheet: Sheet
    said: tuple[str, ...]
    sized: tuple[str, ...]
    on_print: bool = False

    @property
    def unlike(self) -> bool:
        """Whether it has other proportions than it is known to have: its corners or its size are wrong."""
        return _UNLIKE in self.sized

    @property
    def unsure(self) -> bool:
        """Whether its corners may lie elsewhere."""
        return _UNSURE in self.said


def seated(
    rgb: NDArray[np.uint8],
    width: float | None = None,
    height: float | None = None,
    corners: NDArray[np.float64] | None = None,
) -> Seated:
    """The sheet in a picture (h, w, 3); ``width``, ``height`` mm and ``corners`` (4, 2) px where they are known.

    Raises BadFile for corners that span no sheet.
    """
    seat, said, lines = _seat(rgb, corners, width / height if width and height else None)
    width, height, seat, sized = _sized(seat, rgb, width, height, corners is not None)
    # where a sheet stands out clearly, lines that cut its openings do not hide where it lies
    beneath = marked(rgb, seat, width, height)
    printed = find_printed(rgb, seat.corners, width, height) if lines or beneath > SOME else None
    sheet = Sheet(rgb, seat, width, height, per_mm(seat, width, height), printed)
    return Seated(sheet, tuple(said), tuple(sized), printed is None and beneath > PRINTED)


def _seat(
    rgb: NDArray[np.uint8], corners: NDArray[np.float64] | None, proportion: float | None
) -> tuple[Seat, list[str], bool]:
    """The seat, what is to be said of it, and whether lines on the table are to be looked for."""
    height, width = rgb.shape[:2]
    found = find_corners(rgb, proportion)
    if corners is not None:
        return *_given(rgb, corners), found.printed or not found.sure
    if found.whole:
        return (
            seat_from(found.corners, width, height),
            ["The sheet does not stand out from what it lies on; the whole picture was taken as the sheet."],
            False,
        )
    seat = _past_lines(rgb, found) if found.printed else refine(rgb, found.corners, found.scale)
    sure = seat.sure and found.sure
    said = [] if sure else [_UNSURE]
    return seat, said, found.printed


def _past_lines(rgb: NDArray[np.uint8], found: Found) -> Seat:
    """The seat of a sheet on a mat: by what is left when its lines are looked past, then by the picture itself."""
    rough = refine(_looked_past(rgb), found.corners, found.scale, lines=True)
    fine = refine(rgb, rough.corners, 0.1, lines=True)
    if fine.sure and float(np.abs(fine.corners - rough.corners).max()) < _MOST_OFF * max(rgb.shape[:2]):
        rough = fine
    # lines across its edges spoil what they tell of how light was mixed, and only a camera sees a mat
    return replace(rough, told=Edges())


def _looked_past(rgb: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """The picture without what is finer than a sheet's sides."""
    import cv2

    return np.asarray(cv2.medianBlur(rgb, round(_PAST * max(rgb.shape[:2])) // 2 * 2 + 1), np.uint8)


def _given(rgb: NDArray[np.uint8], corners: NDArray[np.float64]) -> tuple[Seat, list[str]]:
    """A person sets corners to a few pixels; the sheet's sides, where they are clear, do the rest."""
    height, width = rgb.shape[:2]
    turned = clockwise(corners)
    if not np.isfinite(corners).all() or quad_area(corners) < 0.002 * width * height:
        raise BadFile("These four corners do not span a sheet.", "corners")
    first = int(np.argmin(np.hypot(*(turned - corners[0]).T)))
    turned = np.roll(turned, -first, axis=0)
    reach = max(1.0, 0.004 * max(width, height))
    seat = refine(rgb, turned, reach)
    near = seat.sure and float(np.abs(seat.corners - turned).max()) < 2.5 * reach + 4
    return (seat if near else seat_from(turned, width, height)), []


def _upright(seat: Seat, seen: float, wanted: float, by_hand: bool) -> tuple[Seat, float]:
    """The seat with the sheet's own top as its top, and its proportions then.

    Corners of the right proportions are taken in the order in which they come.
    A sheet that lies on its side is turned by a quarter; which way, the
    photograph does not say. Where a person has pulled corners about, each to
    the nearest corner of the sheet, it is the way that leaves the top uppermost.
    """
    if abs(np.log(seen * wanted)) + 0.05 >= abs(np.log(seen / wanted)):
        return seat, seen
    if not by_hand:
        return seat.turned(1), 1 / seen
    ways = [seat.turned(1), seat.turned(3)]
    return min(ways, key=lambda s: float(s.corners[:2, 1].mean() - s.corners[2:, 1].mean())), 1 / seen


def _sized(
    seat: Seat, rgb: NDArray[np.uint8], width: float | None, height: float | None, by_hand: bool
) -> tuple[float, float, Seat, list[str]]:
    """Width and height in mm, and the seat turned so that the sheet's width is its top."""
    seen = aspect(seat, rgb.shape[1], rgb.shape[0])
    if width and height:
        wanted = width / height
        seat, seen = _upright(seat, seen, wanted, by_hand)
        return width, height, seat, [_UNLIKE] * bool(abs(np.log(seen / wanted)) > _MOST_UNLIKE)
    if width:
        return width, width / seen, seat, ["The height was reckoned from the picture."]
    if height:
        return height * seen, height, seat, ["The width was reckoned from the picture."]
    long = GUESSED_LONG_SIDE
    size = (long, long / seen) if seen >= 1 else (long * seen, long)
    return *size, seat, ["No size was given; the longer side was taken as 150 mm."]
