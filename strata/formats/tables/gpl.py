"""GIMP palettes (GPL): a name and the colour that a screen shows, and what more there is in remarks."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable

from strata import readings
from strata.errors import BadFile, StrataError, TooLarge
from strata.formats.drawer import ink_json, read_ink
from strata.formats.tables.model import MOST_ROWS, Draft, Table
from strata.formats.tables.words import decoded
from strata.optics.colour import Lab, hex_of
from strata.optics.inks import Ink
from strata.optics.stack import Coat, Stock, predict

HEAD = "GIMP Palette"
_ENTRY = re.compile(r"\s*(\d{1,3})\s+(\d{1,3})\s+(\d{1,3})(?:\s+(.*))?")
_REMARK = "#ink "
# a remark of ours before an entry: the ink whole, so that nothing is lost on the way


def looks_like(data: bytes) -> bool:
    """Whether a file begins as a palette does."""
    return data.removeprefix(b"\xef\xbb\xbf").lstrip().startswith(HEAD.encode())


def _entry(line: str) -> tuple[tuple[int, ...], str] | None:
    found = _ENTRY.fullmatch(line)
    return None if found is None else (tuple(int(found[i]) for i in (1, 2, 3)), (found[4] or "").strip())


def read_gpl(data: bytes) -> tuple[Table, tuple[Draft, ...]]:
    """(table of the plain entries, inks that came whole); a remark counts only while its entry is as it was.

    Raises BadFile or TooLarge.
    """
    text, _ = decoded(data)
    rows: list[tuple[str, ...]] = []
    numbers: list[int] = []
    whole: list[Draft] = []
    remark: str | None = None
    title = ""
    lines = text.splitlines()
    for number, line in enumerate(lines[1:], 2):
        if line.startswith("Name:"):
            title = line.removeprefix("Name:").strip()
        elif line.startswith(_REMARK):
            remark = line.removeprefix(_REMARK)
        elif line.strip() and not line.startswith(("#", "Columns:")):
            ink = _remembered(remark, line)
            remark = None
            if ink is not None:
                values = {k: v for k, v in ink_json(ink).items() if k != "swatches"}
                whole.append(Draft((number,), {"key": ink.key, **values}, ink.swatches))
                continue
            entry = _entry(line)
            # a line that is no entry stays, to be named among the problems
            cells = (*map(str, entry[0]), entry[1]) if entry else (line, "", "", "")
            rows.append(cells)
            numbers.append(number)
    if len(rows) + len(whole) > MOST_ROWS:
        raise TooLarge(f"This palette has more than {MOST_ROWS} colours.", "file")
    if not rows and not whole:
        raise BadFile("This palette holds no colours.", "file")
    notes = (f"Read as the palette “{title}”." if title else "Read as a palette.",)
    return Table("gpl", ("R", "G", "B", "name"), tuple(rows), tuple(numbers), notes), tuple(whole)


def _remembered(remark: str | None, line: str) -> Ink | None:
    if remark is None:
        return None
    try:
        values = readings.parse(remark)
        ink = read_ink(str(values.pop("key")), values["ink"], "ink")
        card = Stock(tuple(values["card"]), finish=str(values.get("finish", "")))
        return ink if _line(ink, card) == line else None
    except (StrataError, ValueError, KeyError, TypeError, AttributeError, RecursionError):
        return None


def _line(ink: Ink, card: Stock) -> str:
    code = hex_of(predict(card, [Coat(ink, 1.0)]))[0]
    red, green, blue = (int(code[i : i + 2], 16) for i in (1, 3, 5))
    return f"{red:3d} {green:3d} {blue:3d}\t{' '.join(ink.name.split())}"


def write_gpl(inks: Iterable[Ink], card: Stock, title: str) -> bytes:
    """One entry an ink, one coat on ``card``."""
    lab: Lab = card.lab
    lines = [HEAD, f"Name: {' '.join(title.split())}", "Columns: 8", "#"]
    for ink in inks:
        remark = {"key": ink.key, "card": list(lab), "finish": card.finish, "ink": ink_json(ink)}
        # the colour by the ink as it is written here: read back, it must give the same
        line = _line(read_ink(ink.key, remark["ink"], "ink"), card)
        lines += [_REMARK + json.dumps(remark, ensure_ascii=True, separators=(",", ":")), line]
    return ("\n".join(lines) + "\n").encode()
