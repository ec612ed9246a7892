"""Which opening lies over which, and how much of a group lies over another."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import shapely

from strata.sheets.model import LayerSet, Opening

LEAST_OVERLAP = 0.01
# mm2; slivers under this are touching edges


@dataclass(frozen=True)
class Overlap:
    """``over`` covers ``area`` mm2 of ``under``; ``over`` belongs to the later sheet."""

    under: Opening
    over: Opening
    area: float


def overlaps(layer_set: LayerSet) -> list[Overlap]:
    """All overlapping pairs of openings on different sheets (STRtree, then exact areas)."""
    openings = [o for s in layer_set.sheets for o in s.openings]
    shapes = np.array([o.polygon for o in openings], dtype=object)
    # shapely.prepare would change these shared geometries under other threads' hands, and crash
    tree = shapely.STRtree(shapes)
    left, right = tree.query(shapes, predicate="intersects")
    keep = np.array([openings[a].sheet < openings[b].sheet for a, b in zip(left, right, strict=True)], bool)
    left, right = left[keep], right[keep]
    areas = shapely.area(shapely.intersection(shapes[left], shapes[right]))
    return [
        Overlap(openings[a], openings[b], float(area))
        for a, b, area in zip(left, right, areas, strict=True)
        if area >= LEAST_OVERLAP
    ]


@lru_cache(maxsize=64)
def group_overlaps(layer_set: LayerSet) -> dict[tuple[tuple[str, int], tuple[str, int]], float]:
    """mm2 shared by two groups of different sheets, keyed (earlier sheet's group, later's); kept for the last sets."""
    shared: dict[tuple[tuple[str, int], tuple[str, int]], float] = {}
    for item in overlaps(layer_set):
        key = ((item.under.element, item.under.sheet), (item.over.element, item.over.sheet))
        shared[key] = shared.get(key, 0.0) + item.area
    return shared
