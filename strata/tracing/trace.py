"""One photographed sheet, whole."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from shapely import Polygon

from strata.errors import StrataError, finite
from strata.phrases import counted
from strata.tracing.joined import joined, onto, way_onto, with_odd
from strata.tracing.openings import AS_FOUND, LEAST_LEVEL, MOST_LEVEL, Openings, openings_of
from strata.tracing.openness import Seen, Sheet, see
from strata.tracing.photo import open_photo
from strata.tracing.seating import ON_A_MAT, seated
from strata.tracing.straighten import Seat

PREVIEW_PER_MM = 10.0
UNTRUE = 0.4
# share of doubtful openings from which all of a photograph is
UNCLEAR = ": neither sheet nor opening is clear there (a shadow, glare, dirt, or blur)."
ROUGH = "{} doubtful: so thin, or so unevenly lit{}, that the area may be off by up to {} %."
CLEARER = "Clearer: on plain white paper, the lamp to the side, the telephone straight above and near."

Progress = Callable[[float, str], None]


@dataclass(frozen=True)
class Traced:
    """One sheet: ``width`` and ``height`` in mm, its openings, where it lay in the picture.

    ``corners`` (4, 2) px clockwise from the sheet's top left; ``picture``
    (h, w, 3) is the sheet straightened at ``scale`` px/mm; ``photo_size`` px.
    ``doubtful``: for each opening whether the photograph shows it unclearly;
    ``places``: where there may be openings that were not taken for any (mm);
    ``errors``: by what share of its area each opening is likely to be off;
    ``lines_apart``: mm from line to line of the mat it lies on, at this size.
    """

    width: float
    height: float
    openings: tuple[Polygon, ...]
    corners: NDArray[np.float64]
    picture: NDArray[np.uint8]
    scale: float
    photo_size: tuple[int, int]
    warnings: tuple[str, ...]
    seat: Seat
    doubtful: tuple[bool, ...] = ()
    places: tuple[Polygon, ...] = ()
    errors: tuple[float, ...] = ()
    lines_apart: float | None = None


def trace(
    data: bytes,
    width: float | None = None,
    height: float | None = None,
    corners: NDArray[np.float64] | None = None,
    progress: Progress = lambda share, doing: None,
    level: float = AS_FOUND,
    others: Sequence[bytes] = (),
) -> Traced:
    """The openings of a photographed or scanned sheet.

    ``others``: more photographs of the same sheet, turned, moved, or in another
    light: what one hides the others show.

    ``width`` and ``height`` in mm, either or both; ``corners`` (4, 2) px,
    clockwise from the sheet's top left, where a person has set them: their
    order is kept wherever it fits the size; ``level`` how open counts as open. Dark sheets on
    light ground and light ones on dark. Raises BadFile or TooLarge.
    """
    finite(level, "level", LEAST_LEVEL, MOST_LEVEL)
    progress(0.05, "Opening the photograph")
    rgb = open_photo(data, heif=True)
    progress(0.2, "Finding the sheet")
    lies = seated(rgb, width, height, corners)
    sheet, warnings = lies.sheet, list(lies.said)
    progress(0.45, "Straightening it")
    coarse = min(sheet.scale, PREVIEW_PER_MM)
    picture = sheet.straight(rgb, coarse)
    progress(0.6, "Finding its openings")
    if others:
        seen = _together(sheet, picture, coarse, others, progress)
        warnings = [w for w in warnings if w != ON_A_MAT]
        found = (
            Openings([], [], [], [])
            if seen is None
            else openings_of(seen, sheet, picture, coarse, level, several=True)
        )
    else:
        found = _alone(sheet, picture, coarse, level)
    openings = found.shapes
    if sheet.printed is not None and not others:
        openings = [Polygon(p.exterior) for p in openings]
    if not openings:
        warnings.append("No opening was found on this sheet.")
    warnings += _said(found, sheet.printed is not None and not others)
    size = (rgb.shape[1], rgb.shape[0])
    return Traced(
        sheet.width,
        sheet.height,
        tuple(openings),
        sheet.seat.corners,
        picture,
        coarse,
        size,
        (*warnings, *lies.sized),
        sheet.seat,
        tuple(d != "" for d in found.doubts),
        tuple(found.missed),
        tuple(found.errors),
        None if sheet.printed is None else sheet.printed.apart,
    )


def _alone(sheet: Sheet, picture: NDArray[np.uint8], coarse: float, level: float) -> Openings:
    """The openings by one photograph."""
    seen = [one] if (one := see(sheet, picture, coarse)) is not None else []
    # handed over, so that how open each pixel is is not held while outlines are followed
    del one
    return openings_of(seen.pop(), sheet, picture, coarse, level) if seen else Openings([], [], [], [])


def _together(
    sheet: Sheet, picture: NDArray[np.uint8], coarse: float, others: Sequence[bytes], progress: Progress
) -> Seen | None:
    """What several photographs of one sheet show of it, as it lies in the first."""
    found = [with_odd(one, picture)] if (one := see(sheet, picture, coarse)) is not None else []
    for n, data in enumerate(others, start=2):
        progress(0.6 + 0.35 * (n - 1) / (len(others) + 1), f"Looking at photograph {n} of it")
        try:
            one = _another(data, sheet, found[0] if found else None)
        except StrataError as why:
            raise type(why)(f"Photograph {n} of it: {why.sentence}", why.field) from why
        found += [one] if one is not None else []
    return joined(found, sheet.scale) if found else None


def _another(data: bytes, sheet: Sheet, first: Seen | None) -> Seen | None:
    """What another photograph shows of a sheet, as the first one sees it; None where nothing stands out from it."""
    rgb = open_photo(data, heif=True)
    own = replace(seated(rgb, sheet.width, sheet.height).sheet, scale=sheet.scale)
    coarse = min(own.scale, PREVIEW_PER_MM)
    picture = own.straight(rgb, coarse)
    seen = see(own, picture, coarse)
    if seen is None or first is None:
        return None
    seen = with_odd(seen, picture)
    return onto(seen, way_onto(first, seen, sheet.scale), first.share.shape)


def _said(found: Openings, on_a_mat: bool) -> list[str]:
    """What the photograph leaves open, and what to do about it."""
    said, of = list[str](), Counter(found.doubts)
    doubtful = len(found.shapes) - of[""]
    if doubtful >= max(3, UNTRUE * len(found.shapes)):
        said.append("This photograph cannot be trusted as it is.")
    are = {k: f"{counted(n, 'opening')} {'is' if n == 1 else 'are'}" for k, n in of.items()}
    if of["unclear"]:
        said.append(f"{are['unclear']} doubtful{UNCLEAR}")
    if of["rough"]:
        most = max(e for e, d in zip(found.errors, found.doubts, strict=True) if d == "rough")
        lines = ", or so much along lines of the mat" if on_a_mat else ""
        said.append(ROUGH.format(are["rough"], lines, round(100 * min(most, 0.99))))
    if of["colour"]:
        said.append(
            f"{are['colour']} doubtful: something of another colour lies there, a finger, ink or a label."
        )
    if of["lettering"]:
        said.append(
            f"{are['lettering']} doubtful: in a row by the edge, like a name that is printed on the sheet."
        )
    if found.missed:
        said.append(f"At {counted(len(found.missed), 'place')} more there may be an opening{UNCLEAR}")
    return said
