"""Openings retouched by hand: two that are one, a bridge that the photograph hides, an edge that runs elsewhere, one drawn."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, cast

import numpy as np
import shapely
from shapely import LineString, Point, Polygon

from strata.errors import BadValue

RetouchKind = Literal["join", "bridge", "pull", "take", "draw", "leave"]
KINDS: tuple[RetouchKind, ...] = ("join", "bridge", "pull", "take", "draw", "leave")
MOST_POINTS = 400
# of an outline
BRIDGE = 0.6
# mm: a bridge as narrow as they are cut
_NEAR, _AT, _MOST_GAP = 2.0, 0.5, 6.0
# mm by which a point may miss an opening that it means, or a place; between two openings that are one
_EDGE = 0.1
# mm
_MOST_PULL = 15.0
# mm by which an edge is pulled at once
_BARE = 0.15
# share of what a glint hides in which no opening more can be
_LEAST = 0.08
# mm2 that are still an opening
_LEAST_REACH, _REACH, _STEP = 1.5, 3.0, 0.1
# mm of an edge that go along with a point of it, at least and times how far it goes; mm from vertex to vertex


@dataclass(frozen=True)
class Retouch:
    """One press: ``start`` and ``end`` (x, y) mm on the sheet.

    ``join``: a point in either opening; ``bridge``: from one side of it to the
    other, along it; ``pull``: where the edge is, and where it belongs;
    ``take``: a point in a place that was not taken for an opening, and is one;
    ``leave``: a point in a place of which a hand says that there is no opening (no more) in it: nothing comes of it;
    ``draw``: around an opening, from ``start`` by way of the points ``through`` to ``end`` and back.
    Raises BadValue for points that are too few or too many for it.
    """

    kind: RetouchKind
    start: tuple[float, float]
    end: tuple[float, float]
    through: tuple[tuple[float, float], ...] = ()

    def __post_init__(self) -> None:
        if self.kind == "draw":
            if not 1 <= len(self.through) <= MOST_POINTS - 2:
                raise BadValue(f"An outline has 3 to {MOST_POINTS} points.", "retouches")
        elif self.through:
            raise BadValue("This takes two points.", "retouches")


Shapes = list[Polygon | None]


def retouched(
    shapes: Sequence[Polygon], retouches: Sequence[Retouch], places: Sequence[Polygon] = ()
) -> Shapes:
    """``shapes`` (mm) with every retouch done in its turn: what is taken up by one leaves None, what comes of it stands last.

    So what an opening is counted by stays its own. ``places`` (mm) may be
    taken for openings, each once. Raises BadValue for a retouch that means nothing there.
    """
    found: Shapes = list(shapes)
    taken: set[int] = set()
    for retouch in retouches:
        if retouch.kind == "leave":
            continue
        if retouch.kind == "take":
            at = _place_at(places, retouch)
            # pressed twice it is one opening
            gone, new = set[int](), [] if at in taken else [_grown(places[at])]
            taken.add(at)
        else:
            gone, new = _WAYS[retouch.kind](found, retouch)
        found = [None if i in gone else s for i, s in enumerate(found)] + new
    return found


def unanswered(
    retouches: Sequence[Retouch], places: Sequence[Polygon], blinded: Sequence[Polygon]
) -> tuple[list[int], list[int]]:
    """Which ``places`` (mm) that may be openings, and which ``blinded`` ones that a glint hides, are still to be asked of:
    those that were not taken for an opening, and of which nobody said that there is none (no more). What was drawn in a
    place is the opening that it may have been; a glint hides several, and is asked of until little of it is left bare.
    Raises BadValue for what is no place, or no outline."""
    drawn = [_outline(r) for r in retouches if r.kind == "draw"]
    bare = [Point(r.start) for r in retouches if r.kind == "leave"]
    taken = {_place_at(places, r) for r in retouches if r.kind == "take"}

    def left(of: Sequence[Polygon], answered: set[int]) -> list[int]:
        # a place that another reading does not show needs no answer: a word on it is not refused
        near = {i for i, place in enumerate(of) for p in bare if shapely.distance(place, p) <= _AT}
        return [i for i in range(len(of)) if i not in answered | near]

    taken = taken.union(*(_under(places, d) for d in drawn))
    return left(places, taken), left(blinded, _covered(blinded, drawn))


def _covered(places: Sequence[Polygon], drawn: Sequence[Polygon]) -> set[int]:
    """Those of which what was drawn, with a bridge around it, leaves next to nothing bare."""
    over = shapely.union_all([shapely.buffer(d, BRIDGE) for d in drawn])
    return {i for i, p in enumerate(places) if shapely.difference(p, over).area < _BARE * p.area}


def _place_at(places: Sequence[Polygon], retouch: Retouch) -> int:
    far = [float(shapely.distance(p, Point(retouch.start))) for p in places]
    best = int(np.argmin(far)) if far else -1
    if best < 0 or far[best] > _AT:
        raise BadValue("There is no place to take in at this point.", "retouches")
    return best


def _grown(place: Polygon) -> Polygon:
    """A place as wide as the edges around it let it be seen."""
    # what lay between sheet and opening was cut back by an edge's width
    return max(polygons(shapely.buffer(place, _EDGE)), key=lambda p: p.area)


def _meant(shapes: Shapes, at: tuple[float, float]) -> int:
    """The opening at a point, or the nearest within reach."""
    far = [math.inf if s is None else float(shapely.distance(s, Point(at))) for s in shapes]
    best = int(np.argmin(far)) if far else -1
    if best < 0 or far[best] > _NEAR:
        raise BadValue("There is no opening at this point.", "retouches")
    return best


def _of(shapes: Shapes, index: int) -> Polygon:
    return cast(Polygon, shapes[index])


def _under(shapes: Sequence[Polygon | None], area: Polygon) -> set[int]:
    """Those that an area lies on, by more than a touch."""
    return {
        i
        for i, s in enumerate(shapes)
        if s is not None and shapely.area(shapely.intersection(s, area)) > 0.01
    }


def _joined(shapes: Shapes, retouch: Retouch) -> tuple[set[int], list[Polygon]]:
    a, b = _meant(shapes, retouch.start), _meant(shapes, retouch.end)
    if a == b:
        raise BadValue("Both points lie on the same opening; put one on each of the two.", "retouches")
    one, other = _of(shapes, a), _of(shapes, b)
    gap = float(shapely.distance(one, other))
    if gap > _MOST_GAP:
        raise BadValue("These two openings lie too far apart to be one.", "retouches")
    both = shapely.union_all([one, other])
    # filled over as much of their length as they lie about that near to one another
    radius = 0.65 * gap + 0.03
    closed = shapely.buffer(shapely.buffer(both, radius), -radius)
    bridge = shapely.shortest_line(one, other)
    strip = shapely.buffer(bridge, max(0.15, gap / 2), cap_style="square")
    near = shapely.intersection(closed, shapely.buffer(bridge, 4 * gap + 1.0))
    whole = shapely.union_all([both, near, strip])
    return {a, b}, [max(polygons(whole), key=lambda p: p.area)]


def _bridged(shapes: Shapes, retouch: Retouch) -> tuple[set[int], list[Polygon]]:
    if math.dist(retouch.start, retouch.end) < BRIDGE:
        raise BadValue("Draw the bridge from one side of the opening to the other.", "retouches")
    strip = shapely.buffer(LineString([retouch.start, retouch.end]), BRIDGE / 2, cap_style="flat")
    crossed = _under(shapes, strip)
    if not crossed:
        raise BadValue("There is no opening to put a bridge across.", "retouches")
    pieces = [p for i in sorted(crossed) for p in polygons(shapely.difference(_of(shapes, i), strip))]
    left = [p for p in pieces if p.area >= _LEAST]
    if not left:
        raise BadValue("A bridge there leaves nothing of the opening.", "retouches")
    return crossed, left


def _pulled(shapes: Shapes, retouch: Retouch) -> tuple[set[int], list[Polygon]]:
    here = Point(retouch.start)
    if math.dist(retouch.start, retouch.end) > _MOST_PULL:
        raise BadValue(
            f"An edge is pulled by {_MOST_PULL:g} mm at most; put the points nearer together.", "retouches"
        )
    far = [math.inf if s is None else float(shapely.distance(s.boundary, here)) for s in shapes]
    index = int(np.argmin(far)) if far else -1
    if index < 0 or far[index] > _NEAR:
        raise BadValue("There is no edge at this point.", "retouches")
    shape = _of(shapes, index)
    rings = [shape.exterior, *shape.interiors]
    nearest = min(range(len(rings)), key=lambda k: float(shapely.distance(rings[k], here)))
    moved = [np.asarray(r.coords) for r in rings]
    moved[nearest] = _ring_pulled(rings[nearest], retouch)
    found = polygons(shapely.make_valid(Polygon(moved[0], moved[1:])))
    largest = max(found, key=lambda p: p.area, default=None)
    if largest is None or largest.area < _LEAST:
        raise BadValue("Pulled as far as that, nothing of the opening is left.", "retouches")
    return {index}, [largest]


def _ring_pulled(ring: LineString, retouch: Retouch) -> np.ndarray:
    """The ring's points (n, 2), those near the start taken along, less the further along the edge they lie."""
    by = np.subtract(retouch.end, retouch.start)
    reach = max(_LEAST_REACH, _REACH * float(np.hypot(*by)))
    length = float(ring.length)
    reach = min(reach, 0.45 * length)
    at = float(shapely.line_locate_point(ring, Point(retouch.start)))
    own = np.array([shapely.line_locate_point(ring, Point(c)) for c in ring.coords[:-1]])
    near = (at + np.linspace(-reach, reach, 2 * round(reach / _STEP) + 1)) % length
    places = np.unique(np.concatenate([own, near, [at]]))
    points = shapely.get_coordinates(shapely.line_interpolate_point(ring, places))
    along = np.abs((places - at + length / 2) % length - length / 2)
    weight = np.clip(1 - (along / reach) ** 2, 0, None) ** 2
    return np.asarray(points + weight[:, None] * by)


def _outline(retouch: Retouch) -> Polygon:
    """What was drawn."""
    outline = Polygon([retouch.start, *retouch.through, retouch.end])
    if not outline.is_valid:
        raise BadValue("This outline crosses itself; go around the opening from point to point.", "retouches")
    if outline.area < _LEAST:
        raise BadValue("This outline is too small to be an opening.", "retouches")
    return outline


def _drawn(shapes: Shapes, retouch: Retouch) -> tuple[set[int], list[Polygon]]:
    """An opening by its outline; what it lies on is part of it, so that one that was half found is made whole."""
    outline = _outline(retouch)
    met = _under(shapes, outline)
    whole = shapely.union_all([outline, *(_of(shapes, i) for i in sorted(met))])
    return met, [max(polygons(whole), key=lambda p: p.area)]


_WAYS = {"join": _joined, "bridge": _bridged, "pull": _pulled, "draw": _drawn}


def polygons(shape: shapely.Geometry) -> list[Polygon]:
    """The areas of a shape."""
    return [p for p in shapely.get_parts(shape) if isinstance(p, Polygon) and not p.is_empty]
