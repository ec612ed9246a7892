"""One photographed sheet, whole."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from shapely import Polygon

from strata.errors import StrataError, finite
from strata.phrases import counted
from strata.progress import Progress, quiet
from strata.tracing.doubt import beyond
from strata.tracing.joined import joined, onto, way_onto, with_odd
from strata.tracing.openings import AS_FOUND, LEAST_LEVEL, MOST_LEVEL, NOTHING, Openings, openings_of
from strata.tracing.openness import Seen, Sheet, see
from strata.tracing.photo import open_photo
from strata.tracing.ruler import larger_by_ruler
from strata.tracing.seating import Seated, seated
from strata.tracing.straighten import Seat

Rgb = NDArray[np.uint8]
Floats = NDArray[np.float64]
PREVIEW_PER_MM = 10.0
ON_A_MAT = (
    "It lies on a mat. Its lines were looked past; see that none of its figures or lines cuts an opening. "
    "On plain paper of another tone it is surer."
)
NONE_FOUND = "No opening was found on this sheet."
_A_FEW = 3
# openings of which it is said that none can be trusted
BENEATH = "What it lies on is printed in a tone like the sheet's: a letter or a pattern there may cut openings short."
UNCLEAR = ": neither sheet nor opening is clear there (a shadow, glare, dirt, or blur)."
BLINDED = "At {} the lamp blinds the camera: openings there do not show. See that none is missing."
ROUGH = "{} doubtful: so thin, or so unevenly lit{}, that the area may be off by up to {} %."
SHADOWED = (
    "The sheet stands off the table, and its own shadow falls into its openings: on the side of the lamp they seem smaller "
    "than they are. Press it flat, or hold the lamp straight above."
)
OVEREXPOSED = (
    "What is light here is overexposed, as white as a picture can be, so that its edges seem further out than they are. "
    "Take it a little darker."
)
ROUGH_BY_THAT = "So {} doubtful: the area may be off by up to {} %."
UNSHARP = (
    "It is not sharp{}: the finest openings and bridges do not show there. Hold the telephone still and straight above, "
    "and tap on the sheet before you take it."
)
CLEARER = (
    "Clearer: on plain paper, white beneath a dark sheet and dark beneath a light one, the lamp to the side, "
    "the telephone straight above and near."
)


@dataclass(frozen=True)
class Traced:
    """One sheet: ``width`` and ``height`` in mm, its openings, where it lay in the picture.

    ``corners`` (4, 2) px clockwise from the sheet's top left; ``picture``
    (h, w, 3) is the sheet straightened at ``scale`` px/mm; ``photo_size`` px.
    ``warnings``: what is to be said of the photograph and of what was found, in sentences;
    ``doubtful``: for each opening whether the photograph shows it unclearly;
    ``places``: where there may be openings that were not taken for any (mm); ``blinded``: where a glint hides what is there;
    ``errors``: by what share of its area each opening is likely to be off;
    ``lines_apart``: mm from line to line of the mat it lies on, at this size; ``by_ruler``: by how many times it is
    larger than that, as a ruler beside it says, where it was looked for; ``unlike``: it has other proportions than the
    size given.
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
    blinded: tuple[Polygon, ...] = ()
    errors: tuple[float, ...] = ()
    lines_apart: float | None = None
    by_ruler: float | None = None
    unlike: bool = False

    @property
    def said(self) -> tuple[str, ...]:
        """All that is to be said of it, before anything is mended by hand: ``warnings``, then what a hand may answer."""
        return (*self.warnings, *said_of_openings(len(self.openings), len(self.places), len(self.blinded)))


def trace(
    data: bytes,
    width: float | None = None,
    height: float | None = None,
    corners: Floats | None = None,
    progress: Progress = quiet,
    level: float = AS_FOUND,
    others: Sequence[bytes] = (),
) -> Traced:
    """The openings of a photographed or scanned sheet, as ``traced`` finds them. Raises BadFile or TooLarge."""
    progress(0.05, "Opening the photograph")
    pictures = [open_photo(d, heif=True) for d in (data, *others)]
    return traced(pictures, width, height, corners, progress, level)


def traced(
    pictures: Sequence[Rgb],
    width: float | None = None,
    height: float | None = None,
    corners: Floats | None = None,
    progress: Progress = quiet,
    level: float = AS_FOUND,
    ruler: bool = False,
) -> Traced:
    """The openings of a sheet in a picture (h, w, 3), or in several: turned, moved, in another light, so that what one
    hides the others show. All is told of the first.

    ``width`` and ``height`` in mm, either or both; ``corners`` (4, 2) px,
    clockwise from the sheet's top left, where a person has set them: their
    order is kept wherever it fits the size; ``level`` how open counts as open; ``ruler``: whether one is looked for beside
    it. Dark sheets on light ground and light ones on dark. Raises BadValue, and NotTheSame where the pictures show several sheets.
    """
    finite(level, "level", LEAST_LEVEL, MOST_LEVEL)
    progress(0.2, "Finding the sheet")
    lies = seated(pictures[0], width, height, corners)
    sheet, alone = lies.sheet, len(pictures) == 1
    # of what is perhaps no sheet no ruler tells the size
    looked = ruler and not lies.said
    by_ruler = larger_by_ruler(pictures[0], sheet.seat, sheet.width, sheet.height) if looked else None
    on_a_mat = alone and sheet.printed is not None
    progress(0.45, "Straightening it")
    coarse = min(sheet.scale, PREVIEW_PER_MM)
    picture = sheet.straight(pictures[0], coarse)
    progress(0.6, "Finding its openings")
    seen = _seen(sheet, picture, coarse, pictures[1:], progress)
    plain = alone and sheet.printed is None
    outside = beyond(sheet.seat, sheet.rgb.shape[:2], sheet.width, sheet.height) if alone else []
    found = NOTHING if seen is None else openings_of(seen, sheet, picture, level, plain, outside)
    found = _doubted(found, lies, alone)
    return Traced(
        sheet.width,
        sheet.height,
        tuple(found.shapes),
        sheet.seat.corners,
        picture,
        coarse,
        (pictures[0].shape[1], pictures[0].shape[0]),
        (*lies.said, *lies.sized, *([ON_A_MAT] * on_a_mat), *_said(found, on_a_mat)),
        sheet.seat,
        tuple(d != "" for d in found.doubts),
        tuple(found.missed),
        tuple(found.blinded),
        tuple(found.errors),
        None if sheet.printed is None else sheet.printed.apart,
        by_ruler,
        lies.unlike,
    )


def _doubted(found: Openings, lies: Seated, alone: bool) -> Openings:
    """What was found, all of it doubtful where the first photograph gives cause; ``alone``: no other was looked at."""
    # what hides openings hides corners as well, and whatever else is said of them
    if alone and lies.on_print and not lies.unlike:
        return replace(found, doubts=["beneath"] * len(found.doubts))
    # whichever of corners and size is wrong, no measure is right
    wrong = lies.unlike or lies.unsure
    return replace(found, doubts=[why or "size" for why in found.doubts]) if wrong else found


def _seen(
    sheet: Sheet, picture: Rgb, coarse: float, others: Sequence[Rgb], progress: Progress
) -> Seen | None:
    """What the pictures show of the sheet, as it lies in the first; None where nothing stands out there."""
    first = see(sheet, picture, coarse)
    if first is None or not others:
        return first
    first = with_odd(first, picture)
    found = [first]
    for n, rgb in enumerate(others, start=2):
        progress(0.6 + 0.35 * (n - 1) / (len(others) + 1), f"Looking at photograph {n} of it")
        try:
            one = _another(rgb, sheet, first)
        except StrataError as why:
            raise type(why)(f"Photograph {n} of it: {why.sentence}", why.field) from why
        found += [one] if one is not None else []
    return joined(found, sheet.scale)


def _another(rgb: Rgb, sheet: Sheet, first: Seen) -> Seen | None:
    """What another picture shows of a sheet, as the first one sees it; None where nothing stands out from it."""
    own = replace(seated(rgb, sheet.width, sheet.height).sheet, scale=sheet.scale)
    coarse = min(own.scale, PREVIEW_PER_MM)
    picture = own.straight(rgb, coarse)
    seen = see(own, picture, coarse)
    if seen is None:
        return None
    seen = with_odd(seen, picture)
    return onto(seen, way_onto(first, seen, sheet.scale), first.share.shape)


def _said(found: Openings, on_a_mat: bool) -> list[str]:
    """What of the openings the photograph leaves open, and why."""
    said = []
    of = Counter(found.doubts)
    if len(found.shapes) >= _A_FEW and not of[""] and not of["size"]:
        said.append("This photograph cannot be trusted as it is.")
    if found.unsharp is not None:
        said.append(UNSHARP.format(found.unsharp))
    if of["beneath"]:
        said.append(BENEATH)
    if of["picture"]:
        others = f"{of['picture']} others are" if of["picture"] > 1 else "other one is"
        said.append(f"Most openings are doubtful, so the {others} taken to be so too.")
    are = {k: f"{counted(n, 'opening')} {'is' if n == 1 else 'are'}" for k, n in of.items()}
    if of["unclear"]:
        said.append(f"{are['unclear']} doubtful{UNCLEAR}")
    if of["rough"]:
        said += _said_of_areas(found, are["rough"], on_a_mat)
    if of["colour"]:
        said.append(
            f"{are['colour']} doubtful: something of another colour lies there, a finger, ink or a label."
        )
    if of["lettering"]:
        said.append(
            f"{are['lettering']} doubtful: in a row by the edge, like a name that is printed on the sheet."
        )
    return said


def _said_of_areas(found: Openings, so_many_are: str, on_a_mat: bool) -> list[str]:
    """Why so many openings may be larger or smaller than they seem, and by how much."""
    why = [SHADOWED] * found.shadowed + [OVEREXPOSED] * found.overexposed
    most = max(e for e, d in zip(found.errors, found.doubts, strict=True) if d == "rough")
    percent = round(100 * min(most, 0.99))
    if why:
        return [*why, ROUGH_BY_THAT.format(so_many_are, percent)]
    lines = ", or so much along lines of the mat" if on_a_mat else ""
    return [ROUGH.format(so_many_are, lines, percent)]


def said_of_openings(found: int, places: int, blinded: int) -> list[str]:
    """What is to be said where so many openings are known, places may be openings, and are hidden by a glint: what a
    hand answers, so that it is said of how things stand and never kept with what was read."""
    more = f"At {counted(places, 'place')} more there may be an opening{UNCLEAR}"
    hidden = BLINDED.format(counted(blinded, "place"))
    said = ((NONE_FOUND, not found), (more, places), (hidden, blinded))
    return [sentence for sentence, so in said if so]
