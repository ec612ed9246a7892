"""The order of work of a colouring for all its cards: planned at once, searched for in the background, taken or not."""

from __future__ import annotations

import hashlib
import json
from dataclasses import asdict

from django.db import transaction

from strata.errors import BadValue
from strata.kept import Kept
from strata.order import Ordering
from strata.order.explain import Explained
from strata.order.wishes import wish_of
from strata.order.work_file import write_work
from studio.builds.looking import order_key, outlook
from studio.builds.models import Colouring
from studio.inks.services import house
from studio.jobs import queue
from studio.jobs.models import Job

KIND = "order"
BUDGET = 6.0
# deterministic seconds; about a quarter of a minute for thirty passes


_ORDERINGS: Kept[str, Ordering] = Kept(40_000_000, lambda o: 300_000 + 4_000 * len(o.scene.plan.passes))


def ordering(row: Colouring) -> Ordering:
    """The order of work of a colouring for all its cards; kept until the work or what was found changes.

    For one card it is the work that its screens know already.
    """
    key, seen = order_key(row), outlook(row)
    better = row.better if row.better and row.better.get("key") == key else None
    found, taken = (better["found"], bool(better["taken"])) if better else (None, False)
    cards = seen.scene.plan.cards
    # what pads are called is in the words, not in the work
    told = json.dumps([key, found, taken, str(house(row.build.owner).stamp)], sort_keys=True)

    def make() -> Ordering:
        alone = seen.ordering if cards == 1 and isinstance(seen.ordering, Ordering) else None
        base = alone or Ordering(seen.scene, cards)
        return base.with_better(found, taken)

    return _ORDERINGS.get(hashlib.sha256(told.encode()).hexdigest(), make)


def job_of(row: Colouring) -> Job | None:
    """The latest search for a colouring."""
    return Job.objects.filter(kind=KIND, subject=row.pk).order_by("-pk").first()


@transaction.atomic
def look_for_better(row: Colouring) -> Job:
    """Begin a search, or follow the one that is under way for the same work."""
    job, key = job_of(row), order_key(row)
    if not outlook(row).scene.plan.passes:
        raise BadValue("There is no pass to put in order yet.", "order")
    if job is not None and job.state in Job.OPEN and job.options.get("key") == key:
        return job
    if job is not None:
        return queue.again(job, {"key": key})
    return queue.begin(row.build.owner, KIND, row.pk, {"key": key})


def stop_looking(row: Colouring) -> None:
    """End the search; what was found before stays."""
    job = job_of(row)
    if job is not None:
        queue.stop(job)


@queue.work(KIND)
def _search(running: queue.Running) -> None:
    row = Colouring.objects.select_related("build").filter(pk=running.job.subject).first()
    if row is None:
        return
    key, now = running.job.options["key"], ordering(row)
    if order_key(row) != key:
        raise BadValue("The build has changed meanwhile; look again.", "order")
    wish = wish_of(now.scene, BUDGET)
    found = running.child(KIND, [json.dumps(write_work(now.work.instance)).encode()], asdict(wish))
    with transaction.atomic():
        running.hold()
        better = {"key": key, "found": found, "taken": False}
        Colouring.objects.filter(pk=row.pk).update(better=better)


def take(row: Colouring, wanted: bool) -> Colouring:
    """Work by the better order from now on, or by the plain one again; raises BadValue where there is none."""
    with transaction.atomic():
        fresh = Colouring.objects.select_related("build").get(pk=row.pk)
        fresh.build.owner = row.build.owner
        if ordering(fresh).searched is None:
            raise BadValue(
                "There is no better order for the build as it stands; look for one first.", "order"
            )
        fresh.better = {**(fresh.better or {}), "taken": wanted}
        fresh.save(update_fields=["better"])
    return fresh


def explained(row: Colouring, place: int) -> Explained:
    """Why a step stands where it does; raises BadValue for a step that is not there."""
    now = ordering(row)
    if not 0 <= place < len(now.schedule.actions):
        raise BadValue("There is no such step.", "step")
    return now.explained(place)
