"""Where a photograph shows neither bare sheet nor opening: a shadow, glare, a finger, dirt, or no sharp edge."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

Floats32 = NDArray[np.float32]
LOW, HIGH = 0.25, 0.75
# how open what is neither looks, 0 bare sheet to 1 opening
EDGE = 0.32
# mm: an edge that is wider than that between the two is no sharp one
_LEAST_PX = 5
# px: no lens draws an edge much sharper than that
LEAST, SHARE = 0.15, 0.01
# mm2 of such a place from which it counts; share of an opening's area from which it is doubtful


def doubts(places: list[Polygon], shapes: list[Polygon]) -> tuple[list[bool], list[Polygon]]:
    """For each opening (mm) whether it is doubtful, and doubtful places (mm) that no opening has a part in."""
    doubtful = [False] * len(shapes)
    if not places:
        return doubtful, []
    near = shapely.STRtree(places).query([shapely.buffer(s, EDGE) for s in shapes], predicate="intersects")
    spoilt = np.zeros(len(shapes))
    touched: set[int] = set()
    for i, j in zip(*near.tolist(), strict=True):
        touched.add(j)
        # what lies just outside it may be as much a part of it as what lies inside
        around = shapely.buffer(shapes[i], 3 * EDGE)
        spoilt[i] += float(shapely.area(shapely.intersection(places[j], around)))
    for i, shape in enumerate(shapes):
        doubtful[i] = bool(spoilt[i] > SHARE * shape.area)
    return doubtful, [p for j, p in enumerate(places) if j not in touched]


def between(share: Floats32, scale: NDArray[np.float64]) -> list[Polygon]:
    """Places (mm) that are neither sheet nor opening over more than an edge's width.

    ``share`` (h, w): how open each pixel is; ``scale`` (x, y) px/mm.
    """
    import cv2

    soft = cv2.GaussianBlur(share, (0, 0), 0.1 * float(scale[0]))
    mid = ((soft > LOW) & (soft < HIGH)).astype(np.uint8)
    size = max(_LEAST_PX, round(EDGE * float(scale[0])) | 1)
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    wide = cv2.morphologyEx(mid, cv2.MORPH_OPEN, kernel)
    rings, _ = cv2.findContours(wide, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
    found = [shapely.make_valid(Polygon((r.reshape(-1, 2) + 0.5) / scale)) for r in rings if len(r) >= 3]
    parts = [p for shape in found for p in shapely.get_parts(shape) if isinstance(p, Polygon)]
    return [p for p in parts if p.area >= LEAST]
