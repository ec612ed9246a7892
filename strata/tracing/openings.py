"""Openings of a straightened sheet as polygons in mm, their edges between the pixels."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from strata.tracing.bends import smoothed
from strata.tracing.doubt import (
    UNSURE,
    Doubt,
    area_errors,
    between,
    doubts,
    lettering,
    other_colour,
    unevenness,
)
from strata.tracing.fields import Kinds, brightness, closer, kinds, mixed
from strata.tracing.light import ENCODED, SHARPENED, Edges, curve, edges_of
from strata.tracing.mat import Printed, bridged, line_masks
from strata.tracing.straighten import Seat, in_picture, straighten

Floats32 = NDArray[np.float32]
AS_FOUND, LEAST_LEVEL, MOST_LEVEL = 0.5, 0.3, 0.7
# how open counts as open: midway between sheet and opening, unless a person sees it otherwise
SPECK = 0.08
# mm2: dust and scratches are smaller, openings that ink gets through are not
_HAIR = 0.3, 0.105, 0.9
# mm2, mm of width: a hair; px from which the picture shows that it is one
_CLEAR = 0.7
# how open the clearest pixel of an opening is at least, of 1
_MARGIN = 0.35
# mm along the sheet's edge that belong to the table
_TIP, _TIP_REACH, _TIP_SHOWS = 1.5, 8.0, 0.15
# mm2, px, and how open the gap is, of 1
_STEEP = 0.1
# of 1 over two px: an edge, not a stain
_TOLERANCE = 0.01
# mm; 0.04 loses three quarters of a percent of area


@dataclass(frozen=True)
class Sheet:
    """A photographed sheet with the way to see it straight; ``scale`` px/mm keeps the picture's detail.

    ``printed``: lines on the table that show in its openings.
    """

    rgb: NDArray[np.uint8]
    seat: Seat
    width: float
    height: float
    scale: float
    printed: Printed | None = None

    def straight(self, picture: NDArray[Any], scale: float) -> NDArray[Any]:
        """A picture of this photograph's size, straightened."""
        return straighten(picture, self.seat, self.width, self.height, scale)


@dataclass(frozen=True)
class Openings:
    """Openings in mm, largest first; for each why it is doubtful; places (mm) that might be openings and are not
    taken for any; and by what share of its area each opening is off at most."""

    shapes: list[Polygon]
    doubts: list[Doubt]
    missed: list[Polygon]
    errors: list[float]


def find_openings(
    sheet: Sheet, preview: NDArray[np.uint8], preview_scale: float, level: float = AS_FOUND
) -> Openings:
    """``preview`` (h, w, 3) is the sheet straightened at a coarser scale; ``level``: how open counts as open, 0..1."""
    found = kinds(preview, preview_scale, sheet.printed)
    share = None if found is None else _openness(sheet, found, of_light=True)
    if found is None or share is None:
        return Openings([], [], [], [])
    # lines across its edges spoil what they tell, and only a camera sees a mat
    told = Edges() if sheet.printed is not None else _told(sheet, share)
    if told.encoded + sheet.seat.encoded > ENCODED and sheet.printed is None:
        share = _openness(sheet, found, of_light=False)
    else:
        level += told.half - AS_FOUND
    if share is None:
        return Openings([], [], [], [])
    scale = np.array([share.shape[1] / sheet.width, share.shape[0] / sheet.height])
    places = between(share, scale)
    blur = _edge_px(share)
    uneven = unevenness(share, float(scale[0]), blur)
    soft = smoothed(share)
    # contours are followed in double precision, and a plane of twelve megapixels is not kept twice
    del share
    smooth = soft.astype(np.float64)
    del soft
    shapes = _traced(np.clip(smooth, -0.5, 1.5, out=smooth), scale, level)
    # where corners are cut off, the table shows beside the sheet
    corners = shapely.MultiPoint([(x, y) for x in (0, sheet.width) for y in (0, sheet.height)])
    shapes = [s for s in shapes if shapely.distance(s, corners) > 2 * _MARGIN]
    unclear, missed = doubts(places, shapes)
    errors = area_errors(uneven, shapes, scale, blur, found.by_colour, told.halo > SHARPENED)
    why: list[Doubt] = [
        "unclear" if u else "rough" if e > UNSURE else "" for u, e in zip(unclear, errors, strict=True)
    ]
    if sheet.printed is None:
        for i in other_colour(preview, shapes, preview_scale):
            why[i] = "colour"
    for i in lettering(shapes, sheet.width, sheet.height):
        why[i] = "lettering"
    return Openings(shapes, why, missed, errors.tolist())


def _openness(sheet: Sheet, found: Kinds, of_light: bool) -> Floats32 | None:
    """How open each pixel is: 0 bare sheet, 1 opening, 0.5 on the edge between them."""
    tones = curve(of_light)
    # light is mixed before the picture is straightened: in-between pixels must be in-between in light
    grey = sheet.straight(mixed(sheet.rgb, tones, found.weights), sheet.scale)
    two = brightness(grey, found, sheet.scale)
    if two is None:
        return None
    share = _share(grey, closer(grey, two, sheet.scale, _edge_px(_share(*_middle(grey, two))), found.hidden))
    if sheet.printed is not None:
        share = bridged(share, line_masks(sheet.printed, share.shape, sheet.scale), sheet.scale)
    edge = max(1, round(_MARGIN * sheet.scale))
    share[:edge], share[-edge:], share[:, :edge], share[:, -edge:] = 0, 0, 0, 0
    return np.asarray(share, np.float32)


def _share(grey: Floats32, two: tuple[Floats32, Floats32]) -> Floats32:
    """How open each pixel of ``grey`` (h, w) is between two fields (coarser) of bare sheet and of opening."""
    import cv2

    size = grey.shape[1::-1]
    bare, opening = (cv2.resize(v, size, interpolation=cv2.INTER_LINEAR) for v in two)
    # in place: at twelve megapixels every plane more is 48 MB
    gap = np.subtract(opening, bare, out=opening)
    sign = np.float32(np.sign(np.median(gap)))
    gap *= sign
    # where no opening is near, the two may come close; they must not cross
    np.maximum(gap, np.float32(6.0), out=gap)
    gap *= sign
    share = np.subtract(grey, bare, out=bare)
    share /= gap
    return np.asarray(share, np.float32)


def _middle(grey: Floats32, two: tuple[Floats32, Floats32]) -> tuple[Floats32, tuple[Floats32, Floats32]]:
    """The middle quarter of a sheet, enough to know its edges by."""

    def cut(field: Floats32) -> Floats32:
        height, width = field.shape
        return field[height // 4 : -(height // 4), width // 4 : -(width // 4)]

    return cut(grey), (cut(two[0]), cut(two[1]))


def _edge_px(share: Floats32) -> float:
    """How wide the usual edge is, px of standard deviation: from how steep it is at its middle."""
    y, x = np.nonzero(np.abs(share[1:-1, 1:-1] - 0.5) < 0.1)
    if len(x) < 200:
        return 1.0
    x, y = x[:: max(1, len(x) // 20000)] + 1, y[:: max(1, len(y) // 20000)] + 1
    steep = np.hypot(share[y, x + 1] - share[y, x - 1], share[y + 1, x] - share[y - 1, x]) / 2
    return float(min(8.0, 1 / (np.sqrt(2 * np.pi) * max(float(np.median(steep)), 0.05))))


def _told(sheet: Sheet, share: Floats32) -> Edges:
    """What the edges of the openings tell of how the picture came to be."""
    import cv2

    soft = cv2.GaussianBlur(share, (0, 0), 1.0)
    y, x = np.nonzero(np.abs(share[1:-1, 1:-1] - 0.5) < 0.2)
    if len(x) < 200:
        return Edges()
    pick = np.random.default_rng(11).choice(len(x), min(9000, len(x)), replace=False)
    x, y = x[pick] + 1, y[pick] + 1
    normals = np.column_stack([soft[y, x + 1] - soft[y, x - 1], soft[y + 1, x] - soft[y - 1, x]]).astype(
        float
    )
    steep = np.linalg.norm(normals, axis=1)
    clear = steep > _STEEP
    x, y, normals = x[clear], y[clear], normals[clear] / steep[clear, None]
    size = np.array(share.shape[1::-1], float)
    lightness = cv2.cvtColor(sheet.rgb, cv2.COLOR_RGB2GRAY)
    # looked up where they lie in the photograph: what is drawn anew is drawn softer
    return edges_of(
        lightness,
        np.column_stack([x, y]).astype(float),
        normals,
        lambda places: in_picture(sheet.seat, (places + 0.5) / size),
    )


def _traced(smooth: NDArray[np.float64], scale: NDArray[np.float64], level: float) -> list[Polygon]:
    from contourpy import FillType, contour_generator

    lines = contour_generator(z=smooth, fill_type=FillType.OuterOffset, name="serial").filled(level, 10.0)
    found = []
    for points, offsets in zip(*lines, strict=True):
        rings = [points[a:b] for a, b in pairwise(offsets)]
        shape = _shape([(r + 0.5) / scale for r in rings])
        if (
            shape is None
            or _is_dust(shape, float(scale[0]))
            or not _is_open(smooth, rings[0], shape, float(scale[0]))
        ):
            continue
        found.append(shape)
    return sorted(_tips_joined(found, smooth, scale), key=lambda s: -s.area)


def _tips_joined(
    found: list[Polygon], share: NDArray[np.float64], scale: NDArray[np.float64]
) -> list[Polygon]:
    """Tips that are finer than a pixel come off; where light still shows between, they belong to what they point at."""
    whole = list(found)
    for tip in [p for p in found if p.area < _TIP]:
        others = [p for p in whole if p is not tip and p.area > tip.area]
        if tip not in whole or not others:
            continue
        nearest = min(others, key=lambda p: float(shapely.distance(p, tip)))
        line = shapely.shortest_line(tip, nearest)
        if line.length * scale[0] > _TIP_REACH:
            continue
        between = shapely.get_coordinates(
            shapely.line_interpolate_point(line, np.linspace(0, 1, 7), normalized=True)
        )
        x, y = np.rint(between * scale - 0.5).astype(int).T
        if share[y.clip(0, share.shape[0] - 1), x.clip(0, share.shape[1] - 1)].min() > _TIP_SHOWS:
            strip = shapely.buffer(line, 0.4 / float(scale[0]), cap_style="square")
            joined = shapely.union_all([tip, nearest, strip])
            if isinstance(joined, Polygon):
                whole = [p for p in whole if p is not tip and p is not nearest] + [joined]
    return whole


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


def _is_open(share: NDArray[np.float64], ring: NDArray[np.float64], shape: Polygon, scale: float) -> bool:
    """Whether the inside is as bright as an opening is: a smear or a shadow is not."""
    x0, y0 = np.floor(ring.min(axis=0)).astype(int)
    x1, y1 = np.ceil(ring.max(axis=0)).astype(int) + 1
    inside = share[y0:y1, x0:x1]
    narrow = 4 * shape.area / max(1e-9, shape.length) * scale < 6
    return float(np.percentile(inside, 97 if not narrow else 99.5)) >= (_CLEAR if not narrow else 0.6)
