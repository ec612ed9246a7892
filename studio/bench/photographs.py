"""Photographs of made cards: kept, read against what was predicted, taken by the simulated camera."""

from __future__ import annotations

import base64
from dataclasses import asdict, replace
from typing import Any

import numpy as np
from django.db import transaction
from PIL import Image

from strata.camera.panel import hidden_maker, made_by, panel_shot, photograph_panel
from strata.errors import BadFile, BadValue, TooLarge, UnknownName
from strata.formats.drawer import read_ink, read_stock
from strata.making.record import plan_of_record
from strata.optics.colour import Lab
from strata.optics.inks import Ink
from strata.optics.learned import AS_MEASURED
from strata.order import dispatch
from strata.photographed.learn import Shown
from strata.photographed.reading import Reading, packed, read_reading
from strata.photographed.regions import Region, looked_at, predicted
from strata.photographed.told import FAR, by_element, mean_difference
from strata.picture.shown import View
from strata.plan.scene import Scene
from strata.tracing.photo import open_photo
from studio.bench.models import Photograph, Record
from studio.builds.looking import placed_of
from studio.builds.pictures import jpeg
from studio.inks.services import house
from studio.jobs import queue
from studio.jobs.models import Job
from studio.sets.history import core_set

KIND = "read a photograph of a card"
SIDE, QUALITY = 2000, 88
# px of the longest side of a photograph that is kept
MOST = 12
# photographs a card keeps
HIDDEN = 2600
# which hidden maker the simulated camera's cards are made by: the same for all of a maker's cards
OTHER_COLOURS = (
    "The outlines are those of this card, its colours are not. Is this another colouring of the same picture?"
)
GONE = "The build that this was made from is no longer here, and without its outlines a photograph cannot be read."


def keep_photograph(row: Record, data: bytes, around: str = "") -> Photograph:
    """A photograph of the finished card, drawn anew, and its reading begun. Raises BadFile, TooLarge, UnknownName."""
    _room(row)
    picture = Image.fromarray(open_photo(data))
    picture.thumbnail((SIDE, SIDE))
    found = Photograph(record=row, content=jpeg(np.asarray(picture), QUALITY))
    return _begun(found, around, None, {})


def simulated(row: Record, seed: int, around: str = "") -> Photograph:
    """A photograph that the simulated camera is to take of the card as a hidden maker made it, and its reading."""
    _room(row)
    return _begun(Photograph(record=row, content=b""), around, None, {"simulate": seed})


def read_again(found: Photograph, around: str, corners: Any) -> Photograph:
    """Read it once more: lying on that card, or with its corners shown (clockwise from the panel's top left, px)."""
    return _begun(found, around, corners, {})


def _room(row: Record) -> None:
    if row.photographs.count() >= MOST:
        raise TooLarge(f"A card keeps {MOST} photographs; take one away first.", "file")
    if row.build is None:
        raise BadFile(GONE)


def _begun(found: Photograph, around: str, corners: Any, options: dict[str, Any]) -> Photograph:
    _colour_of(found.record, around)
    found.around, found.corners = around, corners
    with transaction.atomic():
        found.save()
        queue.begin_for(found, found.record.owner, KIND, options)
    found.refresh_from_db()
    return found


def left_to_read(found: Photograph) -> Job:
    """A photograph's reading, left for the next start of the server."""
    found.job = queue.leave(found.record.owner, KIND, found.pk)
    found.save(update_fields=["job"])
    return found.job


def _colour_of(row: Record, stock: str) -> Lab | None:
    """The colour of the card that a photographed panel lies on; raises UnknownName."""
    if not stock:
        return None
    own = house(row.owner).stocks
    if stock in own:
        return own[stock].lab
    if stock in row.body["stocks"]:
        return read_stock(row.body["stocks"][stock], "stock").lab
    raise UnknownName("That card is not in the house.", "around")


def scene_of(row: Record, as_measured: bool = False) -> Scene:
    """A made card as it was laid, with its pads as they stood; or with today's readings, and nothing learned over them.

    Raises BadFile where the sets it was made with are gone.
    """
    if row.build is None:
        raise BadFile(GONE)
    body, own = row.body, house(row.owner)
    inks = {k: read_ink(k, v, k) for k, v in body["inks"].items()}
    stocks = own.stocks | {k: read_stock(v, k) for k, v in body["stocks"].items()}
    hands = {str(k): float(v) for k, v in body.get("hands", {}).items()}
    if as_measured:
        now = {k: own.inks.get(k, ink) for k, ink in inks.items()}
        inks, hands = {k: _plain(ink) for k, ink in now.items()}, {}
    sets = {p.key: core_set(p.layer_set, p.set_change_id) for p in placed_of(row.build)}
    return Scene(sets, plan_of_record(body), stocks, inks, own.tools, hands)


def _plain(ink: Ink) -> Ink:
    return replace(ink, learned=AS_MEASURED)


def view_of(row: Record, as_measured: bool = False) -> View:
    """The panel on the grid on which photographs are read, wet on wet as it was."""
    scene = scene_of(row, as_measured)
    known = row.body.get("wet")
    wet = frozenset(known) if known is not None else dispatch(scene).wet
    return looked_at(scene, wet)


@queue.work(KIND)
def _read(running: queue.Running) -> None:
    found = Photograph.objects.select_related("record__owner", "record__build").get(pk=running.job.subject)
    row = found.record
    view = view_of(row)
    if not found.content:
        running.say(doing="Taking the photograph")
        found.content = taken(row, view, int(running.job.options.get("simulate", 1)), found.around)
        with transaction.atomic():
            running.hold()
            found.save(update_fields=["content"])
    own, regions = predicted(view)
    lab = _colour_of(row, found.around)
    options = {"around": None if lab is None else list(lab), "corners": found.corners}
    answer = running.child("panel_photograph", [bytes(found.content), packed(own)], options, (0.2, 0.9))
    read = read_reading(answer["reading"])
    if mean_difference(regions, read.regions) > FAR:
        raise BadFile(OTHER_COLOURS, "other_colours")
    told = by_element(Shown(view, regions, read.regions))
    with transaction.atomic():
        running.hold()
        found.reading = {
            **answer["reading"],
            "map": view.stacks.key,
            "of": [asdict(r) for r in regions],
            "told": [asdict(t) for t in told],
        }
        found.straight = base64.b64decode(answer["straight"])
        found.save(update_fields=["reading", "straight"])


def taken(row: Record, view: View, seed: int, around: str) -> bytes:
    """A JPEG that the simulated camera takes of a made card, as the hidden maker made it."""
    scene = view.scene
    maker = hidden_maker(HIDDEN, scene.inks)
    shot = panel_shot(scene.layer_set.width, scene.layer_set.height, seed)
    wet = frozenset(x.pass_key for x in view.layers if x.wet)
    rgb = photograph_panel(made_by(scene, maker, seed), wet, shot, _colour_of(row, around))
    picture = Image.fromarray(rgb)
    picture.thumbnail((SIDE, SIDE))
    return jpeg(np.asarray(picture), QUALITY)


def shown_of(found: Photograph) -> Shown:
    """A photographed card to learn from, with today's readings; raises BadValue where its set has changed since."""
    if found.reading is None:
        raise BadValue("That photograph was not read.", "photograph")
    view = view_of(found.record, as_measured=True)
    if view.stacks.key != found.reading["map"]:
        raise BadValue(f"The set of {found.record.name} has changed since it was photographed.", "photograph")
    return Shown(view, regions_of(found.reading), reading_of(found.reading).regions)


def regions_of(reading: dict[str, Any]) -> tuple[Region, ...]:
    """The regions by which a photograph was read, as its reading keeps them."""
    return tuple(
        Region(
            r["element"], tuple(r["passes"]), (r["predicted"][0], r["predicted"][1], r["predicted"][2]),
            r["area"], tuple(r["stacks"]),
        )
        for r in reading["of"]
    )  # fmt: skip


def reading_of(reading: dict[str, Any]) -> Reading:
    """What a photograph showed, as its reading keeps it."""
    return read_reading({k: v for k, v in reading.items() if k not in ("map", "of", "told")})
