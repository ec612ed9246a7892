"""The table: what happened is added, what is really there and what is left follows from it."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import prefetch_related_objects

from strata.errors import BadValue, TooLarge
from strata.kept import Kept
from strata.making import Event as CoreEvent
from strata.making import Making as CoreMaking
from strata.making import Meant, read_event
from strata.making.events import MOST_EVENTS
from strata.making.remedies import Wrong, went_wrong
from strata.order import Sequence as Steps
from studio.bench.models import Event, Making
from studio.builds.looking import key_of, order_key, outlook
from studio.builds.models import Colouring
from studio.builds.ordering import ordering
from studio.builds.outlook import Outlook, bytes_of
from studio.builds.summaries import AtTable
from studio.inks.services import house

MOST_AT_ONCE = 1000
_MAKINGS: Kept[str, CoreMaking] = Kept(60_000_000, lambda m: 200_000 + 3000 * len(m.meant.steps.steps))
_SEEN: Kept[str, Outlook] = Kept(60_000_000, bytes_of)


def latest(colouring: Colouring) -> Making | None:
    """The making that is under way, or was the last."""
    return Making.objects.filter(colouring=colouring).order_by("-number").first()


def events_of(making: Making | None) -> list[CoreEvent]:
    """What happened in a making."""
    if making is None:
        return []
    return [CoreEvent(e.key, e.at, e.kind, e.body, e.by) for e in making.events.all()]


def making_of(colouring: Colouring, happened: Sequence[CoreEvent]) -> CoreMaking:
    """The making as the core sees it; kept until the plan, its order or what happened changes."""
    now = ordering(colouring)
    told = [
        order_key(colouring),
        str(house(colouring.build.owner).stamp),
        signature(now.sequence),
        [[e.key, e.at] for e in happened],
    ]
    key = hashlib.sha256(json.dumps(told).encode()).hexdigest()

    def earlier(some: Sequence[CoreEvent]) -> CoreMaking:
        return making_of(colouring, some)

    return _MAKINGS.get(key, lambda: CoreMaking(now.scene, Meant(now.sequence, now.cards), happened, earlier))


def signature(steps: Steps) -> str:
    """Changes when the steps are others or in another order; what they are called does not matter."""
    return hashlib.sha256("|".join(s.key for s in steps.steps).encode()).hexdigest()[:32]


@transaction.atomic
def happened(colouring: Colouring, number: int, values: Sequence[Any]) -> Making:
    """Add what happened; what is there already is passed over, so that it may be sent as often as need be.

    Raises BadValue for an event that cannot be read and for a making that is
    not the next one, TooLarge past what a making holds.
    """
    if len(values) > MOST_AT_ONCE:
        raise TooLarge(f"At most {MOST_AT_ONCE} events are taken at once.", "events")
    read = [read_event(v) for v in values]
    last = latest(colouring)
    if number > (last.number if last is not None else 0) + 1:
        raise BadValue("That card is not begun yet.", "making")
    making, _ = Making.objects.get_or_create(colouring=colouring, number=number)
    # what was looked up of the colouring for this request is not looked up again
    making.colouring = colouring
    known = set(making.events.values_list("key", flat=True))
    fresh = {e.key: e for e in read if e.key not in known}
    if len(known) + len(fresh) > MOST_EVENTS:
        raise TooLarge("So much has happened to this card that no more can be kept.", "events")
    if fresh:
        core = making_of(colouring, events_of(making))
        laid = [core.as_laid(e) for e in fresh.values()]
        Event.objects.bulk_create(
            Event(making=making, key=e.key, at=e.at, kind=e.kind, by=e.by, body=dict(e.body)) for e in laid
        )
    return making


@dataclass(frozen=True)
class AsItIs:
    """A card as it really is: its layers in the order in which they come."""

    sequence: Steps


def seen_on(colouring: Colouring, making: CoreMaking, card: int) -> Outlook:
    """A card as it really is, with what is still to come: what its picture is drawn by."""
    if not making.changed:
        return outlook(colouring)
    really = making.cards[card - 1]
    told = Steps((), making.layers_of(card), making.wet_on(card))
    parts = [key_of(colouring), card, repr(really.seen), told.passes, sorted(told.wet)]
    key = hashlib.sha256(json.dumps(parts).encode()).hexdigest()[:20]

    def make() -> Outlook:
        scene, at_hand = making.scene.with_plan(really.seen), house(colouring.build.owner).at_hand
        return Outlook(key, scene, at_hand, AsItIs(told))

    return _SEEN.get(key, make)


def wrong(colouring: Colouring, what: str, body: dict[str, Any]) -> Wrong:
    """Ways on for what went wrong; raises BadValue and UnknownName."""
    making = making_of(colouring, events_of(latest(colouring)))
    return went_wrong(making, what, body, sorted(house(colouring.build.owner).at_hand))


def at_table(colourings: Iterable[Colouring]) -> dict[int, AtTable]:
    """Of every colouring that is being worked on: where it is, by its number."""
    by_pk = {c.pk: c for c in colourings}
    rows = Making.objects.filter(colouring__in=by_pk).order_by("number")
    last = {making.colouring_id: making for making in rows}
    prefetch_related_objects(list(last.values()), "events")
    found = {}
    for pk, making in last.items():
        core = making_of(by_pk[pk], events_of(making))
        count = len(core.done)
        if not count:
            continue
        rest = core.rest
        following = rest[0].sentence if rest else "Done: every step is ticked off"
        found[pk] = AtTable(count, following)
    return found
