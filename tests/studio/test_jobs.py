"""The one queue of long work: whatever becomes of a job, its row says it, and a run that no longer counts writes nothing."""

from __future__ import annotations

import errno
import os
import threading
from collections.abc import Callable
from typing import Any
from unittest.mock import patch

from django.conf import settings
from django.contrib.auth import get_user_model
from django.db import connection, transaction
from django.test import TestCase, TransactionTestCase, override_settings

from strata.errors import BadFile
from strata.guard import held
from strata.guard.child import Child
from studio.jobs import queue, runs
from studio.jobs.models import Job
from studio.jobs.queue import Running


class Kinds:
    """Kinds of work that stand for all the others, while a test runs."""

    def setUp(self) -> None:
        self.owner = get_user_model().objects.create_user(username="ada")
        kinds = patch.dict(queue._KINDS)
        kinds.start()
        self.addCleanup(kinds.stop)  # type: ignore[attr-defined]

    def begin(self, work: Callable[[Running], None], **options: Any) -> Job:
        queue.work("test")(work)
        job = queue.begin(self.owner, "test", 7, options)
        job.refresh_from_db()
        return job


@override_settings(JOBS_AT_ONCE=True)
class OutcomeTest(Kinds, TestCase):
    def test_done(self) -> None:
        def work(running: Running) -> None:
            running.say(share=0.5, doing="Half of it")
            self.assertEqual(Job.objects.get(pk=running.job.pk).share, 0.5)

        job = self.begin(work)
        self.assertEqual((job.state, job.share, job.doing, job.sentence), ("done", 1.0, "", ""))

    def test_what_the_file_is_to_blame_for(self) -> None:
        def work(_: Running) -> None:
            raise BadFile("This is not a drawing.", "files")

        job = self.begin(work)
        self.assertEqual((job.state, job.sentence, job.field), ("failed", "This is not a drawing.", "files"))

    def test_what_nobody_expected(self) -> None:
        def work(_: Running) -> None:
            raise KeyError("openings")

        with self.assertLogs("studio.jobs", "ERROR"):
            job = self.begin(work)
        self.assertEqual((job.state, job.sentence), ("failed", queue.UNEXPECTED))
        self.assertIn("KeyError: 'openings'", job.fault)
        self.assertNotIn("KeyError", queue.job_json(job)["sentence"], "the trace is not for the maker")

    def test_a_full_disk(self) -> None:
        def work(_: Running) -> None:
            raise OSError(errno.ENOSPC, "No space left on device")

        with self.assertLogs("studio.jobs", "ERROR"):
            job = self.begin(work)
        self.assertEqual((job.state, job.sentence), ("failed", queue.DISK_FULL))

    def test_an_endless_complaint_fits_its_column(self) -> None:
        def work(_: Running) -> None:
            raise BadFile("x" * 5000, "f" * 500)

        job = self.begin(work)
        self.assertEqual((len(job.sentence), len(job.field)), (500, 60))

    def test_begun_again_after_a_failure(self) -> None:
        tries = []

        def work(_: Running) -> None:
            tries.append(1)
            if len(tries) == 1:
                raise BadFile("Not yet.", "file")

        job = self.begin(work)
        again = queue.again(job, {"by": "colour"})
        again.refresh_from_db()
        self.assertEqual((again.state, again.sentence, again.field, again.run), ("done", "", "", 2))
        self.assertEqual(again.options, {"by": "colour"})

    def test_a_run_that_was_superseded_writes_nothing_more(self) -> None:
        kept: list[Running] = []
        job = self.begin(kept.append)
        Job.objects.filter(pk=job.pk).update(state="running", run=job.run + 1)
        (old,) = kept
        for act in (lambda: old.say(share=0.9), old.hold):
            with self.assertRaises(queue.Stopped):
                act()
        queue._failed(old, "too late")
        found = Job.objects.get(pk=job.pk)
        self.assertEqual((found.state, found.sentence), ("running", ""))

    def test_stopped_it_says_so_and_begins_again(self) -> None:
        def work(running: Running) -> None:
            if running.run == 1:
                queue.stop(running.job)
            running.say(doing="Going on")

        job = self.begin(work)
        self.assertEqual((job.state, job.sentence), ("stopped", queue.STOPPED))
        queue.again(job)
        job.refresh_from_db()
        self.assertEqual(job.state, "done")

    def test_stopping_what_is_over_changes_nothing(self) -> None:
        job = self.begin(lambda _: None)
        self.assertEqual(queue.stop(job).state, "done")

    def test_what_is_under_way_when_the_process_ends_is_put_back_and_not_failed(self) -> None:
        """Its child is ended, or a library refuses: the maker reads nothing of either."""

        def read(running: Running) -> None:
            queue.let_be()
            running.child("set", [b""], {"name": "x"})

        def compute(running: Running) -> None:
            queue.let_be()
            raise RuntimeError("cannot schedule new futures after shutdown")

        for work in (read, compute):
            with patch.object(queue, "_ENDING", threading.Event()):
                job = self.begin(work)
            self.assertEqual((job.state, job.sentence, job.restarts, job.share), ("queued", "", 0, 0.0))
            with (
                patch.object(runs, "at_work", return_value=False),
                patch.object(runs, "ours", return_value="next"),
            ):
                queue.work("test")(lambda running: None)
                queue.take_up()
            job.refresh_from_db()
            self.assertEqual((job.state, job.restarts), ("done", 0))

    def test_a_child_under_way_is_ended_with_the_process(self) -> None:
        def read(running: Running) -> None:
            child = Child("set", {}, [])
            with patch.dict(queue._CHILDREN, {running.job.pk: child}):
                queue.let_be()
            self.assertTrue(child.stopped)

        with patch.object(queue, "_ENDING", threading.Event()):
            self.assertEqual(self.begin(read).state, "queued")

    def test_a_job_whose_row_is_gone_ends_quietly(self) -> None:
        queue.work("test")(lambda running: Job.objects.filter(pk=running.job.pk).delete() and None)
        queue.begin(self.owner, "test", 7)
        self.assertEqual(Job.objects.count(), 0)
        queue._run(999_999, 1)


@override_settings(JOBS_AT_ONCE=True)
class RestartTest(Kinds, TestCase):
    def left(self, state: str, restarts: int = 0, boot: str = "an earlier run") -> Job:
        queue.work("test")(lambda _: None)
        return Job.objects.create(
            owner=self.owner, kind="test", subject=7, state=state, restarts=restarts, boot=boot
        )

    def test_what_waited_goes_on_as_often_as_it_takes(self) -> None:
        job = self.left("queued", restarts=0)
        queue.take_up()
        job.refresh_from_db()
        self.assertEqual((job.state, job.run, job.restarts), ("done", 1, 0))

    def test_what_was_under_way_begins_again_once(self) -> None:
        job, twice = self.left("running"), self.left("running", restarts=1)
        queue.take_up()
        job.refresh_from_db()
        twice.refresh_from_db()
        self.assertEqual((job.state, job.run, job.restarts), ("done", 2, 1))
        self.assertEqual((twice.state, twice.sentence), ("failed", queue.RESTARTED))

    def test_what_another_process_has_is_left_until_that_is_no_more(self) -> None:
        runs.ours()
        other = held.hold(settings.RUNS_DIR / "another process")
        assert other is not None
        jobs = [self.left(state, boot="another process") for state in ("queued", "running")]
        queue.take_up()
        states = [Job.objects.get(pk=job.pk).state for job in jobs]
        self.assertEqual(states, ["queued", "running"])
        other.close()
        queue.take_up()
        for job in jobs:
            job.refresh_from_db()
        self.assertEqual([(j.state, j.boot) for j in jobs], [("done", runs.ours())] * 2)

    def test_of_two_processes_that_start_one_gets_it(self) -> None:
        job, ran = self.left("queued"), list[int]()
        queue.work("test")(lambda running: ran.append(running.job.pk))

        def taken_meanwhile(boot: str) -> bool:
            Job.objects.filter(pk=job.pk).update(boot="the other that started")
            return False

        with patch.object(runs, "at_work", taken_meanwhile):
            queue.take_up()
        self.assertEqual(ran, [])
        self.assertEqual(Job.objects.get(pk=job.pk).boot, "the other that started")

    def test_files_of_runs_that_ended_are_swept_and_those_at_work_stay(self) -> None:
        ours = settings.RUNS_DIR / runs.ours()
        ended, young = settings.RUNS_DIR / "ended", settings.RUNS_DIR / "young"
        for file in (ended, young):
            file.touch()
        for file in (ours, ended):
            os.utime(file, (0, 0))
        runs.sweep()
        self.assertEqual([f.exists() for f in (ours, ended, young)], [True, False, True])
        self.assertTrue(runs.at_work(runs.ours()))

    def test_what_is_over_or_our_own_is_left(self) -> None:
        rows = [self.left(s) for s in ("done", "failed", "stopped")] + [
            self.left("running", boot=runs.ours())
        ]
        before = [(r.state, r.run) for r in rows]
        queue.take_up()
        for row in rows:
            row.refresh_from_db()
        self.assertEqual([(r.state, r.run) for r in rows], before)


class BackgroundTest(Kinds, TransactionTestCase):
    """With real threads."""

    def wait(self, until: Callable[[], bool]) -> None:
        gate = threading.Event()
        for _ in range(2000):
            if until():
                return
            gate.wait(0.02)
        raise AssertionError("it never came to that")

    def test_never_more_than_there_are_workers(self) -> None:
        gate, lock, now, most = threading.Event(), threading.Lock(), [0], [0]

        def work(_: Running) -> None:
            with lock:
                now[0] += 1
                most[0] = max(most[0], now[0])
            gate.wait(60)
            with lock:
                now[0] -= 1
            connection.close()

        jobs = [self.begin(work) for _ in range(6)]
        self.wait(lambda: most[0] == queue.WORKERS)
        states = list(Job.objects.values_list("state", flat=True))
        self.assertEqual(states.count("running"), queue.WORKERS)
        self.assertEqual(states.count("queued"), len(jobs) - queue.WORKERS)
        gate.set()
        self.wait(lambda: Job.objects.filter(state="done").count() == len(jobs))
        self.assertEqual(most[0], queue.WORKERS)

    def test_what_a_command_left_gives_way_to_what_somebody_waits_for(self) -> None:
        gate, ran = threading.Event(), list[int]()

        def work(running: Running) -> None:
            if running.job.subject < 9:
                gate.wait(60)
            ran.append(running.job.subject)
            connection.close()

        queue.work("test")(work)
        for n in range(4):
            queue.leave(self.owner, "test", n)
        queue.take_up()
        queue.begin(self.owner, "test", 9)
        self.wait(lambda: ran == [9])
        gate.set()
        self.wait(lambda: Job.objects.filter(state="done").count() == 5)
        self.assertEqual(ran, [9, 0, 1, 2, 3])

    def test_it_begins_when_the_change_around_it_is_certain_and_not_when_it_is_taken_back(self) -> None:
        ran: list[int] = []
        queue.work("test")(lambda running: ran.append(running.job.subject))

        class TakenBack(Exception):
            pass

        def taken_back() -> None:
            with transaction.atomic():
                queue.begin(self.owner, "test", 1)
                raise TakenBack

        self.assertRaises(TakenBack, taken_back)
        with transaction.atomic():
            queue.begin(self.owner, "test", 2)
            self.assertEqual(ran, [])
        self.wait(lambda: Job.objects.filter(state="done").exists())
        self.assertEqual(ran, [2])

    def test_one_that_waits_can_be_stopped_before_it_begins(self) -> None:
        gate, ran = threading.Event(), []

        def work(running: Running) -> None:
            ran.append(running.job.pk)
            gate.wait(60)
            connection.close()

        busy = [self.begin(work) for _ in range(queue.WORKERS)]
        self.wait(lambda: len(ran) == len(busy))
        waiting = self.begin(work)
        self.assertEqual(queue.stop(waiting).state, "stopped")
        gate.set()
        self.wait(lambda: Job.objects.filter(state="done").count() == len(busy))
        self.assertNotIn(waiting.pk, ran)
