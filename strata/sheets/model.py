"""A layer set: sheets of openings, in millimetres on the panel, y down."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property, lru_cache

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon
from shapely.geometry import MultiPolygon
from shapely.ops import unary_union

from strata.errors import BadValue, UnknownName, finite
from strata.kept import Kept
from strata.sheets.hands import by_two
from strata.sheets.known import of_each

KINDS = ("stencil", "stamp set", "die-cut")
ROLES = ("tone", "line", "ground", "background", "waste")
# what an opening is for: most carry a tone of their element; waste takes no ink at all
LEAST_SIDE, MOST_SIDE = 5.0, 2000.0
# mm
LEAST_AREA = 0.01
# mm2; anything smaller is a sliver of the drawing, not an opening
MOST_OPENINGS = 5000
CIRCLE_TOLERANCE = 0.02
# mm


@dataclass(frozen=True)
class Opening:
    """One closed shape through which ink reaches the panel."""

    key: str
    sheet: int
    element: str
    polygon: Polygon
    role: str = "tone"
    like: Opening | None = field(default=None, compare=False, repr=False)
    # the opening that this one is, laid elsewhere: it has its measures

    def __post_init__(self) -> None:
        if self.like is not None:
            return
        if self.role not in ROLES:
            raise BadValue(f"An opening is one of {', '.join(ROLES)}, not “{self.role}”.", "role")
        if not self.polygon.is_valid or self.polygon.area < LEAST_AREA:
            raise BadValue(f"Opening {self.key} is not a proper shape.", "opening")

    @property
    def like_element(self) -> str:
        """The element's name in the set that the opening comes from."""
        return self.like.element if self.like is not None else self.element

    @cached_property
    def inscribed(self) -> float:
        """Diameter in mm of the largest circle that fits inside (its radius within 0.02 mm; measures are asked for finer)."""
        return find_inscribed([self.polygon])[0] if self.like is None else self.like.inscribed


_INSCRIBED: Kept[bytes, float] = Kept(4_000_000, lambda _: 200)
# by shape


def find_inscribed(shapes: Sequence[Polygon]) -> list[float]:
    """Diameters in mm of the largest circles that fit inside (radii within 0.02 mm), of many at once; known from then on."""
    return of_each(shapes, _INSCRIBED, lambda some: by_two(_inscribed, some).tolist())


def _inscribed(shapes: NDArray[np.object_]) -> NDArray[np.float64]:
    """A dot and a stripe are told by their outline alone: r P >= A + pi r^2 of any simply connected shape (Bonnesen;
    Osserman, Amer. Math. Monthly 86, 1979), and nothing is wider than its box. A search of a long stripe takes 10 ms.
    """
    x0, y0, x1, y1 = shapely.bounds(shapes).T
    most, around = np.minimum(x1 - x0, y1 - y0), shapely.length(shapes)
    rest = np.maximum(0.0, around**2 - 4 * math.pi * shapely.area(shapes))
    least = (around - np.sqrt(rest)) / math.pi
    told = (shapely.get_num_interior_rings(shapes) == 0) & (most - least <= 2 * CIRCLE_TOLERANCE)
    widths: NDArray[np.float64] = (most + least) / 2
    circles = shapely.maximum_inscribed_circle(shapes[~told], tolerance=CIRCLE_TOLERANCE)
    widths[~told] = 2 * shapely.length(circles)
    return widths


def find_widths(layer_set: LayerSet) -> None:
    """The inscribed diameters of all openings, at once: each is known from then on."""
    own = [o for s in layer_set.sheets for o in s.openings if o.like is None]
    for opening, width in zip(own, find_inscribed([o.polygon for o in own]), strict=True):
        # as its cached property would: one by one takes as long as all the circles
        opening.__dict__["inscribed"] = width


def as_one(shapes: tuple[Polygon, ...]) -> MultiPolygon:
    """What lies apart, as openings of a sheet do, is one shape as it is; what meets is joined."""
    return _joined(shapes) if len(shapes) > 1 else shapely.multipolygons(shapes)


@lru_cache(maxsize=2048)
def _joined(shapes: tuple[Polygon, ...]) -> MultiPolygon:
    left, _ = shapely.STRtree(shapes).query(shapes, predicate="intersects")
    if len(left) == len(shapes):
        # each meets itself only
        return shapely.multipolygons(shapes)
    joined = unary_union(shapes)
    return joined if isinstance(joined, MultiPolygon) else MultiPolygon([joined])


@dataclass(frozen=True)
class Seat:
    """How a sheet is used a second time: moved, turned or mirrored about the panel's middle.

    ``of`` is the number of the sheet itself; ``dx``, ``dy`` mm; ``turn``
    degrees clockwise; ``mirrored`` left for right, before it is turned.
    ``strength`` of the ink, of 1: a stamp printed again without re-inking is paler.
    """

    of: int
    dx: float = 0.0
    dy: float = 0.0
    turn: float = 0.0
    mirrored: bool = False
    strength: float = 1.0

    def __post_init__(self) -> None:
        finite(self.dx, "dx", -2000, 2000)
        finite(self.dy, "dy", -2000, 2000)
        finite(self.turn, "turn", -360, 360)
        finite(self.strength, "strength", 0.1, 1)


@dataclass(frozen=True)
class Sheet:
    """One sheet, numbered in the maker's order; marks are for register and take no ink.

    ``seat`` when this is another sheet used again; ``copies`` how often a
    die-cut piece is cut and stacked; ``loose`` when it is made apart and set
    on at the end (a part printed after die-cutting).
    """

    number: int
    name: str
    openings: tuple[Opening, ...]
    marks: tuple[Polygon, ...] = ()
    seat: Seat | None = None
    copies: int = 1
    loose: bool = False


@dataclass(frozen=True)
class Group:
    """The openings of one element on one sheet: what one pass inks."""

    element: str
    sheet: int
    openings: tuple[Opening, ...]

    @property
    def key(self) -> tuple[str, int]:
        return self.element, self.sheet

    @cached_property
    def shape(self) -> MultiPolygon:
        """All openings as one shape."""
        return as_one(tuple(o.polygon for o in self.openings))

    @cached_property
    def apart(self) -> bool:
        """Whether the openings lie apart: the shape is they, one by one."""
        return int(shapely.get_num_geometries(self.shape)) == len(self.openings)

    @cached_property
    def area(self) -> float:
        """mm2."""
        return float(self.shape.area)

    @cached_property
    def typical_width(self) -> float:
        """The inscribed diameter, mm, that the typical opening offers a brush.

        Weighted by area, so that a large body is not judged by its specks.
        """
        total = sum(o.polygon.area for o in self.openings)
        return float(sum(o.inscribed * o.polygon.area for o in self.openings) / total)


@dataclass(frozen=True, eq=False)
class LayerSet:
    """The thing that carries the image. Width and height in mm. Compared by identity."""

    name: str
    kind: str
    width: float
    height: float
    sheets: tuple[Sheet, ...]

    def __post_init__(self) -> None:
        if self.kind not in KINDS:
            raise BadValue(f"A set is one of {', '.join(KINDS)}, not “{self.kind}”.", "kind")
        finite(self.width, "width", LEAST_SIDE, MOST_SIDE)
        finite(self.height, "height", LEAST_SIDE, MOST_SIDE)
        count = sum(len(s.openings) for s in self.sheets)
        if not count:
            raise BadValue("This set has no opening at all.", "sheets")
        if count > MOST_OPENINGS:
            raise BadValue(f"{count} openings are more than a set can have ({MOST_OPENINGS}).", "sheets")

    @cached_property
    def groups(self) -> dict[tuple[str, int], Group]:
        """Every group by (element, sheet), in the order of the sheets; waste belongs to none."""
        found: dict[tuple[str, int], list[Opening]] = defaultdict(list)
        for sheet in self.sheets:
            for opening in sheet.openings:
                if opening.role != "waste":
                    found[opening.element, sheet.number].append(opening)
        return {k: Group(k[0], k[1], tuple(v)) for k, v in found.items()}

    def groups_on(self, sheet: int) -> list[Group]:
        """The groups of a sheet, in the order of its openings; none of a sheet that is not there."""
        return self._groups_by_sheet.get(sheet, [])

    @cached_property
    def _groups_by_sheet(self) -> dict[int, list[Group]]:
        found: defaultdict[int, list[Group]] = defaultdict(list)
        for group in self.groups.values():
            found[group.sheet].append(group)
        return dict(found)

    @cached_property
    def elements(self) -> tuple[str, ...]:
        """Names of the elements in the order in which they first appear."""
        return tuple(dict.fromkeys(element for element, _ in self.groups))

    @cached_property
    def openings(self) -> dict[str, Opening]:
        """Every opening by its key."""
        return {o.key: o for s in self.sheets for o in s.openings}

    def opening(self, key: str) -> Opening:
        """The opening of that key; raises UnknownName."""
        found = self.openings.get(key)
        if found is None:
            raise UnknownName(f"This set has no opening {key}.", "openings")
        return found

    def sheets_of(self, element: str) -> tuple[int, ...]:
        """Numbers of the sheets on which an element has openings."""
        return self._sheets_by_element.get(element, ())

    @cached_property
    def _sheets_by_element(self) -> dict[str, tuple[int, ...]]:
        found: defaultdict[str, list[int]] = defaultdict(list)
        for element, sheet in self.groups:
            found[element].append(sheet)
        return {element: tuple(sheets) for element, sheets in found.items()}

    def sheet(self, number: int) -> Sheet:
        """The sheet of that number; raises UnknownName."""
        for sheet in self.sheets:
            if sheet.number == number:
                return sheet
        raise UnknownName(f"This set has no sheet {number}.", "sheet")

    def group(self, element: str, sheet: int) -> Group:
        """The openings of an element on a sheet; raises UnknownName."""
        found = self.groups.get((element, sheet))
        if found is None:
            raise UnknownName(f"Sheet {sheet} has no opening for “{element}”.", "element")
        return found
