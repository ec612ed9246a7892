"""Everything on a panel as one layer set: what a plan's passes lie on, wherever it comes from.

Sheets keep their own numbers for the set that a build begins with; those of
the other things are counted on (``Thing.base``), and their elements carry the
thing's name. Sheet 0 is the bare panel itself, inked without any sheet.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from itertools import combinations

import shapely
from shapely import MultiPolygon

from strata.errors import TooLarge, UnknownName
from strata.panel.shapes import polygons
from strata.panel.size import PanelSize
from strata.panel.things import Card, Place
from strata.sheets import measures
from strata.sheets.model import Group, LayerSet
from strata.sheets.overlaps import group_overlaps

GROUND = "free ground"
# the element that is the bare panel itself
FREE = 0
MOST_SHAPES = 8000
PANEL = ""
# key of the panel among the surfaces
LEAST_SHARED = 0.01
# mm2

Spot = tuple[str, int]


@dataclass(frozen=True)
class Origin:
    """Where a sheet of the panel comes from: its thing, its own number there, its kind, and what it lies on.

    ``kind``: of the set, or ``free`` (the panel itself), ``words``, ``card`` (a plain piece).
    """

    thing: str
    own: int
    kind: str
    surface: str = PANEL


@dataclass(frozen=True, eq=False)
class Surface:
    """A piece of card of its own, as it lies: its outline on the panel, its card, its sheets on the panel."""

    key: str
    thing: str
    outline: MultiPolygon
    card: Card
    sheets: tuple[int, ...]
    on: str = PANEL


@dataclass(frozen=True, eq=False)
class Laid(LayerSet):
    """The panel as a layer set. ``surfaces`` from the lowest piece up; ``masks`` by key, as areas on the panel."""

    origins: Mapping[int, Origin] = field(default_factory=dict)
    surfaces: tuple[Surface, ...] = ()
    masks: Mapping[str, MultiPolygon] = field(default_factory=dict)
    sources: Mapping[str, LayerSet] = field(default_factory=dict)
    places: Mapping[str, Place] = field(default_factory=dict)
    size: PanelSize = field(default_factory=lambda: PanelSize(100, 100))

    def __post_init__(self) -> None:
        count = sum(len(s.openings) for s in self.sheets)
        if count > MOST_SHAPES:
            raise TooLarge(f"{count} shapes are more than a panel can hold ({MOST_SHAPES}).", "things")

    def origin(self, sheet: int) -> Origin:
        """Where a sheet comes from; raises UnknownName."""
        if sheet not in self.origins:
            raise UnknownName(f"There is no sheet {sheet} on this panel.", "sheet")
        return self.origins[sheet]

    def worked_as(self, sheet: int) -> str:
        """How a sheet is worked with: as a stencil, a stamp set, a die-cut (off the panel), or ``free`` (no sheet)."""
        kind = self.origin(sheet).kind
        return {"words": "stamp set", "card": "die-cut"}.get(kind, kind)

    @cached_property
    def glued(self) -> tuple[int, ...]:
        """One sheet of each piece of card, from the lowest up: what is set on at the end."""
        return tuple(s.sheets[0] for s in self.surfaces)

    @cached_property
    def surface_by_key(self) -> dict[str, Surface]:
        """The pieces of card by key."""
        return {s.key: s for s in self.surfaces}

    def piece(self, sheet: int) -> str:
        """Key of the thing whose card a sheet lies on; empty for the panel."""
        surface = self.origin(sheet).surface
        return self.surface_by_key[surface].thing if surface else PANEL

    def bounds(self, key: str) -> tuple[float, float, float, float]:
        """mm on the panel that a thing takes up; raises UnknownName for a note, which takes up none."""
        if key in self.masks:
            shapes = [self.masks[key]]
        else:
            shapes = [g.shape for g in self.groups.values() if self.origin(g.sheet).thing == key]
            shapes += [s.outline for s in self.surfaces if s.thing == key]
        if not shapes:
            raise UnknownName("That takes up no room.", "thing")
        x0, y0, x1, y1 = shapely.total_bounds(shapes).tolist()
        return x0, y0, x1, y1

    @cached_property
    def gaps(self) -> measures.Gaps:
        """mm of sheet between every two elements on it within 10 mm; a set laid elsewhere keeps its gaps."""
        found: dict[tuple[frozenset[str], int], float] = {}
        by_own = {(o.thing, o.own): n for n, o in self.origins.items()}
        names = {
            (self.origins[g.sheet].thing, g.openings[0].like_element, self.origins[g.sheet].own): g.element
            for g in self.groups.values()
        }
        for thing, source in self.sources.items():
            for (pair, own), gap in measures.gaps(source).items():
                here = frozenset(names[thing, e, own] for e in pair if (thing, e, own) in names)
                if len(here) == 2:
                    found[here, by_own[thing, own]] = gap
        return found

    @cached_property
    def shared(self) -> dict[tuple[Spot, Spot], float]:
        """mm2 that groups of different sheets share on one surface, the earlier sheet's group first."""
        found: dict[tuple[Spot, Spot], float] = {}
        groups = list(self.groups.values())
        for one, other in combinations(groups, 2):
            a, b = self.origins[one.sheet], self.origins[other.sheet]
            if a.surface != b.surface or one.sheet == other.sheet:
                continue
            if a.thing == b.thing and a.thing in self.sources:
                area = self._shared_at_home(one, other)
            elif FREE in (one.sheet, other.sheet):
                area = self._on_panel(other if one.sheet == FREE else one)
            elif shapely.box(*one.shape.bounds).intersects(shapely.box(*other.shape.bounds)):
                area = float(one.shape.intersection(other.shape).area)
            else:
                continue
            if area >= LEAST_SHARED:
                pair = (one.key, other.key) if one.sheet < other.sheet else (other.key, one.key)
                found[pair] = area
        return found

    def _on_panel(self, group: Group) -> float:
        x0, y0, x1, y1 = group.shape.bounds
        if x0 >= 0 and y0 >= 0 and x1 <= self.width and y1 <= self.height:
            return group.area
        return float(shapely.clip_by_rect(group.shape, 0, 0, self.width, self.height).area)

    def _shared_at_home(self, one: Group, other: Group) -> float:
        source = self.sources[self.origins[one.sheet].thing]
        a = one.openings[0].like_element, self.origins[one.sheet].own
        b = other.openings[0].like_element, self.origins[other.sheet].own
        known = group_overlaps(source)
        return known.get((a, b), known.get((b, a), 0.0))


def cut_of(laid: Laid, key: str) -> MultiPolygon:
    """The outline of the pieces that a thing is cut from; raises UnknownName where it is not cut."""
    found = [s.outline for s in laid.surfaces if s.thing == key]
    if not found:
        raise UnknownName("That is not cut from anything.", "thing")
    return MultiPolygon(polygons(shapely.union_all(found)))
