"""An account carried out and in, as jobs that the browser follows."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import transaction

from strata.errors import BadFile, BadValue
from studio.carry.archive import NOT_EMPTY, is_empty, read_account, write_account
from studio.carry.models import Carry
from studio.jobs import queue

KIND_OUT, KIND_IN = "carry an account out", "carry an account in"
MOST_ARCHIVE = 400_000_000


def place_of(row: Carry) -> Path:
    """Where an archive lies until it is fetched, or read."""
    found: Path = settings.IMPORTS_DIR
    return found / f"account-{row.pk}-{row.way}.zip"


def carry_of(owner: Any, way: str) -> Carry | None:
    """The archive that is on its way, or was the last."""
    return Carry.objects.filter(owner=owner, way=way).select_related("job").first()


def out(owner: Any) -> Carry:
    """Begin to pack everything."""
    return _begun(owner, Carry.OUT, KIND_OUT)


def into(owner: Any, data: bytes) -> Carry:
    """Begin to read an archive into an empty account; raises BadValue where it is not empty."""
    if not is_empty(owner):
        raise BadValue(NOT_EMPTY, "file")
    return _begun(owner, Carry.IN, KIND_IN, data)


def _begun(owner: Any, way: str, kind: str, data: bytes | None = None) -> Carry:
    with transaction.atomic():
        row, _ = Carry.objects.get_or_create(owner=owner, way=way)
        row.told = None
        place = place_of(row)
        if data is not None:
            place.parent.mkdir(parents=True, exist_ok=True)
            place.write_bytes(data)
        row.save()
        queue.begin_for(row, owner, kind)
    row.refresh_from_db()
    return row


@queue.work(KIND_OUT)
def _out(running: queue.Running) -> None:
    row = Carry.objects.select_related("owner").get(pk=running.job.subject)
    data, counts = write_account(row.owner, lambda share, doing: running.say(share=share, doing=doing))
    place = place_of(row)
    place.parent.mkdir(parents=True, exist_ok=True)
    beside = place.with_suffix(".part")
    beside.write_bytes(data)
    beside.replace(place)
    with transaction.atomic():
        running.hold()
        Carry.objects.filter(pk=row.pk).update(told=counts)


@queue.work(KIND_IN)
def _in(running: queue.Running) -> None:
    row = Carry.objects.select_related("owner").get(pk=running.job.subject)
    place = place_of(row)
    if not place.exists():
        raise BadFile("The archive is no longer here: send it again.", "file")

    def certain(counts: dict[str, int]) -> None:
        # in one transaction with what it brings: a run that was stopped meanwhile brings nothing
        running.hold()
        Carry.objects.filter(pk=row.pk).update(told=counts)

    try:
        read_account(
            row.owner,
            place.read_bytes(),
            lambda share, doing: running.say(share=share, doing=doing),
            certain,
        )
    finally:
        place.unlink(missing_ok=True)
