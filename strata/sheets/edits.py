"""Changes to a set, each plain data: named, moved, joined, split, turned, seated again.

``apply`` gives the set after one change and a sentence that names it.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import LineString, Polygon

from strata.errors import BadValue, UnknownName, finite
from strata.sheets.model import LEAST_AREA, ROLES, LayerSet, Opening, Seat, Sheet
from strata.sheets.seats import follow, moved, seated

LONGEST_NAME = 120
MOST_SHEETS = 60
Values = Mapping[str, Any]


@dataclass(frozen=True)
class Edited:
    """The set after a change, and what was done."""

    layer_set: LayerSet
    label: str


def _name(values: Values, field: str) -> str:
    text = values.get(field)
    if not isinstance(text, str) or not text.strip():
        raise BadValue("A name is missing.", field)
    return " ".join(text.split())[:LONGEST_NAME]


def _number(values: Values, field: str) -> int:
    value = values.get(field)
    if isinstance(value, bool) or not isinstance(value, int):
        raise BadValue(f"{field} must be a whole number.", field)
    return value


def _chosen(layer_set: LayerSet, values: Values) -> list[Opening]:
    keys = values.get("openings")
    if not isinstance(keys, Sequence) or isinstance(keys, str) or not keys:
        raise BadValue("Choose an opening first.", "openings")
    return [layer_set.opening(str(k)) for k in dict.fromkeys(keys)]


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


def _count(openings: Sequence[Opening]) -> str:
    return "an opening" if len(openings) == 1 else f"{len(openings)} openings"


def _move(layer_set: LayerSet, values: Values) -> Edited:
    openings, element = _chosen(layer_set, values), _name(values, "element")
    change = {o.key: replace(o, element=element) for o in openings}
    return Edited(_changed(layer_set, change), f"{_count(openings)} to {element}")


def _rename(layer_set: LayerSet, values: Values) -> Edited:
    element, to = _name(values, "element"), _name(values, "to")
    if element not in {o.element for o in layer_set.openings.values()}:
        raise UnknownName(f"There is no “{element}” in this set.", "element")
    change = {k: replace(o, element=to) for k, o in layer_set.openings.items() if o.element == element}
    return Edited(_changed(layer_set, change), f"{element} is {to}")


def _role(layer_set: LayerSet, values: Values) -> Edited:
    openings, role = _chosen(layer_set, values), values.get("role")
    if role not in ROLES:
        raise BadValue(f"An opening is one of {', '.join(ROLES)}.", "role")
    change = {o.key: replace(o, role=role) for o in openings}
    return Edited(_changed(layer_set, change), f"{_count(openings)} marked as {role}")


def _fresh_key(layer_set: LayerSet, sheet: int) -> Callable[[], str]:
    number = len(layer_set.openings)

    def fresh() -> str:
        nonlocal number
        while True:
            number += 1
            key = f"{sheet}.{number}"
            if key not in layer_set.openings:
                return key

    return fresh


def _join(layer_set: LayerSet, values: Values) -> Edited:
    """Openings of one sheet become one, the gap between them opened."""
    openings = _chosen(layer_set, values)
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
    return Edited(_changed(layer_set, change), f"{_count(openings)} joined")


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
    fresh = _fresh_key(layer_set, opening.sheet)
    added = [replace(opening, key=fresh(), polygon=p) for p in parts[1:]]
    change = {opening.key: replace(opening, polygon=parts[0])}
    return Edited(_changed(layer_set, change, added), "an opening split")


def _to_marks(layer_set: LayerSet, values: Values) -> Edited:
    openings = _chosen(layer_set, values)
    keys = {o.key for o in openings}
    sheets = tuple(
        replace(
            s,
            openings=tuple(o for o in s.openings if o.key not in keys),
            marks=(*s.marks, *(o.polygon for o in s.openings if o.key in keys)),
        )
        for s in layer_set.sheets
    )
    return Edited(replace(layer_set, sheets=sheets), f"{_count(openings)} marked for register")


def _from_marks(layer_set: LayerSet, values: Values) -> Edited:
    sheet = layer_set.sheet(_number(values, "sheet"))
    fresh = _fresh_key(layer_set, sheet.number)
    back = tuple(Opening(fresh(), sheet.number, "marks", m) for m in sheet.marks)
    fuller = replace(sheet, openings=(*sheet.openings, *back), marks=())
    return Edited(_with_sheet(layer_set, fuller), f"marks of {sheet.name} are openings")


def _with_sheet(layer_set: LayerSet, sheet: Sheet) -> LayerSet:
    return replace(
        layer_set, sheets=tuple(sheet if s.number == sheet.number else s for s in layer_set.sheets)
    )


def _call_sheet(layer_set: LayerSet, values: Values) -> Edited:
    sheet, to = layer_set.sheet(_number(values, "sheet")), _name(values, "to")
    return Edited(_with_sheet(layer_set, replace(sheet, name=to)), f"{sheet.name} is called {to}")


def _order(layer_set: LayerSet, values: Values) -> Edited:
    """Sheets in another order; they are numbered anew."""
    wanted = values.get("sheets")
    numbers = {s.number for s in layer_set.sheets}
    whole = isinstance(wanted, Sequence) and all(isinstance(n, int) for n in wanted)
    if not isinstance(wanted, Sequence) or not whole or len(wanted) != len(numbers) or set(wanted) != numbers:
        raise BadValue("Give every sheet once.", "sheets")
    number = {old: new for new, old in enumerate(wanted, start=1)}
    sheets = []
    for old in wanted:
        sheet = layer_set.sheet(old)
        seat = replace(sheet.seat, of=number[sheet.seat.of]) if sheet.seat else None
        openings = tuple(replace(o, sheet=number[old]) for o in sheet.openings)
        sheets.append(replace(sheet, number=number[old], openings=openings, seat=seat))
    return Edited(_rekeyed(replace(layer_set, sheets=tuple(sheets))), "sheets in another order")


def _rekeyed(layer_set: LayerSet) -> LayerSet:
    """Openings of second seats are called after their sheet's number and their original."""
    sheets = []
    for sheet in layer_set.sheets:
        if sheet.seat is None:
            sheets.append(sheet)
            continue
        openings = tuple(replace(o, key=f"{sheet.number}~{o.key.split('~', 1)[1]}") for o in sheet.openings)
        sheets.append(replace(sheet, openings=openings))
    return replace(layer_set, sheets=tuple(sheets))


def _place(layer_set: LayerSet, values: Values) -> Edited:
    """A sheet turned, mirrored or shifted for good: it lay the wrong way when it was brought in."""
    sheet = layer_set.sheet(_number(values, "sheet"))
    if sheet.seat is not None:
        raise BadValue("This is a second seat; change the seat itself.", "sheet")
    step = _seat(values, sheet.number)
    size = layer_set.width, layer_set.height
    openings = tuple(replace(o, polygon=moved(o.polygon, step, *size)) for o in sheet.openings)
    marks = tuple(moved(m, step, *size) for m in sheet.marks)
    placed = _with_sheet(layer_set, replace(sheet, openings=openings, marks=marks))
    return Edited(follow(placed), f"{sheet.name} laid differently")


def _seat(values: Values, of: int) -> Seat:
    return Seat(
        of,
        finite(values.get("dx", 0.0), "dx", -2000, 2000),
        finite(values.get("dy", 0.0), "dy", -2000, 2000),
        finite(values.get("turn", 0.0), "turn", -360, 360),
        bool(values.get("mirrored", False)),
        finite(values.get("strength", 1.0), "strength", 0.1, 1),
    )


def _add_seat(layer_set: LayerSet, values: Values) -> Edited:
    base = layer_set.sheet(_number(values, "of"))
    if base.seat is not None:
        raise BadValue("This is a second seat already; use the sheet itself again.", "of")
    if len(layer_set.sheets) >= MOST_SHEETS:
        raise BadValue(f"A set has {MOST_SHEETS} sheets at most.", "of")
    number = max(s.number for s in layer_set.sheets) + 1
    name = values.get("name") or f"{base.name} again"
    made = seated(base, _seat(values, base.number), number, str(name)[:LONGEST_NAME], layer_set, None)
    return Edited(replace(layer_set, sheets=(*layer_set.sheets, made)), f"{base.name} used again")


def _change_seat(layer_set: LayerSet, values: Values) -> Edited:
    sheet = layer_set.sheet(_number(values, "sheet"))
    if sheet.seat is None:
        raise BadValue("This sheet has its first seat only.", "sheet")
    wanted = _with_sheet(
        layer_set, replace(sheet, seat=_seat({**_as_values(sheet.seat), **values}, sheet.seat.of))
    )
    return Edited(follow(wanted), f"{sheet.name} laid differently")


def _as_values(seat: Seat) -> dict[str, Any]:
    return {
        "dx": seat.dx,
        "dy": seat.dy,
        "turn": seat.turn,
        "mirrored": seat.mirrored,
        "strength": seat.strength,
    }


def _remove_sheet(layer_set: LayerSet, values: Values) -> Edited:
    sheet = layer_set.sheet(_number(values, "sheet"))
    if any(s.seat and s.seat.of == sheet.number for s in layer_set.sheets):
        raise BadValue("This sheet is used again elsewhere; take that out first.", "sheet")
    kept = [s for s in layer_set.sheets if s.number != sheet.number]
    if not kept:
        raise BadValue("A set has at least one sheet.", "sheet")
    return Edited(replace(layer_set, sheets=tuple(kept)), f"{sheet.name} taken out")


def _piece(layer_set: LayerSet, values: Values) -> Edited:
    """How often a piece is cut and stacked, and whether it is set on apart at the end."""
    sheet = layer_set.sheet(_number(values, "sheet"))
    copies = int(finite(values.get("copies", sheet.copies), "copies", 1, 20))
    loose = bool(values.get("loose", sheet.loose))
    label = f"{sheet.name}: {copies} {'copy' if copies == 1 else 'copies'}{', set on at the end' if loose else ''}"
    return Edited(_with_sheet(layer_set, replace(sheet, copies=copies, loose=loose)), label)


EDITS: dict[str, Callable[[LayerSet, Values], Edited]] = {
    "move": _move,
    "rename": _rename,
    "role": _role,
    "join": _join,
    "split": _split,
    "to_marks": _to_marks,
    "from_marks": _from_marks,
    "call_sheet": _call_sheet,
    "order": _order,
    "place": _place,
    "add_seat": _add_seat,
    "change_seat": _change_seat,
    "remove_sheet": _remove_sheet,
    "piece": _piece,
}


def apply(layer_set: LayerSet, kind: str, values: Values) -> Edited:
    """One change; raises BadValue or UnknownName with a sentence when it cannot be made."""
    change = EDITS.get(kind)
    if change is None:
        raise BadValue(f"There is no change “{kind}”.", "kind")
    edited = change(layer_set, values)
    return Edited(follow(edited.layer_set), edited.label)
