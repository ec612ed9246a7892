"""A file of inks, whatever it is: told by what it holds, read whole or row by row."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from strata import readings
from strata.errors import BadFile, StrataError, TooLarge
from strata.formats.drawer import (
    FORMAT,
    MOST_INKS,
    VERSION,
    ink_json,
    read_ink,
    read_stock,
    read_swatch,
    read_tool,
    stock_json,
    swatch_json,
)
from strata.formats.limits import MOST_DRAWING
from strata.formats.tables import Draft, Problem, Table, cgats, gpl
from strata.formats.tables.csv_file import read_csv
from strata.formats.tables.guess import guess
from strata.optics.stack import Stock
from strata.plan.tools import Tool

KINDS = {"csv": "a table", "cgats": "CGATS text", "gpl": "a palette", "json": "a drawer file"}


@dataclass(frozen=True)
class Brought:
    """What a file holds: a table still to be given a meaning, and what came whole."""

    kind: str
    table: Table
    guess: tuple[str, ...] = ()
    whole: tuple[Draft, ...] = ()
    problems: tuple[Problem, ...] = ()
    stocks: tuple[Stock, ...] = ()
    tools: tuple[Tool, ...] = ()


def read_brought(data: bytes, encoding: str | None = None, head: bool | None = None) -> Brought:
    """The inks of a CSV, CGATS, GPL or JSON file. Raises BadFile or TooLarge for what is none of these."""
    if len(data) > MOST_DRAWING:
        raise TooLarge("This file is over 8 MB; that is larger than any drawer of inks.", "file")
    if not data.strip():
        raise BadFile("There is nothing in this file.", "file")
    if data.removeprefix(b"\xef\xbb\xbf").lstrip()[:1] in (b"{", b"["):
        return _json(data.removeprefix(b"\xef\xbb\xbf"))
    if gpl.looks_like(data):
        table, whole = gpl.read_gpl(data)
        return Brought("gpl", table, table.columns, whole)
    if cgats.looks_like(data):
        table, _ = cgats.read_cgats(data)
        return Brought("cgats", table, tuple(guess(table.columns)))
    table = read_csv(data, encoding, head)
    # nothing is lost: a column that nobody knows goes to the notes until the maker says otherwise
    return Brought("csv", table, tuple(g or "note" for g in guess(table.columns)))


def _json(data: bytes) -> Brought:
    """Ink by ink: what is wrong with one does not stop the others."""
    top = readings.mapping(readings.parse(data), "The file")
    if top.get("format") != FORMAT:
        raise BadFile(f"This is not a drawer file: its format should be “{FORMAT}”.", "format")
    readings.not_newer(top, VERSION)
    inks = readings.mapping(top.get("inks", {}), "inks")
    if len(inks) > MOST_INKS:
        raise TooLarge(f"A drawer file can hold {MOST_INKS} inks, not {len(inks)}.", "inks")
    whole, problems = [], []
    for number, (key, value) in enumerate(inks.items(), 1):
        try:
            ink = read_ink(readings.text(key, "key", 100), value, f"inks.{key}")
            values = {k: v for k, v in ink_json(ink).items() if k != "swatches"}
            whole.append(Draft((number,), {"key": key, **values}, ink.swatches))
        except StrataError as error:
            problems.append(Problem(number, key, error.sentence))
    stocks = _each(readings.listing(top.get("stocks", []), "stocks"), "stocks", read_stock, problems)
    tools = _each(readings.listing(top.get("tools", []), "tools"), "tools", read_tool, problems)
    nothing = Table("json", (), (), (), ("Read as a drawer file.",))
    return Brought("json", nothing, (), tuple(whole), tuple(problems), tuple(stocks), tuple(tools))


def _each(items: Sequence[Any], name: str, read: Any, problems: list[Problem]) -> list[Any]:
    found = []
    for i, item in enumerate(items):
        try:
            found.append(read(item, f"{name}[{i}]"))
        except StrataError as error:
            problems.append(Problem(i + 1, name, error.sentence))
    return found


def brought_json(found: Brought) -> dict[str, Any]:
    """As JSON values that ``brought_from`` takes back: the way from the guarded child to the server."""
    return {
        "kind": found.kind,
        "table": asdict(found.table),
        "guess": list(found.guess),
        "whole": [_draft_json(d) for d in found.whole],
        "problems": [asdict(p) for p in found.problems],
        "stocks": [stock_json(s) for s in found.stocks],
        "tools": [asdict(t) for t in found.tools],
    }


def _draft_json(draft: Draft) -> dict[str, Any]:
    return {
        "rows": list(draft.rows),
        "values": dict(draft.values),
        "swatches": [swatch_json(s) for s in draft.swatches],
    }


def brought_from(value: Mapping[str, Any]) -> Brought:
    """What ``brought_json`` wrote."""
    table = value["table"]
    return Brought(
        value["kind"],
        Table(
            table["kind"],
            tuple(table["columns"]),
            tuple(tuple(r) for r in table["rows"]),
            tuple(table["numbers"]),
            tuple(table["notes"]),
        ),
        tuple(value["guess"]),
        tuple(
            Draft(tuple(d["rows"]), d["values"], tuple(read_swatch(s, "swatch") for s in d["swatches"]))
            for d in value["whole"]
        ),
        tuple(Problem(**p) for p in value["problems"]),
        tuple(read_stock(s, "stock") for s in value["stocks"]),
        tuple(read_tool(t, "tool") for t in value["tools"]),
    )
