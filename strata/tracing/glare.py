"""Where a lamp glints on a photographed sheet: what is open is brighter there than elsewhere, or is told from the sheet no more."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from strata.tracing.doubt import ENOUGH, outlined
from strata.tracing.sides import sampled
from strata.tracing.smooth import smooth_model

Floats32 = NDArray[np.float32]
Mask = NDArray[np.bool_]
_COARSE_PX, FAR = 700.0, 0.3
# px of a picture in which glints are looked for; how far from an edge is clear of it, of 1
_BRIGHTER, _GRAIN, _SPOT = 0.06, 5.0, 0.2
# natural logarithm and times the usual by which a glint is brighter; share of what lies around it that it is at most
_FAINT, _SKIRT_PX = 0.8, 31
# of the usual contrast, that of a sheet a glint lies on; px around the middle of a glint in which that shows
_WHITE, _BLIND_PX = 245, 5
# of 255 in every channel, what a camera tells no more of; px that such a place is wide at least
_EVERY_MM, _FLAT, _EDGELESS = 0.3, 0.2, 0.15
# mm along an outline; of how steep edges usually are, what is none; share of an outline that is none


class Coarse(NamedTuple):
    """A straightened sheet as coarse as glints and fingers are (h, w): what it looks like, how open it is, what is
    open clear of edges, and by how much sheet and opening stand apart there, of what they usually do."""

    rgb: NDArray[np.uint8]
    share: Floats32
    open: Mask
    apart: Floats32


def coarsely(rgb: NDArray[np.uint8], share: Floats32, contrast: Floats32) -> Coarse:
    """``rgb`` (h, w, 3), ``share`` and ``contrast`` (as ``openness.Seen`` has them) are of any size each."""
    import cv2

    by = min(1.0, _COARSE_PX / max(rgb.shape[:2]))
    small = np.asarray(cv2.resize(rgb, None, fx=by, fy=by, interpolation=cv2.INTER_AREA))
    size = small.shape[1::-1]
    share = np.asarray(cv2.resize(share, size, interpolation=cv2.INTER_AREA), np.float32)
    apart = cv2.resize(contrast, size, interpolation=cv2.INTER_LINEAR)
    return Coarse(small, share, _inner(share > 1 - FAR), np.asarray(apart / np.median(apart), np.float32))


def glints(own: Coarse) -> Mask:
    """(h, w) where a lamp's glint may lie: as open as openings are, and brighter than what is open elsewhere."""
    none = np.zeros(own.share.shape, bool)
    if own.open.sum() < ENOUGH:
        return none
    found = _brighter(own.rgb, own.open) & (own.share > FAR)
    # where most is brighter, the rest lies in a shadow
    return found if found[own.open].mean() < _SPOT else none


def glint_places(own: Coarse, width: float, height: float) -> list[Polygon]:
    """Places (mm) of a sheet of ``width`` x ``height`` mm on which a lamp glints: brighter, and the sheet beside them
    nearly as bright. A lit half beside a shadow is brighter too, sheet and all."""
    import cv2

    faint = (own.apart < _FAINT).astype(np.uint8)
    near = cv2.dilate(faint, np.ones((_SKIRT_PX, _SKIRT_PX), np.uint8)) > 0
    return _in_mm(_pieces(_broad(glints(own), 3), near), width, height)


def blinded_places(own: Coarse, width: float, height: float) -> list[Polygon]:
    """Places (mm) of a sheet of ``width`` x ``height`` mm where a lamp blinds the camera: lighter than the sheet is
    elsewhere, and as white as a picture can be in their middle. What is open there looks like sheet, or nearly."""
    bare = _inner(own.share < FAR)
    white = bare & (own.rgb.min(axis=2) >= _WHITE)
    # where much of a sheet is that white, so is the sheet
    if bare.sum() < ENOUGH or not 0 < white[bare].mean() < _SPOT:
        return []
    lit = bare & _brighter(own.rgb, bare)
    return _in_mm(_pieces(_broad(lit, _BLIND_PX), _broad(lit & white, _BLIND_PX)), width, height)


def edgeless(rgb: NDArray[np.uint8], shapes: list[Polygon], width: float, height: float) -> list[int]:
    """Openings (mm) that a part of their outline parts from nothing: what a lamp lights goes over into the sheet slowly.

    ``rgb`` (h, w, 3) is the straightened sheet of ``width`` x ``height`` mm. Steepness is asked of the logarithm of light, which
    a shadow leaves as it is, and of the picture, since fields that follow a glint make it steep.
    """
    import cv2

    if not shapes:
        return []
    tone = cv2.GaussianBlur(_tone(rgb), (0, 0), 0.7)
    steep = cv2.magnitude(*(cv2.Sobel(tone, cv2.CV_32F, *way, ksize=1) for way in ((1, 0), (0, 1))))
    outlines = shapely.segmentize([s.boundary for s in shapes], _EVERY_MM)
    points, own = shapely.get_coordinates(outlines, return_index=True)
    # a straightened sheet is whole blocks of pixels wide: its scale is not quite what was asked for
    scale = rgb.shape[1] / width, rgb.shape[0] / height
    at = sampled(steep, points * scale - 0.5)
    flat = at < _FLAT * float(np.median(at))
    share = np.bincount(own, flat, minlength=len(shapes)) / np.bincount(own, minlength=len(shapes))
    return np.flatnonzero(share > _EDGELESS).tolist()


def _inner(mask: Mask) -> Mask:
    """(h, w) what of a mask lies clear of its edges."""
    import cv2

    return np.asarray(cv2.erode(mask.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0)


def _broad(mask: Mask, wide: int) -> Mask:
    """(h, w) what of a mask is at least so many px wide."""
    import cv2

    return np.asarray(
        cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_OPEN, np.ones((wide, wide), np.uint8)) > 0
    )


def _brighter(rgb: NDArray[np.uint8], like: Mask) -> Mask:
    """(h, w) what is brighter than ``like`` (h, w) is, followed slowly over the picture."""
    tone = _tone(rgb)
    raised = tone - smooth_model(tone, like)
    usual = float(np.median(np.abs(raised[like])))
    return np.asarray(raised > max(_BRIGHTER, _GRAIN * usual))


def _tone(rgb: NDArray[np.uint8]) -> Floats32:
    """The natural logarithm of lightness (h, w), noise in the dark kept low."""
    import cv2

    grey = cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY).astype(np.float32)
    return np.asarray(np.log(grey + np.float32(12)), np.float32)


def _pieces(mask: Mask, seeds: Mask) -> Mask:
    """(h, w) those pieces of a mask on which there are seeds."""
    import cv2

    count, label = cv2.connectedComponents(mask.astype(np.uint8))
    return np.asarray(mask & (np.bincount(label[seeds & mask], minlength=count) > 0)[label])


def _in_mm(mask: Mask, width: float, height: float) -> list[Polygon]:
    return outlined(mask, np.array([mask.shape[1] / width, mask.shape[0] / height]))
