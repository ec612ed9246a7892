"""Masks: whether one fits between two elements of a sheet, and its shape to cut."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import permutations

import shapely
from shapely import MultiPolygon, Polygon

from strata.errors import BadValue
from strata.plan.tools import fitting
from strata.sheets.measures import gaps
from strata.sheets.model import Group, LayerSet, find_widths

EDGE = 0.5
# mm a cover mask needs beyond what it covers, to hold and to stay dry
NEEDS = 2 * EDGE
# mm between two openings for tape to end between them and hold on both sides
LEAST_PIECE = 6.0
# mm2: smaller scraps of film hold nothing and cover nothing
ROUNDED = 1.0
# mm: a blade or a cutter goes round no sharper corner in low-tack film


@dataclass(frozen=True)
class MaskFit:
    """Whether ``covered`` can be masked while ``inked`` is worked on; ``gap`` mm between them."""

    inked: Group
    covered: Group
    gap: float

    @property
    def fits(self) -> bool:
        return self.gap >= NEEDS

    @property
    def wanted(self) -> bool:
        """Whether the brush strays that far at all."""
        return self.gap < fitting(self.inked.typical_width).spread

    @property
    def how(self) -> str:
        """How it came."""
        brush = fitting(self.inked.typical_width)
        reach = f"The {brush.label} for {self.inked.element} strays {brush.spread:.1f} mm; {self.covered.element} is {self.gap:.1f} mm away."
        if not self.wanted:
            return f"{reach} No mask is needed."
        if self.fits:
            return f"{reach} A mask needs {NEEDS:g} mm to end in: it fits."
        return f"{reach} A mask needs {NEEDS:g} mm to end in: it does not fit. Use a smaller brush from the far side, or inks that may run together."


def mask_fits(layer_set: LayerSet) -> list[MaskFit]:
    """Every pair of elements on one sheet that a brush could run between, both ways round."""
    find_widths(layer_set)
    place = {key: i for i, key in enumerate(layer_set.groups)}
    near = [
        MaskFit(layer_set.groups[inked], layer_set.groups[covered], gap)
        for (pair, sheet), gap in gaps(layer_set).items()
        for inked, covered in permutations((e, sheet) for e in pair)
    ]
    found = [fit for fit in near if fit.wanted]
    return sorted(found, key=lambda fit: (place[fit.inked.key], place[fit.covered.key]))


def mask_shape(layer_set: LayerSet, element: str, sheet: int) -> MultiPolygon:
    """A cover mask (mm) for everything that the brush could reach while ``element`` is inked on ``sheet``.

    It covers the neighbours within the brush's stray, ends half-way in the
    gap where there is less than an edge's room, and leaves the element free.
    Raises BadValue when nothing needs to be covered.
    """
    inked = layer_set.group(element, sheet)
    spread = fitting(inked.typical_width).spread
    others = [g for g in layer_set.groups_on(sheet) if g.element != element]
    near = [
        o.polygon for g in others for o in g.openings if shapely.distance(o.polygon, inked.shape) < spread
    ]
    if not near:
        raise BadValue(f"Nothing near {element} on sheet {sheet} needs a mask.", "element")
    covered = shapely.union_all(near)
    room = min(EDGE, 0.5 * float(shapely.distance(covered, inked.shape)))
    reached = shapely.buffer(inked.shape, spread + EDGE)
    # as far as the brush gets, and a rim all round; never over the opening that is worked on
    wide = shapely.buffer(shapely.intersection(covered, reached), EDGE + ROUNDED)
    body = shapely.buffer(shapely.intersection(wide, shapely.buffer(reached, ROUNDED)), -ROUNDED + EDGE)
    body = shapely.buffer(shapely.buffer(body, ROUNDED), -ROUNDED)
    free = shapely.difference(body, shapely.buffer(inked.shape, room))
    parts = [p for p in shapely.get_parts(free) if isinstance(p, Polygon) and p.area > LEAST_PIECE]
    if not parts:
        raise BadValue(f"No mask fits beside {element} on sheet {sheet}.", "element")
    return MultiPolygon([p.simplify(0.02) for p in parts])
