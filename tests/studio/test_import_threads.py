"""Reading in the background as the server does it: followed, stopped, two at once, started anew."""

from __future__ import annotations

import shutil
import time
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connections
from django.test import TransactionTestCase
from rest_framework.test import APIClient

from studio.jobs import queue
from studio.jobs.models import Job
from studio.sets import imports
from studio.sets.models import Import
from tests import world
from tests.studio.importing import all_let_go, photo

BODY = '<g id="a"><rect x="5" y="5" width="30" height="20"/></g><g id="b"><rect x="8" y="8" width="5" height="5"/></g>'


class BackgroundTest(TransactionTestCase):
    def setUp(self) -> None:
        self.maker = get_user_model().objects.create_user(username="ada")
        self.client: APIClient = APIClient()
        self.client.force_authenticate(self.maker)
        self.jobs: dict[int, int | None] = {}

    def tearDown(self) -> None:
        all_let_go()
        self.wait_for(lambda: not queue._CHILDREN)
        shutil.rmtree(settings.IMPORTS_DIR, ignore_errors=True)
        connections.close_all()

    def wait_for(self, done: Any, seconds: float = 40) -> None:
        end = time.monotonic() + seconds
        while not done():
            self.assertLess(time.monotonic(), end, "it never came")
            time.sleep(0.05)

    def begin(self, *files: tuple[str, bytes], **options: Any) -> int:
        sent = [SimpleUploadedFile(name, data) for name, data in files]
        answer = self.client.post("/api/imports", {"files": sent, "name": "x", **options}, format="multipart")
        self.assertEqual(answer.status_code, 201, answer.content)
        self.assertEqual(answer.json()["state"], "reading", "the answer does not wait for the reading")
        return int(answer.json()["id"])

    def job(self, pk: int) -> int | None:
        """The job that reads an import; kept, since it goes with it."""
        found = Job.objects.filter(subject=pk).values_list("pk", flat=True).first()
        return self.jobs.setdefault(pk, found) if found is not None else self.jobs.get(pk)

    def state(self, pk: int) -> str:
        return str(self.client.get(f"/api/imports/{pk}").json()["state"])

    def test_it_is_followed_to_its_end(self) -> None:
        pk = self.begin(("a.svg", world.drawing(BODY)))
        self.wait_for(lambda: self.state(pk) == "ready")
        found = self.client.get(f"/api/imports/{pk}").json()
        self.assertEqual((found["share"], len(found["draft"]["sheets"])), (1.0, 2))

    def test_two_at_once(self) -> None:
        one, two = (
            self.begin(("a.svg", world.drawing(BODY))),
            self.begin(("b.svg", world.drawing(BODY)), by="colour"),
        )
        self.wait_for(lambda: self.state(one) == self.state(two) == "ready")
        sheets = [len(self.client.get(f"/api/imports/{pk}").json()["draft"]["sheets"]) for pk in (one, two)]
        self.assertEqual(sheets, [2, 1])

    def test_stopped_midway_it_writes_nothing_more_and_can_go_on(self) -> None:
        pk = self.begin(("1.jpg", photo(1)), ("3.jpg", photo(3)), width_mm=107.95, height_mm=139.7)
        self.wait_for(lambda: self.job(pk) in queue._CHILDREN)
        time.sleep(0.3)
        self.assertEqual(self.client.post(f"/api/imports/{pk}/stop").json()["state"], "stopped")
        self.wait_for(lambda: self.job(pk) not in queue._CHILDREN)
        row = Import.objects.get(pk=pk)
        self.assertEqual((row.state, row.draft), ("stopped", None))
        self.client.post(f"/api/imports/{pk}/again", {}, format="json")
        self.wait_for(lambda: self.state(pk) == "ready")

    def test_stopped_by_another_process_its_child_ends(self) -> None:
        pk = self.begin(("1.jpg", photo(1)), ("3.jpg", photo(3)), width_mm=107.95, height_mm=139.7)
        self.wait_for(lambda: self.job(pk) in queue._CHILDREN)
        # as it writes it, without what is known in this process only
        Job.objects.filter(pk=self.job(pk)).update(state="stopped", run=9)
        self.wait_for(lambda: self.job(pk) not in queue._CHILDREN)
        row = Import.objects.get(pk=pk)
        self.assertEqual((row.state, row.draft), ("stopped", None))

    def test_let_go_while_it_is_read(self) -> None:
        pk = self.begin(("1.jpg", photo(1)), width_mm=107.95, height_mm=139.7)
        self.wait_for(lambda: self.job(pk) in queue._CHILDREN)
        self.assertEqual(self.client.delete(f"/api/imports/{pk}").status_code, 204)
        self.wait_for(lambda: self.job(pk) not in queue._CHILDREN)
        self.assertFalse(imports.folder(pk).exists() or Import.objects.exists())

    def test_started_anew_while_it_is_read_only_the_last_counts(self) -> None:
        pk = self.begin(("1.jpg", photo(1)), width_mm=107.95, height_mm=139.7)
        self.wait_for(lambda: self.job(pk) in queue._CHILDREN)
        again = {"options": {"width_mm": 53.975, "height_mm": 69.85}}
        self.client.post(f"/api/imports/{pk}/again", again, format="json")
        self.wait_for(lambda: self.state(pk) == "ready")
        time.sleep(0.5)
        found = self.client.get(f"/api/imports/{pk}").json()
        self.assertEqual(found["draft"]["width_mm"], 53.975)

    def test_files_that_are_gone(self) -> None:
        pk = self.begin(("a.svg", world.drawing(BODY)))
        self.wait_for(lambda: self.state(pk) == "ready")
        shutil.rmtree(imports.folder(pk))
        self.client.post(f"/api/imports/{pk}/again", {}, format="json")
        self.wait_for(lambda: self.state(pk) == "failed")
        self.assertIn("gone", self.client.get(f"/api/imports/{pk}").json()["sentence"])

    def test_the_server_answers_while_a_bomb_is_defused(self) -> None:
        bomb = '<rect id="u0" width="1" height="1"/>' + "".join(
            f'<g id="u{i}">' + f'<use href="#u{i - 1}"/>' * 12 + "</g>" for i in range(1, 12)
        )
        pk = self.begin(("bomb.svg", world.drawing(bomb)))
        slowest = 0.0
        while self.state(pk) == "reading":
            start = time.monotonic()
            self.assertEqual(self.client.get("/api/sets").status_code, 200)
            slowest = max(slowest, time.monotonic() - start)
            time.sleep(0.05)
        self.assertEqual(self.state(pk), "failed")
        self.assertLess(slowest, 5)
