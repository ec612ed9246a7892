"""A request that waits for a job: until it has ended, no longer than it said, and never so that nobody else is answered."""

from __future__ import annotations

from threading import Event, Thread
from typing import Any
from unittest.mock import patch

from django.contrib.auth import get_user_model
from django.db import connections
from django.test import TransactionTestCase
from rest_framework.test import APIClient

from studio.jobs import queue, waiting
from studio.jobs.models import Job
from studio.sets.models import Import

LONG = 30.0
# s: no test waits so long, or it fails


class WaitingTest(TransactionTestCase):
    def setUp(self) -> None:
        self.maker = get_user_model().objects.create_user(username="ada")
        self.job = Job.objects.create(owner=self.maker, kind="read a set", subject=1, state="running")

    def tearDown(self) -> None:
        connections.close_all()

    def while_it_waits(self, then: Any) -> bool:
        """Whether it waited, with ``then`` done after the first look."""
        looked = Event()

        def meanwhile() -> None:
            looked.wait(LONG)
            then()
            connections.close_all()

        other = Thread(target=meanwhile)
        other.start()

        def look(seconds: float) -> bool:
            looked.set()
            return ends(seconds)

        ends = queue.ends_within
        with patch.object(waiting, "ends_within", look):
            waited = waiting.wait_for(self.job, LONG)
        other.join()
        return waited

    def test_it_waits_until_the_job_has_ended_whoever_ends_it(self) -> None:
        for state in ("done", "failed", "stopped"):
            Job.objects.update(state="running")
            self.assertTrue(self.while_it_waits(lambda s=state: Job.objects.update(state=s)), state)
            self.assertEqual(Job.objects.get().state, state)

    def test_it_goes_when_the_job_is_gone_or_the_process_ends(self) -> None:
        self.assertTrue(self.while_it_waits(lambda: Job.objects.all().delete()))
        self.job = Job.objects.create(owner=self.maker, kind="read a set", subject=1)
        try:
            self.assertTrue(self.while_it_waits(queue._ENDING.set))
        finally:
            queue._ENDING.clear()

    def test_nothing_is_waited_for_where_there_is_nothing_to_come(self) -> None:
        self.assertFalse(waiting.wait_for(None, LONG))
        self.assertFalse(waiting.wait_for(self.job, 0))
        self.job.state = "done"
        self.assertFalse(waiting.wait_for(self.job, LONG))

    def test_so_many_wait_and_the_next_is_answered(self) -> None:
        for _ in range(3):
            self.assertTrue(waiting._MOST.acquire(blocking=False))
        try:
            self.assertFalse(waiting.wait_for(self.job, LONG))
        finally:
            for _ in range(3):
                waiting._MOST.release()
        self.assertTrue(waiting.wait_for(self.job, 0.001), "what was taken is given back")
        self.assertTrue(waiting.wait_for(self.job, 0.001))

    def test_an_answer_that_waited_is_the_one_of_now(self) -> None:
        client = APIClient()
        client.force_authenticate(self.maker)
        row = Import.objects.create(
            owner=self.maker, job=self.job, options={"source": "drawing", "name": "x"}, sheets=[]
        )
        where = f"/api/imports/{row.pk}"
        self.assertEqual(
            client.get(where).json()["state"], "reading", "who does not ask for it is not kept waiting"
        )
        self.assertEqual(client.get(f"{where}?patience_ms=1").json()["state"], "reading")
        for wrong in ("-1", "1001", "long", "1e3"):
            self.assertEqual(client.get(f"{where}?patience_ms={wrong}").status_code, 400, wrong)

        def ended(_: float) -> bool:
            Job.objects.update(state="stopped")
            return False

        with patch.object(waiting, "ends_within", ended):
            self.assertEqual(client.get(f"{where}?patience_ms=1000").json()["state"], "stopped")
