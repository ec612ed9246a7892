"""Comma-separated text (RFC 4180, and what spreadsheets make of it) in and out."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence

from strata.errors import BadFile, TooLarge
from strata.formats.tables.guess import guess
from strata.formats.tables.model import MOST_COLUMNS, MOST_ROWS, Table
from strata.formats.tables.out import COLUMNS, swatch_rows
from strata.formats.tables.words import decoded, guarded_cell, plain_cell
from strata.optics.inks import Ink
from strata.optics.stack import Stock

DELIMITERS = {"\t": "a tab", ";": "a semicolon", "|": "a bar", ",": "a comma"}
# where two fit alike the earlier is taken: a comma may be a decimal sign
_LOOKED_AT = 60
# lines by which the delimiter is told


def _rows(text: str, delimiter: str) -> Iterable[tuple[int, list[str]]]:
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=False)
    before = 0
    for row in reader:
        # a cell may run over several lines: a row's number is where it begins
        yield before + 1, row
        before = reader.line_num


def delimiter_of(text: str) -> str:
    """The delimiter under which most lines fall into equally many cells, and more than one."""
    best, chosen = (0.0, 0), ","
    for candidate in DELIMITERS:
        counts = []
        try:
            for _, row in _rows(text, candidate):
                if any(c.strip() for c in row):
                    counts.append(len(row))
                if len(counts) >= _LOOKED_AT:
                    break
        except csv.Error:
            continue
        if not counts:
            continue
        usual = max(set(counts), key=counts.count)
        score = (counts.count(usual) / len(counts) if usual > 1 else 0.0, usual)
        if score > best:
            best, chosen = score, candidate
    return chosen


def _has_head(first: Sequence[str], second: Sequence[str] | None) -> bool:
    """A first row of names: known ones, or words above numbers."""
    if sum(bool(g) for g in guess(first)) >= min(2, len(first)):
        return True
    words = all(c.strip() and not any(ch.isdigit() for ch in c) for c in first)
    numbers = second is not None and any(any(ch.isdigit() for ch in c) for c in second)
    return words and numbers


def read_csv(data: bytes, encoding: str | None = None, head: bool | None = None) -> Table:
    """A table from a spreadsheet's text; ``head`` says whether its first row names the columns.

    Raises BadFile for what is no table, TooLarge past MOST_ROWS.
    """
    text, used = decoded(data, encoding)
    csv.field_size_limit(1_000_000)
    delimiter = delimiter_of(text)
    rows: list[tuple[str, ...]] = []
    numbers: list[int] = []
    try:
        for number, row in _rows(text, delimiter):
            if any(c.strip() for c in row):
                rows.append(tuple(plain_cell(c) for c in row))
                numbers.append(number)
            if len(rows) > MOST_ROWS + 1:
                raise TooLarge(f"This file has more than {MOST_ROWS} rows.", "file")
    except csv.Error as error:
        raise BadFile(f"This file cannot be read as a table: {error}.", "file") from error
    if not rows:
        raise BadFile("There is nothing in this file.", "file")
    if head is None:
        head = _has_head(rows[0], rows[1] if len(rows) > 1 else None)
    if head:
        names, rows, numbers = [c.strip() for c in rows[0]], rows[1:], numbers[1:]
        names = [n or f"column {i + 1}" for i, n in enumerate(names)]
    else:
        names = [f"column {i + 1}" for i in range(max(len(r) for r in rows))]
    if len(names) > MOST_COLUMNS:
        raise TooLarge(f"This file has more than {MOST_COLUMNS} columns.", "file")
    note = f"Read as {used} text, columns parted by {DELIMITERS[delimiter]}."
    return Table("csv", tuple(names), tuple(rows), tuple(numbers), (note,))


def write_csv(inks: Iterable[Ink], cards: Iterable[Stock], decimal: str = ".") -> bytes:
    """One row a swatch, UTF-8 with a byte order mark; ``cards`` are those of the house.

    A decimal comma comes with semicolons, as spreadsheets of such countries want it.
    """
    out = io.StringIO(newline="")
    writer = csv.writer(out, delimiter=";" if decimal == "," else ",", lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for row in swatch_rows(inks, cards):
        writer.writerow(
            [
                (repr(v).replace(".", decimal) if isinstance(v, float) else guarded_cell(str(v)))
                for v in (row[c] for c in COLUMNS)
            ]
        )
    return out.getvalue().encode("utf-8-sig")
