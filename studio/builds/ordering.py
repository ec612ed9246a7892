"""The order of work of a colouring for all its cards: planned at once, searched for in the background, taken or not."""

from __future__ import annotations

import hashlib
import json
from dataclasses import asdict, dataclass
from functools import cached_property
from typing import Any

from django.db import transaction

from strata.errors import BadValue, StrataError
from strata.kept import Kept
from strata.order import Sequence, Step
from strata.order.dispatch import wish_of, work_for
from strata.order.explain import Explained, explain
from strata.order.found import Found, read_found
from strata.order.narration import narrate
from strata.order.planning import at_once
from strata.order.schedule import Schedule
from strata.order.scheduled import scheduled
from strata.order.ticks import A_MINUTE, Work
from strata.order.work_file import write_work
from strata.plan import Scene
from studio.builds.looking import order_key, outlook, scene_of
from studio.builds.models import Colouring
from studio.inks.services import house
from studio.jobs import queue
from studio.jobs.models import Job

KIND = "order"
BUDGET = 6.0
# deterministic seconds; about a quarter of a minute for thirty passes


@dataclass
class Ordering:
    """The work of all cards of a colouring, the plan at once, and the better one where it was found."""

    key: str
    scene: Scene
    better: dict[str, Any] | None

    @cached_property
    def work(self) -> Work:
        """What is to be done."""
        return Work(work_for(self.scene, self.scene.plan.cards))

    @cached_property
    def plain(self) -> Found:
        """The plan at once."""
        return at_once(self.work)

    @cached_property
    def searched(self) -> Found | None:
        """The plan that was searched for; None where it is of other work or cannot be read."""
        if self.better is None or self.better.get("key") != self.key:
            return None
        try:
            return read_found(self.work, self.better["found"])
        except StrataError:
            return None

    @property
    def taken(self) -> bool:
        """Whether the better plan is the one that is worked by."""
        return self.searched is not None and bool(self.better and self.better.get("taken"))

    @property
    def found(self) -> Found:
        """The plan that is worked by."""
        return self.searched if self.taken and self.searched is not None else self.plain

    @cached_property
    def schedule(self) -> Schedule:
        """That plan in minutes."""
        return scheduled(self.work, self.found)

    @cached_property
    def sequence(self) -> Sequence:
        """That plan in words."""
        return narrate(self.scene, self.work.instance, self.schedule)


_ORDERINGS: Kept[str, Ordering] = Kept(40_000_000, lambda o: 300_000 + 4_000 * len(o.scene.plan.passes))


def ordering(row: Colouring) -> Ordering:
    """The order of work of a colouring; kept until the work or what was found changes."""
    key = order_key(row)
    own = row.better if row.better and row.better.get("key") == key else None
    # what pads are called is in the words, not in the work
    stamp = str(house(row.build.owner).stamp)
    told = hashlib.sha256(json.dumps([key, own, stamp], sort_keys=True).encode()).hexdigest()
    return _ORDERINGS.get(told, lambda: Ordering(key, scene_of(row), own))


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
    if now.key != key:
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
    return explain(now.scene, now.work, now.found, place)


def minutes(found: Found) -> float:
    """How long a plan takes."""
    return found.timed.end / A_MINUTE


def one_by_one(now: Ordering) -> float:
    """Minutes for all cards made one after another, by the order at once for one."""
    if now.scene.plan.cards == 1:
        return now.schedule.minutes
    alone = Work(work_for(now.scene))
    return now.scene.plan.cards * minutes(at_once(alone)) if alone.count else 0.0


def in_words(now: Ordering) -> str:
    """What can honestly be said of how short the plan is."""
    schedule = now.schedule
    if schedule.proven:
        return "The shortest possible."
    # nothing was searched for yet: how far it is from the best is not known to any use
    if now.found.by == "greedy" or not schedule.bound or not schedule.minutes:
        return ""
    share = 100 * (schedule.minutes - schedule.bound) / schedule.bound
    return f"Within {max(1, round(share))} % of the shortest possible."


@dataclass(frozen=True)
class Visit:
    """Steps that are the same on each of ``cards``; ``minutes`` on all of them together."""

    cards: tuple[int, ...]
    first: int
    steps: tuple[Step, ...]
    minutes: float


def visits(sequence: Sequence) -> list[Visit]:
    """Steps gathered under the sheet that is seated; one after another the same on other cards, told once."""
    gathered: list[tuple[int, list[Step]]] = []
    for n, step in enumerate(sequence.steps):
        if step.kind == "place" or not gathered:
            gathered.append((n, []))
        gathered[-1][1].append(step)
    found: list[Visit] = []
    for n, steps in gathered:
        ends = max(s.starts + s.minutes for s in steps) - min(s.starts for s in steps)
        card = next((s.card for s in steps if s.kind in ("place", "ink")), 0)
        last = found[-1] if found else None
        if last is not None and card and _alike(last.steps, steps) and card not in last.cards:
            found[-1] = Visit((*last.cards, card), last.first, last.steps, last.minutes + ends)
        else:
            found.append(Visit((card,) if card else (), n, tuple(steps), ends))
    return found


def _alike(one: tuple[Step, ...], other: list[Step]) -> bool:
    def inked(steps: Any) -> list[Any]:
        return [(s.sheet, s.pass_key) for s in steps if s.kind in ("place", "ink")]

    return inked(one) == inked(other)
