"""A whole account as one zip, and one zip as a whole account (docs/formats/account.md)."""

from __future__ import annotations

import io
import json
import zipfile
from collections import defaultdict
from collections.abc import Callable, Iterator
from typing import Any

import numpy as np
from django.db import IntegrityError, transaction
from PIL import Image

from strata import readings
from strata.errors import BadFile, BadValue, StrataError, TooLarge
from strata.formats.drawer import Drawer as CoreDrawer
from strata.formats.drawer import write_drawer
from strata.formats.svg_out import set_svg
from strata.formats.tables.csv_file import write_csv
from strata.formats.zipped import DAMAGED
from strata.picture.shown import panel_after, view
from studio.builds.looking import order_key, plan_json, scene_of
from studio.builds.models import Colouring
from studio.carry.rows import KINDS, Kind, Values, moment, point, row_from, rows_of, values_of
from studio.history.written import write
from studio.inks.services import changed, house
from studio.sets.history import core_set
from studio.sets.models import LayerSet

FORMAT, VERSION = "anastrata-account", 1
MOST_UNPACKED, MOST_ENTRIES, MOST_ROWS = 900_000_000, 40_000, 400_000
MOST_JSON = 200_000_000
_WHEN = (2020, 1, 1, 0, 0, 0)
# every entry's date: the same account gives the same file
SHOWN = 240
# px of the pictures to look at
PLAIN = {0xDB, 0xC0, 0xC2, 0xC4, 0xDD, 0xE0}
# the parts that a JPEG of ours has: no notes, no place, no camera
NOT_EMPTY = "There is something in this account already. An archive can be read into an empty one only: make a new account, sign in to it, and bring it in there."

Say = Callable[[float, str], None]
Rows = list[tuple[Values, Any]]


def write_account(owner: Any, say: Say) -> tuple[bytes, dict[str, int]]:
    """The account of a maker as a zip, and how many rows of each kind it holds."""
    out = io.BytesIO()
    counts: dict[str, int] = {}
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for n, kind in enumerate(KINDS):
            say(0.5 * n / len(KINDS), f"Packing {kind.name}")
            rows = []
            for row in rows_of(kind, owner):
                values, files = values_of(kind, row)
                rows.append(_marked(kind, row, values, owner))
                for name, data in files.items():
                    _put(archive, name, data)
            counts[kind.name] = len(rows)
            _put(archive, f"rows/{kind.name}.json", json.dumps(rows, ensure_ascii=False).encode())
        for share, name, data in _to_read(owner):
            say(0.5 + 0.5 * share, "Writing what can be read without Anastrata")
            _put(archive, f"to read/{name}", data)
        head = {"format": FORMAT, "version": VERSION, "rows": counts}
        _put(archive, "account.json", json.dumps(head, indent=1).encode())
    return out.getvalue(), counts


def _put(archive: zipfile.ZipFile, name: str, data: bytes) -> None:
    entry = zipfile.ZipInfo(name, _WHEN)
    entry.compress_type = zipfile.ZIP_STORED if name.endswith((".jpg", ".png")) else zipfile.ZIP_DEFLATED
    archive.writestr(entry, data)


def _marked(kind: Kind, row: Any, values: dict[str, Any], owner: Any) -> dict[str, Any]:
    """An order that was searched for says whether it still is of the plan: its key is made of this house's numbers."""
    if kind.name == "colourings" and values["better"]:
        row.build.owner = owner
        values["better_is_current"] = values["better"].get("key") == order_key(row)
    return values


def _to_read(owner: Any) -> Iterator[tuple[float, str, bytes]]:
    """The same in open formats: pads as CSV and JSON, sets as SVG, plans as JSON with their pictures as PNG."""
    own = house(owner)
    pads = [ink for key, ink in own.inks.items() if key in own.in_drawer]
    stocks = tuple(own.cards().values())
    yield 0.0, "drawer.csv", write_csv(pads, stocks, ".")
    drawer = write_drawer(CoreDrawer(tuple(pads), stocks, own.tools.owned))
    yield 0.0, "drawer.json", json.dumps(drawer, indent=1).encode()
    for row in LayerSet.objects.filter(owner=owner, gone=None):
        yield 0.05, f"sets/{row.pk} {_plain(row.name)}.svg", set_svg(core_set(row))
    colourings = Colouring.objects.filter(build__owner=owner, build__gone=None, gone=None).select_related(
        "build"
    )
    for n, one in enumerate(colourings):
        one.build.owner = owner
        name = f"builds/{one.pk} {_plain(one.build.name)}, {_plain(one.name)}"
        share = 0.1 + 0.9 * n / len(colourings)
        yield share, f"{name}.json", json.dumps(plan_json(one), indent=1).encode()
        seen = view(scene_of(one), frozenset(), SHOWN)
        file = io.BytesIO()
        Image.fromarray(np.asarray(panel_after(seen, None))).save(file, "PNG")
        yield share, f"{name}.png", file.getvalue()


def _plain(name: str) -> str:
    kept = "".join(c if c.isalnum() or c in " -_" else " " for c in name)
    return " ".join(kept.split())[:60] or "unnamed"


class _Reader:
    """An archive being read: bounded, nothing believed."""

    def __init__(self, data: bytes) -> None:
        try:
            self.archive = zipfile.ZipFile(io.BytesIO(data))
            entries = self.archive.infolist()
        except DAMAGED as error:
            raise BadFile("This is not an archive of an account.", "file") from error
        if len(entries) > MOST_ENTRIES or sum(e.file_size for e in entries) > MOST_UNPACKED:
            raise TooLarge("This archive is larger than an account can be.", "file")
        self.sizes = {e.filename: e.file_size for e in entries}

    def bytes_of(self, name: str) -> bytes:
        """An entry; raises BadFile where it is not there, or not what it says."""
        if name not in self.sizes:
            raise BadFile(f"This archive holds no {name}.", "file")
        try:
            with self.archive.open(name) as entry:
                data = entry.read(self.sizes[name] + 1)
        except DAMAGED as error:
            raise BadFile(f"{name} in this archive is damaged.", "file") from error
        if len(data) != self.sizes[name]:
            raise BadFile(f"{name} in this archive is damaged.", "file")
        return data

    def json_of(self, name: str) -> Any:
        return readings.parse(self.bytes_of(name), MOST_JSON)

    def picture(self, name: Any) -> bytes:
        """A picture as it was written, or drawn anew where it holds more than a picture."""
        if not isinstance(name, str) or not name.startswith("files/"):
            raise BadFile("This archive points at a picture that it does not hold.", "file")
        return plain_jpeg(self.bytes_of(name))


def plain_jpeg(data: bytes) -> bytes:
    """A JPEG that holds nothing but its picture; drawn anew where there is more in it. Raises BadFile."""
    from strata.camera import jpeg
    from strata.tracing.photo import open_photo

    picture = open_photo(data)
    return data if _holds_no_more(data) else jpeg(picture, 92)


def _holds_no_more(data: bytes) -> bool:
    at = 2
    while data[:2] == b"\xff\xd8" and at + 4 <= len(data) and data[at] == 0xFF:
        mark = data[at + 1]
        if mark == 0xDA:
            return data.endswith(b"\xff\xd9") and data.count(b"\xff\xd9", at) == 1
        if mark not in PLAIN:
            return False
        at += 2 + int.from_bytes(data[at + 2 : at + 4], "big")
    return False


def is_empty(owner: Any) -> bool:
    """Whether an account holds nothing yet."""
    return not any(
        rows_of(kind, owner).exists() for kind in KINDS if kind.name not in ("drawer", "postal-rates")
    )


def read_account(
    owner: Any, data: bytes, say: Say, certain: Callable[[dict[str, int]], object] = lambda counts: None
) -> dict[str, int]:
    """Bring an archive into an empty account, all of it or nothing; returns how many rows of each kind. Raises StrataErrors.

    ``certain`` is called with them before the transaction ends: what it raises takes everything back.
    """
    reader = _Reader(data)
    head = readings.mapping(reader.json_of("account.json"), "account.json")
    if head.get("format") != FORMAT:
        raise BadFile("This is not an archive of an account.", "file")
    readings.not_newer(head, VERSION)
    if not is_empty(owner):
        raise BadValue(NOT_EMPTY, "file")
    # what takes long comes first, while others may write
    read: list[tuple[Kind, Rows]] = []
    for n, kind in enumerate(KINDS):
        say(0.8 * n / len(KINDS), f"Unpacking {kind.name}")
        read.append((kind, _read_kind(reader, kind, owner)))
    say(0.8, "Putting it in its place")
    counts = {kind.name: len(rows) for kind, rows in read}
    try:
        with transaction.atomic():
            _put_in(owner, read)
            certain(counts)
    except IntegrityError as error:
        raise BadFile("This archive holds the same thing twice.", "file") from error
    return counts


def _put_in(owner: Any, read: list[tuple[Kind, Rows]]) -> None:
    if not is_empty(owner):
        raise BadValue(NOT_EMPTY, "file")
    for kind in KINDS:
        rows_of(kind, owner).delete()  # rates and an untouched drawer's number
    known: dict[str, dict[int, int]] = defaultdict(dict)
    for kind, rows in read:
        for values, row in rows:
            point(kind, row, values, known, later=False)
            if kind.name == "drawer-changes":
                row.before, row.after = _renamed(row.before, known), _renamed(row.after, known)
            row.save(force_insert=True)
            known[kind.name][values["id"]] = row.pk
    _later(read, known)
    changed(owner)
    _look_at_all(owner, next(rows for kind, rows in read if kind.name == "colourings"))


def _read_kind(reader: _Reader, kind: Kind, owner: Any) -> Rows:
    listed = readings.listing(reader.json_of(f"rows/{kind.name}.json"), kind.name)
    if len(listed) > MOST_ROWS:
        raise TooLarge("This archive is larger than an account can be.", "file")
    rows: Rows = []
    numbers: set[int] = set()
    for value in listed:
        values = dict(readings.mapping(value, kind.name))
        number = values.get("id")
        if not isinstance(number, int) or number in numbers:
            raise BadFile(f"This archive holds {kind.name} without a number of their own.", kind.name)
        numbers.add(number)
        rows.append((values, row_from(kind, values, owner, reader.picture)))
    return rows


def _renamed(states: Any, known: dict[str, dict[int, int]]) -> dict[str, Any]:
    """The rows that a change of the drawer touched, by their new numbers."""
    tables = {"ink": "inks", "stock": "stocks", "tool": "tools", "hand": "hands"}
    found = {}
    for name, state in readings.mapping(states, "drawer-changes").items():
        kind, _, number = str(name).partition(":")
        own = known[tables.get(kind, "")].get(int(number) if number.isdigit() else -1)
        if own is not None:
            found[f"{kind}:{own}"] = state
    return found


def _later(read: list[tuple[Kind, Rows]], known: dict[str, dict[int, int]]) -> None:
    """Pointers forward, and times, which making a row sets to now."""
    for kind, rows in read:
        times = [f for f in kind.fields if getattr(f, "auto_now_add", False) or getattr(f, "auto_now", False)]
        names = [*kind.later, *(f.name for f in times)]
        if not names or not rows:
            continue
        for values, row in rows:
            point(kind, row, values, known, later=True)
            for column in times:
                if values.get(column.name) is not None:
                    setattr(row, column.attname, moment(values[column.name]))
        write(kind.model, [row for _, row in rows], names)


def _look_at_all(owner: Any, rows: Rows) -> None:
    """Every set and colouring is looked at once, so that nothing comes in that no screen could open; orders get this house's keys."""
    try:
        for layer_set in LayerSet.objects.filter(owner=owner):
            core_set(layer_set)
    except StrataError as error:
        raise BadFile(f"A set of this archive cannot be opened: {error.sentence}", "file") from error
    for values, row in rows:
        one = Colouring.objects.select_related("build").get(pk=row.pk)
        one.build.owner = owner
        try:
            _ = scene_of(one).layer_set
        except StrataError as error:
            raise BadFile(f"A build of this archive cannot be opened: {error.sentence}", "file") from error
        better = values.get("better")
        if better and values.get("better_is_current") is True:
            one.better = {**better, "key": order_key(one)}
            one.save(update_fields=["better"])
