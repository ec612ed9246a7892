"""How far parts lie from one another: groups of one sheet, and elements whatever sheets they are on."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import lru_cache
from itertools import groupby

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from strata.sheets.model import LayerSet

Gaps = Mapping[tuple[frozenset[str], int], float]
# mm between two elements on a sheet

WITHIN = 10.0
# mm: farther than any brush strays, any mask needs or any two areas are seen side by side
SIDE_BY_SIDE = 1.5
# mm between two elements that are seen as touching


def _apart(shapes: Sequence[BaseGeometry]) -> list[tuple[int, int, float]]:
    """(i, j, mm) of every two shapes less than ``WITHIN`` apart, i < j."""
    own = np.array(shapes, dtype=object)
    x0, y0, x1, y1 = shapely.bounds(own).T
    around = shapely.box(x0 - WITHIN, y0 - WITHIN, x1 + WITHIN, y1 + WITHIN)
    # by their boxes only: "dwithin" of two bodies of many openings takes longer than their distance itself
    left, right = shapely.STRtree(own).query(around)
    once = left < right
    left, right = left[once], right[once]
    mm = shapely.distance(own[left], own[right])
    near = mm < WITHIN
    return sorted(zip(left[near].tolist(), right[near].tolist(), mm[near].tolist(), strict=True))


@lru_cache(maxsize=64)
def gaps(layer_set: LayerSet) -> Gaps:
    """mm of sheet between every two elements on it that lie within 10 mm of one another; kept for the last sets."""
    found: dict[tuple[frozenset[str], int], float] = {}
    by_sheet = sorted(layer_set.groups.values(), key=lambda g: g.sheet)
    for sheet, groups in groupby(by_sheet, key=lambda g: g.sheet):
        own = list(groups)
        for i, j, mm in _apart([g.shape for g in own]):
            found[frozenset((own[i].element, own[j].element)), sheet] = mm
    return found


@lru_cache(maxsize=64)
def elements_apart(layer_set: LayerSet) -> dict[frozenset[str], float]:
    """mm between every two elements that lie within 10 mm of one another, whatever sheets they are on."""
    shapes = {
        e: shapely.union_all([g.shape for g in layer_set.groups.values() if g.element == e])
        for e in layer_set.elements
    }
    names = list(shapes)
    return {frozenset((names[i], names[j])): mm for i, j, mm in _apart([shapes[n] for n in names])}
