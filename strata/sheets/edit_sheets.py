"""Changes to whole sheets: marks, names, order, place, second seats, pieces."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

from strata.errors import BadValue, finite
from strata.sheets.edit_values import LONGEST_NAME, Edited, Values, a_name, a_number, chosen, count, fresh_key
from strata.sheets.model import LayerSet, Opening, Seat, Sheet
from strata.sheets.seats import follow, moved, seated

MOST_SHEETS = 60


def _to_marks(layer_set: LayerSet, values: Values) -> Edited:
    openings = chosen(layer_set, values)
    keys = {o.key for o in openings}
    sheets = tuple(
        replace(
            s,
            openings=tuple(o for o in s.openings if o.key not in keys),
            marks=(*s.marks, *(o.polygon for o in s.openings if o.key in keys)),
        )
        for s in layer_set.sheets
    )
    return Edited(replace(layer_set, sheets=sheets), f"{count(openings)} marked for register")


def _from_marks(layer_set: LayerSet, values: Values) -> Edited:
    sheet = layer_set.sheet(a_number(values, "sheet"))
    fresh = fresh_key(layer_set, sheet.number)
    back = tuple(Opening(fresh(), sheet.number, "marks", m) for m in sheet.marks)
    fuller = replace(sheet, openings=(*sheet.openings, *back), marks=())
    return Edited(_with_sheet(layer_set, fuller), f"marks of {sheet.name} are openings")


def _with_sheet(layer_set: LayerSet, sheet: Sheet) -> LayerSet:
    return replace(
        layer_set, sheets=tuple(sheet if s.number == sheet.number else s for s in layer_set.sheets)
    )


def _call_sheet(layer_set: LayerSet, values: Values) -> Edited:
    sheet, to = layer_set.sheet(a_number(values, "sheet")), a_name(values, "to")
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
    sheet = layer_set.sheet(a_number(values, "sheet"))
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
    base = layer_set.sheet(a_number(values, "of"))
    if base.seat is not None:
        raise BadValue("This is a second seat already; use the sheet itself again.", "of")
    if len(layer_set.sheets) >= MOST_SHEETS:
        raise BadValue(f"A set has {MOST_SHEETS} sheets at most.", "of")
    number = max(s.number for s in layer_set.sheets) + 1
    name = values.get("name") or f"{base.name} again"
    made = seated(base, _seat(values, base.number), number, str(name)[:LONGEST_NAME], layer_set, None)
    return Edited(replace(layer_set, sheets=(*layer_set.sheets, made)), f"{base.name} used again")


def _change_seat(layer_set: LayerSet, values: Values) -> Edited:
    sheet = layer_set.sheet(a_number(values, "sheet"))
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
    sheet = layer_set.sheet(a_number(values, "sheet"))
    if any(s.seat and s.seat.of == sheet.number for s in layer_set.sheets):
        raise BadValue("This sheet is used again elsewhere; take that out first.", "sheet")
    kept = [s for s in layer_set.sheets if s.number != sheet.number]
    if not kept:
        raise BadValue("A set has at least one sheet.", "sheet")
    return Edited(replace(layer_set, sheets=tuple(kept)), f"{sheet.name} taken out")


def _piece(layer_set: LayerSet, values: Values) -> Edited:
    """How often a piece is cut and stacked, and whether it is set on apart at the end."""
    sheet = layer_set.sheet(a_number(values, "sheet"))
    copies = int(finite(values.get("copies", sheet.copies), "copies", 1, 20))
    loose = bool(values.get("loose", sheet.loose))
    label = f"{sheet.name}: {copies} {'copy' if copies == 1 else 'copies'}{', set on at the end' if loose else ''}"
    return Edited(_with_sheet(layer_set, replace(sheet, copies=copies, loose=loose)), label)


SHEET_EDITS: dict[str, Callable[[LayerSet, Values], Edited]] = {
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
