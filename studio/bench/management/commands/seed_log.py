"""Six cards of the demo world that were made before: the log of the Lockside Thursday table."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand
from django.db import transaction
from django.utils.text import slugify

from strata.making import Event, Meant, read_event
from strata.making import Making as CoreMaking
from strata.making.events import done_of
from strata.order.steps import Step
from studio.accounts.demo import DEMO_NAME
from studio.bench.models import Photograph, Record
from studio.bench.photographs import left_to_read
from studio.bench.records import keep
from studio.builds.models import Colouring
from studio.builds.ordering import ordering
from studio.inks.models import Stock

THERE = "The log of the demo world is there already; nothing was changed."
PHOTOGRAPHS = settings.BASE_DIR / "demo" / "photographs" / "log"
ON = "White smooth"
WRITTEN = "Six cards are written down in the log."


@dataclass(frozen=True)
class Made:
    """A card of the demo world that was made: of which build, when, for whom, what went otherwise."""

    build: str
    when: datetime
    person: str
    note: str
    coats: int = 0
    hand: str = ""
    spoken: str = ""
    on: str = ""
    # the card that it lies on in its photograph, where too little of its own is bare


def _at(month: int, day: int, hour: int = 19) -> datetime:
    return datetime(2026, month, day, hour, 10, tzinfo=UTC)


MADE = (
    Made(
        "First try on kraft",
        _at(3, 12),
        "the lock keeper",
        "Kraft swallows the pale blues. White next time.",
        2,
    ),
    Made(
        "Thank-you by lantern light",
        _at(4, 16),
        "Odile, who drew the plans",
        "",
        0,
        "heavy",
        "The lantern glows now.",
    ),
    Made("Luna by night", _at(6, 11), "the stonemasons", "Foam under the wings only.", on=ON),
    Made("Hedgehog at the pump house", _at(7, 23), "Bram at the pumps", "Post by Friday.", 3, on=ON),
    Made(
        "Koi at dusk",
        _at(9, 17),
        "the divers",
        "",
        0,
        "",
        "One pale streak at the left edge: trimmed off.",
        ON,
    ),
    Made("Koi on black", _at(10, 29), "the night watch", "White first, twice. It pays.", on=ON),
)


class Command(BaseCommand):
    """``seed_log`` writes the log of the demo maker where it has none."""

    help = __doc__ or ""

    def handle(self, *args: Any, **options: Any) -> None:
        maker = get_user_model().objects.filter(username=DEMO_NAME).first()
        if maker is None or Record.objects.filter(owner=maker).exists():
            self.stdout.write(THERE)
            return
        with transaction.atomic():
            for made in MADE:
                record = write(maker, made)
                if record is not None:
                    photographed(record, made)
        self.stdout.write(WRITTEN)


def write(maker: Any, made: Made) -> Record | None:
    """One card in the log, made by its build's order; None where that build is not there."""
    row = Colouring.objects.filter(build__owner=maker, build__name=made.build).first()
    if row is None:
        return None
    now = ordering(row)
    begun = CoreMaking(now.scene, Meant(now.sequence, now.cards), ())
    core = CoreMaking(now.scene, begun.meant, [begun.as_laid(e) for e in _events(now.sequence.steps, made)])
    return keep(Record(owner=maker, name=row.build.name, person=made.person, note=made.note), row, core)


def photographed(record: Record, made: Made) -> None:
    """Its photograph from the demo world, to be read when the server starts."""
    taken = PHOTOGRAPHS / f"{slugify(made.build)}.jpg"
    if taken.exists():
        on = _card(record.owner, made.on)
        left_to_read(Photograph.objects.create(record=record, content=taken.read_bytes(), around=on))


def _card(maker: Any, name: str) -> str:
    found = Stock.objects.filter(owner=maker, name=name).first() if name else None
    return found.key if found is not None else ""


def _events(steps: tuple[Step, ...], made: Made) -> list[Event]:
    """Every step done as it was planned; one pass with other coats or another hand, one note."""
    began = made.when.timestamp()
    found = [done_of(s, f"done{n}", began + 60 * (s.starts + s.minutes)) for n, s in enumerate(steps)]
    inked = [s for s in steps if s.kind == "ink" and s.card == 1]
    if inked and (made.coats or made.hand):
        one = inked[len(inked) // 2]
        body: dict[str, Any] = {"card": 1, "pass": one.pass_key}
        body |= {"coats": made.coats} if made.coats else {"hand": made.hand}
        at = began + 60 * (one.starts + one.minutes) + 1
        found.append(read_event({"key": "otherwise", "at": at, "kind": "otherwise", "body": body}))
    if made.spoken:
        at = max(e.at for e in found) + 30
        found.append(read_event({"key": "note", "at": at, "kind": "note", "body": {"text": made.spoken}}))
    return found
