"""One opening: its area, the brush that fits, its neck, how long it takes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache

import shapely

from strata.plan.tools import BRUSHES, Brush
from strata.progress import Each, one_by_one
from strata.sheets.medial import Neck, neck
from strata.sheets.model import CIRCLE_TOLERANCE, LayerSet, Opening

LONGEST_WORTH = 2.0
# minutes: a brush that takes longer on one opening is too small to be worth it
MARK_UP = "what a brush fills in a minute with a medium coat"
_FINE = min(BRUSHES.values(), key=lambda b: b.diameter)


@dataclass(frozen=True)
class OpeningMeasures:
    """Lengths in mm, areas in mm2.

    ``circle`` is the middle of the largest circle inside; ``brush`` the
    largest that fills it without streaks, None when none does; ``smallest``
    the smallest still worth picking up; ``minutes`` with ``brush``, or with
    the finest where none fits.
    """

    opening: Opening
    area: float
    inscribed: float
    circle: tuple[float, float]
    neck: Neck | None
    brush: Brush | None
    smallest: Brush | None
    minutes: float

    @property
    def how(self) -> dict[str, str]:
        """How each number came, a sentence each."""
        return {
            "area": "The area inside the opening's outline, islands left out.",
            "inscribed": f"The largest circle that fits inside, to {CIRCLE_TOLERANCE} mm.",
            "neck": _how_neck(self.neck),
            "brush": _how_brush(self.brush, self.inscribed),
            "smallest": f"The smallest brush that fills it within {LONGEST_WORTH:g} minutes, up to the largest that fits.",
            "minutes": f"{self.area:.0f} mm² by {MARK_UP}: {(self.brush or _FINE).speed:g} mm² for {(self.brush or _FINE).article} {(self.brush or _FINE).label}.",
        }


def _how_neck(found: Neck | None) -> str:
    if found is None:
        return "No place is clearly narrower than what lies on both its sides."
    return "The narrowest place between two parts that are at least a quarter wider, along the middle line of the shape."


def _how_brush(fits: Brush | None, inscribed: float) -> str:
    if fits is None:
        return f"Even the {_FINE.label} wants {_FINE.wants:g} mm; here there are {inscribed:.1f}. Dab with its tip, or use a marker."
    return f"{fits.article.capitalize()} {fits.label} ({fits.diameter:g} mm) wants an opening half its width: {fits.wants:g} mm of the {inscribed:.1f} there are."


OfShape = tuple[float, tuple[float, float], Neck | None]
# of a shape what takes time: inscribed diameter, the middle of that circle, neck


@lru_cache(maxsize=20_000)
def _of_shape(wkb: bytes) -> OfShape:
    """Kept by shape (WKB), since names change far oftener."""
    shape = shapely.from_wkb(wkb)
    circle = shapely.maximum_inscribed_circle(shape, tolerance=CIRCLE_TOLERANCE / 2)
    x, y = shapely.get_coordinates(circle)[0]
    return 2 * float(shapely.length(circle)), (float(x), float(y)), neck(shape)


def _measured(opening: Opening, found: OfShape) -> OpeningMeasures:
    shape = opening.polygon
    inscribed, circle, narrow = found
    fitting = [b for b in BRUSHES.values() if b.wants <= inscribed]
    largest = max(fitting, key=lambda b: b.diameter, default=None)
    quick = [b for b in fitting if shape.area <= LONGEST_WORTH * b.speed]
    smallest = min(quick, key=lambda b: b.diameter, default=largest)
    minutes = shape.area / (largest or _FINE).speed
    return OpeningMeasures(opening, float(shape.area), inscribed, circle, narrow, largest, smallest, minutes)


def measure_openings(
    layer_set: LayerSet, say: Callable[[float], None] = lambda share: None, each: Each = one_by_one
) -> dict[str, OpeningMeasures]:
    """Every opening that takes ink, by key; some milliseconds each, kept on the set. ``say`` is told the share done."""
    kept: dict[str, OpeningMeasures] | None = layer_set.__dict__.get("_measured")
    if kept is None:
        inked = [o for o in layer_set.openings.values() if o.role != "waste"]
        found = each(_of_shape, [o.polygon.wkb for o in inked], say)
        kept = {o.key: _measured(o, one) for o, one in zip(inked, found, strict=True)}
        layer_set.__dict__["_measured"] = kept
    return kept
