"""What holds a stencil together: bridges between openings, and islands that nothing holds."""

from __future__ import annotations

from dataclasses import dataclass

import shapely
from shapely import Polygon

from strata.sheets.model import LayerSet, Opening

LOOKED_AT = 3.0
# mm: wider than this and nobody calls it a bridge
THIN = 0.8
# mm: under this plastic gives way under a brush and bristles creep beneath
LEAST_ISLAND = 0.05
# mm2

Point = tuple[float, float]


@dataclass(frozen=True)
class Bridge:
    """The plastic between two openings of one sheet where it is narrowest, mm."""

    one: Opening
    other: Opening
    width: float
    ends: tuple[Point, Point]

    @property
    def thin(self) -> bool:
        return self.width < THIN

    @property
    def how(self) -> str:
        """How it came."""
        if self.thin:
            return f"The shortest way between the two outlines. Under {THIN:g} mm the plastic lifts and bristles creep: hold it down or spray the back with temporary adhesive."
        return "The shortest way between the two outlines."


@dataclass(frozen=True)
class Island:
    """Plastic inside an opening that no bridge holds."""

    opening: Opening
    shape: Polygon

    @property
    def how(self) -> str:
        """How it came."""
        return "It lies inside the opening and touches no other plastic: cut from a sheet it falls out. It must be laid by hand, or a bridge drawn."


def bridges(layer_set: LayerSet) -> list[Bridge]:
    """Between each opening and its neighbours on the sheet within 3 mm, narrowest first (STRtree)."""
    found = []
    for sheet in layer_set.sheets:
        openings = [o for o in sheet.openings if o.role != "waste"]
        shapes = [o.polygon for o in openings]
        if len(shapes) < 2:
            continue
        left, right = shapely.STRtree(shapes).query(shapes, predicate="dwithin", distance=LOOKED_AT)
        for a, b in zip(left.tolist(), right.tolist(), strict=True):
            if a >= b:
                continue
            line = shapely.shortest_line(shapes[a], shapes[b])
            (x0, y0), (x1, y1) = shapely.get_coordinates(line).tolist()
            found.append(Bridge(openings[a], openings[b], float(line.length), ((x0, y0), (x1, y1))))
    return sorted(found, key=lambda b: b.width)


def nearest_gaps(layer_set: LayerSet) -> dict[str, Bridge]:
    """For each opening the narrowest bridge to a neighbour on its sheet."""
    nearest: dict[str, Bridge] = {}
    for bridge in bridges(layer_set):
        nearest.setdefault(bridge.one.key, bridge)
        nearest.setdefault(bridge.other.key, bridge)
    return nearest


def islands(layer_set: LayerSet) -> list[Island]:
    """Of stencils only: a stamp's and a die-cut's holes hold themselves."""
    if layer_set.kind != "stencil":
        return []
    return [
        Island(o, Polygon(ring))
        for o in layer_set.openings.values()
        if o.role != "waste"
        for ring in o.polygon.interiors
        if Polygon(ring).area >= LEAST_ISLAND
    ]
