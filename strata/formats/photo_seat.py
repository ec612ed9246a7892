"""Where a sheet lies in the photograph that is shown of it, as JSON; retouches that were pressed on it, in mm."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
import shapely
from shapely import Polygon

from strata.errors import BadValue
from strata.sheets.outline import path_of
from strata.tracing.retouched import Retouch
from strata.tracing.sides import Lens
from strata.tracing.straighten import Seat, in_picture, on_sheet, scaled, seat_from


def seat_json(seat: Seat, shrink: float) -> dict[str, Any]:
    """A seat in px of the shown photograph, which is ``shrink`` times as large as the one that was read."""
    own = scaled(seat, shrink)
    lens = {
        "strength": own.lens.strength,
        "cubic": own.lens.cubic,
        "centre": list(own.lens.centre),
        "half": own.lens.half,
    }
    return {"straight": own.straight.round(3).tolist(), "bows": own.bows.round(3).tolist(), "lens": lens}


def seat_of(result: Mapping[str, Any]) -> Seat:
    """The seat of a traced sheet; by its corners alone where no more was kept of it."""
    corners = np.array(result["corners"], float)
    width, height = result["photo_size"]
    kept = result.get("seat")
    if not kept:
        return seat_from(corners, width, height)
    lens = kept["lens"]
    centre = float(lens["centre"][0]), float(lens["centre"][1])
    own = Lens(float(lens["strength"]), centre, float(lens["half"]), bool(lens["cubic"]))
    return Seat(corners, np.array(kept["straight"], float), own, np.array(kept["bows"], float), sure=True)


def retouches_of(result: Mapping[str, Any], said: Sequence[Mapping[str, Any]]) -> list[Retouch]:
    """Mends of which the points are px of the shown photograph, on the sheet (mm)."""
    if not said:
        return []
    size = np.array([result["width_mm"], result["height_mm"]])
    points = np.array([p for m in said for p in m["points"]], float)
    # a point may lie beside the photograph a little, not somewhere in the next house
    if np.abs(points).max() > 4 * max(result["photo_size"]):
        raise BadValue("These points do not lie on the photograph.", "retouches")
    places = on_sheet(seat_of(result), points) * size
    all_of_them = iter([(float(x), float(y)) for x, y in places])
    found = []
    for one in said:
        start, *through, end = itertools.islice(all_of_them, len(one["points"]))
        found.append(Retouch(one["kind"], start, end, tuple(through)))
    return found


def path_in_photo(shape: Polygon, seat: Seat, size: tuple[float, float]) -> str:
    """SVG path data, px of the photograph of this ``seat``, of a shape on the sheet of this size (mm)."""
    seen = shapely.transform(shapely.segmentize(shape, 2.0), lambda p: in_picture(seat, p / np.array(size)))
    rings = (shapely.simplify(ring, 0.4) for ring in (seen.exterior, *seen.interiors))
    return path_of((shapely.get_coordinates(r) for r in rings), 1)
