"""Between the parts: the table and the drawer, imports and undo, seeding and crashes, pictures begun ahead, words of a kind."""

from __future__ import annotations

import json
from io import StringIO
from typing import Any
from unittest.mock import patch

from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import call_command
from django.db import connection
from django.test import TestCase, override_settings
from django.test.utils import CaptureQueriesContext

from strata.plan import Materials, Plan
from studio.accounts.demo import DEMO_NAME
from studio.builds.history import edit, start
from studio.builds.management.commands import seed_demo
from studio.builds.models import Build, Colouring
from studio.inks import cards
from studio.inks.models import DrawerChange, Ink, InkImport, SwatchCard
from studio.jobs.models import Job
from studio.sets.models import LayerSet
from tests import world
from tests.studio.base import StudioTest
from tests.studio.importing import all_let_go


class TablePlaceTest(StudioTest):
    def test_a_sentence_worded_otherwise_moves_nobody(self) -> None:
        from dataclasses import replace

        from studio.bench.services import signature
        from studio.builds.looking import outlook

        sequence = outlook(self.good).sequence
        reworded = replace(sequence, steps=tuple(replace(s, sentence="Go on.") for s in sequence.steps))
        self.assertEqual(signature(reworded), signature(sequence))
        self.assertEqual(len({s.key for s in sequence.steps}), len(sequence.steps))
        shorter = replace(sequence, steps=sequence.steps[:-1])
        self.assertNotEqual(signature(shorter), signature(sequence))

    def test_a_fault_is_told_as_a_fault(self) -> None:
        from django.test import Client

        browser = Client(raise_request_exception=False)
        browser.force_login(self.ada)
        body = {"making": 1, "events": [{"key": "k", "at": 1.0, "kind": "note", "body": {"text": "x"}}]}
        with (
            patch("studio.bench.services.read_event", side_effect=ZeroDivisionError),
            self.assertLogs("studio.errors", "ERROR"),
        ):
            answer = browser.post(
                f"/api/colourings/{self.good.pk}/table", json.dumps(body), content_type="application/json"
            )
        self.assertEqual(answer.status_code, 500)
        self.assertNotIn("changed", answer.json()["sentence"])


class ImportUndoneTest(StudioTest):
    def test_taken_back_midway_it_begins_again_and_is_undoable_whole(self) -> None:
        rows = "".join(f"Pad {i},Lock line,{20 + i % 70},{i % 40},5\n" for i in range(400))
        sent = SimpleUploadedFile("four-hundred.csv", f"name,line,L,a,b\n{rows}".encode())
        begun = self.client.post("/api/ink-imports", {"file": sent}).json()
        own = f"/api/ink-imports/{begun['id']}/keep"
        there = Ink.objects.filter(owner=self.ada, gone=None).count()

        def pads() -> int:
            return Ink.objects.filter(owner=self.ada, gone=None).count() - there

        def keep() -> dict[str, Any]:
            self.ada.__dict__.pop("_house", None)
            found: dict[str, Any] = self.client.post(own).json()
            return found

        while pads() < 250:
            keep()
        self.client.post("/api/drawer/undo", {}, format="json")
        self.assertEqual(pads(), 0)
        state = keep()
        for _ in range(20):
            if state["state"] == "kept":
                break
            state = keep()
        self.assertEqual((pads(), state["state"], state["undone"]), (400, "kept", False))
        self.client.post("/api/drawer/undo", {}, format="json")
        self.assertEqual(pads(), 0, "all of it is one step")
        self.client.post("/api/drawer/redo", {}, format="json")
        self.assertEqual(pads(), 400)
        self.assertEqual(InkImport.objects.get(pk=begun["id"]).done, 400)


class PhotographJobTest(StudioTest):
    def card(self) -> dict[str, Any]:
        body = {"stock": "kraft", "fields": [{"passes": [{"ink": "campion", "coats": 1}]}]}
        found: dict[str, Any] = self.client.post("/api/swatch-cards", body, format="json").json()
        return found

    @override_settings(JOBS_AT_ONCE=False)
    def test_the_answer_does_not_wait_for_the_reading(self) -> None:
        card = self.card()
        sent = {"file": SimpleUploadedFile("p.jpg", b"some picture")}
        answer = self.client.post(f"/api/swatch-cards/{card['id']}/photograph", sent)
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(answer.json()["job"]["state"], "queued")
        row = SwatchCard.objects.get(pk=card["id"])
        self.assertEqual((row.job.kind, row.reading), ("read a swatch card", None))
        cards._photograph(row).unlink()  # nobody will read it: what is taken back here was never begun

    def test_an_error_nobody_expected_ends_the_reading_and_is_said(self) -> None:
        card = self.card()
        sent = {"file": SimpleUploadedFile("p.jpg", b"some picture")}
        with (
            patch("studio.jobs.queue.Child.run", side_effect=MemoryError("forty-eight megapixels")),
            self.assertLogs("studio.jobs", "ERROR"),
        ):
            job = self.client.post(f"/api/swatch-cards/{card['id']}/photograph", sent).json()["job"]
        self.assertEqual(job["state"], "failed")
        self.assertIn("on our side", job["sentence"])
        self.assertIn("forty-eight megapixels", Job.objects.latest("pk").fault)
        self.assertFalse(cards._photograph(SwatchCard.objects.get(pk=card["id"])).exists())
        # and can be tried again
        sent["file"].seek(0)
        again = self.client.post(f"/api/swatch-cards/{card['id']}/photograph", sent).json()["job"]
        self.assertIn("not a picture", again["sentence"])


class HomeTest(StudioTest):
    def test_sixty_builds_and_twelve_sets_are_asked_for_in_few_questions(self) -> None:
        for i in range(60):
            one = start(self.ada, f"Card {i}", {"image": self.koi}, Plan(Materials("kraft")))
            edit(one, 1, "add_pass", {"element": "bud", "sheet": 5, "ink": "sloe", "pass": f"p{i}"}, "")
        for i in range(9):
            LayerSet.objects.create(
                owner=self.ada, key=f"set-{i}", name=f"Set {i}", kind="stencil", width_mm=10, height_mm=10,
                geometry=self.koi.geometry,
            )  # fmt: skip
        drawing = '<g id="a"><rect x="5" y="5" width="30" height="20"/></g>'
        for i in range(4):
            sent = {"files": [SimpleUploadedFile("set.svg", world.drawing(drawing))], "name": f"Draft {i}"}
            self.client.post("/api/imports", sent, format="multipart")
        paths = ("/api/builds", "/api/sets", "/api/imports", "/api/session")
        for path in paths:
            self.client.get(path)
        self.ada.__dict__.pop("_house", None)
        with (
            CaptureQueriesContext(connection) as queries,
            patch("studio.builds.looking.Outlook", side_effect=AssertionError("computed anew")),
        ):
            for path in paths:
                self.assertEqual(self.client.get(path).status_code, 200, path)
        self.assertLess(len(queries), 25)
        all_let_go()

    def test_what_was_changed_is_there_at_once(self) -> None:
        def minutes() -> float:
            self.ada.__dict__.pop("_house", None)
            home = {b["id"]: b for b in self.client.get("/api/builds").json()}
            found: float = home[self.good.build_id]["minutes"]
            return found

        before = minutes()
        self.edit(self.good, "set_coats", {"pass": "p1", "coats": 5})
        self.assertGreater(minutes(), before)


class SeedingTest(TestCase):
    def lay(self, **options: Any) -> str:
        out = StringIO()
        call_command("seed_demo", stdout=out, **options)
        return out.getvalue()

    def counts(self) -> tuple[int, int, int]:
        own = {"owner__username": DEMO_NAME}
        return tuple(m.objects.filter(**own).count() for m in (Ink, LayerSet, Build))  # type: ignore[return-value]

    def test_it_is_laid_whole_or_not_at_all(self) -> None:
        with (
            patch.object(seed_demo, "start", side_effect=RuntimeError("the machine went down")),
            self.assertRaises(RuntimeError),
        ):
            self.lay()
        self.assertEqual(self.counts(), (0, 0, 0))
        self.assertFalse(get_user_model().objects.filter(username=DEMO_NAME).exists())
        self.lay()
        self.assertEqual(self.counts(), (45, 4, 6))

    def test_half_of_it_is_completed_and_said(self) -> None:
        self.lay()
        Build.objects.all().delete()
        LayerSet.objects.exclude(key="koi-and-lantern").delete()
        self.assertIn("half there", self.lay())
        self.assertEqual(self.counts(), (45, 4, 6))
        self.assertIn("there already", self.lay())

    def test_what_a_maker_put_away_stays_away(self) -> None:
        from django.utils import timezone

        self.lay()
        LayerSet.objects.filter(key="luna-moth").update(gone=timezone.now())
        Build.objects.filter(name__startswith="First").update(gone=timezone.now())
        self.lay()
        self.assertEqual(self.counts(), (45, 4, 6))
        self.assertIsNotNone(LayerSet.objects.get(key="luna-moth").gone)

    def test_nobody_can_undo_the_beginning_away(self) -> None:
        self.lay()
        self.assertEqual(DrawerChange.objects.filter(owner__username=DEMO_NAME).count(), 0)


class WordsTest(StudioTest):
    def build(self, key: str, *passes: tuple[str, int, str]) -> dict[str, Any]:
        layer_set = LayerSet.objects.get(owner=self.ada, key=key)
        row = start(self.ada, "A card", {"image": layer_set}, Plan(Materials("white-smooth")))
        for element, sheet, ink in passes:
            row.refresh_from_db()
            row.build.owner = self.ada
            edit(row, row.revision, "add_pass", {"element": element, "sheet": sheet, "ink": ink}, "")
        found: dict[str, Any] = self.client.get(f"/api/colourings/{row.pk}").json()
        return found

    def test_every_kind_has_its_own_words(self) -> None:
        for key, own, foreign in (
            ("hedgehog-in-ferns", "print it", ("stencil", "opening", "sheet ")),
            ("luna-moth", "piece", ("stencil", "opening", "sheet ")),
        ):
            layer_set = LayerSet.objects.get(owner=self.ada, key=key)
            full = self.client.get(f"/api/sets/{layer_set.pk}").json()
            group = full["sheets"][0]["groups"][0]
            state = self.build(key, (group["element"], group["sheet"], "campion"))
            told = " ".join(s["sentence"] for s in state["sequence"]["steps"]).lower()
            self.assertIn(own, told)
            for word in foreign:
                self.assertNotIn(word, told, key)
            self.assertNotIn("opening", json.dumps(full["nouns"]))

    def test_a_pad_that_is_not_here_is_said_before_the_table(self) -> None:
        pad = f"/api/inks/{self.ink.pk}"
        self.assertEqual(self.client.patch(pad, {"state": "dry"}, format="json").status_code, 200)
        self.ada.__dict__.pop("_house", None)
        layer_set = LayerSet.objects.get(owner=self.ada, key="luna-moth")
        group = self.client.get(f"/api/sets/{layer_set.pk}").json()["sheets"][0]["groups"][0]
        state = self.build("luna-moth", (group["element"], group["sheet"], "campion"))
        self.assertEqual([m["name"] for m in state["missing"]], ["Campion"])
        found = [f for f in state["findings"] if f["code"] == "missing_pad"]
        self.assertEqual(len(found), 1)
        home = next(b for b in self.client.get("/api/builds").json() if b["name"] == "A card")
        self.assertIn("dry", home["next_step"])


class ColouringsGoneTest(StudioTest):
    def test_a_colouring_put_away_keeps_its_history(self) -> None:
        self.edit(self.good, "set_cards", {"cards": 4})
        build = self.client.delete(f"/api/builds/{self.good.build_id}")
        self.assertEqual(build.status_code, 204)
        self.refused(self.client.get(f"/api/colourings/{self.good.pk}"), 404)
        self.client.post(f"/api/builds/{self.good.build_id}/back")
        self.good.refresh_from_db()
        self.assertEqual(Colouring.objects.get(pk=self.good.pk).changes.count(), 2)
