"""Where a photograph shows neither bare sheet nor opening: a shadow, glare, a finger, dirt, or no sharp edge."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from strata.tracing.smooth import smooth_model
from strata.tracing.straighten import Seat, shown

Floats32 = NDArray[np.float32]
LOW, HIGH = 0.25, 0.75
# how open what is neither looks, 0 bare sheet to 1 opening
EDGE = 0.32
# mm: an edge that is wider than that between the two is no sharp one
_LEAST_PX = 7
# px: a line of three pixels that a lens has drawn is as wide as that at a quarter of its height, and is no doubtful place
Doubt = Literal["", "unclear", "rough", "colour", "lettering", "picture", "size", "beneath"]
# none; neither sheet nor opening is seen; its area may be off; something lies in it; it looks like print; so many others are;
# the sheet does not lie so, or is not as large as it is said to be; what it lies on has print that looks like it
ENOUGH = 400
# px of sheet, or of opening, that tell what it looks like
UNSURE = 0.032
# share of its area by which an opening is likely to be off, from which it is doubtful
LEAST, SHARE = 0.15, 0.01
# mm2 of such a place from which it counts; share of an opening's area from which it is doubtful


def doubts(
    places: Sequence[Polygon], shapes: Sequence[Polygon], blinded: Sequence[Polygon] = ()
) -> tuple[list[bool], list[Polygon], list[Polygon]]:
    """For each opening (mm) whether it is doubtful; places (mm) that may be an opening and were not taken for any:
    those doubtful ``places`` that no opening has a part in; and what of the ``blinded`` places, which hide what is there,
    lies beside openings."""
    doubtful, every = [False] * len(shapes), [*places, *blinded]
    if not every or not shapes:
        return doubtful, list(places), list(blinded)
    near = shapely.STRtree(every).query([shapely.buffer(s, EDGE) for s in shapes], predicate="intersects")
    spoilt = np.zeros(len(shapes))
    of, at = near
    for i in np.unique(of).tolist():
        # what lies just outside it may be as much a part of it as what lies inside
        around = shapely.buffer(shapes[i], 3 * EDGE)
        shapely.prepare(around)
        spoilt[i] = sum(_within(every[j], around) for j in at[of == i].tolist())
    touched = set(at.tolist())
    for i, shape in enumerate(shapes):
        doubtful[i] = bool(spoilt[i] > SHARE * shape.area)
    return doubtful, [p for j, p in enumerate(places) if j not in touched], _beside(blinded, shapes)


def _beside(places: Sequence[Polygon], shapes: Sequence[Polygon]) -> list[Polygon]:
    """What of some places lies clear of all openings."""
    if not places:
        return []
    taken = shapely.union_all([shapely.buffer(s, EDGE) for s in shapes])
    return _large(shapely.difference(places, taken))


def _large(shapes: Sequence[shapely.Geometry]) -> list[Polygon]:
    """The parts of shapes that are large enough to count."""
    parts = shapely.get_parts(shapes).tolist()
    return [p for p in parts if isinstance(p, Polygon) and p.area >= LEAST]


def _within(place: Polygon, around: Polygon) -> float:
    """mm2 of a place that lie around an opening."""
    if shapely.contains_properly(around, place):
        return float(place.area)
    return float(shapely.area(shapely.intersection(place, around)))


def between(share: Floats32, scale: NDArray[np.float64]) -> list[Polygon]:
    """Places (mm) that are neither sheet nor opening over more than an edge's width.

    ``share`` (h, w): how open each pixel is; ``scale`` (x, y) px/mm.
    """
    return outlined(unclear_mask(share, float(scale[0])), scale)


def beyond(seat: Seat, photo: tuple[int, int], width: float, height: float) -> list[Polygon]:
    """Parts (mm) of a sheet of ``width`` x ``height`` mm that lie outside its photograph (height, width px)."""
    shape = max(2, round(height * _COARSE)), max(2, round(width * _COARSE))
    inside = shown(seat, photo, (width, height), shape)
    return outlined(~inside, np.array([shape[1] / width, shape[0] / height]))


def outlined(mask: NDArray[np.bool_], scale: NDArray[np.float64]) -> list[Polygon]:
    """What is true of a mask (h, w), in mm; ``scale`` (x, y) px/mm."""
    import cv2

    rings, _ = cv2.findContours(mask.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    found = [shapely.make_valid(Polygon((r.reshape(-1, 2) + 0.5) / scale)) for r in rings if len(r) >= 3]
    return _large(found)


def unclear_mask(share: Floats32, scale: float) -> NDArray[np.bool_]:
    """(h, w) what is neither sheet nor opening over more than an edge's width; ``scale`` px/mm."""
    import cv2

    soft = cv2.GaussianBlur(share, (0, 0), 0.1 * scale)
    mid = cv2.inRange(soft, LOW, HIGH)
    size = max(_LEAST_PX, round(EDGE * scale) | 1)
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    return np.asarray(cv2.morphologyEx(mid, cv2.MORPH_OPEN, kernel) > 0)


_COARSE = 4.0
# px/mm: fingers and labels are larger
_STRANGE, _SPOILT, _LEAST_SPOILT = 0.2, 0.04, 0.3
# natural logarithm of a channel's share; share of an opening; mm2


def other_colour(rgb: NDArray[np.uint8], shapes: list[Polygon], width: float, height: float) -> list[int]:
    """Openings (mm) in which something of another colour than the table's lies: a finger, ink, a label.

    ``rgb`` (h, w, 3) is the straightened sheet of ``width`` x ``height`` mm. A table has
    its colour throughout, or changes it slowly as lamps do.
    """
    import cv2

    if not shapes:
        return []
    shrink = min(1.0, _COARSE * width / rgb.shape[1])
    rgb = cv2.resize(rgb, None, fx=shrink, fy=shrink, interpolation=cv2.INTER_AREA)
    # whole pixels and blocks: by no scale that was asked for do openings lie where they show
    scale = np.array([rgb.shape[1] / width, rgb.shape[0] / height])
    owner = np.zeros(rgb.shape[:2], np.int32)
    for i, shape in enumerate(shapes, start=1):
        inner = shapely.buffer(shape, -_INSET)
        for part in shapely.get_parts(inner):
            if isinstance(part, Polygon) and not part.is_empty:
                cv2.fillPoly(owner, [np.rint(np.array(r.coords) * scale - 0.5).astype(np.int32) for r in (part.exterior, *part.interiors)], i)  # fmt: skip
    open_ = owner > 0
    if open_.sum() < ENOUGH:
        return []
    strange = strange_hue(rgb, open_) | _as_the_sheet(rgb, open_)
    own = np.bincount(owner[open_], minlength=len(shapes) + 1)
    spoilt = np.bincount(owner[open_ & strange], minlength=len(shapes) + 1)
    least = _LEAST_SPOILT * float(scale.prod())
    return [i - 1 for i in range(1, len(own)) if spoilt[i] > max(_SPOILT * own[i], min(least, 0.5 * own[i]))]


def _as_the_sheet(rgb: NDArray[np.uint8], open_: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """(h, w) what is open and yet has the sheet's hue, where the table's is another: a shadow on the sheet."""
    import cv2

    bare = cv2.erode(1 - open_.astype(np.uint8), np.ones((5, 5), np.uint8)) > 0
    # JPEG halves colour: what is thin has that of both its sides
    open_ = cv2.erode(open_.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    if min(bare.sum(), open_.sum()) < ENOUGH:
        return np.zeros(open_.shape, bool)
    hues = [h - smooth_model(h, bare) for h in _hues(rgb)]
    way = np.array([float(np.mean(h[open_])) for h in hues])
    towards = sum(h * w for h, w in zip(hues, way / max(1e-6, float(np.hypot(*way))), strict=True))
    # where much of what is open is none, most is not the table's
    table = float(np.percentile(towards[open_], 85))
    if table < _OTHER_HUE:
        return np.zeros(open_.shape, bool)
    return np.asarray(open_ & (towards < _SHEETS_OWN * table))


def strange_hue(rgb: NDArray[np.uint8], open_: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """(h, w) where a picture (h, w, 3) has another hue than the table, as it shows in the openings, has around there."""
    strange = np.zeros(rgb.shape[:2], bool)
    for hue in _hues(rgb):
        strange |= np.abs(hue - smooth_model(hue, open_)) > _STRANGE
    return strange


def _hues(rgb: NDArray[np.uint8]) -> list[Floats32]:
    """How red and how blue each pixel is beside its green (h, w), in natural logarithms: the same in any light."""
    tones = np.log(rgb.astype(np.float32) + np.float32(12))
    return [np.asarray(tones[..., c] - tones[..., 1], np.float32) for c in (0, 2)]


_OTHER_HUE, _SHEETS_OWN = 0.25, 0.3
# natural logarithm by which a table's hue is another than the sheet's; how far towards it a hue is still the sheet's, of 1
_INSET = 0.2
# mm: beside an edge colours mix
_LETTER, _LINE, _BY_THE_EDGE, _LETTERS, _UNLIKE = 4.0, 0.3, 9.0, 5, 0.06
_LEAST_LETTER, _RUN_TOGETHER = 0.5, 12.0
# mm: letters are lower than that, stand on one line, near the sheet's edge; of how many; how unlike in area; of the tallest, how
# tall others are; mm: letters that run together are no longer


def lettering(shapes: list[Polygon], width: float, height: float) -> list[int]:
    """Openings (mm) that stand in a row like small letters along the sheet's edge: a maker's name printed on it.

    On one line (small letters share their feet, whichever way the sheet lies), close together and unlike one another:
    a border of dots or leaves is of like ones, and a greeting is larger.
    """
    found: set[int] = set()
    boxes = [s.bounds for s in shapes]
    for low, high, size, far in ((1, 0, height, 2), (0, 1, width, 2)):
        small = [
            i
            for i, b in enumerate(boxes)
            if b[low + far] - b[low] < _LETTER
            and b[high + 2] - b[high] < _RUN_TOGETHER
            and min(b[low + far], size - b[low]) < _BY_THE_EDGE
        ]
        for first in small:
            tall = boxes[first][low + far] - boxes[first][low]
            for foot in (low, low + far):
                line = [
                    j
                    for j in small
                    if abs(boxes[j][foot] - boxes[first][foot]) < _LINE
                    and _LEAST_LETTER * tall < boxes[j][low + far] - boxes[j][low] < tall + _LINE
                ]
                line = _close_together(sorted(line, key=lambda j: boxes[j][high]), boxes, high, tall)
                areas = np.array([shapes[j].area for j in line])
                if len(line) >= _LETTERS and float(areas.std() / areas.mean()) > _UNLIKE:
                    # what stands over a small letter is its dot
                    row = shapely.box(*shapely.bounds(shapely.union_all([shapes[j] for j in line])))
                    found.update(j for j in small if shapely.buffer(row, _LINE).contains(shapes[j]))
    return sorted(found)


def _close_together(
    line: list[int], boxes: list[tuple[float, float, float, float]], along: int, tall: float
) -> list[int]:
    """The longest run of a line in which from one to the next it is not much further than a letter is high."""
    best: list[int] = []
    run: list[int] = []
    for j in line:
        if run and boxes[j][along] - boxes[run[-1]][along + 2] > 2.5 * tall:
            run = []
        run = [*run, j]
        best = run if len(run) > len(best) else best
    return best
