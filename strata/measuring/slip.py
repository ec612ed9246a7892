"""How far a sheet may slip before a tone leaves its base, and which way of seating it is good enough."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from strata.progress import Each, one_by_one
from strata.sheets.elements import lies_on
from strata.sheets.model import Group, LayerSet, Opening
from strata.sheets.overlaps import group_overlaps

DIRECTIONS = tuple(45.0 * i for i in range(8))
# degrees, 0 to the right, 90 down
MOST = 5.0
# mm: further than any sheet slips
HOLDS = {"jig": 0.25, "marks": 0.5, "eye": 1.0}
# mm to which each way of seating a sheet is good for a practised hand
MEANT, _ROUNDED = 0.1, 0.005
# mm: an opening that is drawn to stand out by more than the one is meant to, since that is seen by itself (a minute of arc
# at 300 mm is 0.09); outlines are rounded by the other
_STRIDES, _FINE = (0.25, 0.5, 0.75, 1.0, 1.5, 2.0, 2.5, 3.0, 4.0, MOST), 0.0025
# mm that an opening is moved by until it stands out; and how near the place is found
_ANGLES = np.radians(DIRECTIONS)
_WAYS = np.c_[np.cos(_ANGLES), np.sin(_ANGLES)]

Rooms = NDArray[np.float64]
# mm in each of DIRECTIONS


@dataclass(frozen=True)
class Slip:
    """mm of room in each of DIRECTIONS.

    ``first`` is the opening that leaves the base first; ``meant``: so many of the tone's openings are drawn across the
    base's edge, and do not count.
    """

    under: Group
    over: Group
    first: Opening
    by_direction: tuple[float, ...]
    meant: int

    @property
    def least(self) -> float:
        """mm in the worst direction."""
        return min(self.by_direction)

    @property
    def worst(self) -> float:
        """The direction (degrees) in which there is least room."""
        return DIRECTIONS[self.by_direction.index(self.least)]

    @property
    def flush(self) -> bool:
        """Whether the tone is drawn to the very edge of its base: what is less room is how outlines are rounded."""
        return self.least < _ROUNDED

    @property
    def register(self) -> str | None:
        """The easiest way of seating that is good enough; None when not even a jig is."""
        return next((k for k in ("eye", "marks", "jig") if HOLDS[k] <= self.least), None)

    @property
    def how(self) -> str:
        """How it came."""
        ways = f"a hand seats it by eye to {HOLDS['eye']:g} mm, on its marks to {HOLDS['marks']:g}, in a jig to {HOLDS['jig']:g}"
        told = f"The tone was moved in eight directions until it began to stand out over its base; {ways}."
        if not self.meant:
            return told
        number = "One place of it is" if self.meant == 1 else f"{self.meant} places of it are"
        return f"{told} {number} drawn across the base's edge, and left out of this."


def slips(
    layer_set: LayerSet, say: Callable[[float], None] = lambda share: None, each: Each = one_by_one
) -> list[Slip]:
    """For every tone the bases that hold it, tightest first.

    A base is an earlier sheet's of its element. Of several only those that leave it the least room in some direction are
    told: no seating that suits them is too coarse for another. A tone that is drawn across its base's edge all over has
    none. ``say`` is told the share done.
    """
    known, tones, bases = group_overlaps(layer_set), list[_Tone](), dict[tuple[str, int], _Base]()
    for element in layer_set.elements:
        groups = [layer_set.group(element, s) for s in layer_set.sheets_of(element)]
        for i, over in enumerate(groups):
            under = [g for g in groups[:i] if lies_on(over, g, known)]
            bases.update({g.key: _base(g) for g in under if g.key not in bases})
            # the smallest is tightest as a rule, of two alike the one that the tone is laid on
            own = [bases[g.key] for g in sorted(under, key=lambda g: (g.area, -g.sheet))]
            if own:
                tones.append((over, own))
    told = [
        Slip(own[at].group, over, over.openings[first], rooms, meant)
        for (over, own), of_one in zip(tones, each(_of_tone, tones, say), strict=True)
        for at, rooms, first, meant in of_one
    ]
    return sorted(told, key=lambda s: s.least)


@dataclass(frozen=True)
class _Base:
    """A group that tones lie on, its shape prepared for being asked often, and the rings of its edge."""

    group: Group
    shape: shapely.Geometry
    rings: shapely.STRtree


_Tone = tuple[Group, list[_Base]]


def _base(group: Group) -> _Base:
    # a copy: preparing a shape that other threads hold would crash them
    shape = shapely.from_wkb(shapely.to_wkb(group.shape))
    shapely.prepare(shape)
    return _Base(group, shape, shapely.STRtree(shapely.get_rings(shapely.get_parts(shape))))


_Holds = tuple[int, tuple[float, ...], int, int]
# which base, the room it leaves, which opening leaves it first, how many are drawn across its edge


def _of_tone(tone: _Tone) -> list[_Holds]:
    """The bases that hold a tone."""
    over, bases = tone
    shapes = np.array([o.polygon for o in over.openings])
    most = tightest = np.full(len(_WAYS), MOST)
    found, whole = list[_Holds](), list[_Base]()
    for at, base in enumerate(bases):
        if any(shapely.covers(base.shape, smaller.shape) for smaller in whole):
            # all of the tone leaves the smaller one first, whichever way it goes
            continue
        held, meant = _upon(shapes, base)
        if len(held) == len(shapes):
            whole.append(base)
        if not held or (found and (_rooms(held, base, tightest)[0] > tightest - _FINE).all()):
            continue
        rooms, first = _rooms(held, base, most)
        found.append((at, tuple(rooms.tolist()), first, meant))
        tightest = np.minimum(tightest, rooms)
    return [one for one in found if (one[1] <= tightest).any()]


_Held = list[tuple[int, Polygon, float]]
# openings that a base holds, by place, with the mm each is from its edge, nearest first


def _upon(shapes: NDArray[np.object_], base: _Base) -> tuple[_Held, int]:
    """Which openings the base holds, and how many are drawn across its edge."""
    place = np.flatnonzero(shapely.intersects(base.shape, shapes))
    shapes = shapes[place]
    within = shapely.covers(base.shape, shapes)
    near, across = np.zeros(len(shapes)), np.zeros(len(shapes), bool)
    (which, _), apart = base.rings.query_nearest(shapes[within], return_distance=True, all_matches=False)
    near[np.flatnonzero(within)[which]] = apart
    if not within.all():
        corners, whose = shapely.get_coordinates(shapes, return_index=True)
        # of what stands out the farthest are an opening's own corners: the others lie on the edge
        across[whose[~shapely.dwithin(base.shape, shapely.points(corners), MEANT)]] = True
    in_order = [i for i in np.argsort(near, kind="stable") if not across[i]]
    return [(int(place[i]), shapes[i], float(near[i])) for i in in_order], int(across.sum())


def _rooms(held: _Held, base: _Base, most: Rooms) -> tuple[Rooms, int]:
    """The least room that any of the openings has, in each direction up to ``most``; and which has the least of all."""
    rooms, first = most, held[0][0]
    for at, shape, near in held:
        if near >= rooms.max():
            break
        own = _room(shape, _place(shape, base.shape, near), near, rooms)
        first = at if own.min() < rooms.min() else first
        rooms = own
    return rooms, first


def _place(shape: Polygon, base: shapely.Geometry, near: float) -> shapely.Geometry:
    """Where an opening may come to lie: on its base, and on what it stands out by as it is drawn."""
    if near:
        return base
    x0, y0, x1, y1 = shape.bounds
    around = shapely.box(x0 - 2 * MOST, y0 - 2 * MOST, x1 + 2 * MOST, y1 + 2 * MOST)
    place = shapely.buffer(shapely.union(shapely.intersection(base, around), shape), _ROUNDED, quad_segs=1)
    shapely.prepare(place)
    return place


def _room(shape: Polygon, place: shapely.Geometry, near: float, most: Rooms) -> Rooms:
    """Where one opening first stands out in each direction, up to ``most``; all at once."""
    points = shapely.get_coordinates(shape)

    def stays(by: Rooms, which: NDArray[np.bool_]) -> NDArray[np.bool_]:
        moved = (points[None] + (by[:, None] * _WAYS)[which][:, None]).reshape(-1, 2)
        shapes = shapely.set_coordinates(np.array([shape] * int(which.sum())), moved)
        well = np.zeros(len(_WAYS), bool)
        well[which] = shapely.covers(place, shapes)
        return well

    low, high = np.minimum(near, most), np.full(len(_WAYS), np.inf)
    for stride in _STRIDES:
        by = np.minimum(stride, most)
        going = np.isinf(high) & (low < by)
        if going.any():
            well = stays(by, going)
            # it may lie on another part of the base further on: the first place counts
            low, high = np.where(going & well, by, low), np.where(going & ~well, by, high)
    while (wide := np.isfinite(high) & (high - low > _FINE)).any():
        middle = np.where(wide, (low + high) / 2, low)
        well = stays(middle, wide)
        low, high = np.where(well, middle, low), np.where(wide & ~well, middle, high)
    return low
