"""Elements across sheets: openings that lie on one another belong together."""

from __future__ import annotations

from dataclasses import replace
from functools import lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import MultiPolygon, Polygon

from strata.sheets.joined import Joined
from strata.sheets.model import Group, LayerSet, Opening
from strata.sheets.overlaps import Shared, overlaps

LEAST_SHARE = 0.5
# of the smaller opening's area before it counts as lying on the larger


BRIDGE = 1.3
# mm: parts of one thing are held apart by bridges about this wide
LEAST_FACING = 0.3
# of the smaller opening's outline that looks across a bridge at the larger
_COARSE = 0.03
# mm: as true as it is to a bridge


def _join_across_bridges(openings: list[Opening], joined: Joined) -> None:
    """Join those on one sheet that face each other across a narrow bridge; what is joined already is not asked again."""
    if len(openings) < 2:
        return
    shapes = np.array([o.polygon for o in openings], dtype=object)
    coarse = shapely.simplify(shapes, _COARSE)
    area, sheet = shapely.area(shapes), np.array([o.sheet for o in openings])
    named = np.array([bool(o.element) for o in openings])
    reach: dict[int, Polygon] = {}
    left, right = _near_by(coarse, sheet)
    asked = (area[left] <= area[right]) & ~(named[left] & named[right])
    box = shapely.bounds(shapes)
    for axis in (0, 1):
        # further apart than a bridge is wide, for all that their coarse outlines are not
        asked &= box[left, axis] - box[right, axis + 2] <= BRIDGE
        asked &= box[right, axis] - box[left, axis + 2] <= BRIDGE
    for a, b in zip(left[asked].tolist(), right[asked].tolist(), strict=True):
        if joined.root(a) == joined.root(b):
            continue
        if b not in reach:
            reach[b] = shapely.buffer(coarse[b], BRIDGE, quad_segs=4)
        near = shapely.intersection(shapes[a].exterior, reach[b])
        if near.length >= LEAST_FACING * shapes[a].exterior.length:
            joined.join(joined.root(a), joined.root(b))


def _near_by(
    shapes: NDArray[np.object_], sheets: NDArray[np.int_]
) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Pairs of one sheet, each both ways, that a narrow bridge may hold apart."""
    pairs = []
    for sheet in np.unique(sheets):
        own = np.flatnonzero(sheets == sheet)
        # two that were each made coarser are so much nearer or further
        left, right = shapely.STRtree(shapes[own]).query(
            shapes[own], predicate="dwithin", distance=BRIDGE + 2 * _COARSE
        )
        apart = left != right
        pairs.append((own[left[apart]], own[right[apart]]))
    left, right = (np.concatenate(side) for side in zip(*pairs, strict=True))
    in_order = np.lexsort((right, left))
    return left[in_order], right[in_order]


def propose(layer_set: LayerSet) -> LayerSet:
    """The set with a proposed element for every opening that has none.

    Openings whose later one lies by half or more within the earlier one are
    joined, and so are those that face each other across a narrow bridge;
    openings named in the file keep their names and lend them to the unnamed
    ones that lie on them.
    """
    openings = [o for s in layer_set.sheets for o in s.openings]
    index = {o.key: i for i, o in enumerate(openings)}
    joined = Joined(len(openings))
    for item in overlaps(layer_set):
        smaller = min(item.under.polygon.area, item.over.polygon.area)
        clash = item.under.element and item.over.element and item.under.element != item.over.element
        if item.area >= LEAST_SHARE * smaller and not clash:
            joined.join(joined.root(index[item.under.key]), joined.root(index[item.over.key]))
    _join_across_bridges(openings, joined)
    component = [joined.root(i) for i in range(len(openings))]
    names: dict[int, str] = {}
    for i, opening in enumerate(openings):
        if opening.element:
            names.setdefault(component[i], opening.element)
    number = 0
    for i in range(len(openings)):
        if component[i] not in names:
            number += 1
            names[component[i]] = f"part {number}"

    def named(opening: Opening) -> Opening:
        return opening if opening.element else replace(opening, element=names[component[index[opening.key]]])

    sheets = tuple(replace(s, openings=tuple(named(o) for o in s.openings)) for s in layer_set.sheets)
    return replace(layer_set, sheets=sheets)


def lies_on(over: Group, under: Group, known: Shared | None = None) -> bool:
    """Whether a group is a tone of a larger one of an earlier sheet: it lies within it by half or more.

    ``known``: what the groups of their set share, where that is at hand; all of it takes far longer to find than two.
    """
    if under.area <= over.area:
        return False
    # openings that lie apart on their sheets share what their pairs do
    apart = known is not None and under.apart and over.apart
    found = known.get((under.key, over.key), 0.0) if known is not None and apart else None
    shared = _shared_area(under.shape, over.shape) if found is None else found
    return shared >= LEAST_SHARE * over.area


@lru_cache(maxsize=8192)
def _shared_area(one: MultiPolygon, other: MultiPolygon) -> float:
    """mm2; kept, since parts are named oftener than moved. A tone lies wholly on its base, which is seen in a sixth of the time."""
    return float(other.area if shapely.covers(one, other) else shapely.area(shapely.intersection(one, other)))


def tone_roles(layer_set: LayerSet) -> dict[tuple[str, int], str]:
    """What each group does for its element: base, tone, line, ground or background, in words.

    A group that lies within a larger one of an earlier sheet is a deeper or
    lighter tone of it; tones are counted in the order of the sheets.
    """
    roles: dict[tuple[str, int], str] = {}
    for element in layer_set.elements:
        tones = 0
        for sheet in layer_set.sheets_of(element):
            group = layer_set.group(element, sheet)
            kinds = {o.role for o in group.openings}
            if len(kinds) == 1 and kinds != {"tone"}:
                roles[group.key] = kinds.pop()
                continue
            before = [layer_set.group(element, s) for s in layer_set.sheets_of(element) if s < sheet]
            tone = any(lies_on(group, b) for b in before)
            tones += tone
            roles[group.key] = f"tone {tones} on its base" if tone else ("base" if not tones else "more base")
    return roles
