"""What a sheet lies on, as it shows around it: print as dark as the sheet, of which no edge is told from the sheet's own."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from strata.tracing.fields import logarithm
from strata.tracing.light import curve
from strata.tracing.openness import Seen, Sheet
from strata.tracing.straighten import in_picture, straighten

_PER_MM, _AROUND, _CLEAR = 4.0, 20.0, 1.5
# px/mm, mm around the sheet that are looked at, mm beside it that are not
_FINE, _AS_THE_SHEET = 3.0, 0.5
# mm: letters and their strokes are finer; how far on the way from table to sheet a mark is taken for sheet
_BLOCK, _MARKED, _PRINTED, _LEAST_BLOCKS = 8.0, 0.02, 0.6, 20
# mm; share of a block that is marked where it has print; share of blocks where the table has; blocks that tell
_DARK = 1.0
# of 255


def is_printed(sheet: Sheet, seen: Seen) -> bool:
    """Whether fine marks that look like the sheet are all over the table: letters of a newspaper, a printed cloth.

    A ruler beside it, a second sheet and a shadow are in few places or are no fine marks.
    """
    import cv2

    around = straighten(sheet.rgb, sheet.seat, sheet.width, sheet.height, _PER_MM, _AROUND)
    known = _shown(sheet, around.shape[:2])
    way = float(np.median(seen.contrast))
    light = logarithm(cv2.LUT(cv2.cvtColor(around, cv2.COLOR_RGB2GRAY), curve(of_light=True)), _DARK)
    # as if openings were lighter: print is then darker than the table around it
    light = light if way > 0 else -light
    size = round(_FINE * _PER_MM) | 1
    table = cv2.morphologyEx(light, cv2.MORPH_CLOSE, np.ones((size, size), np.uint8))
    marks = known & (table - light > _AS_THE_SHEET * abs(way))
    return _all_over(marks, known)


def _shown(sheet: Sheet, shape: tuple[int, ...]) -> NDArray[np.bool_]:
    """(h, w) what lies beside the sheet and in the picture."""
    import cv2

    # a place a mm is enough to know where the picture ends
    high, wide = (max(2, round(n / _PER_MM)) for n in shape)
    x = ((np.arange(wide) + 0.5) / wide * (sheet.width + 2 * _AROUND) - _AROUND) / sheet.width
    y = ((np.arange(high) + 0.5) / high * (sheet.height + 2 * _AROUND) - _AROUND) / sheet.height
    at = in_picture(sheet.seat, np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)).reshape(high, wide, 2)
    within = ((at > 1) & (at < np.array(sheet.rgb.shape[1::-1]) - 1)).all(axis=2).astype(np.uint8)
    beside = cv2.resize(within, shape[::-1], interpolation=cv2.INTER_NEAREST) > 0
    rim = round((_AROUND - _CLEAR) * _PER_MM)
    beside[rim:-rim, rim:-rim] = False
    return np.asarray(beside)


def _all_over(marks: NDArray[np.bool_], known: NDArray[np.bool_]) -> bool:
    """Whether most blocks of what is known have marks."""
    side = round(_BLOCK * _PER_MM)
    high, wide = (n // side * side for n in marks.shape)

    def shares(mask: NDArray[np.bool_]) -> NDArray[np.float64]:
        blocks = mask[:high, :wide].reshape(high // side, side, wide // side, side)
        return np.asarray(blocks.mean(axis=(1, 3)))

    seen, marked = shares(known), shares(marks)
    told = seen > 0.5
    if told.sum() < _LEAST_BLOCKS:
        return False
    return bool((marked[told] > _MARKED * seen[told]).mean() > _PRINTED)
