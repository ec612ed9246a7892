"""How open each pixel of a straightened sheet is, and what its edges tell of how the picture came to be."""

from __future__ import annotations

from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from strata.optics.colour import decode_srgb, encode_srgb
from strata.tracing.fields import Kinds, brightness, closer, kinds, logarithm, mixed
from strata.tracing.focus import AT_THE_EDGE, EVEN, at_least, edge_px, on_edges, wider_at
from strata.tracing.light import LIGHTNESS, Edges, curve, edges_of, mixed_in_values
from strata.tracing.mat import Printed
from strata.tracing.printing import past_print
from strata.tracing.smooth import spread
from strata.tracing.straighten import Seat, in_picture, straighten

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
MARGIN = 0.35
# mm along the sheet's edge that belong to the table
_ROUNDS, _WIDER = 3, 0.9
# times that brightness is followed more closely; share of what an edge had seemed wide from which once more is of no use
_PLATEAU, _PAST_HALO_PX, _OWN, _OWN_GRID_MM, _OWN_MM, _HARDLY = 2.5, 6.0, 0.22, 0.06, 0.3, 0.003
# times an edge's spread that is clear of it, px that are clear of its halo; how far an opening may be from as open as others, of 1; mm a pixel,
# mm of surroundings, and share of them up to which an opening's own middle hardly tells
_BANDS, _UNEVENLY = 40, 1.2
# of rows; times as wide as usual that edges are somewhere, from which that matters
_STEEP, _TAPS = 0.1, 5
# of 1 over two px: an edge, not a stain; px around a place that tell which way that is
_COARSE_COLOUR, _MOST_COARSE, _MOST_OFF, _ALIKE = 1.35, 0.6, 0.1, 0.004
# px2 by which an edge is wider for colour that was halved, and what share of its width that is at most; of 1, how far from half-way an
# edge is at most, and up to which two lightnesses are alike


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
class Seen:
    """What one photograph shows of a sheet, or several of them together.

    ``share`` (h, w): how open each pixel is, 0 bare sheet, 1 opening, ``half``
    (0.5, but where it was sharpened) on the edge between them; ``blur`` px by which edges are usually wide, ``wider``
    (rows, columns; all over it) times that;
    ``by_colour``: sheet and table differ in colour alone; ``sharpened``: by the telephone;
    ``contrast`` (coarser): by what natural logarithm openings are brighter than the sheet around each place;
    ``hidden`` (h, w): under lines of a mat, where it was guessed from beside them;
    ``odd`` (h, w): neither as the sheet nor as the table looks (``joined.with_odd``);
    ``overexposed``: sheet or table is lighter than the camera tells.
    """

    share: Floats32
    blur: float
    by_colour: bool
    sharpened: bool
    contrast: Floats32
    half: float = AT_THE_EDGE
    hidden: NDArray[np.bool_] | None = None
    odd: NDArray[np.bool_] | None = None
    overexposed: bool = False
    wider: Floats32 = field(default_factory=lambda: EVEN)

    @property
    def lighter(self) -> bool:
        """Whether openings are lighter than the sheet."""
        return _lighter(self.contrast)


def _lighter(contrast: Floats32) -> bool:
    """Whether openings are lighter than the sheet, by ``contrast`` as ``Seen`` has it."""
    return float(np.median(contrast)) > 0


def see(sheet: Sheet, preview: NDArray[np.uint8], preview_scale: float) -> Seen | None:
    """``preview`` (h, w, 3) is the sheet straightened at a coarser scale; None where nothing stands out from the sheet."""
    found = kinds(preview, preview_scale, sheet.printed)
    made = None if found is None else _openness(sheet, found, of_light=True)
    if found is None or made is None:
        return None
    told = _told(sheet, made.share)
    # only a camera sees a mat
    encoded = sheet.printed is None and mixed_in_values(sheet.seat.told, told)
    made = _openness(sheet, found, of_light=False) if encoded else made
    if made is None:
        return None
    _, contrast, hidden, blur, wider = made
    sharpened = not encoded and told.sharpened
    clear = _PLATEAU * np.maximum(1.0, blur * at_least(wider))
    clear = np.maximum(clear, _PAST_HALO_PX if sharpened else 0.0)
    share = _to_their_own(made.share, sheet.scale, clear)
    blur = edge_px([share])
    # edges are told from dark to light, openings from the sheet on
    lit = told.lit if _lighter(contrast) else 1 - told.lit
    half = AT_THE_EDGE if encoded else lit + _off_half_way(preview, found, blur)
    return Seen(
        share, blur, found.by_colour, sharpened, contrast, half, hidden, None, told.overexposed, wider
    )


def _off_half_way(preview: NDArray[np.uint8], found: Kinds, blur: float) -> float:
    """By how much an edge where half the light of either side meets is more open than half-way between the two.

    By lightness (``found.weights`` None) it is as the light of the encoded lightness of that half (ITU-T T.871), which of two
    colours is not half the light of theirs. Where colour alone tells it is less, towards the dark: JPEG keeps colour at
    half its resolution, and mixes encoded values where a lens mixes light.
    """
    import cv2

    size = found.bare.shape[1::-1]
    small = cv2.resize(preview, size, interpolation=cv2.INTER_AREA)
    sides = np.array([np.median(small[m].astype(float), axis=0) for m in (found.bare, found.open)])
    if found.weights is None:
        half = encode_srgb(decode_srgb(sides / 255).mean(axis=0)) * 255
        bare, opening, middle = decode_srgb(np.array([*sides, half]) @ LIGHTNESS / 255)
        off = (middle - bare) / (opening - bare) - AT_THE_EDGE if abs(opening - bare) > _ALIKE else 0.0
        return float(np.clip(off, -_MOST_OFF, _MOST_OFF))
    if not found.by_colour:
        return 0.0
    bare, opening, middle = decode_srgb(np.array([*sides, sides.mean(axis=0)]) / 255) @ found.weights
    encoded = (middle - bare) / (opening - bare)
    return float(-min(_MOST_COARSE, _COARSE_COLOUR / blur**2) * (AT_THE_EDGE - encoded))


class _Open(NamedTuple):
    """``share``, ``contrast``, ``hidden``, ``blur`` and ``wider`` as ``Seen`` has them, but each opening as open as those around it."""

    share: Floats32
    contrast: Floats32
    hidden: NDArray[np.bool_] | None
    blur: float
    wider: Floats32


def _openness(sheet: Sheet, found: Kinds, of_light: bool) -> _Open | None:
    """How open each pixel is; None where sheet and openings are too alike."""
    tones = curve(of_light)
    # light is mixed before the picture is straightened: in-between pixels must be in-between in light
    grey = sheet.straight(mixed(sheet.rgb, tones, found.weights), sheet.scale)
    two = brightness(grey, found, sheet.scale)
    if two is None:
        return None
    (bare, opening), blur, wider = _followed(grey, two, sheet, found)
    contrast = logarithm(opening) - logarithm(bare)
    share = _share(grey, (bare, opening))
    hidden = None
    if sheet.printed is not None:
        share, hidden = past_print(share, sheet.printed, sheet.scale)
    edge = max(1, round(MARGIN * sheet.scale))
    share[:edge], share[-edge:], share[:, :edge], share[:, -edge:] = 0, 0, 0, 0
    return _Open(np.asarray(share, np.float32), contrast, hidden, blur, wider)


class _Followed(NamedTuple):
    """Bare sheet and opening, as they are found to be; ``blur`` and ``wider`` as ``Seen`` has them."""

    two: tuple[Floats32, Floats32]
    blur: float
    wider: Floats32


def _followed(grey: Floats32, rough: tuple[Floats32, Floats32], sheet: Sheet, found: Kinds) -> _Followed:
    """Bare sheet and opening, ``rough`` so far, followed as closely as edges are wide."""
    known = _rounds(grey, rough, sheet, found, EVEN)
    # only of what is followed already it shows where edges really are wider
    if known.wider.max() < _UNEVENLY:
        return known
    return _rounds(grey, rough, sheet, found, at_least(known.wider))


def _rounds(
    grey: Floats32, two: tuple[Floats32, Floats32], sheet: Sheet, found: Kinds, wider: Floats32
) -> _Followed:
    bands = _bands(grey, two)
    blur = edge_px(_middle(bands))
    for _ in range(_ROUNDS):
        two = closer(grey, two, sheet.scale, blur * wider, found.hidden)
        bands = _bands(grey, two)
        before, blur = blur, edge_px(_middle(bands))
        # where half the sheet lies in a shadow, its edges had seemed wider than they are
        if blur > _WIDER * before:
            break
    return _Followed(two, blur, wider_at(bands, blur))


def _to_their_own(share: Floats32, scale: float, clear: Floats32) -> Floats32:
    """``share`` (h, w) with each opening as open as it is in its own middle, where that is wide enough to show: ``clear`` px
    (rows, columns; all over it) from its edges.

    What was carried on from wider openings misses the grain of wood and the rim of a shadow by some hundredths in narrow ones.
    """
    import cv2

    shrink = min(1.0, 1 / (_OWN_GRID_MM * scale))
    size = (max(2, round(share.shape[1] * shrink)), max(2, round(share.shape[0] * shrink)))
    small = np.asarray(cv2.resize(share, size, interpolation=cv2.INTER_AREA), np.float32)
    within = cv2.distanceTransform((small > AT_THE_EDGE).astype(np.uint8), cv2.DIST_L2, 3)
    # what is far darker than openings are is a shadow or dirt, and no opening of its own tone
    far = within > shrink * cv2.resize(clear, size, interpolation=cv2.INTER_LINEAR)
    known = far & (np.abs(small - 1) < _OWN)
    own = np.float32(1) + spread(small - 1, known, _OWN_MM * scale * shrink, _HARDLY)
    return np.asarray(share / cv2.resize(own, share.shape[1::-1], interpolation=cv2.INTER_LINEAR), np.float32)


def _share(grey: Floats32, two: tuple[Floats32, Floats32]) -> Floats32:
    """How open each pixel of ``grey`` (h, w) is between two fields (coarser) of bare sheet and of opening."""
    import cv2

    size = grey.shape[1::-1]
    sign = np.float32(np.sign(np.median(two[1] - two[0])))
    bare, opening = (cv2.resize(v, size, interpolation=cv2.INTER_LINEAR) for v in two)
    # in place: at twelve megapixels every plane more is 48 MB
    gap = np.subtract(opening, bare, out=opening)
    gap *= sign
    # where no opening is near, the two may come close; they must not cross
    np.maximum(gap, np.float32(6.0), out=gap)
    gap *= sign
    share = np.subtract(grey, bare, out=bare)
    share /= gap
    return np.asarray(share, np.float32)


def _bands(grey: Floats32, two: tuple[Floats32, Floats32]) -> list[Floats32]:
    """How open a sheet's pixels are in bands of rows, a quarter of all: enough to know its edges from place to place."""

    def cut(field: Floats32) -> list[Floats32]:
        rows = np.linspace(0, len(field), _BANDS + 1).round().astype(int)
        return [field[a : a + max(1, (b - a) // 4)] for a, b in pairwise(rows.tolist())]

    return [_share(g, (bare, opening)) for g, bare, opening in zip(cut(grey), *map(cut, two), strict=True)]


def _middle(bands: list[Floats32]) -> list[Floats32]:
    """Of bands of rows what lies in the middle of a sheet, where it is lit best."""
    quarter = len(bands) // 4
    return [b[:, b.shape[1] // 4 : -(b.shape[1] // 4)] for b in bands[quarter:-quarter]]


def _told(sheet: Sheet, share: Floats32) -> Edges:
    """What the edges of the openings tell of how the picture came to be."""
    x, y = on_edges(share, 0.2)
    if len(x) < 200:
        return Edges()
    pick = np.random.default_rng(11).choice(len(x), min(9000, len(x)), replace=False)
    x, y = x[pick], y[pick]
    normals = uphill(share, x, y)
    steep = np.linalg.norm(normals, axis=1)
    clear = steep > _STEEP
    x, y, normals = x[clear], y[clear], normals[clear] / steep[clear, None]
    size = np.array(share.shape[1::-1], float)
    # looked up where they lie in the photograph: what is drawn anew is drawn softer
    return edges_of(
        sheet.rgb,
        np.column_stack([x, y]).astype(float),
        normals,
        lambda places: in_picture(sheet.seat, (places + 0.5) / size),
    )


def uphill(share: Floats32, x: NDArray[np.int32], y: NDArray[np.int32]) -> Floats:
    """(n, 2) which way, and by how much over two px, it becomes more open at columns ``x`` and rows ``y`` (n,), a little
    smoothed; ``share`` (h, w) goes on past its rim as it is there."""
    import cv2

    # a blur of one px followed by a difference, in one, and only where it is asked for
    blur = np.pad(cv2.getGaussianKernel(2 * _TAPS - 1, 1.0).ravel(), 1)
    step = np.convolve(blur[1:-1], [-1, 0, 1])
    away = np.arange(-_TAPS, _TAPS + 1)
    rows = (y[:, None] + away).clip(0, share.shape[0] - 1)
    columns = (x[:, None] + away).clip(0, share.shape[1] - 1)
    around = share[rows[:, :, None], columns[:, None, :]].reshape(len(x), -1)
    kernels = np.stack([np.outer(blur, step), np.outer(step, blur)]).astype(np.float32)
    return np.asarray(around @ kernels.reshape(2, -1).T, float)
