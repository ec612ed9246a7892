"""What a sheet lies on, as it shows around it: marks in the sheet's own tone, lines of a mat or print, of which no edge is
told from the sheet's."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from strata.tracing.fields import logarithm
from strata.tracing.light import curve
from strata.tracing.straighten import Seat, shown, straighten

_PER_MM, _AROUND, _CLEAR = 4.0, 20.0, 1.5
# px/mm, mm around the sheet that are looked at, mm beside it that are not
_FINE, _AS_THE_SHEET = 3.0, 0.5
# mm: letters, strokes and lines are finer; how far on the way from table to sheet a mark is taken for sheet
_BLOCK, _MARKED, _LEAST_BLOCKS = 8.0, 0.02, 20
# mm; share of a block that is marked where it has print; blocks that tell
_DARK = 1.0
# of 255
SOME, PRINTED = 0.12, 0.6
# share of blocks with marks from which a mat is looked for, and from which what is no mat has print all over


def marked(rgb: NDArray[np.uint8], seat: Seat, width: float, height: float) -> float:
    """In what share of its surroundings, 0..1, a sheet of ``width`` x ``height`` mm has fine marks around it that look like it.

    A ruler beside it, a second sheet and a shadow are in few places or are no fine marks.
    """
    import cv2

    around = straighten(rgb, seat, width, height, _PER_MM, _AROUND)
    beside = shown(seat, rgb.shape, (width, height), around.shape[:2], _AROUND)
    near, rim = (round((_AROUND - mm) * _PER_MM) for mm in (_CLEAR, 0))
    beside[near:-near, near:-near] = False
    if not beside.any():
        return 0.0
    light = logarithm(cv2.LUT(around, curve(of_light=True)), _DARK)
    # most of a sheet is plastic; what tells it from the table is the channel in which they differ most
    ways = np.median(light[beside], axis=0) - np.median(light[rim:-rim, rim:-rim], axis=(0, 1))
    most = int(np.argmax(np.abs(ways)))
    way, light = float(ways[most]), light[..., most]
    # as if the table were lighter: marks are then darker than what is around them
    light = light if way > 0 else -light
    size = round(_FINE * _PER_MM) | 1
    table = cv2.morphologyEx(light, cv2.MORPH_CLOSE, np.ones((size, size), np.uint8))
    return _all_over(beside & (table - light > _AS_THE_SHEET * abs(way)), beside)


def _all_over(marks: NDArray[np.bool_], known: NDArray[np.bool_]) -> float:
    """The share of blocks of what is known that have marks."""
    side = round(_BLOCK * _PER_MM)
    high, wide = (n // side * side for n in marks.shape)

    def shares(mask: NDArray[np.bool_]) -> NDArray[np.float64]:
        blocks = mask[:high, :wide].reshape(high // side, side, wide // side, side)
        return np.asarray(blocks.mean(axis=(1, 3)))

    seen, with_marks = shares(known), shares(marks)
    told = seen > 0.5
    if told.sum() < _LEAST_BLOCKS:
        return 0.0
    return float((with_marks[told] > _MARKED * seen[told]).mean())
