"""Which opening lies over which, and how much of a group lies over another."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from strata.sheets.hands import by_two
from strata.sheets.model import LayerSet, Opening

LEAST_OVERLAP = 0.01
# mm2; slivers under this are touching edges
Shared = dict[tuple[tuple[str, int], tuple[str, int]], float]
# mm2 that two groups share, keyed (earlier sheet's group, later's)


@dataclass(frozen=True)
class Overlap:
    """``over`` covers ``area`` mm2 of ``under``; ``over`` belongs to the later sheet."""

    under: Opening
    over: Opening
    area: float


def overlaps(layer_set: LayerSet) -> list[Overlap]:
    """All overlapping pairs of openings on different sheets (STRtree, then exact areas)."""
    openings = [o for s in layer_set.sheets for o in s.openings]
    shared = _shared(tuple(o.polygon for o in openings), tuple(o.sheet for o in openings))
    return [Overlap(openings[a], openings[b], area) for a, b, area in shared]


def _shared_area(a: NDArray[np.object_], b: NDArray[np.object_]) -> NDArray[np.float64]:
    return np.asarray(shapely.area(shapely.intersection(a, b)))


@lru_cache(maxsize=32)
def _shared(shapes: tuple[Polygon, ...], sheets: tuple[int, ...]) -> list[tuple[int, int, float]]:
    """(earlier, later, mm2) of what overlaps, by place; kept, since parts are named oftener than moved."""
    all_of_them, number = np.array(shapes, dtype=object), np.array(sheets)
    # shapely.prepare would change these shared geometries under other threads' hands, and crash; a tree asks with copies
    pairs = []
    for sheet in np.unique(number):
        before, own = np.flatnonzero(number < sheet), np.flatnonzero(number == sheet)
        under, over = shapely.STRtree(all_of_them[own]).query(all_of_them[before], predicate="intersects")
        pairs.append((before[under], own[over]))
    left, right = (np.concatenate(side) for side in zip(*pairs, strict=True))
    in_order = np.lexsort((right, left))
    left, right = left[in_order], right[in_order]
    areas = by_two(_shared_area, all_of_them[left], all_of_them[right])
    large = areas >= LEAST_OVERLAP
    return list(zip(left[large].tolist(), right[large].tolist(), areas[large].tolist(), strict=True))


@lru_cache(maxsize=64)
def group_overlaps(layer_set: LayerSet) -> Shared:
    """mm2 shared by every two groups of different sheets that share any; kept for the last sets."""
    shared: Shared = {}
    for item in overlaps(layer_set):
        key = ((item.under.element, item.under.sheet), (item.over.element, item.over.sheet))
        shared[key] = shared.get(key, 0.0) + item.area
    return shared
