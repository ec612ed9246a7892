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
