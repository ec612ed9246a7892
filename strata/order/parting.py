"""How an ink is kept off the openings beside its own: straight tape, a mask cut to shape, or a lighter hand.

What a maker weighs: a strip of tape or a note is laid in seconds where a
straight edge fits between; a mask that follows the outline has to be cut
first, once for the whole batch; where there is no room for either, or it
would take longer than it saves, she works inwards with little ink and takes
her time.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import shapely
from shapely import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from strata.order import times
from strata.panel import Laid
from strata.panel.shapes import polygons

ROOM = 1.0
# mm between two openings that the edge of a mask needs to lie on
MOST_STRIPS = 4
# more strips than this nobody lays: it is cut instead
MARGIN = 2.0
# mm that tape covers past what the brush reaches
CUT_SPEED = 120.0
# mm of outline a minute with a craft knife
CUT_FIRST = 0.5
# minutes to lay the film on and mark it
LIGHT_HAND = 1.5
# times as long with little ink, inwards from the edge


@dataclass(frozen=True)
class Parting:
    """How one group is parted from its neighbours on a sheet.

    ``way``: ``strips`` (how many), ``cut`` (mm of outline), or ``hand`` where no
    mask can lie. ``room``: mm to the nearest of them.
    """

    way: str
    room: float
    strips: int = 0
    cut: float = 0.0

    @property
    def cutting(self) -> float:
        """Minutes to cut the mask, once for all cards."""
        return CUT_FIRST + self.cut / CUT_SPEED if self.way == "cut" else 0.0


@lru_cache(maxsize=512)
def parting(laid: Laid, group: tuple[str, int], neighbours: tuple[str, ...], reach: float) -> Parting:
    """How a group is parted from those beside it that a brush straying ``reach`` mm would touch.

    Strips are straight-edged and cover every part of the neighbours within
    reach, without lying over the group's own openings.
    """
    own = laid.groups[group].shape
    others = [laid.groups[n, group[1]].shape for n in neighbours if (n, group[1]) in laid.groups]
    room = min((float(own.distance(o)) for o in others), default=ROOM)
    if room < ROOM or not others:
        return Parting("hand", room)
    reached = shapely.union_all(others).intersection(own.buffer(reach + MARGIN))
    strips = _strips(own, polygons(reached))
    if strips is not None and strips <= MOST_STRIPS:
        return Parting("strips", room, strips)
    outline = own.boundary.intersection(reached.buffer(reach + MARGIN))
    return Parting("cut", room, 0, float(outline.length))


def _strips(own: MultiPolygon, parts: list[Polygon]) -> int | None:
    """How many straight strips cover these parts and leave the group's own openings free; None where one cannot."""
    found: list[BaseGeometry] = []
    for part in sorted(parts, key=lambda p: (p.centroid.x, p.centroid.y)):
        if not _strip_fits(own, part):
            return None
        for n, strip in enumerate(found):
            both = strip.union(part)
            if _strip_fits(own, both):
                found[n] = both
                break
        else:
            found.append(part)
    return len(found)


def _strip_fits(own: MultiPolygon, part: BaseGeometry) -> bool:
    """Whether the straight-edged strip over a part lies clear of the group's own openings."""
    strip = shapely.minimum_rotated_rectangle(part)
    return float(own.intersection(strip).area) < 0.05


def by_hand_is_quicker(found: Parting, inking: float, cards: int, masks_stay: bool) -> bool:
    """Whether a lighter hand over all passes of a group (``inking`` minutes a card) takes less than masking it."""
    if found.way == "hand":
        return True
    laid = (times.MASK + times.UNMASK) * (1 if masks_stay else cards)
    return (LIGHT_HAND - 1) * inking * cards < laid + found.cutting
