"""The log: every making that was brought to its end, as it was done, with photographs; searched, made again."""

from __future__ import annotations

import io
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

from django.db.models import Prefetch
from PIL import Image

from strata.errors import BadFile, BadValue
from strata.finish import Finished
from strata.making import Making as CoreMaking
from strata.making.record import plan_of_record, write_record
from strata.optics.colour import hex_of
from strata.phrases import counted
from strata.picture.shown import panel_after
from studio.bench.models import Making, Photograph, Record
from studio.bench.services import events_of, making_of, seen_on
from studio.builds import history
from studio.builds.looking import placed_of
from studio.builds.models import Colouring
from studio.builds.pictures import jpeg
from studio.inks.editing import take_sheets

WIDTH, QUALITY = 640, 88
# px: the picture of the card
MOST_WORDS = 12
PHOTOGRAPHS = Prefetch("photographs", Photograph.objects.only("pk", "record_id"))
# their numbers, without the pictures


def written_down(making: Making) -> Record | None:
    """The record of a making whose every step is done, brought up to date; None while something is left."""
    colouring = making.colouring
    core = making_of(colouring, events_of(making))
    known = Record.objects.filter(making=making).first()
    if not core.done or all(c.spoilt for c in core.cards) or (core.rest and known is None):
        return known
    row = known or Record(owner=colouring.build.owner, making=making, name=colouring.build.name)
    if known is None:
        row.taken = _taken(colouring, core)
    return keep(row, colouring, core)


def _taken(colouring: Colouring, core: CoreMaking) -> dict[str, int]:
    """The sheets that all its cards were cut from, taken off those in the house; none where nobody said how it is cut."""
    plan = core.scene.plan
    made = replace(plan, materials=replace(plan.materials, cards=core.count))
    finish = Finished(core.scene.with_plan(made))
    counts = {s.stock: s.laid.new for s in finish.from_stock if s.laid is not None and s.laid.new}
    if not finish.decided or not counts:
        return {}
    taken = take_sheets(colouring.build.owner, counts, f"Card cut for {colouring.build.name}")
    return {core.scene.stocks[key].name or key: count for key, count in taken.items()}


def taken_words(row: Record | None) -> list[str]:
    """What the house has fewer for a record."""
    return [f"{counted(n, 'sheet')} of {name}" for name, n in row.taken.items()] if row is not None else []


def keep(row: Record, colouring: Colouring, core: CoreMaking) -> Record:
    """A record brought up to date with what was done of a colouring."""
    row.build, row.body = colouring.build, write_record(core)
    row.made = datetime.fromtimestamp(row.body["ended"], tz=UTC)
    card = next((n for n, c in enumerate(core.cards, 1) if not c.spoilt), 1)
    row.picture = jpeg(panel_after(seen_on(colouring, core, card).view(WIDTH), None), QUALITY)
    row.sets = ", ".join(dict.fromkeys(p.layer_set.name for p in placed_of(colouring.build)))
    row.said, row.summary = searched(row), None
    row.save()
    return row


def searched(row: Record) -> str:
    """The words by which a record is found: names, person, pads, stocks, sets, month, notes."""
    body = row.body
    words = [row.name, row.person, row.note, row.sets, row.made.strftime("%B %Y")]
    words += [v.get("name", "") for part in ("inks", "stocks") for v in body[part].values()]
    words += [v.get(k, "") for v in body["inks"].values() for k in ("line", "family")]
    words += [u["element"] for u in body["used"]] + [n["sentence"] for n in body["notes"]]
    return " ".join(dict.fromkeys(w.lower() for w in words if w))


def found(owner: Any, words: str) -> list[Record]:
    """The records that hold all these words, the latest first, without what only one opened needs."""
    rows = Record.objects.filter(owner=owner, gone__isnull=True).defer("picture", "body")
    for word in words.lower().split()[:MOST_WORDS]:
        rows = rows.filter(said__contains=word)
    return list(rows.order_by("-made", "-pk").prefetch_related(PHOTOGRAPHS))


def told(row: Record, name: str | None, person: str | None, note: str | None) -> Record:
    """Whom it was for, what it is called, what is to be remembered."""
    for field, value in (("name", name), ("person", person), ("note", note)):
        if value is not None:
            setattr(row, field, value.strip())
    if not row.name:
        raise BadValue("It needs a name.", "name")
    row.said = searched(row)
    row.save(update_fields=["name", "person", "note", "said", "updated"])
    return row


def summary(row: Record) -> dict[str, Any]:
    """What the log's list tells of a body, kept with its row: five hundred bodies would be read for it in a second and a half."""
    if row.summary is None:
        body = row.body
        stock = body["plan"]["materials"]["stock"]
        # each ink once
        colours = {u["ink"]: hex_of(tuple(u["colour"]))[0] for u in body["used"]}
        row.summary = {
            "cards": body["cards"],
            "stock": body["stocks"].get(stock, {}).get("name", stock),
            "colours": list(colours.values()),
        }
        Record.objects.filter(pk=row.pk, updated=row.updated).update(summary=row.summary)
    found: dict[str, Any] = row.summary
    return found


def aspect(row: Record) -> float:
    """Height over width of its picture, so that a page can keep the room for it."""
    width, height = Image.open(io.BytesIO(row.picture)).size
    return round(height / width, 4)


def make_again(row: Record) -> Colouring:
    """A build of its own that begins with the card as it was made; raises BadFile where its sets are gone."""
    if row.build is None:
        raise BadFile("The build that this was made from is no longer here.")
    row.build.owner = row.owner
    return history.begin_again(row.build, f"{row.name}, again", plan_of_record(row.body), "As it was made")
