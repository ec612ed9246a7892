"""CGATS.17 text (ANSI CGATS.17-2009 R2014): what colour readers and their programs exchange."""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import Any

from strata.errors import BadFile, TooLarge
from strata.formats.tables.model import MOST_COLUMNS, MOST_ROWS, Table
from strata.formats.tables.out import COLUMNS, swatch_rows
from strata.formats.tables.words import decoded
from strata.optics.inks import Ink
from strata.optics.stack import Stock

_WORD = re.compile(r'"((?:[^"]|"")*)"|(\S+)')
STANDARD = {"key": "SAMPLE_ID", "name": "SAMPLE_NAME", "L": "LAB_L", "a": "LAB_A", "b": "LAB_B"}
# columns that the standard has a word for; the others are declared by KEYWORD


def _words(line: str) -> list[str]:
    """The words of a line; a quotation mark within quotes is written twice."""
    return [m[1].replace('""', '"') if m[1] is not None else m[2] for m in _WORD.finditer(line)]


def _plain(line: str) -> str:
    """The line without a comment: a # that stands outside quotes at a word's beginning."""
    quoted = False
    for i, ch in enumerate(line):
        if ch == '"':
            quoted = not quoted
        elif ch == "#" and not quoted and (i == 0 or line[i - 1].isspace()):
            return line[:i]
    return line


def looks_like(data: bytes) -> bool:
    """Whether a file has CGATS's data section."""
    return b"BEGIN_DATA_FORMAT" in data and b"BEGIN_DATA" in data


class _Reader:
    """Line by line; several tables one after another become one with all their columns."""

    def __init__(self) -> None:
        self.columns: list[str] = []
        self.format: list[str] = []
        self.rows: list[dict[str, str]] = []
        self.numbers: list[int] = []
        self.header: dict[str, str] = {}
        self._where = "head"
        self._waiting: list[str] = []

    def take(self, number: int, line: str) -> None:
        words = _words(_plain(line))
        if not words:
            return
        first = words[0].upper()
        if first in ("BEGIN_DATA_FORMAT", "BEGIN_DATA"):
            self._where = "format" if first.endswith("FORMAT") else "data"
            if self._where == "format":
                self.format = []
            words = words[1:]
            if not words:
                return
        elif first in ("END_DATA_FORMAT", "END_DATA"):
            self._end()
            return
        if self._where == "format":
            self.format += words
            self.columns += [w for w in words if w not in self.columns]
            if len(self.columns) > MOST_COLUMNS:
                raise TooLarge(f"This file has more than {MOST_COLUMNS} columns.", "file")
        elif self._where == "data":
            self._data(number, words)
        elif len(words) > 1:
            self.header.setdefault(first, words[1])

    def _end(self) -> None:
        if self._waiting:
            raise BadFile("The last row of this file is not complete.", "file")
        self._where = "head"

    def _data(self, number: int, words: list[str]) -> None:
        if not self.format:
            raise BadFile("This CGATS file has data before it says what the data are.", "file")
        if not self._waiting:
            self.numbers.append(number)
        self._waiting += words
        while len(self._waiting) >= len(self.format):
            row, self._waiting = self._waiting[: len(self.format)], self._waiting[len(self.format) :]
            self.rows.append(dict(zip(self.format, row, strict=True)))
            if self._waiting:
                self.numbers.append(number)
        if len(self.rows) > MOST_ROWS:
            raise TooLarge(f"This file has more than {MOST_ROWS} rows.", "file")


def read_cgats(data: bytes) -> tuple[Table, dict[str, str]]:
    """(table, header keywords) of a CGATS file; raises BadFile or TooLarge."""
    text, _ = decoded(data)
    reader = _Reader()
    for number, line in enumerate(text.splitlines(), 1):
        reader.take(number, line)
    if not reader.columns or not reader.rows:
        raise BadFile("This CGATS file has no rows of data.", "file")
    rows = tuple(tuple(r.get(c, "") for c in reader.columns) for r in reader.rows)
    escaped = reader.header.get("INK_TEXT", "") == "escaped"
    if escaped:
        rows = tuple(tuple(_unescaped(c) for c in r) for r in rows)
    back = {word: field for field, word in STANDARD.items()}
    columns = tuple(back.get(c, _own(c)) if escaped else c for c in reader.columns)
    note = f"Read as CGATS text{_by(reader.header)}."
    return Table("cgats", columns, rows, tuple(reader.numbers), (note,)), reader.header


def _by(header: dict[str, str]) -> str:
    said = header.get("INSTRUMENTATION") or header.get("ORIGINATOR")
    return f" by {said}" if said else ""


def _own(column: str) -> str:
    """Our own column of a keyword such as INK_CARD_A, whatever its case was."""
    plain = column.removeprefix("INK_").lower()
    return next((c for c in COLUMNS if c.lower() == plain), column)


def _unescaped(text: str) -> str:
    return re.sub(r"\\(.)", lambda m: {"n": "\n", "r": "\r", "t": "\t"}.get(m[1], m[1]), text)


def _cell(value: Any) -> str:
    if isinstance(value, (int, float)):
        return repr(value)
    plain = str(value).replace("\\", "\\\\").replace("\n", "\\n").replace("\r", "\\r").replace("\t", "\\t")
    return '"' + plain.replace('"', '""') + '"'


def write_cgats(inks: Iterable[Ink], cards: Iterable[Stock]) -> bytes:
    """One row a swatch, CIELAB D50 / 2 degrees, with our own columns declared."""
    names = {c: STANDARD.get(c, f"INK_{c.upper()}") for c in COLUMNS}
    rows = list(swatch_rows(inks, cards))
    lines = ["CGATS.17", "", 'ORIGINATOR "Anastrata"', 'KEYWORD "INK_TEXT"', 'INK_TEXT "escaped"']
    lines += ['ILLUMINATION_NAME "D50"', 'OBSERVER "2"']
    lines += [f'KEYWORD "{n}"' for n in names.values() if n.startswith("INK_")]
    lines += [
        f"NUMBER_OF_FIELDS {len(names)}",
        "BEGIN_DATA_FORMAT",
        " ".join(names.values()),
        "END_DATA_FORMAT",
    ]
    lines += [f"NUMBER_OF_SETS {len(rows)}", "BEGIN_DATA"]
    lines += [" ".join(_cell(row[c]) for c in COLUMNS) for row in rows]
    return ("\n".join([*lines, "END_DATA", ""])).encode()
