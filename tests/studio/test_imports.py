"""Bringing a set in over HTTP: drawings, photographs, bundles; stopped, restarted, kept, let go."""

from __future__ import annotations

import io
import os
import zipfile
from unittest.mock import patch

from django.test import override_settings

from strata.formats.set_file import write_set
from studio.jobs import queue
from studio.jobs.models import Job
from studio.jobs.queue import Running
from studio.sets import imports, reading
from studio.sets.history import core_set
from studio.sets.models import Import, LayerSet
from tests import world
from tests.studio.importing import ImportCase

BODY = '<g id="Base"><rect x="10" y="10" width="40" height="30"/></g><g id="Tone"><rect x="14" y="14" width="9" height="9"/></g>'
COLOURS = '<rect width="40" height="40" fill="#c00"/><rect x="10" y="10" width="9" height="9" fill="gold"/>'


@override_settings(JOBS_AT_ONCE=True)
class ImportTest(ImportCase):
    def test_a_drawing_by_layers_is_read_confirmed_and_kept(self) -> None:
        body = self.ready(self.begin(("set.svg", world.drawing(BODY))))
        self.assertEqual([s["name"] for s in body["draft"]["sheets"]], ["Base", "Tone"])
        self.assertEqual((body["draft"]["width_mm"], body["draft"]["height_mm"]), (100, 80))
        place = imports.folder(body["id"])
        self.assertTrue(place.exists())
        with self.captureOnCommitCallbacks(execute=True):
            kept = self.client.post(f"/api/imports/{body['id']}/keep")
        self.assertEqual((kept.status_code, kept.json()["name"]), (201, "Given"))
        self.assertFalse(place.exists() or Import.objects.filter(pk=body["id"]).exists())
        self.refused(self.client.post(f"/api/imports/{body['id']}/keep"), 404)

    def test_by_colour_and_several_files(self) -> None:
        body = self.ready(self.begin(("c.svg", world.drawing(COLOURS)), by="colour"))
        self.assertEqual([s["name"] for s in body["draft"]["sheets"]], ["Red #cc0000", "Yellow #ffd700"])
        again = self.client.post(
            f"/api/imports/{body['id']}/again", {"options": {"visible": True}}, format="json"
        )
        first = again.json()["draft"]["sheets"][0]["groups"][0]
        self.assertAlmostEqual(first["area_mm2"], 1600 - 81, delta=0.5)
        square = world.drawing('<rect x="5" y="5" width="10" height="10"/>')
        two = self.ready(self.begin(("one.svg", square), ("two_b.svg", square)))
        self.assertEqual([s["name"] for s in two["draft"]["sheets"]], ["one", "two b"])

    def test_the_sheets_of_a_drawing_are_put_in_order_and_turned(self) -> None:
        body = self.ready(self.begin(("set.svg", world.drawing(BODY))))
        path = f"/api/imports/{body['id']}/again"
        self.assertEqual([s["title"] for s in body["sheets"]], ["Base", "Tone"])
        wanted = {"sheets": [{"at": 1, "title": "Shade"}, {"at": 0, "mirrored": True}]}
        found = self.client.post(path, wanted, format="json").json()
        self.assertEqual([s["name"] for s in found["draft"]["sheets"]], ["Shade", "Base"])
        self.assertEqual(found["draft"]["sheets"][1]["groups"][0]["box"], [50, 10, 90, 40])
        again = self.client.post(path, {"sheets": [{"at": 1}, {"at": 0, "turn": 180}]}, format="json").json()
        self.assertEqual([s["title"] for s in again["sheets"]], ["Base", "Shade"])
        self.assertTrue(again["sheets"][0]["mirrored"], "what was chosen before is kept")
        self.refused(self.client.post(path, {"sheets": [{"at": 0}]}, format="json"))
        by_colour = self.client.post(path, {"options": {"by": "colour"}}, format="json").json()
        self.assertEqual(len(by_colour["draft"]["sheets"]), 1)

    def test_a_drawing_without_size_asks_for_it(self) -> None:
        bare = (
            b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><rect width="5" height="5"/></svg>'
        )
        body = self.begin(("bare.svg", bare)).json()
        self.assertEqual(body["state"], "failed")
        self.assertIn("width", body["sentence"])
        answer = self.client.post(
            f"/api/imports/{body['id']}/again", {"options": {"width_mm": 50}}, format="json"
        )
        self.assertEqual(answer.json()["draft"]["width_mm"], 50)

    def test_a_size_that_no_sheet_has_is_refused_in_both_units(self) -> None:
        answer = self.begin(("koi.svg", b"<svg/>"), width_mm=2742)
        self.assertEqual((answer.status_code, answer.json()["field"]), (400, "width_mm"))
        self.assertEqual(
            answer.json()["sentence"], "The width can be 1 to 2000 mm, which is 0.0394 to 78.7 in."
        )

    def test_what_is_ours_to_do_needs_no_reading(self) -> None:
        """Order, place, name and specks: at once, from what was read, and the same as when it is read again."""
        drawing = (world.DEMO / "sets/koi-and-lantern.svg").read_bytes()
        body = self.ready(self.begin(("koi.svg", drawing)))
        where, names = f"/api/imports/{body['id']}", [s["name"] for s in body["draft"]["sheets"]]
        order = [1, 0, *range(2, len(names))]
        with patch.object(Running, "child", side_effect=AssertionError("nothing is read again")):
            for step in (order, order, order):
                body = self.client.post(
                    f"{where}/again", {"sheets": [{"at": at} for at in step]}, format="json"
                ).json()
                self.assertEqual(body["state"], "ready")
            turned = [{"at": at, "turn": 180 * (at == 2)} for at in range(len(names))]
            body = self.client.post(f"{where}/again", {"sheets": turned}, format="json").json()
        self.assertEqual([s["name"] for s in body["draft"]["sheets"]], [names[i] for i in order])
        again = self.client.post(f"{where}/again", {"options": {"visible": False}}, format="json").json()
        self.assertEqual(again["draft"], body["draft"])
        made = self.client.post(f"{where}/keep", {"name": " Otter ", "kind": "stamp set"}, format="json")
        self.assertEqual((made.json()["name"], made.json()["kind"]), ("Otter", "stamp set"))

    def test_several_drawings_in_another_order_at_once(self) -> None:
        files = [(f"{n}.svg", world.drawing(f'<circle cx="40" cy="40" r="{n}"/>')) for n in (3, 5, 7)]
        body = self.ready(self.begin(*files))
        where = f"/api/imports/{body['id']}/again"
        with patch.object(Running, "child", side_effect=AssertionError("nothing is read again")):
            for at in ([2, 0, 1], [1, 2, 0]):
                body = self.client.post(where, {"sheets": [{"at": a} for a in at]}, format="json").json()
        self.assertEqual([s["title"] for s in body["sheets"]], ["3", "5", "7"])
        areas = [s["groups"][0]["area_mm2"] for s in body["draft"]["sheets"]]
        self.assertEqual(areas, sorted(areas))

    def test_a_bundle_comes_back_as_it_went(self) -> None:
        moth = LayerSet.objects.get(owner=self.ada, key="luna-moth")
        data = self.client.get(f"/api/sets/{moth.pk}/bundle.zip").content
        body = self.ready(self.begin(("moth.set.zip", data)))
        kept = self.client.post(f"/api/imports/{body['id']}/keep").json()
        again = LayerSet.objects.get(pk=kept["id"])
        self.assertEqual(
            {**write_set(core_set(again)), "name": ""}, {**write_set(core_set(moth)), "name": ""}
        )

    def test_what_is_refused_before_anything_is_kept(self) -> None:
        before = Import.objects.count()
        svg = world.drawing(BODY)
        for files in (
            (),
            (("a.pdf", b"%PDF"),),
            (("a.svg", svg), ("b.jpg", b"x")),
            (("a.svg", b""),),
            (("a.svg", b" " * 8_000_001),),
        ):
            answer = self.begin(*files)
            self.assertIn(answer.status_code, (400, 413), answer.content)
            self.assertTrue(answer.json()["sentence"].endswith("."))
        self.assertEqual(Import.objects.count(), before)

    def test_bad_files_fail_with_a_sentence_and_leave_nothing(self) -> None:
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as archive:
            archive.writestr("../evil.txt", "x")
        for name, data in (("a.svg", b"no"), ("a.jpg", b"no"), ("a.zip", b"PK"), ("b.zip", out.getvalue())):
            body = self.begin((name, data)).json()
            self.assertEqual(body["state"], "failed", name)
            self.assertTrue(body["sentence"].endswith("."), body["sentence"])
            self.refused(self.client.post(f"/api/imports/{body['id']}/keep"))
            self.assertEqual(self.client.delete(f"/api/imports/{body['id']}").status_code, 204)
            self.assertFalse(imports.folder(body["id"]).exists())
        self.assertEqual(LayerSet.objects.filter(owner=self.ada).count(), 4)

    def test_a_restart_begins_a_reading_again_but_not_for_ever(self) -> None:
        body = self.ready(self.begin(("set.svg", world.drawing(BODY))))
        job = Import.objects.get(pk=body["id"]).job
        assert job is not None
        Job.objects.filter(pk=job.pk).update(state="running", boot="an earlier run")
        Import.objects.filter(pk=body["id"]).update(draft=None)
        queue.take_up()
        self.assertEqual(self.client.get("/api/imports").json()["under_way"][0]["state"], "ready")
        Job.objects.filter(pk=job.pk).update(state="running", boot="that one, which it brought down")
        queue.take_up()
        found = self.client.get("/api/imports").json()["under_way"][0]
        self.assertEqual((found["state"], found["sentence"]), ("failed", queue.RESTARTED))
        again = self.client.post(f"/api/imports/{body['id']}/again", {}, format="json").json()
        self.assertEqual(again["state"], "ready")

    def test_a_stopped_reading_writes_nothing_more(self) -> None:
        body = self.ready(self.begin(("set.svg", world.drawing(BODY))))
        row = Import.objects.select_related("job").get(pk=body["id"])
        assert row.job is not None
        Job.objects.filter(pk=row.job.pk).update(state="running")
        running = queue.Running(Job.objects.get(pk=row.job.pk))
        stopped = self.client.post(f"/api/imports/{row.pk}/stop").json()
        self.assertEqual(stopped["state"], "stopped")
        with self.assertRaises(queue.Stopped):
            reading._keep(row, running, draft=None)
        with self.assertRaises(queue.Stopped):
            running.say(state="done")
        self.assertEqual(Import.objects.get(pk=row.pk).state, "stopped")
        self.assertIsNotNone(Import.objects.get(pk=row.pk).draft)

    def test_an_error_that_nobody_expected_is_recorded_and_said(self) -> None:
        with (
            patch.object(queue.Running, "child", side_effect=ZeroDivisionError("so many sheets")),
            self.assertLogs("studio.jobs", "ERROR"),
        ):
            body = self.begin(("set.svg", world.drawing(BODY))).json()
        self.assertEqual(body["state"], "failed")
        self.assertIn("on our side", body["sentence"])
        self.assertNotIn("damaged", body["sentence"])
        self.assertIn("ZeroDivisionError: so many sheets", Job.objects.get(subject=body["id"]).fault)

    def test_kept_twice_it_is_one_set(self) -> None:
        body = self.ready(self.begin(("set.svg", world.drawing(BODY))))
        answers = [self.client.post(f"/api/imports/{body['id']}/keep") for _ in range(2)]
        self.assertEqual([a.status_code for a in answers], [201, 404])
        self.refused(answers[1], 404)

    def test_following_several_tells_of_none_what_it_holds(self) -> None:
        self.ready(self.begin(("set.svg", world.drawing(BODY))))
        (one,) = self.client.get("/api/imports").json()["under_way"]
        self.assertLess(len(str(one)), 400)

    def test_only_so_many_at_once(self) -> None:
        for _ in range(imports.MOST_UNDER_WAY):
            self.ready(self.begin(("set.svg", world.drawing(BODY))))
        self.refused(self.begin(("set.svg", world.drawing(BODY))))

    def test_leftovers_of_a_dead_server_are_swept(self) -> None:
        stray = imports.folder(987654)
        stray.mkdir(parents=True)
        (stray / "0.bin").write_bytes(b"x")
        kept = self.ready(self.begin(("set.svg", world.drawing(BODY))))
        imports.sweep()
        self.assertTrue(stray.exists(), "another process may be writing it just now")
        os.utime(stray, (0, 0))
        imports.sweep()
        self.assertFalse(stray.exists())
        self.assertTrue(imports.folder(kept["id"]).exists())
