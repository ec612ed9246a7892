"""Changes to a set, each plain data: named, moved, joined, split, turned, seated again.

``apply`` gives the set after one change and a sentence that names it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import LineString, Polygon

from strata.errors import BadValue, UnknownName
from strata.sheets.edit_sheets import SHEET_EDITS
from strata.sheets.edit_values import Edited, Values, a_name, chosen, count, fresh_key
from strata.sheets.model import LEAST_AREA, ROLES, LayerSet, Opening
from strata.sheets.seats import follow


def _changed(
    layer_set: LayerSet, change: Mapping[str, Opening | None], added: Sequence[Opening] = ()
) -> LayerSet:
    """The set with openings replaced (None: taken out) and others added to their sheets."""
    sheets = []
    for sheet in layer_set.sheets:
        kept = [change.get(o.key, o) for o in sheet.openings]
        fresh = [o for o in added if o.sheet == sheet.number]
        sheets.append(replace(sheet, openings=(*(o for o in kept if o is not None), *fresh)))
    return replace(layer_set, sheets=tuple(sheets))


def _move(layer_set: LayerSet, values: Values) -> Edited:
    openings, element = chosen(layer_set, values), a_name(values, "element")
    change = {o.key: replace(o, element=element) for o in openings}
    return Edited(_changed(layer_set, change), f"{count(openings)} to {element}")


def _rename(layer_set: LayerSet, values: Values) -> Edited:
    element, to = a_name(values, "element"), a_name(values, "to")
    if element not in {o.element for o in layer_set.openings.values()}:
        raise UnknownName(f"There is no “{element}” in this set.", "element")
    change = {k: replace(o, element=to) for k, o in layer_set.openings.items() if o.element == element}
    return Edited(_changed(layer_set, change), f"{element} is {to}")


def _role(layer_set: LayerSet, values: Values) -> Edited:
    openings, role = chosen(layer_set, values), values.get("role")
    if role not in ROLES:
        raise BadValue(f"An opening is one of {', '.join(ROLES)}.", "role")
    change = {o.key: replace(o, role=role) for o in openings}
    return Edited(_changed(layer_set, change), f"{count(openings)} marked as {role}")


def _join(layer_set: LayerSet, values: Values) -> Edited:
    """Openings of one sheet become one, the gap between them opened."""
    openings = chosen(layer_set, values)
    if len(openings) < 2 or len({o.sheet for o in openings}) != 1:
        raise BadValue("To join them, choose two or more openings of one sheet.", "openings")
    if any("~" in o.key for o in openings):
        raise BadValue("These lie in a second seat; join them on the sheet itself.", "openings")
    shapes = shapely.union_all([o.polygon for o in openings])
    gaps = sorted(
        float(shapely.distance(a.polygon, b.polygon)) for a in openings for b in openings if a is not b
    )
    reach = 0.5 * gaps[-1] + 0.02
    whole = shapely.union(shapes, shapely.buffer(shapely.buffer(shapes, reach), -reach * 1.001))
    parts = [p for p in shapely.get_parts(whole) if isinstance(p, Polygon)]
    if len(parts) != 1:
        raise BadValue("These openings lie too far apart to become one.", "openings")
    first = max(openings, key=lambda o: o.polygon.area)
    change: dict[str, Opening | None] = {o.key: None for o in openings}
    change[first.key] = replace(first, polygon=parts[0])
    return Edited(_changed(layer_set, change), f"{count(openings)} joined")


def _points(values: Values, field: str, least: int) -> NDArray[np.float64]:
    try:
        points = np.array(values.get(field), dtype=float)
    except (TypeError, ValueError) as error:
        raise BadValue("A line is a list of points.", field) from error
    if (
        points.ndim != 2
        or points.shape[1] != 2
        or not least <= len(points) <= 500
        or not np.isfinite(points).all()
    ):
        raise BadValue("A line is a list of points.", field)
    return points


def _split(layer_set: LayerSet, values: Values) -> Edited:
    """An opening cut in two along a line."""
    opening = layer_set.opening(str(values.get("opening")))
    if "~" in opening.key:
        raise BadValue("This lies in a second seat; split it on the sheet itself.", "opening")
    line = LineString(_points(values, "line", 2))
    cut = shapely.difference(opening.polygon, shapely.buffer(line, 0.01, cap_style="flat"))
    parts = [p for p in shapely.get_parts(cut) if isinstance(p, Polygon) and p.area >= LEAST_AREA]
    if len(parts) < 2:
        raise BadValue("The line does not cut this opening in two; draw it right across.", "line")
    parts.sort(key=lambda p: -p.area)
    fresh = fresh_key(layer_set, opening.sheet)
    added = [replace(opening, key=fresh(), polygon=p) for p in parts[1:]]
    change = {opening.key: replace(opening, polygon=parts[0])}
    return Edited(_changed(layer_set, change, added), "an opening split")


EDITS: dict[str, Callable[[LayerSet, Values], Edited]] = {
    "move": _move,
    "rename": _rename,
    "role": _role,
    "join": _join,
    "split": _split,
    **SHEET_EDITS,
}


def apply(layer_set: LayerSet, kind: str, values: Values) -> Edited:
    """One change; raises BadValue or UnknownName with a sentence when it cannot be made."""
    change = EDITS.get(kind)
    if change is None:
        raise BadValue(f"There is no change “{kind}”.", "kind")
    edited = change(layer_set, values)
    return Edited(follow(edited.layer_set), edited.label)
