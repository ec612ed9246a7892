"""Elements across sheets: openings that lie on one another belong together."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from scipy.sparse import coo_matrix

from strata.sheets.model import LayerSet, Opening
from strata.sheets.overlaps import overlaps

LEAST_SHARE = 0.5
# of the smaller opening's area before it counts as lying on the larger


def _components(count: int, pairs: list[tuple[int, int]]) -> np.ndarray:
    from scipy.sparse.csgraph import connected_components

    rows, columns = zip(*pairs, strict=True) if pairs else ((), ())
    graph = coo_matrix((np.ones(len(pairs)), (rows, columns)), shape=(count, count))
    return np.asarray(connected_components(graph, directed=False)[1])


def propose(layer_set: LayerSet) -> LayerSet:
    """The set with a proposed element for every opening that has none.

    Openings whose later one lies by half or more within the earlier one are
    joined; openings named in the file keep their names and lend them to the
    unnamed ones that lie on them.
    """
    openings = [o for s in layer_set.sheets for o in s.openings]
    index = {o.key: i for i, o in enumerate(openings)}
    pairs = []
    for item in overlaps(layer_set):
        smaller = min(item.under.polygon.area, item.over.polygon.area)
        clash = item.under.element and item.over.element and item.under.element != item.over.element
        if item.area >= LEAST_SHARE * smaller and not clash:
            pairs.append((index[item.under.key], index[item.over.key]))
    component = _components(len(openings), pairs)
    names: dict[int, str] = {}
    for i, opening in enumerate(openings):
        if opening.element:
            names.setdefault(int(component[i]), opening.element)
    number = 0
    for i in range(len(openings)):
        if int(component[i]) not in names:
            number += 1
            names[int(component[i])] = f"part {number}"

    def named(opening: Opening) -> Opening:
        return (
            opening
            if opening.element
            else replace(opening, element=names[int(component[index[opening.key]])])
        )

    sheets = tuple(replace(s, openings=tuple(named(o) for o in s.openings)) for s in layer_set.sheets)
    return replace(layer_set, sheets=sheets)
