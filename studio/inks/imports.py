"""Bringing inks in: read once, given a meaning as often as it takes, kept piece by piece."""

from __future__ import annotations

import csv
import io
from dataclasses import replace
from typing import Any

from django.db import transaction
from django.utils.text import slugify

from strata.errors import BadFile, BadValue, TooLarge
from strata.formats.brought import KINDS, Brought, brought_from
from strata.formats.drawer import Drawer
from strata.formats.limits import MOST_DRAWING
from strata.formats.tables import FIELDS, Interpreted, Problem
from strata.formats.tables.merge import Match, matched
from strata.formats.tables.rows import Defaults, checked_mapping, interpret
from strata.formats.tables.words import decoded, guarded_cell
from strata.kept import Kept
from strata.optics.colour import Lab
from strata.optics.dabs import dabs
from strata.optics.inks import chemistry, one_of
from strata.optics.stack import Stock
from studio.colours import colour
from studio.inks.history import last_change
from studio.inks.models import InkImport
from studio.inks.services import House, house
from studio.inks.shown_on import PLAIN
from studio.inks.taking import take_in
from studio.jobs import queue
from studio.jobs.queue import job_json

A_TIME = 250
# inks kept in one request, so that the screen can say how far it is
SHOWN, SAMPLES = 80, 3
MOST_UNDER_WAY = 8
KIND = "read a drawer file"
_NOTHING: dict[str, Any] = {
    "kind": "csv", "kind_label": "", "notes": [], "columns": [], "meanings": [], "rows": 0, "inks": 0, "new": 0,
    "changed": 0, "same": 0, "stocks": 0, "tools": 0, "preview": [], "problems": [], "problem_count": 0, "done": 0,
    "undone": False, "undoable": False,
}  # fmt: skip
# of a file that is not read yet
_OPTIONS: dict[str, Any] = {"head": None, "encoding": None, "chemistry": "dye", "line": "", "stock": None}


def begin(owner: Any, name: str, data: bytes) -> InkImport:
    """Take a file in; a job reads it, and nothing is kept yet. Raises TooLarge."""
    if len(data) > MOST_DRAWING:
        raise TooLarge("This file is over 8 MB; that is larger than any drawer of inks.", "file")
    if not data.strip():
        raise BadFile("There is nothing in this file.", "file")
    for old in InkImport.objects.filter(owner=owner)[MOST_UNDER_WAY - 1 :]:
        old.delete()
    row = InkImport.objects.create(owner=owner, name=name[:200], content=data, options=_OPTIONS)
    row.job = queue.begin(owner, KIND, row.pk)
    row.save(update_fields=["job"])
    row.refresh_from_db()
    return row


@queue.work(KIND)
def _read_file(running: queue.Running) -> None:
    row = InkImport.objects.get(pk=running.job.subject)
    wanted = {k: row.options[k] for k in ("head", "encoding")}
    brought = running.child("drawer_file", [bytes(row.content)], wanted)
    with transaction.atomic():
        running.hold()
        fresh = InkImport.objects.get(pk=row.pk)
        fresh.brought, fresh.mapping = brought, brought["guess"]
        fresh.save(update_fields=["brought", "mapping"])


def read(row: InkImport) -> dict[str, Any]:
    """What the file holds; raises BadValue while it is still being read, or where it could not be."""
    if row.brought is None:
        sentence = (
            row.job.sentence if row.job is not None and row.job.sentence else "This file is still being read."
        )
        raise BadValue(sentence, "file")
    brought: dict[str, Any] = row.brought
    return brought


def change(row: InkImport, values: dict[str, Any]) -> InkImport:
    """Another meaning for its columns, or another way to read the file. Raises BadValue once it is being kept."""
    if kept_of(row):
        raise BadValue("These inks are being kept already; undo that first.", "mapping")
    brought = read(row)
    options = {**row.options, **{k: v for k, v in values.items() if k in _OPTIONS}}
    chemistry(options["chemistry"])
    if options["encoding"] is not None:
        decoded(b" ", options["encoding"])
    if options["stock"] is not None:
        one_of(options["stock"], house(row.owner).stocks, "stock")
    if values.get("mapping") is not None:
        row.mapping = checked_mapping(values["mapping"], len(brought["table"]["columns"]))
    other = (options["head"], options["encoding"]) != (row.options["head"], row.options["encoding"])
    row.options = options
    row.save(update_fields=["options", "mapping"])
    if other and row.job is not None:
        queue.again(row.job)
        row.refresh_from_db()
    return row


def kept_of(row: InkImport) -> int:
    """How many of its inks are kept: none any more where the drawer has taken them back."""
    gone = row.change_number is not None and (row.change is None or row.change.undone)
    return 0 if gone else row.done


def _defaults(row: InkImport, own: House) -> Defaults:
    stock = own.stocks.get(row.options["stock"]) if row.options["stock"] else None
    card = stock or max(own.cards().values(), key=lambda s: s.lab[0], default=PLAIN)
    cards = tuple(own.stocks.values())
    return Defaults(card, row.options["chemistry"], row.options["line"], 1.0, cards)


Understood = tuple[Brought, Interpreted]
_READ: Kept[object, Understood] = Kept(60_000_000, lambda found: 20_000 + 3_000 * len(found[0].table.rows))
# the same rows are asked for at every step of keeping


def _interpreted(row: InkImport, defaults: Defaults) -> Understood:
    def make() -> Understood:
        brought = brought_from(read(row))
        return brought, interpret(brought.table, row.mapping, defaults)

    job = row.job
    key = (row.pk, row.created, job and job.run, repr(row.options), tuple(row.mapping), repr(defaults))
    return _READ.get(key, make)


def understood(row: InkImport) -> tuple[Brought, list[Match], list[Problem]]:
    """What the file comes to as things stand: every ink with what it changes, every row that cannot be taken."""
    own = house(row.owner)
    brought, found = _interpreted(row, _defaults(row, own))
    matches, more = matched((*brought.whole, *found.drafts), own.inks, row.options["chemistry"])
    # what is put away comes back by being brought in, whether or not anything else of it changes
    matches = [m if m.key is None or m.key in own.in_drawer else replace(m, changed=True) for m in matches]
    return brought, matches, sorted((*brought.problems, *found.problems, *more), key=lambda p: p.row)


@transaction.atomic
def keep(row: InkImport) -> InkImport:
    """Keep the next A_TIME inks; all of an import is one step to undo.

    Taken back meanwhile in the drawer, it begins again at the first: nothing
    of it is kept any more.
    """
    fresh = InkImport.objects.select_related("change", "job").get(pk=row.pk)
    fresh.owner = row.owner
    done = kept_of(fresh)
    onto = fresh.change if done else None
    brought, matches, _ = understood(fresh)
    if not matches and not brought.stocks and not brought.tools:
        raise BadFile("There is nothing in this file that could be kept.", "file")
    part = matches[done : done + A_TIME]
    first = done == 0
    drawer = Drawer(
        tuple(_keyed(part, fresh.owner)), brought.stocks if first else (), brought.tools if first else ()
    )
    count = f"{len(matches)} {'ink' if len(matches) == 1 else 'inks'}"
    label = f"Bring in {count} from {fresh.name}"
    # what was changed in between stays a step of its own, and so does the rest of the import
    label = label if onto is None or onto == last_change(fresh.owner) else f"{label}, on"
    _, fresh.change = take_in(fresh.owner, drawer, label, onto)
    fresh.done = done + max(1, len(part))
    fresh.change_number = fresh.change.pk if fresh.change is not None else None
    fresh.save(update_fields=["done", "change", "change_number"])
    return fresh


def _keyed(matches: list[Match], owner: Any) -> list[Any]:
    """The inks under the keys that they have or will have."""
    taken = set(house(owner).inks)
    found = []
    for match in matches:
        key = match.key
        if key is None:
            said = str(match.draft.values.get("key") or "")
            base = (slugify(said) or slugify(match.ink.name))[:100] or "ink"
            key, number = (said if said and said not in taken and len(said) <= 100 else base), 1
            while key in taken:
                number += 1
                key = f"{base}-{number}"
            taken.add(key)
        if match.changed:
            found.append(replace(match.ink, key=key))
    return found


def problems_csv(row: InkImport) -> bytes:
    """The rows that were not taken, as they stood, each with what is wrong: to mend and bring in again."""
    brought, _, problems = understood(row)
    by_line = dict(zip(brought.table.numbers, brought.table.rows, strict=True))
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow([*brought.table.columns, "line in the file", "what is wrong"])
    blank = [""] * len(brought.table.columns)
    for problem in problems:
        cells = [*by_line.get(problem.row, ()), *blank][: max(len(blank), len(by_line.get(problem.row, ())))]
        writer.writerow([guarded_cell(c) for c in (*cells, str(problem.row), problem.sentence)])
    return out.getvalue().encode("utf-8-sig")


def import_json(row: InkImport) -> dict[str, Any]:
    """An import for the screen; while it is being read only that."""
    job = job_json(row.job) if row.job is not None else {"share": 1.0, "doing": "", "sentence": ""}
    state = {"queued": "reading", "running": "reading", "failed": "failed", "stopped": "failed"}
    known = {
        "id": row.pk,
        "name": row.name,
        "options": row.options,
        **{k: job[k] for k in ("share", "doing", "sentence")},
    }
    reading = state.get(row.job.state) if row.job is not None else None
    if reading is not None or row.brought is None:
        return {**_NOTHING, **known, "state": reading or "failed"}
    return {**known, **_read_json(row)}


def _read_json(row: InkImport) -> dict[str, Any]:
    brought, matches, problems = understood(row)
    table, own = brought.table, house(row.owner)
    stock, change_, done = _defaults(row, own).card, row.change, kept_of(row)
    kinds = {
        "new": sum(m.key is None for m in matches),
        "changed": sum(m.changed and m.key is not None for m in matches),
    }
    return {
        "kind": brought.kind,
        "kind_label": KINDS[brought.kind],
        "notes": list(table.notes),
        "columns": [
            {
                "name": name,
                "meaning": meaning,
                "samples": [r[i][:60] for r in table.rows[:SAMPLES] if i < len(r)],
            }
            for i, (name, meaning) in enumerate(zip(table.columns, row.mapping, strict=True))
        ],
        "meanings": [{"key": k, "label": v} for k, v in FIELDS.items()],
        "rows": len(table.rows) + len(brought.whole),
        "inks": len(matches),
        "new": kinds["new"],
        "changed": kinds["changed"],
        "same": len(matches) - kinds["new"] - kinds["changed"],
        "stocks": len(brought.stocks),
        "tools": len(brought.tools),
        "preview": _previews(matches[:SHOWN], stock),
        "problems": [
            {"row": p.row, "column": p.column, "sentence": p.sentence} for p in problems[: 5 * SHOWN]
        ],
        "problem_count": len(problems),
        "done": min(done, len(matches)),
        "state": _state(done, len(matches)),
        "undone": bool(change_ and change_.undone),
        "undoable": change_ is not None and change_ == last_change(row.owner),
    }


def _state(done: int, total: int) -> str:
    if done == 0:
        return "read"
    return "kept" if done >= total else "keeping"


def _previews(matches: list[Match], stock: Stock) -> list[dict[str, Any]]:
    labs = dabs([m.ink for m in matches], stock, (1.0,))
    return [
        _preview(m, (float(v[0]), float(v[1]), float(v[2])))
        for m, v in zip(matches, labs[:, 0] if matches else [], strict=True)
    ]


def _preview(match: Match, lab: Lab) -> dict[str, Any]:
    what = "new" if match.key is None else "changed" if match.changed else "same"
    return {
        "name": match.ink.name,
        "line": match.ink.line,
        "family": match.ink.family,
        "chemistry": match.ink.chemistry.key,
        "what": what,
        "swatches": len(match.draft.swatches),
        "rows": list(match.draft.rows)[:20],
        "colour": colour(lab),
    }
