"""Measures between groups of openings: gaps on one sheet."""

from __future__ import annotations

from functools import lru_cache

import shapely

from strata.sheets.model import Group, LayerSet


def gap(first: Group, second: Group) -> float:
    """The smallest distance in mm between two groups of one sheet."""
    return float(shapely.distance(first.shape, second.shape))


@lru_cache(maxsize=64)
def gaps(layer_set: LayerSet) -> dict[tuple[str, str, int], float]:
    """For every sheet, the gap between each two of its groups, keyed (element, element, sheet); kept for the last sets."""
    found: dict[tuple[str, str, int], float] = {}
    groups = list(layer_set.groups.values())
    for i, first in enumerate(groups):
        for second in groups[i + 1 :]:
            if first.sheet == second.sheet:
                found[first.element, second.element, first.sheet] = gap(first, second)
    return found


SIDE_BY_SIDE = 1.5
# mm between two elements that are seen as touching


@lru_cache(maxsize=64)
def elements_apart(layer_set: LayerSet) -> dict[frozenset[str], float]:
    """mm between every two elements that lie within 10 mm of one another, whatever sheets they are on."""
    shapes = {
        e: shapely.union_all([g.shape for g in layer_set.groups.values() if g.element == e])
        for e in layer_set.elements
    }
    names = list(shapes)
    tree = shapely.STRtree([shapes[n] for n in names])
    found = {}
    for i, name in enumerate(names):
        for j in tree.query(shapes[name], predicate="dwithin", distance=10.0).tolist():
            if j > i:
                found[frozenset((name, names[j]))] = float(shapely.distance(shapes[name], shapes[names[j]]))
    return found
