"""A colouring as a palette: every element's inks with their colours, as GPL, CSV or JSON; CSV and JSON come in again."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass
from typing import Any

from strata import readings
from strata.errors import BadFile, StrataError, TooLarge
from strata.formats.tables.words import guarded_cell
from strata.optics.colour import Lab, checked_lab, difference, hex_of
from strata.plan.scene import Scene

FORMAT = "anastrata-palette"
COLUMNS = ("element", "sheet", "ink", "name", "coats", "hand", "L", "a", "b", "hex")
MOST_ENTRIES = 600


@dataclass(frozen=True)
class Entry:
    """One ink on one element's openings of a sheet: its key, name and colour alone on the card."""

    element: str
    sheet: int
    ink: str
    name: str
    coats: int
    hand: str
    lab: Lab


def entries(scene: Scene) -> list[Entry]:
    """The inks of a colouring in the order of its plan."""
    return [
        Entry(p.element, p.sheet, p.ink, scene.ink(p).name, p.coats, p.hand, scene.alone[p.key])
        for p in scene.plan.passes
        if p.medium == "ink" and not p.form.join
    ]


def write_gpl(found: Iterable[Entry], title: str) -> bytes:
    """A GIMP palette: one entry a pass, named by element and ink."""
    lines = ["GIMP Palette", f"Name: {' '.join(title.split())}", "Columns: 6", "#"]
    for e in found:
        code = hex_of(e.lab)[0]
        red, green, blue = (int(code[i : i + 2], 16) for i in (1, 3, 5))
        lines.append(f"{red:3d} {green:3d} {blue:3d}\t{e.element}: {e.name}")
    return ("\n".join(lines) + "\n").encode()


def _row(e: Entry) -> list[Any]:
    lab = [round(v, 2) for v in e.lab]
    return [e.element, e.sheet, e.ink, e.name, e.coats, e.hand, *lab, hex_of(e.lab)[0]]


def write_csv(found: Iterable[Entry]) -> bytes:
    """A table for a spreadsheet, one pass a line."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    writer.writerows([guarded_cell(str(c)) if isinstance(c, str) else c for c in _row(e)] for e in found)
    return out.getvalue().encode()


def write_json(found: Iterable[Entry], title: str) -> bytes:
    """JSON with the same columns as names."""
    listed = [dict(zip(COLUMNS, _row(e), strict=True)) for e in found]
    return (json.dumps({"format": FORMAT, "name": title, "colours": listed}, indent=1) + "\n").encode()


def read(data: bytes) -> list[Entry]:
    """A palette from JSON or CSV as written here; raises BadFile naming the entry at fault."""
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise BadFile("This is not a palette: CSV or JSON as it went out.", "file") from error
    if text.lstrip().startswith("{"):
        top = readings.mapping(readings.parse(text), "The palette")
        if top.get("format") != FORMAT:
            raise BadFile(f"This is not a palette: its format should be “{FORMAT}”.", "file")
        rows: Iterable[Mapping[str, Any]] = [
            readings.mapping(v, f"colours[{i}]")
            for i, v in enumerate(readings.listing(top.get("colours", []), "colours"))
        ]
    else:
        rows = list(csv.DictReader(io.StringIO(text)))
    found = [_entry(row, i) for i, row in enumerate(rows)]
    if len(found) > MOST_ENTRIES:
        raise TooLarge(f"A palette may have {MOST_ENTRIES} entries.", "file")
    if not found:
        raise BadFile("This palette holds nothing.", "file")
    return found


def _entry(row: Mapping[str, Any], number: int) -> Entry:
    try:
        lab = checked_lab([float(row[k]) for k in "Lab"], f"entry {number + 1}")
        coats = int(row.get("coats") or 1)
        return Entry(
            str(row["element"]).removeprefix("'"),
            int(row["sheet"]),
            str(row["ink"]),
            str(row.get("name") or ""),
            coats,
            str(row.get("hand") or "medium"),
            lab,
        )
    except (KeyError, TypeError, ValueError, StrataError) as error:
        raise BadFile(f"Entry {number + 1} of this palette cannot be read.", "file") from error


def worn_again(
    scene: Scene, found: Iterable[Entry], pads: frozenset[str]
) -> tuple[list[tuple[str, dict[str, Any]]], list[str]]:
    """The edits that put a palette on this panel, and what had to be done otherwise.

    An ink that is not among ``pads`` (keys) is met by the nearest colour alone on this
    card; openings that this panel does not have are told and left out.
    """
    by_element: dict[str, list[dict[str, Any]]] = {}
    remarks = []
    at_hand = sorted(k for k in pads if k in scene.inks)
    if not at_hand:
        raise BadFile("There is no pad at hand to wear it with.", "file")
    for e in found:
        if (e.element, e.sheet) not in scene.layer_set.groups:
            remarks.append(f"There is no {e.element} on sheet {e.sheet} here: left out.")
            continue
        ink = e.ink
        if ink not in pads:
            ink = min(at_hand, key=lambda k: difference(scene.on_stock(k), e.lab))
            remarks.append(f"{scene.inks[ink].name} for {e.name or e.ink} on {e.element}.")
        by_element.setdefault(e.element, []).append(
            {"sheet": e.sheet, "ink": ink, "coats": e.coats, "hand": e.hand}
        )
    edits, key = [], scene.plan.free_prefix("q")
    for n, (element, passes) in enumerate(by_element.items()):
        # a pass that was there keeps its form: a palette tells colours, not brushwork
        forms = {(p.sheet, i): p.form for i, p in enumerate(scene.plan.of_element(element))}
        for i, item in enumerate(passes):
            form = forms.get((item["sheet"], i))
            if form is not None:
                item["form"] = asdict(form)
        edits.append(("take_part", {"element": element, "passes": passes, "pass": f"{key}{n}-"}))
    return edits, list(dict.fromkeys(remarks))
