"""Photographs of made cards: read by a job, told by element, read again, learned from, kept in the drawer and taken off."""

from __future__ import annotations

import io
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from studio.bench.lessons import readable
from studio.bench.management.commands.seed_log import PHOTOGRAPHS, Made, photographed, write
from studio.bench.models import Lesson, Photograph, Record
from studio.inks.editing import keep_readings
from studio.inks.models import Hand, Ink
from studio.inks.services import core_ink
from studio.jobs.models import Job
from tests.studio.base import StudioTest

KRAFT = Made("First try on kraft", datetime(2026, 3, 12, 19, tzinfo=UTC), "the lock keeper", "", 2)


class PhotographsTest(StudioTest):
    """One photograph, read once for each test that needs it."""

    def made(self) -> Record:
        record = write(self.ada, KRAFT)
        assert record is not None
        return record

    def photograph(self, record: Record, data: bytes | None = None, **more: str) -> Any:
        data = data or (PHOTOGRAPHS / "first-try-on-kraft.jpg").read_bytes()
        file = SimpleUploadedFile("card.jpg", data, "image/jpeg")
        return self.client.post(
            f"/api/records/{record.pk}/photographs", {"file": file, **more}, format="multipart"
        )

    def read(self, record: Record) -> tuple[str, dict[str, Any]]:
        number = record.photographs.order_by("-pk").values_list("pk", flat=True)[0]
        address = f"/api/records/{record.pk}/photographs/{number}"
        found: dict[str, Any] = self.client.get(f"{address}/reading").json()
        return address, found

    def test_a_photograph_is_read_told_learned_from_and_taken_off_again(self) -> None:
        record = self.made()
        self.assertEqual(self.client.post("/api/lesson").status_code, 400)
        self.assertEqual(self.photograph(record).status_code, 201)
        address, told = self.read(record)
        self.assertEqual((told["job"]["state"], told["ready"]), ("done", True))
        elements = {e["element"]: e for e in told["found"]["elements"]}
        self.assertTrue(elements["upper koi"]["differs"])
        self.assertTrue(elements["upper koi"]["words"])
        self.assertLess(told["found"]["off_mm"], 0.3)
        straight = self.client.get(f"{address}/straight")
        self.assertEqual((straight.status_code, straight["Content-Type"]), (200, "image/jpeg"))
        self.lesson(record)

    def lesson(self, record: Record) -> None:
        def picture() -> bytes:
            found: bytes = self.client.get(f"/api/colourings/{self.tried.pk}/picture?width=120").content
            return found

        before = picture()
        found = self.client.post("/api/lesson").json()
        self.assertEqual(found["job"]["state"], "done")
        said = found["said"]
        self.assertLess(said["after"], said["before"])
        moved = {p["ink"] for p in said["pads"]}
        self.assertIn("heather-bank", moved)
        self.assertTrue(said["builds"])
        swatches = Ink.objects.get(owner=self.ada, key="heather-bank").swatches
        self.assertEqual((picture(), Ink.objects.exclude(learned=None).count()), (before, 0))
        kept = self.client.post("/api/lesson/keep").json()
        self.assertEqual((kept["kept"], kept["in_force"]), (True, len(moved)))
        row = Ink.objects.get(owner=self.ada, key="heather-bank")
        self.assertEqual((row.swatches, row.learned["cards"]), (swatches, 1))
        opened = self.client.get(f"/api/inks/{row.pk}/opened").json()
        self.assertFalse(any(any(card["measured"]) for card in opened["cards"]))
        self.assertNotEqual(picture(), before)
        self.assertFalse(Ink.objects.filter(owner=self.makers["bo"]).exclude(learned=None).exists())
        history = self.client.get("/api/drawer/history").json()
        self.assertEqual(history["undo"], "Learn from 1 photographed card")
        self.client.post("/api/drawer/undo", {"revision": history["revision"]}, format="json")
        self.assertEqual((picture(), Hand.objects.filter(owner=self.ada, gone=None).count()), (before, 0))
        self.client.post("/api/lesson/keep")
        # new readings were made by the same hand: what was learned over the old ones goes
        own = core_ink(row).swatches[0]
        keep_readings(self.ada, [(row.key, replace(own, lab=(50.0, 10.0, 10.0)))], "A reading")
        self.assertIsNone(Ink.objects.get(pk=row.pk).learned)
        self.client.post("/api/drawer/undo", {}, format="json")
        self.assertIsNotNone(Ink.objects.get(pk=row.pk).learned)
        self.client.patch(f"/api/inks/{row.pk}", {"learned": None}, format="json")
        self.assertIsNone(Ink.objects.get(pk=row.pk).learned)
        forgot = self.client.post("/api/lesson/forget").json()
        self.assertEqual((forgot["in_force"], picture()), (0, before))
        self.assertEqual(Lesson.objects.filter(owner=self.ada).count(), 1)
        self.assertEqual(len(readable(self.ada)), 1)
        self.client.delete(f"/api/records/{record.pk}")
        self.assertEqual(readable(self.ada), [])

    def test_what_cannot_be_read_says_why_and_is_not_learned_from(self) -> None:
        record = self.made()
        self.assertEqual(self.photograph(record, around="no-such-card").status_code, 404)
        self.assertEqual(Photograph.objects.count(), 0)
        other = (PHOTOGRAPHS / "luna-by-night.jpg").read_bytes()
        self.assertEqual(self.photograph(record, other, around="white-smooth").status_code, 201)
        address, told = self.read(record)
        self.assertEqual((told["job"]["state"], told["job"]["field"]), ("failed", "wrong_card"))
        self.assertIsNone(told["found"])
        self.assertEqual(self.client.get(f"{address}/straight").status_code, 400)
        self.assertEqual(self.client.get("/api/lesson").json()["readable"], 0)
        for corners in ([[0, 0]] * 3, [[0, 0, 0]] * 4, "here"):
            again = self.client.post(f"{address}/reading", {"corners": corners}, format="json")
            self.assertEqual(again.status_code, 400, corners)
        self.assertEqual(self.client.delete(address).status_code, 204)

    def test_a_card_whose_build_is_gone_keeps_its_photographs_and_takes_no_more(self) -> None:
        record = self.made()
        Record.objects.filter(pk=record.pk).update(build=None)
        answer = self.photograph(record)
        self.assertEqual((answer.status_code, bool(answer.json()["sentence"])), (400, True))

    def test_the_simulated_camera_photographs_a_card_and_it_is_read(self) -> None:
        record = self.made()
        answer = self.client.post(
            f"/api/records/{record.pk}/photographs/simulated", {"seed": 4}, format="json"
        )
        self.assertEqual(answer.status_code, 201)
        _, told = self.read(record)
        self.assertEqual((told["job"]["state"], told["ready"]), ("done", True))

    def test_a_log_of_many_cards_asks_for_small_photographs(self) -> None:
        record = self.made()
        photographed(record, KRAFT)
        address = f"/api/records/{record.pk}/photographs/{record.photographs.get().pk}"
        whole, narrower = self.client.get(address).content, self.client.get(f"{address}?width=480").content
        self.assertLess(len(narrower), len(whole) / 4)
        small, large = (Image.open(io.BytesIO(data)) for data in (narrower, whole))
        self.assertEqual(small.width, 480)
        # the same picture: its mean colour to three levels of 255
        means = [np.asarray(seen, dtype=float).mean(axis=(0, 1)) for seen in (small, large)]
        np.testing.assert_allclose(means[0], means[1], atol=3)
        Photograph.objects.update(content=b"")
        self.refused(self.client.get(f"{address}?width=480"), 400)

    def test_the_demo_log_leaves_its_photographs_to_the_server(self) -> None:
        record = self.made()
        photographed(record, KRAFT)
        job = Job.objects.get(kind="read a photograph of a card")
        self.assertEqual((job.state, job.subject), ("queued", record.photographs.get().pk))
