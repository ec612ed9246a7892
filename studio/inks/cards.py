"""Swatch cards: made, photographed, read, and what they read kept."""

from __future__ import annotations

import base64
import json
from datetime import date
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from strata.errors import BadValue, UnknownName
from strata.formats.drawer import ink_json, stock_json
from strata.formats.pdf.swatch_card import swatch_card_pdf
from strata.guard.child import run_guarded
from strata.optics.colour import Lab, difference
from strata.optics.inks import Swatch
from strata.optics.stack import Coat, predict
from strata.optics.stack import Stock as CoreStock
from strata.swatchcard import CardLayout, Field
from strata.swatchcard.known import trusted_swatch
from strata.swatchcard.layout import MOST_CARDS
from studio.colours import colour
from studio.inks.editing import keep_readings
from studio.inks.models import Ink, SwatchCard
from studio.inks.services import House, house
from studio.jobs import queue
from studio.jobs.queue import job_json
from studio.owned import mine

KIND = "read a swatch card"
SENTENCES = {
    "good": "",
    "bare": "Nothing is inked here yet.",
    "blotchy": "It is blotchy: ink it again more evenly, or keep the mean.",
    "strong": "Stronger than a picture can hold: the colour is an estimate. A colour reader would tell.",
    "doubtful": "This does not look like the pad that it should be: another pad, or an old swatch?",
}


@transaction.atomic
def make_card(owner: Any, values: dict[str, Any]) -> SwatchCard:
    """A card for fields [{passes: [{ink, coats}]}] on a stock; raises a StrataError.

    Its number is found and taken in one transaction: two cards made at once get two.
    """
    own = house(owner)
    if values["stock"] not in own.stocks:
        raise UnknownName("That card is not in the house.", "stock")
    made = []
    for field in values["fields"]:
        passes = tuple((p["ink"], p["coats"]) for p in field["passes"])
        for key, _ in passes:
            if key not in own.inks:
                raise UnknownName("That pad is not in the drawer.", "fields")
        label = " + ".join(own.inks[k].name for k, _ in passes)
        made.append(Field(passes, label))
    used = set(mine(SwatchCard, owner).values_list("code", flat=True))
    code = next((c for c in range(MOST_CARDS) if c not in used), None)
    if code is None:
        raise BadValue(f"There are {MOST_CARDS} swatch cards already; put some away first.", "fields")
    CardLayout(code, len(made), values["paper"])
    fields = [{"passes": [list(p) for p in f.passes], "label": f.label} for f in made]
    title = values.get("title") or "Swatch card"
    return SwatchCard.objects.create(
        owner=owner, code=code, title=title, stock=values["stock"], paper=values["paper"], fields=fields
    )


def _layout(row: SwatchCard) -> CardLayout:
    return CardLayout(row.code, len(row.fields), row.paper)


def _fields(row: SwatchCard) -> list[Field]:
    return [Field(tuple((k, c) for k, c in f["passes"]), f["label"]) for f in row.fields]


def _stock(row: SwatchCard, own: House) -> CoreStock:
    if row.stock not in own.stocks:
        raise UnknownName("The stock of this card is not in the house any more.", "stock")
    return own.stocks[row.stock]


def pdf_of(row: SwatchCard) -> bytes:
    """The card to print."""
    return swatch_card_pdf(_layout(row), _fields(row), _stock(row, house(row.owner)).name, row.title)


def known_fields(row: SwatchCard, own: House) -> dict[int, Lab]:
    """The fields whose colour is known already: single pads measured on this stock."""
    stock = _stock(row, own)
    found = {}
    for i, field in enumerate(row.fields):
        if len(field["passes"]) == 1:
            key, coats = field["passes"][0]
            swatch = trusted_swatch(own.inks[key], stock, coats) if key in own.inks else None
            if swatch is not None:
                found[i] = swatch.lab
    return found


def expected(row: SwatchCard, own: House) -> list[Lab]:
    """What the drawer says that each field should look like."""
    stock = _stock(row, own)
    return [
        predict(stock, [Coat(own.inks[k], float(c)) for k, c in f["passes"] if k in own.inks])
        for f in row.fields
    ]


def _photograph(row: SwatchCard) -> Path:
    """Where the photograph of a card lies while it is read."""
    place: Path = settings.IMPORTS_DIR
    return place / f"card-{row.pk}.bin"


def begin_reading(row: SwatchCard, data: bytes, trusted: list[int] | None = None) -> SwatchCard:
    """Read a photograph of the card in the background; what was read stays until it is kept or read again.

    ``trusted`` are the fields to go by (all known ones by default).
    """
    path = _photograph(row)
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(data)
    options = {"trusted": trusted}
    queue.begin_for(row, row.owner, KIND, options)
    row.refresh_from_db(fields=["reading", "kept", "job"])
    return row


@queue.work(KIND)
def _read(running: queue.Running) -> None:
    row = SwatchCard.objects.select_related("owner").get(pk=running.job.subject)
    own, trusted = house(row.owner), running.job.options.get("trusted")
    known = known_fields(row, own)
    if trusted is not None:
        known = {i: lab for i, lab in known.items() if i in trusted}
    options = {
        "code": row.code,
        "count": len(row.fields),
        "paper": row.paper,
        "card": list(_stock(row, own).lab),
        "known": {str(i): list(lab) for i, lab in known.items()},
    }
    try:
        found = running.child("swatch_card", [_photograph(row).read_bytes()], options)
    except queue.Stopped:
        raise  # begun anew: the photograph there is another one by now
    except Exception:
        # whoever tries again sends it again; nobody's photograph lies about
        _photograph(row).unlink(missing_ok=True)
        raise
    with transaction.atomic():
        running.hold()
        row.reading = {**found, "at": timezone.now().isoformat(timespec="seconds"), "trusted": sorted(known)}
        row.kept = []
        row.save(update_fields=["reading", "kept", "updated"])
    _photograph(row).unlink(missing_ok=True)


def sample_photograph(row: SwatchCard, seed: int) -> bytes:
    """A JPEG that the simulated camera takes of the card, inked with the pads of the drawer."""
    own = house(row.owner)
    inks = {k: own.inks[k] for f in row.fields for k, _ in f["passes"] if k in own.inks}
    world = {
        "stock": stock_json(_stock(row, own)),
        "inks": {k: ink_json(ink) for k, ink in inks.items()},
        "code": row.code,
        "paper": row.paper,
        "fields": row.fields,
    }
    answer = run_guarded("card_photograph", [pdf_of(row), json.dumps(world).encode()], {"seed": seed})
    return base64.b64decode(answer["jpeg"])


def keep(row: SwatchCard, fields: list[int]) -> list[str]:
    """Keep the readings of some fields as swatches; returns the names of the inks. Raises BadValue."""
    if row.reading is None:
        raise BadValue("Photograph the card first.", "fields")
    own = house(row.owner)
    stock, today = _stock(row, own), date.today().isoformat()
    readings = []
    for i in fields:
        if not 0 <= i < len(row.fields) or len(row.fields[i]["passes"]) != 1:
            raise BadValue("Only a field of a single pad can be kept as its swatch.", "fields")
        read = row.reading["fields"][i]
        if read["state"] == "bare":
            raise BadValue(f"Field {i + 1} is not inked.", "fields")
        key, coats = row.fields[i]["passes"][0]
        lab = (read["lab"][0], read["lab"][1], read["lab"][2])
        swatch = Swatch(stock.lab, float(coats), lab, "swatch card", today, read["spread"], stock.key)
        readings.append((key, swatch))
    kept = keep_readings(row.owner, readings, f"Keep {len(readings)} swatches of card {row.code + 1}")
    row.kept = sorted({*row.kept, *fields})
    row.save(update_fields=["kept", "updated"])
    return [ink.name for ink in kept]


def cards_json(owner: Any) -> list[dict[str, Any]]:
    """All cards of a maker, looked up together."""
    places = _places(owner)
    found = []
    for row in mine(SwatchCard, owner).select_related("job"):
        row.owner = owner
        found.append(card_json(row, places))
    return found


def _places(owner: Any) -> dict[str, int]:
    return dict(mine(Ink, owner).values_list("key", "pk"))


def card_json(row: SwatchCard, places: dict[str, int] | None = None) -> dict[str, Any]:
    """A card for the screen, field by field."""
    own = house(row.owner)
    stock, known, wanted = _stock(row, own), known_fields(row, own), expected(row, own)
    places = _places(row.owner) if places is None else places
    layout = _layout(row)
    fields = []
    for i, field in enumerate(row.fields):
        read = row.reading["fields"][i] if row.reading else None
        fields.append(
            {
                "label": field["label"],
                "passes": [{"ink": k, "ink_id": places.get(k), "coats": c} for k, c in field["passes"]],
                "box": list(layout.fields[i]),
                "known": i in known,
                "expected": colour(wanted[i]),
                "kept": i in row.kept,
                "read": read and _read_json(read, wanted[i]),
            }
        )
    light = None
    if row.reading:
        light = {k: row.reading[k] for k in ("uneven", "known", "error", "at", "trusted")}
    return {
        "id": row.pk,
        "number": row.code + 1,
        "title": row.title,
        "stock": row.stock,
        "stock_name": stock.name,
        "card": colour(stock.lab)["hex"],
        "paper": row.paper,
        "size": list(layout.size),
        "fields": fields,
        "light": light,
        "job": job_json(row.job) if row.job is not None else None,
        "created": row.created.date().isoformat(),
    }


def _read_json(read: dict[str, Any], wanted: Lab) -> dict[str, Any]:
    lab = (read["lab"][0], read["lab"][1], read["lab"][2])
    return {
        "colour": colour(lab),
        "spread": read["spread"],
        "state": read["state"],
        "sentence": SENTENCES[read["state"]],
        "de00": round(difference(lab, wanted), 1),
    }
