"""One photographed sheet as JSON, and several of them as a set."""

from __future__ import annotations

import base64
import io
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray
from shapely import Polygon

from strata.errors import BadValue
from strata.formats.photo_seat import path_in_photo, seat_json
from strata.formats.set_file import polygons_from_rings, rings_of
from strata.progress import Progress
from strata.sheets.elements import propose
from strata.sheets.model import LEAST_AREA, LayerSet, Opening, Seat, Sheet
from strata.sheets.seats import moved
from strata.tracing.assemble import AS_IT_LIES, assemble, ways_up
from strata.tracing.openings import AS_FOUND
from strata.tracing.retouched import Retouch, retouched
from strata.tracing.straighten import scaled
from strata.tracing.trace import CLEARER, traced

SHOWN = 1100
# px of the longer side of the photograph that is shown


def read_photo(
    data: bytes, options: Mapping[str, Any], progress: Progress, others: Sequence[bytes] = ()
) -> dict[str, Any]:
    """A traced sheet: size, openings (rings, mm), the same in the shown photograph, which of them are doubtful
    and by what share of its area each may be off, places where there may be more and that a glint hides, corners, the
    photographs.

    ``options``: width_mm, height_mm, whether that is guessed, corners (px of the shown photograph), level (how open
    counts as open);
    ``others``: more photographs of the same sheet.
    The shown photographs are drawn afresh: nothing of a file's metadata is in them.
    """
    from strata.tracing.photo import open_photo

    width, height, corners = options.get("width_mm"), options.get("height_mm"), options.get("corners")
    progress(0.05, "Opening the photograph")
    pictures = [open_photo(d, heif=True) for d in (data, *others)]
    shrink = _shrink(pictures[0])
    given = np.array(corners, float) / shrink if corners else None
    level = options.get("level", AS_FOUND)
    # where somebody has measured, no ruler is needed
    unmeasured = options.get("guessed") or not (width and height)
    found = traced(pictures, width, height, given, progress, level, ruler=bool(unmeasured))
    seat, size = scaled(found.seat, shrink), (found.width, found.height)
    return {
        "width_mm": found.width,
        "height_mm": found.height,
        "openings": [rings_of(p) for p in found.openings],
        "in_photo": [path_in_photo(p, seat, size) for p in found.openings],
        "doubtful": [i for i, open_ in enumerate(found.doubtful) if open_],
        "may_be_off": [round(e, 4) for e in found.errors],
        "places": [path_in_photo(p, seat, size) for p in found.places],
        "blinded": [path_in_photo(p, seat, size) for p in found.blinded],
        "places_mm": [rings_of(p) for p in found.places],
        "blinded_mm": [rings_of(p) for p in found.blinded],
        "seat": seat_json(found.seat, shrink),
        "corners": (found.corners * shrink).round(2).tolist(),
        "photographs": [base64.b64encode(as_shown(rgb)).decode() for rgb in pictures],
        "photo_size": [round(v * shrink) for v in found.photo_size],
        "warnings": list(found.warnings),
        "lines_apart": found.lines_apart,
        "by_ruler": found.by_ruler,
        "unlike": found.unlike,
    }


def _shrink(rgb: NDArray[np.uint8]) -> float:
    """How much smaller a photograph is shown."""
    return min(1.0, SHOWN / float(max(rgb.shape[:2])))


def as_shown(rgb: NDArray[np.uint8]) -> bytes:
    """A photograph (h, w, 3) as it is shown, and drawn on: smaller, a JPEG."""
    import cv2
    from PIL import Image

    shrink = _shrink(rgb)
    size = max(1, round(rgb.shape[1] * shrink)), max(1, round(rgb.shape[0] * shrink))
    out = io.BytesIO()
    # each pixel the mean of those it stands for: a third of the time of a finer filter, and as good to draw on
    small = cv2.resize(rgb, size, interpolation=cv2.INTER_AREA)
    Image.fromarray(np.asarray(small, np.uint8)).save(out, "JPEG", quality=82)
    return out.getvalue()


def sheets_turned(sheets: Sequence[Mapping[str, Any]], width: float, height: float) -> list[tuple[int, bool]]:
    """(degrees, mirrored) for each traced sheet, by the marks that they have in common."""
    shapes = [polygons_from_rings(item["openings"]) for item in sheets]
    return ways_up(shapes, width, height) if len(shapes) > 1 else [AS_IT_LIES] * len(shapes)


def _retouch(value: Mapping[str, Any]) -> Retouch:
    """A retouch from JSON values."""
    start, end, *through = (
        (float(x), float(y)) for x, y in (value["start"], value["end"], *value.get("through", []))
    )
    return Retouch(value["kind"], start, end, tuple(through))


def set_from_sheets(
    sheets: Sequence[Mapping[str, Any]], name: str, kind: str, width: float, height: float
) -> tuple[LayerSet, list[str]]:
    """A set from traced sheets in the order of use.

    Each sheet: title, openings (rings), turn (degrees, of 90), mirrored,
    retouches (``Retouch``, in mm), places (rings) that one may take in, dropped (indices of specks, counted after retouching). Raises BadValue when none has
    an opening.
    """
    traced, notes = [], []
    for item in sheets:
        dropped = set(item.get("dropped", []))
        whole = retouched(
            polygons_from_rings(item["openings"]),
            [_retouch(m) for m in item.get("retouches", [])],
            polygons_from_rings(item.get("places", [])),
        )
        shapes = [s for i, s in enumerate(whole) if s is not None and i not in dropped]
        place = Seat(0, turn=float(item.get("turn", 0)), mirrored=bool(item.get("mirrored", False)))
        if place.turn or place.mirrored:
            shapes = [moved(s, place, width, height) for s in shapes]
        traced.append(shapes)
    found = []
    for number, (item, laid) in enumerate(zip(sheets, assemble(traced), strict=True), start=1):
        kept = [p for p in laid.openings if p.area >= LEAST_AREA]
        kept.sort(key=lambda p: (p.bounds[1], p.bounds[0]))
        openings = tuple(Opening(f"{number}.{i}", number, "", p) for i, p in enumerate(kept, start=1))
        found.append(Sheet(number, str(item.get("title") or f"Sheet {number}")[:120], openings, laid.marks))
        if laid.shift > 0.05:
            notes.append(f"Sheet {number} was laid on sheet 1 by its marks: {laid.shift:.1f} mm.")
    if not any(s.openings for s in found):
        raise BadValue(_nothing(sheets, traced), "sheets")
    if len(found) > 1 and not any(s.marks for s in found):
        notes.append("No marks come back on every sheet; the sheets lie on one another by their corners.")
    return propose(LayerSet(name, kind, round(width, 3), round(height, 3), tuple(found))), notes


def _nothing(sheets: Sequence[Mapping[str, Any]], traced: Sequence[Sequence[Polygon]]) -> str:
    """Why there is no opening on sheets of which so much was taken in."""
    if any(traced):
        return (
            "Nothing but register marks is on these sheets: what comes back on every sheet is taken for one."
        )
    if any(item["openings"] for item in sheets):
        return "Every opening is left out. Take one in again, or let the set go."
    return f"No opening was found on any of these sheets. {CLEARER}"
