"""How far a sheet may slip before a tone leaves its base, and which way of seating it is good enough."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from strata.progress import Each, one_by_one
from strata.sheets.elements import lies_on
from strata.sheets.model import Group, LayerSet
from strata.sheets.overlaps import group_overlaps

DIRECTIONS = tuple(45.0 * i for i in range(8))
# degrees, 0 to the right, 90 down
MOST = 5.0
# mm: further than any sheet slips
SEEN = 0.01
# mm2 more of a tone that stand out: what outlines are rounded by does not
HOLDS = {"jig": 0.25, "marks": 0.5, "eye": 1.0}
# mm to which each way of seating a sheet is good for a practised hand
_STRIDES, _FINE = (0.25, 0.5, 0.75, 1.0, 1.5, 2.0, 2.5, 3.0, 4.0, MOST), 0.0025
# mm that a tone is moved by until it stands out; and how near the place is found
_CLOSEST = 3


@dataclass(frozen=True)
class Slip:
    """``least`` mm in the worst direction (degrees), and mm for each of DIRECTIONS."""

    under: Group
    over: Group
    least: float
    worst: float
    by_direction: tuple[float, ...]

    @property
    def register(self) -> str | None:
        """The easiest way of seating that is good enough; None when not even a jig is."""
        return next((k for k in ("eye", "marks", "jig") if HOLDS[k] <= self.least), None)

    @property
    def how(self) -> str:
        """How it came."""
        ways = f"by eye a sheet sits to {HOLDS['eye']:g} mm, on its marks to {HOLDS['marks']:g}, in a jig to {HOLDS['jig']:g}"
        return f"The tone was moved in eight directions until it began to stand out over its base; {ways}."


def slips(
    layer_set: LayerSet, say: Callable[[float], None] = lambda share: None, each: Each = one_by_one
) -> list[Slip]:
    """For every tone that lies on a base of its element on an earlier sheet, tightest first. ``say`` is told the share done."""
    known, pairs = group_overlaps(layer_set), list[tuple[Group, Group]]()
    for element in layer_set.elements:
        groups = [layer_set.group(element, s) for s in layer_set.sheets_of(element)]
        for i, over in enumerate(groups):
            pairs.extend((under, over) for under in groups[:i] if lies_on(over, under, known))
    found = [_slip(*pair, rooms) for pair, rooms in zip(pairs, each(_room, pairs, say), strict=True)]
    return sorted(found, key=lambda s: s.least)


def _slip(under: Group, over: Group, rooms: tuple[float, ...]) -> Slip:
    least = min(rooms)
    return Slip(under, over, least, DIRECTIONS[rooms.index(least)], rooms)


def _room(pair: tuple[Group, Group]) -> tuple[float, ...]:
    """mm in each of DIRECTIONS, by the openings closest to the base's edge: they are the first to leave it."""
    under, over = pair
    base, edge = under.shape, under.shape.boundary
    inside = [o.polygon for o in over.openings if base.intersects(o.polygon)]
    closest = sorted(inside, key=lambda p: float(shapely.distance(p, edge)) if base.covers(p) else -1.0)[
        :_CLOSEST
    ]
    tone = shapely.union_all(closest)
    return _rooms(tone, _near(base, tone))


def _near(base: shapely.Geometry, tone: shapely.Geometry) -> shapely.Geometry:
    """The parts of a base that a tone's own, each by itself, can reach."""
    x0, y0, x1, y1 = shapely.bounds(shapely.get_parts(tone)).T
    reach = shapely.box(x0 - MOST, y0 - MOST, x1 + MOST, y1 + MOST)
    parts = shapely.get_parts(base)
    _, near = shapely.STRtree(parts).query(reach, predicate="intersects")
    return shapely.multipolygons(parts[np.unique(near)])


def _rooms(tone: shapely.Geometry, base: shapely.Geometry) -> tuple[float, ...]:
    """mm in each of DIRECTIONS, all at once: where the tone first stands out, though further on it may lie on another part."""
    allowed = tone.difference(base).area + SEEN
    angles = np.radians(DIRECTIONS)
    ways = np.c_[np.cos(angles), np.sin(angles)]
    points = shapely.get_coordinates(tone)

    def stays(by: NDArray[np.float64], which: NDArray[np.bool_]) -> NDArray[np.bool_]:
        moved = (points[None] + (by[:, None] * ways)[which][:, None]).reshape(-1, 2)
        tones = shapely.set_coordinates(np.array([tone] * int(which.sum())), moved)
        well = np.zeros(len(ways), bool)
        well[which] = shapely.area(shapely.difference(tones, base)) <= allowed
        return well

    low, high = np.zeros(len(ways)), np.full(len(ways), np.inf)
    for by in _STRIDES:
        going = np.isinf(high)
        if not going.any():
            break
        well = stays(np.full(len(ways), by), going)
        low, high = np.where(well, by, low), np.where(going & ~well, by, high)
    high = np.minimum(high, MOST)
    while (wide := high - low > _FINE).any():
        middle = np.where(wide, (low + high) / 2, low)
        well = stays(middle, wide)
        low, high = np.where(well, middle, low), np.where(wide & ~well, middle, high)
    return tuple(low.tolist())
