"""Bringing inks in: read once, given a meaning as often as it takes, kept piece by piece."""

from __future__ import annotations

import csv
import io
from functools import lru_cache
from typing import Any

from django.db import transaction
from django.utils.text import slugify

from strata.drawer.dabs import dabs
from strata.errors import BadFile, BadValue, TooLarge
from strata.formats.brought import KINDS, Brought, brought_from
from strata.formats.drawer import Drawer
from strata.formats.guarded import run_guarded
from strata.formats.limits import MOST_DRAWING
from strata.formats.tables import FIELDS, Interpreted, Problem
from strata.formats.tables.merge import Match, matched
from strata.formats.tables.rows import Defaults, checked_mapping, interpret
from strata.formats.tables.words import guarded_cell
from strata.optics.colour import Lab
from strata.optics.inks import chemistry, one_of
from strata.optics.stack import Stock
from studio.colours import colour
from studio.inks.editing import take_in
from studio.inks.history import last_change
from studio.inks.models import InkImport
from studio.inks.services import House, house
from studio.inks.shown_on import PLAIN

A_TIME = 250
# inks kept in one request, so that the screen can say how far it is
SHOWN, SAMPLES = 80, 3
MOST_UNDER_WAY = 8
_OPTIONS: dict[str, Any] = {"head": None, "encoding": None, "chemistry": "dye", "line": "", "stock": None}


def begin(owner: Any, name: str, data: bytes) -> InkImport:
    """Read a file; nothing is kept yet. Raises BadFile or TooLarge for what holds no inks."""
    if len(data) > MOST_DRAWING:
        raise TooLarge("This file is over 8 MB; that is larger than any drawer of inks.", "file")
    brought = run_guarded("drawer_file", [data], {})
    for old in InkImport.objects.filter(owner=owner)[MOST_UNDER_WAY - 1 :]:
        old.delete()
    return InkImport.objects.create(
        owner=owner,
        name=name[:200],
        content=data,
        options=_OPTIONS,
        brought=brought,
        mapping=brought["guess"],
    )


def change(row: InkImport, values: dict[str, Any]) -> InkImport:
    """Another meaning for its columns, or another way to read the file. Raises BadValue once it is being kept."""
    if row.done:
        raise BadValue("These inks are being kept already; undo that first.", "mapping")
    options = {**row.options, **{k: v for k, v in values.items() if k in _OPTIONS}}
    chemistry(options["chemistry"])
    if options["stock"] is not None:
        one_of(options["stock"], house(row.owner).stocks, "stock")
    if (options["head"], options["encoding"]) != (row.options["head"], row.options["encoding"]):
        again = {"head": options["head"], "encoding": options["encoding"]}
        row.brought = run_guarded("drawer_file", [bytes(row.content)], again)
        row.mapping = row.brought["guess"]
    if values.get("mapping") is not None:
        row.mapping = checked_mapping(values["mapping"], len(row.brought["table"]["columns"]))
    row.options = options
    row.save(update_fields=["options", "brought", "mapping"])
    return row


def _defaults(row: InkImport, own: House) -> Defaults:
    stock = own.stocks.get(row.options["stock"]) if row.options["stock"] else None
    lab = (stock or max(own.cards().values(), key=lambda s: s.lab[0], default=PLAIN)).lab
    cards = {s.name: s.lab for s in own.stocks.values()}
    return Defaults(lab, row.options["chemistry"], row.options["line"], 1.0, cards)


@lru_cache(maxsize=4)
def _read(pk: int, stored: str, mapping: tuple[str, ...], defaults: str) -> list[Any]:
    """A place for what was read last, filled by its caller: the same rows are asked for at every step of keeping."""
    del pk, stored, mapping, defaults
    return []


def _interpreted(row: InkImport, defaults: Defaults) -> tuple[Brought, Interpreted]:
    kept = _read(row.pk, f"{row.created} {row.options}", tuple(row.mapping), repr(defaults))
    if not kept:
        brought = brought_from(row.brought)
        kept.append((brought, interpret(brought.table, row.mapping, defaults)))
    found: tuple[Brought, Interpreted] = kept[0]
    return found


def understood(row: InkImport) -> tuple[Brought, list[Match], list[Problem]]:
    """What the file comes to as things stand: every ink with what it changes, every row that cannot be taken."""
    own = house(row.owner)
    brought, found = _interpreted(row, _defaults(row, own))
    matches, more = matched((*brought.whole, *found.drafts), own.inks, row.options["chemistry"])
    return brought, matches, sorted((*brought.problems, *found.problems, *more), key=lambda p: p.row)


@transaction.atomic
def keep(row: InkImport) -> InkImport:
    """Keep the next A_TIME inks; all of an import is one step to undo."""
    fresh = InkImport.objects.select_related("owner").get(pk=row.pk)
    fresh.owner = row.owner
    brought, matches, _ = understood(fresh)
    if not matches and not brought.stocks and not brought.tools:
        raise BadFile("There is nothing in this file that could be kept.", "file")
    part = matches[fresh.done : fresh.done + A_TIME]
    first = fresh.done == 0
    drawer = Drawer(
        tuple(_keyed(part, fresh.owner)), brought.stocks if first else (), brought.tools if first else ()
    )
    count = f"{len(matches)} {'ink' if len(matches) == 1 else 'inks'}"
    _, done = take_in(fresh.owner, drawer, f"Bring in {count} from {fresh.name}", fresh.change)
    fresh.change = done
    fresh.done += max(1, len(part))
    fresh.save(update_fields=["done", "change"])
    return fresh


def _keyed(matches: list[Match], owner: Any) -> list[Any]:
    """The inks under the keys that they have or will have."""
    from dataclasses import replace

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
    """An import for the screen."""
    brought, matches, problems = understood(row)
    table, own = brought.table, house(row.owner)
    stock = next((s for s in own.stocks.values() if s.lab == _defaults(row, own).card), PLAIN)
    kinds = {
        "new": sum(m.key is None for m in matches),
        "changed": sum(m.changed and m.key is not None for m in matches),
    }
    change_ = row.change
    return {
        "id": row.pk,
        "name": row.name,
        "kind": brought.kind,
        "kind_label": KINDS[brought.kind],
        "notes": list(table.notes),
        "options": row.options,
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
        "done": min(row.done, len(matches)),
        "state": _state(row, len(matches)),
        "undone": bool(change_ and change_.undone),
        "undoable": change_ is not None and change_ == last_change(row.owner),
    }


def _state(row: InkImport, total: int) -> str:
    if row.done == 0:
        return "read"
    return "kept" if row.done >= total else "keeping"


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
