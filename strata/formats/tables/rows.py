"""Rows to inks: each row by itself, so that a bad one never stops the good ones."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from strata.errors import BadValue, StrataError
from strata.formats.drawer import read_ink
from strata.formats.tables.guess import wavelength
from strata.formats.tables.model import FIELDS, Draft, Interpreted, Problem, Table
from strata.formats.tables.out import OF_INK
from strata.formats.tables.words import number
from strata.optics.colour import WHITE, Lab, checked_lab, lab_from_xyz, lab_of_hex
from strata.optics.inks import Swatch
from strata.optics.spectrum import lab_of_spectrum
from strata.optics.stack import Stock
from strata.optics.swatches import with_readings
from strata.progress import Progress, quiet

_LOWER = ("chemistry", "character", "pad", "state", "cleaning", "how")
# words of the craft: a spreadsheet may have them in any case
_PLACEHOLDER = {"on": {"lab": [95, 0, 0]}, "coats": 1, "lab": [50, 0, 0]}
# stands in for the colour while the rest of a row is checked


@dataclass(frozen=True)
class Defaults:
    """What holds where the file says nothing: the kind of ink, its line, the card (CIELAB), coats.

    ``cards`` are the cards of the house; ``card`` one of them, or one that nobody named.
    """

    card: Stock
    chemistry: str = "dye"
    line: str = ""
    coats: float = 1.0
    cards: Sequence[Stock] = ()


class _Fault(Exception):
    """A cell at fault."""

    def __init__(self, column: str | None, sentence: str) -> None:
        super().__init__(sentence)
        self.column, self.sentence = column, sentence


def checked_mapping(mapping: Sequence[str], columns: int) -> list[str]:
    """One meaning (or none) a column; raises BadValue."""
    if len(mapping) != columns:
        raise BadValue("Every column needs a meaning, or none.", "mapping")
    for meaning in mapping:
        if meaning and meaning not in FIELDS:
            raise BadValue(f"“{meaning}” is nothing that a column can be.", "mapping")
    once = [m for m in mapping if m not in ("", "note", "nm")]
    for meaning in once:
        if once.count(meaning) > 1:
            raise BadValue(f"Two columns are said to be the {FIELDS[meaning]}.", "mapping")
    return list(mapping)


def interpret(
    table: Table, mapping: Sequence[str], defaults: Defaults, progress: Progress = quiet
) -> Interpreted:
    """Inks of a table whose columns mean ``mapping``; rows of one ink become one draft with several swatches."""
    meaning = checked_mapping(mapping, len(table.columns))
    problems: list[Problem] = []
    found: dict[tuple[str, ...], list[tuple[int, dict[str, Any], Swatch | None]]] = {}
    for i, (at, row) in enumerate(zip(table.numbers, table.rows, strict=True)):
        if i % 100 == 0:
            progress(i / len(table.rows), f"Reading row {i + 1} of {len(table.rows)}")
        try:
            values, swatch = _row(row, table.columns, meaning, defaults)
        except _Fault as fault:
            problems.append(Problem(at, fault.column, fault.sentence))
            continue
        key = values.get("key")
        name = (str(values.get("line", defaults.line)).casefold(), str(values["name"]).casefold())
        found.setdefault((key,) if key else name, []).append((at, values, swatch))
    return Interpreted(tuple(_draft(rows, defaults) for rows in found.values()), tuple(problems))


def _draft(rows: list[tuple[int, dict[str, Any], Swatch | None]], defaults: Defaults) -> Draft:
    values: dict[str, Any] = {}
    swatches: tuple[Swatch, ...] = ()
    for _, own, swatch in rows:
        notes = [n for n in (values.get("notes"), own.get("notes")) if n]
        values |= own
        if notes:
            values["notes"] = "\n".join(dict.fromkeys(notes))
        if swatch is not None:
            swatches = with_readings(swatches, [swatch])
    if defaults.line:
        values.setdefault("line", defaults.line)
    return Draft(tuple(at for at, _, _ in rows), values, swatches)


def _row(
    row: Sequence[str], columns: Sequence[str], meaning: Sequence[str], defaults: Defaults
) -> tuple[dict[str, Any], Swatch | None]:
    if any(c.strip() for c in row[len(columns) :]):
        raise _Fault(None, f"This row has {len(row)} cells, but there are {len(columns)} columns.")
    cells: dict[str, tuple[str, str]] = {}
    extra: list[str] = []
    bands: list[tuple[float, str, str]] = []
    for column, is_, cell in zip(columns, meaning, (*row, *[""] * len(columns)), strict=False):
        if not is_ or not cell.strip():
            continue
        if is_ == "note":
            extra.append(f"{column}: {cell.strip()}")
        elif is_ == "nm":
            bands.append((wavelength(column) or 0.0, column, cell))
        else:
            cells[is_] = (column, cell)
    values = _values(cells, extra)
    if "how" in meaning:
        # the file tells how colours were measured: where it says nothing, nothing is known
        cells.setdefault("how", ("how", ""))
    swatch = _swatch(cells, bands, defaults)
    _check(values, cells, defaults)
    return values, swatch


def _values(cells: Mapping[str, tuple[str, str]], extra: list[str]) -> dict[str, Any]:
    values: dict[str, Any] = {}
    for name in OF_INK:
        if name not in cells:
            continue
        column, cell = cells[name]
        if name in ("depth", "dry_minutes"):
            values[name] = _number(column, cell)
        else:
            values[name] = cell.strip().lower() if name in _LOWER else cell.strip()
    if extra:
        values["notes"] = "\n".join([*([values["notes"]] if values.get("notes") else []), *extra])
    if not values.get("name") and not values.get("key"):
        raise _Fault(None, "This row does not name its ink.")
    values.setdefault("name", values.get("key"))
    return values


def _number(column: str, cell: str) -> float:
    try:
        return number(cell, column)
    except BadValue as error:
        raise _Fault(column, error.sentence) from error


def _check(values: dict[str, Any], cells: Mapping[str, tuple[str, str]], defaults: Defaults) -> None:
    """The reader of the drawer file has the last word on every value."""
    rest = {k: v for k, v in values.items() if k != "key"}
    rest = {"chemistry": defaults.chemistry, **rest, "swatches": [_PLACEHOLDER]}
    try:
        read_ink("row", rest, "row")
    except StrataError as error:
        at = (error.field or "").rsplit(".", 1)[-1]
        raise _Fault(cells[at][0] if at in cells else None, error.sentence.removeprefix("row.")) from error


def _swatch(
    cells: Mapping[str, tuple[str, str]], bands: list[tuple[float, str, str]], defaults: Defaults
) -> Swatch | None:
    lab, how = _colour(cells, bands)
    if lab is None:
        return None
    column, coats = cells.get("coats", ("coats", ""))
    spread = cells.get("spread")
    card = _card(cells, defaults)
    try:
        return Swatch(
            on=card.lab,
            card=card.key,
            coats=_number(column, coats) if coats else defaults.coats,
            lab=lab,
            how=cells["how"][1].strip().lower() if "how" in cells else how,
            when=cells["when"][1].strip() if "when" in cells else "",
            spread=None if spread is None else _number(*spread),
        )
    except StrataError as error:
        at = (error.field or "").removeprefix("swatch.")
        raise _Fault(cells[at][0] if at in cells else None, error.sentence.replace("swatch.", "")) from error


def _three(cells: Mapping[str, tuple[str, str]], names: Sequence[str]) -> list[float] | None:
    have = [n for n in names if n in cells]
    if not have:
        return None
    if len(have) < len(names):
        missing = [n for n in names if n not in cells]
        raise _Fault(None, f"The colour is not whole: {' and '.join(missing)} is missing.")
    return [_number(*cells[n]) for n in names]


def _lab(values: Any, column: str) -> Lab:
    try:
        return checked_lab(list(values), "colour")
    except BadValue as error:
        raise _Fault(column, error.sentence.replace("colour.", "")) from error


def _colour(
    cells: Mapping[str, tuple[str, str]], bands: list[tuple[float, str, str]]
) -> tuple[Lab | None, str]:
    """The colour by the best that the row has: CIELAB, a spectrum, XYZ, then a screen's red, green and blue."""
    lab = _three(cells, ("L", "a", "b"))
    if lab is not None:
        return _lab(lab, cells["L"][0]), "file"
    if bands:
        bands.sort()
        seen = np.array([_number(column, cell) for _, column, cell in bands])
        seen = seen / 100 if seen.max() > 2 else seen
        try:
            return lab_of_spectrum(np.array([nm for nm, _, _ in bands]), seen), "file"
        except BadValue as error:
            raise _Fault(bands[0][1], error.sentence) from error
    xyz = _three(cells, ("X", "Y", "Z"))
    if xyz is not None:
        # X, Y, Z of the perfect diffuser under D50 add up to 100 each of its own white
        d50 = np.array([96.422, 100.0, 82.521])
        return _lab([float(v) for v in lab_from_xyz(np.array(xyz) / d50 * WHITE)], cells["X"][0]), "file"
    if "hex" in cells:
        column, code = cells["hex"]
        try:
            return lab_of_hex(code.strip()), "screen colour"
        except BadValue as error:
            raise _Fault(column, error.sentence) from error
    rgb = _three(cells, ("R", "G", "B"))
    if rgb is None:
        return None, ""
    if any(not 0 <= v <= 255 or v != round(v) for v in rgb):
        raise _Fault(cells["R"][0], "Red, green and blue are whole numbers from 0 to 255.")
    return lab_of_hex("#" + "".join(f"{round(v):02x}" for v in rgb)), "screen colour"


def colour_of(row: Sequence[str], columns: Sequence[str], meaning: Sequence[str]) -> Lab | None:
    """The colour of one row, or None where it has none; raises BadValue where it cannot be read."""
    cells = {
        m: (c, v) for c, m, v in zip(columns, meaning, row, strict=False) if m not in ("", "nm") and v.strip()
    }
    bands = [
        (wavelength(c) or 0.0, c, v)
        for c, m, v in zip(columns, meaning, row, strict=False)
        if m == "nm" and v.strip()
    ]
    try:
        return _colour(cells, bands)[0]
    except _Fault as fault:
        raise BadValue(fault.sentence, fault.column) from fault


def _card(cells: Mapping[str, tuple[str, str]], defaults: Defaults) -> Stock:
    """The card of a row: by its name, with the colour that it had then where the row gives it."""
    three = _three(cells, ("card_L", "card_a", "card_b"))
    lab = None if three is None else _lab(three, cells["card_L"][0])
    known = {s.name.casefold(): s for s in defaults.cards}
    if "card" not in cells or (lab is not None and cells["card"][1].strip().casefold() not in known):
        if lab is None:
            return defaults.card
        same = [s for s in defaults.cards if s.lab == lab]
        return same[0] if same else Stock(lab)
    column, name = cells["card"]
    if name.strip().casefold() not in known:
        raise _Fault(column, f"There is no card “{name.strip()}” in the house.")
    found = known[name.strip().casefold()]
    return found if lab is None else replace(found, lab=lab)
