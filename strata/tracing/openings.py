"""Openings of a straightened sheet as polygons in mm, their edges between the pixels."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import LineString, Polygon

from strata.errors import TooLarge
from strata.sheets.model import MOST_OPENINGS
from strata.tracing.bends import smoothed
from strata.tracing.doubt import UNSURE, Doubt, between, doubts, lettering, other_colour
from strata.tracing.focus import unsharp
from strata.tracing.glare import blinded_places, coarsely, edgeless, glint_places
from strata.tracing.inexact import area_errors, errors_under_lines, unevenness
from strata.tracing.openness import MARGIN, Seen, Sheet
from strata.tracing.own_shadow import own_shadow

Floats32 = NDArray[np.float32]
AS_FOUND, LEAST_LEVEL, MOST_LEVEL = 0.5, 0.3, 0.7
# how open counts as open: midway between sheet and opening, unless a person sees it otherwise
MISTRUSTED = 0.5
# share of doubtful openings from which all of a photograph are, and it is said that it cannot be trusted
SPECK = 0.08
# mm2: dust and scratches are smaller, openings that ink gets through are not
_HAIR = 0.3, 0.105, 0.9
# mm2, mm of width: a hair; px from which the picture shows that it is one
_CLEAR = 0.7
# how open the clearest pixel of an opening is at least, of 1
_TIP, _TIP_REACH, _TIP_SHOWS = 1.5, 8.0, 0.15
# mm2, px, and how open the gap is, of 1
_GRAINY = 0.15
# share of pixels of a row after which it goes from sheet to opening or back
_BAND = 256
# rows of pixels in which outlines are followed at once
_ABOVE_ALL, _BEGINS = 10.0, 1
# higher than any openness; the code of a ring's first point
_TOLERANCE = 0.01
# mm; 0.04 loses three quarters of a percent of area


@dataclass(frozen=True)
class Openings:
    """Openings in mm, largest first; for each why it is doubtful; places (mm) that might be openings and are not
    taken for any; places that a glint hides; by what share of its area each opening is off at most; whether the sheet's
    own shadow falls into them, or what is light is overexposed; and where the picture is not sharp (``focus.unsharp``)."""

    shapes: list[Polygon]
    doubts: list[Doubt]
    missed: list[Polygon]
    blinded: list[Polygon]
    errors: list[float]
    shadowed: bool = False
    overexposed: bool = False
    unsharp: str | None = None


NOTHING = Openings([], [], [], [], [])


def openings_of(
    seen: Seen,
    sheet: Sheet,
    preview: NDArray[np.uint8],
    level: float = AS_FOUND,
    plain: bool = True,
    outside: Sequence[Polygon] = (),
) -> Openings:
    """``preview`` (h, w, 3) is the sheet straightened at a coarser scale; ``level``: how open counts as open, 0..1;
    ``plain``: nothing is printed on the table and no other photograph was looked at, so that what has another colour
    in an opening lies there; ``outside``: parts of the sheet (mm) that no photograph shows. Raises TooLarge."""
    share = seen.share
    scale = np.array([share.shape[1] / sheet.width, share.shape[0] / sheet.height])
    places, blinded = [*between(share, scale), *outside], list[Polygon]()
    if plain:
        coarse = coarsely(preview, share, seen.contrast)
        places += glint_places(coarse, sheet.width, sheet.height)
        blinded = blinded_places(coarse, sheet.width, sheet.height)
    uneven = unevenness(share, float(scale[0]), seen.blur)
    shapes = _shapes_on(seen, sheet, level + seen.half - AS_FOUND, scale)
    unclear, missed, blinded = doubts(places, shapes, blinded)
    told = seen.by_colour, seen.sharpened, seen.overexposed, seen.wider
    errors = area_errors(uneven, shapes, scale, seen.blur, *told)
    lost = own_shadow(share, shapes, scale)
    errors += lost * shapely.length(shapes) / shapely.area(shapes)
    if seen.hidden is not None:
        errors += errors_under_lines(seen.hidden, shapes, scale)
    why: list[Doubt] = [
        "unclear" if u else "rough" if e > UNSURE else "" for u, e in zip(unclear, errors, strict=True)
    ]
    if plain:
        for i in edgeless(preview, shapes, sheet.width, sheet.height):
            why[i] = "unclear"
        for i in other_colour(preview, shapes, sheet.width, sheet.height):
            why[i] = "colour"
    for i in lettering(shapes, sheet.width, sheet.height):
        why[i] = "lettering"
    if len(shapes) - why.count("") > MISTRUSTED * len(shapes):
        # where most are doubtful, what makes them so has not spared the others
        why = [w or "picture" for w in why]
    soft = unsharp(seen.blur * seen.wider, float(scale[0]))
    return Openings(shapes, why, missed, blinded, errors.tolist(), lost > 0, seen.overexposed, soft)


def _shapes_on(seen: Seen, sheet: Sheet, level: float, scale: NDArray[np.float64]) -> list[Polygon]:
    """The openings (mm) of a sheet, largest first."""
    soft = smoothed(seen.share, seen.blur, seen.wider)
    shapes = _traced(np.clip(soft, -0.5, 1.5, out=soft), scale, level)
    # where corners are cut off, the table shows beside the sheet
    corners = shapely.MultiPoint([(x, y) for x in (0, sheet.width) for y in (0, sheet.height)])
    shapes = [s for s in shapes if shapely.distance(s, corners) > 2 * MARGIN]
    return shapes if seen.hidden is None else _without_islands(shapes)


def _without_islands(shapes: list[Polygon]) -> list[Polygon]:
    """Openings of a sheet on a mat, largest first: an island would fall out, so what looks like one is a figure."""
    whole = [Polygon(s.exterior) for s in shapes]
    _, inner = shapely.STRtree(whole).query(whole, predicate="contains_properly")
    nested = set(inner.tolist())
    return [s for i, s in enumerate(whole) if i not in nested]


def _traced(smooth: Floats32, scale: NDArray[np.float64], level: float) -> list[Polygon]:
    above = smooth > level
    if np.count_nonzero(above[:, 1:] != above[:, :-1]) > _GRAINY * above.size:
        return []
    found = []
    outlines = _outlines(smooth, level)
    # what is smaller than a speck by far need not be looked at one by one
    areas = shapely.area(outlines) / float(scale[0] * scale[1])
    outlines = [o for o, area in zip(outlines, areas, strict=True) if area > SPECK / 2]
    if len(outlines) > 2 * MOST_OPENINGS:
        raise TooLarge(
            f"{len(outlines)} things stand out on this photograph; a set has {MOST_OPENINGS} openings at most."
        )
    for outline in outlines:
        rings = [shapely.get_coordinates(r) for r in (outline.exterior, *outline.interiors)]
        shape = _shape([(r + 0.5) / scale for r in rings])
        if (
            shape is None
            or _is_dust(shape, float(scale[0]))
            or not _is_open(smooth, rings[0], shape, float(scale[0]))
        ):
            continue
        found.append(shape)
    return sorted(_tips_joined(found, smooth, scale), key=lambda s: -s.area)


def _outlines(smooth: Floats32, level: float) -> list[Polygon]:
    """What lies above a level (px), holes and all.

    Contours are followed in double precision with a grid of either coordinate
    beside it, three planes of a hundred megabytes each: so it is done in bands
    of rows. What a seam cuts has the same points on both its sides, and is put
    together again. Of the library's algorithms the oldest: the same points (a test), and it begins in a tenth of the time.
    """
    from contourpy import contour_generator

    whole: list[Polygon] = []
    cut: list[Polygon] = []
    last = smooth.shape[0] - 1
    across, down = np.meshgrid(*(np.arange(float(n)) for n in (smooth.shape[1], min(last, _BAND) + 1)))
    for top in range(0, last, _BAND):
        bottom = min(last, top + _BAND)
        band = smooth[top : bottom + 1].astype(np.float64)
        grid = across[: len(band)], down[: len(band)]
        lines = contour_generator(*grid, band, name="mpl2005").filled(level, _ABOVE_ALL)
        for points, codes in zip(*lines, strict=True):
            points[:, 1] += top
            rings = np.split(points, np.flatnonzero(codes == _BEGINS)[1:])
            low, high = rings[0][:, 1].min(), rings[0][:, 1].max()
            seam = (top > 0 and low <= top) or (bottom < last and high >= bottom)
            (cut if seam else whole).append(Polygon(rings[0], rings[1:]))
    # what is not cut by one seam need not be put together
    joined = shapely.disjoint_subset_union_all([shapely.make_valid(p) for p in cut])
    return whole + [p for p in shapely.get_parts(joined) if isinstance(p, Polygon)]


def _tips_joined(found: list[Polygon], share: Floats32, scale: NDArray[np.float64]) -> list[Polygon]:
    """Tips that are finer than a pixel come off; where light still shows between, they belong to what they point at."""
    whole: dict[int, Polygon] = dict(enumerate(found))
    of = list(range(len(found)))
    # where each of them has gone to
    tree = shapely.STRtree(found)
    for i in [i for i, p in enumerate(found) if p.area < _TIP]:
        if whole.get(i) is not found[i]:
            continue
        tip = found[i]
        near = {_end(of, j) for j in tree.query(tip, "dwithin", _TIP_REACH / float(scale[0])).tolist()} - {i}
        larger = [j for j in near if whole[j].area > tip.area]
        if not larger:
            continue
        at = min(larger, key=lambda j: float(shapely.distance(whole[j], tip)))
        line = shapely.shortest_line(tip, whole[at])
        if not _shows_through(line, share, scale):
            continue
        strip = shapely.buffer(line, 0.4 / float(scale[0]), cap_style="square")
        joined = shapely.union_all([tip, whole[at], strip])
        if isinstance(joined, Polygon):
            del whole[i]
            whole[at], of[i] = joined, at
    return list(whole.values())


def _end(of: list[int], at: int) -> int:
    while of[at] != at:
        at = of[at]
    return at


def _shows_through(line: LineString, share: Floats32, scale: NDArray[np.float64]) -> bool:
    """Whether some light shows all along a line (mm)."""
    between = shapely.get_coordinates(
        shapely.line_interpolate_point(line, np.linspace(0, 1, 7), normalized=True)
    )
    x, y = np.rint(between * scale - 0.5).astype(int).T
    return bool(share[y.clip(0, share.shape[0] - 1), x.clip(0, share.shape[1] - 1)].min() > _TIP_SHOWS)


def _shape(rings: list[NDArray[np.float64]]) -> Polygon | None:
    holes = [h for h in rings[1:] if len(h) >= 4 and Polygon(h).area >= SPECK]
    shape = Polygon(rings[0], holes)
    if not shape.is_valid:
        parts = [p for p in shapely.get_parts(shapely.make_valid(shape)) if isinstance(p, Polygon)]
        if not parts:
            return None
        shape = max(parts, key=lambda p: p.area)
    simple = shapely.simplify(shape, _TOLERANCE)
    return simple if isinstance(simple, Polygon) and simple.is_valid and not simple.is_empty else shape


def _is_dust(shape: Polygon, scale: float) -> bool:
    """Whether it is a grain or a hair: smaller, or so much thinner, than anything that ink gets through.

    Where a line is thinner than a pixel the photograph does not say how thin it is, and it is no hair for that.
    """
    wide = 2 * shape.area / shape.length
    hair = shape.area < _HAIR[0] and wide < _HAIR[1] and wide * scale > _HAIR[2]
    return bool(shape.area < SPECK or hair)


def _is_open(share: Floats32, ring: NDArray[np.float64], shape: Polygon, scale: float) -> bool:
    """Whether the inside is as bright as an opening is: a smear or a shadow is not."""
    x0, y0 = np.floor(ring.min(axis=0)).astype(int)
    x1, y1 = np.ceil(ring.max(axis=0)).astype(int) + 1
    inside = share[y0:y1, x0:x1]
    narrow = 4 * shape.area / max(1e-9, shape.length) * scale < 6
    bright, least = (0.6, 0.005) if narrow else (_CLEAR, 0.03)
    return bool(np.count_nonzero(inside >= bright) >= least * inside.size)
