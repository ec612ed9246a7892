"""The one mechanism for long work: begun, followed, stopped, taken up again after a restart.

A kind of work is a function registered with ``work``; it gets a ``Running``,
through which it says how far it is and reads untrusted files in a guarded
child. Workers are threads of each process of the server, as many as WORKERS;
what waits is in the database, so a restart loses nothing: whoever starts goes
on with what a process that is no more had waiting, and begins again what it
had under way, once. A job belongs to one process; any may stop it.
"""

from __future__ import annotations

import logging
import traceback
from collections.abc import Callable, Sequence
from concurrent.futures import Future, ThreadPoolExecutor, wait
from threading import Event, Lock
from typing import Any

from django.conf import settings
from django.db import close_old_connections, transaction
from django.utils import timezone

from strata.errors import StrataError
from strata.guard.child import WAITING, Child
from studio.jobs import runs
from studio.jobs.models import Job

log = logging.getLogger("studio.jobs")
WORKERS = 2
# jobs at once in a process; of all that read, so many are at it at once (strata.guard)
MOST_RESTARTS = 1
# a job that was under way at two restarts may be what brings the server down: it is not begun again

UNEXPECTED = (
    "Something went wrong on our side while this was read. It has been written down; try again, or let it go."
)
DISK_FULL = "The disk of the workshop computer is full or cannot be written. Make room, then try again."
RESTARTED = "The workshop was restarted twice while this was being read. Nothing was lost: read it again, or let it go."
STOPPED = "Stopped. Read it again, or let it go."

Work = Callable[["Running"], None]
_KINDS: dict[str, Work] = {}
_CHILDREN: dict[int, Child] = {}
_LOCK = Lock()
_UNDER_WAY: set[Future[None]] = set()
_POOL = ThreadPoolExecutor(max_workers=WORKERS, thread_name_prefix="job")
_AFTER = ThreadPoolExecutor(max_workers=1, thread_name_prefix="later")
# for what nobody waits for
LATER = "later"
_ENDING = Event()


class Stopped(Exception):
    """The maker stopped it, it was begun anew, or the process ends."""


def work(kind: str) -> Callable[[Work], Work]:
    """Register a kind of work."""

    def keep(function: Work) -> Work:
        _KINDS[kind] = function
        return function

    return keep


class Running:
    """A job under way, as its work sees it."""

    def __init__(self, job: Job) -> None:
        self.job, self.run = job, job.run

    def say(self, **values: Any) -> None:
        """Write to the row (share, doing); raises Stopped where it was stopped or begun anew meanwhile."""
        if _ENDING.is_set():
            raise Stopped
        rows = Job.objects.filter(pk=self.job.pk, run=self.run, state="running")
        if not rows.update(updated=timezone.now(), **values):
            raise Stopped

    def hold(self) -> None:
        """Raises Stopped unless this run still counts; inside a transaction nobody can stop it any more."""
        if not Job.objects.filter(pk=self.job.pk, run=self.run, state="running").exists():
            raise Stopped

    def child(
        self,
        task: str,
        files: Sequence[bytes],
        options: dict[str, Any],
        span: tuple[float, float] = (0.0, 1.0),
    ) -> Any:
        """The answer of a guarded task; its progress becomes the part ``span`` of the job's."""
        low, high = span

        def progress(share: float, doing: str) -> None:
            rows = Job.objects.filter(pk=self.job.pk, run=self.run, state="running")
            if not rows.update(share=low + share * (high - low), doing=doing):
                # stopped, or begun anew, perhaps by another process
                reader.stop()

        reader = Child(task, options, files, progress, later=_later(self.job))
        with _LOCK:
            _CHILDREN[self.job.pk] = reader
        try:
            self.say(share=low)
            return reader.run()
        except StrataError:
            if reader.stopped:
                raise Stopped from None
            raise
        finally:
            with _LOCK:
                if _CHILDREN.get(self.job.pk) is reader:
                    del _CHILDREN[self.job.pk]


def begin(owner: Any, kind: str, subject: int, options: dict[str, Any] | None = None) -> Job:
    """Put work in the queue; it starts when the transaction around it is certain."""
    job = Job.objects.create(owner=owner, kind=kind, subject=subject, options=options or {}, boot=runs.ours())
    _submit_when_certain(job)
    return job


def begin_for(row: Any, owner: Any, kind: str, options: dict[str, Any] | None = None) -> None:
    """Begin the job of a row (its ``job``), or begin it anew where it has one."""
    if row.job is None:
        row.job = begin(owner, kind, row.pk, options)
        row.save(update_fields=["job"])
    else:
        again(row.job, options)


def leave(owner: Any, kind: str, subject: int, options: dict[str, Any] | None = None) -> Job:
    """Put work in the queue for the next start of a server: for commands, which have no time to wait.

    Nobody looks at it meanwhile, so it gives way to what somebody waits for.
    """
    values = {**(options or {}), LATER: True}
    return Job.objects.create(owner=owner, kind=kind, subject=subject, options=values)


def _later(job: Job) -> bool:
    return bool(job.options.get(LATER))


def again(job: Job, options: dict[str, Any] | None = None) -> Job:
    """Begin it anew, whatever became of the run before: that one writes nothing more."""
    with transaction.atomic():
        job.refresh_from_db()
        job.run += 1
        job.state, job.share, job.doing = "queued", 0.0, WAITING
        job.sentence = job.fault = job.field = ""
        job.boot, job.restarts = runs.ours(), 0
        job.options = job.options if options is None else options
        job.save()
    _halt(job.pk)
    _submit_when_certain(job)
    return job


def stop(job: Job) -> Job:
    """End it; it can be begun again."""
    stopped = Job.objects.filter(pk=job.pk, state__in=Job.OPEN).update(
        state="stopped", sentence=STOPPED, run=job.run + 1, updated=timezone.now()
    )
    if stopped:
        _halt(job.pk)
    job.refresh_from_db()
    return job


def _halt(pk: int) -> None:
    with _LOCK:
        reader = _CHILDREN.get(pk)
    if reader is not None:
        reader.stop()


def _submit_when_certain(job: Job) -> None:
    if settings.JOBS_AT_ONCE:
        _run(job.pk, job.run)
    else:
        transaction.on_commit(lambda: _submit(job.pk, job.run, _later(job)))


def _submit(pk: int, run: int, later: bool) -> None:
    future = (_AFTER if later else _POOL).submit(_run_apart, pk, run)
    _UNDER_WAY.add(future)
    future.add_done_callback(_UNDER_WAY.discard)


def stop_all() -> None:
    """End all that waits or runs in this process, and wait until it has ended: before its database goes away."""
    for job in Job.objects.filter(state__in=Job.OPEN):
        stop(job)
    wait(list(_UNDER_WAY))


def _run_apart(pk: int, run: int) -> None:
    if _ENDING.is_set():
        # it waits in its row
        return
    close_old_connections()
    try:
        _run(pk, run)
    except Exception:
        # the database itself failed: the row cannot say so, the log can
        log.exception("job %s could not be run", pk)
    finally:
        close_old_connections()


def _run(pk: int, run: int) -> None:
    taken = Job.objects.filter(pk=pk, run=run, state="queued").update(
        state="running", boot=runs.ours(), doing="Starting"
    )
    if not taken:
        return
    running = Running(Job.objects.get(pk=pk))
    try:
        _work(running)
    except (Stopped, Job.DoesNotExist):
        return
    except StrataError as error:
        _failed(running, error.sentence, getattr(error, "trace", ""), error.field or "")
    except OSError as error:
        log.exception("job %s (%s): the disk", pk, running.job.kind)
        _failed(running, DISK_FULL if error.errno is not None else UNEXPECTED, traceback.format_exc())
    except Exception:
        # whatever it was, the maker is told and whoever mends it finds the trace
        log.exception("job %s (%s) failed", pk, running.job.kind)
        _failed(running, UNEXPECTED, traceback.format_exc())


def _work(running: Running) -> None:
    try:
        _KINDS[running.job.kind](running)
        running.say(state="done", share=1.0, doing="")
    except Exception:
        if not _ENDING.is_set():
            raise
        # whatever it is that failed, it failed because the process ends: pools of threads take nothing more
        rows = Job.objects.filter(pk=running.job.pk, run=running.run, state="running")
        rows.update(state="queued", share=0.0, doing=WAITING, updated=timezone.now())


def ends_within(seconds: float) -> bool:
    """Whether this process ends, waited for so long."""
    return _ENDING.wait(seconds)


def let_be() -> None:
    """This process ends: what it has under way is put back, and begun again by the next one that starts."""
    _ENDING.set()
    with _LOCK:
        children = list(_CHILDREN.values())
    for child in children:
        child.stop()


def _failed(running: Running, sentence: str, fault: str = "", field: str = "") -> None:
    try:
        running.say(state="failed", sentence=sentence[:500], fault=fault[-8000:], field=field[:60])
    except Stopped:
        return


def take_up() -> None:
    """At the start of a process: go on with what waited, begin again what one that is no more left under way."""
    for job in Job.objects.filter(state__in=Job.OPEN).exclude(boot=runs.ours()):
        if runs.at_work(job.boot):
            continue
        # two processes that start may both see it: one gets it
        same = Job.objects.filter(pk=job.pk, run=job.run, boot=job.boot, state=job.state)
        began = job.state == "running"
        if began and job.restarts >= MOST_RESTARTS:
            same.update(state="failed", sentence=RESTARTED)
            continue
        values = {"run": job.run + began, "restarts": job.restarts + began, "boot": runs.ours()}
        if same.update(**values, state="queued", share=0.0, doing=WAITING, updated=timezone.now()):
            job.refresh_from_db()
            _submit_when_certain(job)


def job_json(job: Job) -> dict[str, Any]:
    """How far it is."""
    return {
        "state": job.state,
        "share": round(job.share, 3),
        "doing": job.doing,
        "sentence": job.sentence,
        "field": job.field,
    }
