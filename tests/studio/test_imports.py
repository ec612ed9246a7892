"""Bringing a set in over HTTP: drawings, photographs, bundles; stopped, restarted, kept, let go."""

from __future__ import annotations

import io
import zipfile
from typing import Any
from unittest.mock import patch

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import override_settings
from PIL import Image

from strata.camera import Shot, jpeg, photograph
from strata.camera.nuisance import shadow
from strata.formats.set_file import write_set
from studio.jobs import queue
from studio.jobs.models import Job
from studio.jobs.queue import Running
from studio.sets import imports, reading
from studio.sets.history import core_set
from studio.sets.models import Import, LayerSet
from tests import world
from tests.studio.base import StudioTest

BODY = '<g id="Base"><rect x="10" y="10" width="40" height="30"/></g><g id="Tone"><rect x="14" y="14" width="9" height="9"/></g>'
COLOURS = '<rect width="40" height="40" fill="#c00"/><rect x="10" y="10" width="9" height="9" fill="gold"/>'


def photo(sheet: int = 1, **values: Any) -> bytes:
    """A small photograph of a sheet of the demo stencil."""
    koi = world.koi()
    shapes = [*(o.polygon for o in koi.sheet(sheet).openings), *koi.sheet(sheet).marks]
    shot = Shot(width=1200, height=1500, tilt_x=0.08, tilt_y=0.05, seed=sheet, **values)
    return jpeg(photograph(shapes, koi.width, koi.height, shot), 85)


@override_settings(JOBS_AT_ONCE=True)
class ImportTest(StudioTest):
    def begin(self, *files: tuple[str, bytes], **options: Any) -> Any:
        sent = [SimpleUploadedFile(name, data) for name, data in files]
        return self.client.post(
            "/api/imports", {"files": sent, "name": "Given", **options}, format="multipart"
        )

    def ready(self, answer: Any) -> dict[str, Any]:
        self.assertEqual(answer.status_code, 201, answer.content)
        body: dict[str, Any] = answer.json()
        self.assertEqual((body["state"], body["sentence"]), ("ready", ""))
        return body

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

    def test_photographs_are_traced_laid_on_each_other_and_corrected(self) -> None:
        files = (("sheet 1.jpg", photo(1)), ("sheet 3.jpg", photo(3)))
        koi = world.koi()
        body = self.ready(self.begin(*files, width_mm=koi.width, height_mm=koi.height))
        draft = body["draft"]
        self.assertEqual(
            [len(s["shapes"]) for s in draft["sheets"]], [len(koi.sheet(n).openings) for n in (1, 3)]
        )
        self.assertTrue(all(s["marks"] for s in draft["sheets"]), "the four marks come back on both")
        self.assertEqual(self.client.get(body["sheets"][0]["photo"])["Content-Type"], "image/jpeg")
        self.assertEqual(len(body["sheets"][0]["openings"]), len(koi.sheet(1).openings) + 4)
        turned = {"sheets": [{"at": 1, "title": "Reeds"}, {"at": 0, "turn": 180, "dropped": [0]}]}
        after = self.client.post(f"/api/imports/{body['id']}/again", turned, format="json").json()
        self.assertEqual([s["name"] for s in after["draft"]["sheets"]], ["Reeds", "sheet 1"])
        # one opening dropped; turned half round, two of the four corner marks still look the same
        self.assertEqual(len(after["draft"]["sheets"][1]["shapes"]), len(koi.sheet(1).openings) + 4 - 1 - 2)
        self.refused(
            self.client.post(f"/api/imports/{body['id']}/again", {"sheets": [{"at": 0}]}, format="json")
        )
        self.client.post(f"/api/imports/{body['id']}/keep")
        made = LayerSet.objects.get(owner=self.ada, name="Given")
        self.assertEqual(made.pictures.count(), 2)

    def test_a_photograph_as_a_telephone_keeps_it(self) -> None:
        import pillow_heif

        out = io.BytesIO()
        pillow_heif.from_pillow(Image.open(io.BytesIO(photo(1)))).save(out, quality=90)
        body = self.ready(self.begin(("IMG_1.HEIC", out.getvalue()), width_mm=107.95, height_mm=139.7))
        self.assertEqual(
            len(body["draft"]["sheets"][0]["shapes"]), len(world.koi().sheet(1).openings) + 4, "and its marks"
        )

    def test_doubtful_openings_are_told_of(self) -> None:
        picture = np.asarray(Image.open(io.BytesIO(photo(1))))
        half = [(0, 0.5), (0.55, 0.38), (1, 0.65), (1, 1), (0, 1)]
        body = self.ready(
            self.begin(("a.jpg", jpeg(shadow(picture, half), 85)), width_mm=107.95, height_mm=139.7)
        )
        doubtful = body["sheets"][0]["doubtful"]
        self.assertTrue(doubtful)
        self.assertTrue(all(0 <= i < len(body["sheets"][0]["openings"]) for i in doubtful))
        self.assertTrue(any("doubtful" in said for said in body["left_out"]))
        clear = self.ready(self.begin(("b.jpg", photo(1)), width_mm=107.95, height_mm=139.7))
        self.assertEqual(clear["sheets"][0]["doubtful"], [])

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

    def test_a_photograph_upside_down_is_turned_by_its_marks_and_can_be_turned_back(self) -> None:
        upright, other = photo(1), Image.open(io.BytesIO(photo(3))).rotate(180)
        out = io.BytesIO()
        other.save(out, "JPEG", quality=92)
        koi = world.koi()
        files = (("a.jpg", upright), ("b.jpg", out.getvalue()))
        body = self.ready(self.begin(*files, width_mm=koi.width, height_mm=koi.height))
        self.assertEqual([s["turn"] for s in body["sheets"]], [0, 180])
        self.assertIn(
            "Sheet 2: It lay another way than the others; it was turned by its marks.", body["left_out"]
        )
        self.assertEqual(
            [len(s["shapes"]) for s in body["draft"]["sheets"]], [len(koi.sheet(n).openings) for n in (1, 3)]
        )
        where = f"/api/imports/{body['id']}/again"
        back = {"sheets": [{"at": 0}, {"at": 1, "turn": 0}]}
        body = self.client.post(where, back, format="json").json()
        self.assertEqual([s["turn"] for s in body["sheets"]], [0, 0])
        size = {"options": {"width_mm": koi.width + 0.5, "height_mm": koi.height}}
        self.assertEqual(
            len(self.client.post(where, size, format="json").json()["draft"]["sheets"]), 2, "read anew"
        )

    def test_corners_that_a_person_sets(self) -> None:
        body = self.ready(self.begin(("a.jpg", photo(1)), width_mm=107.95, height_mm=139.7))
        corners = [[x + 3, y - 2] for x, y in body["sheets"][0]["corners"]]
        answer = self.client.post(
            f"/api/imports/{body['id']}/again", {"sheets": [{"at": 0, "corners": corners}]}, format="json"
        ).json()
        for (x, y), (u, v) in zip(body["sheets"][0]["corners"], answer["sheets"][0]["corners"], strict=True):
            self.assertTrue(abs(x - u) < 1 and abs(y - v) < 1, "the sides nearby are found again")
        flat = self.client.post(
            f"/api/imports/{body['id']}/again",
            {"sheets": [{"at": 0, "corners": [[0, 0]] * 4}]},
            format="json",
        ).json()
        self.assertEqual(flat["state"], "failed")
        self.assertIn("corners", flat["sentence"])

    def test_edges_and_size_by_hand(self) -> None:
        body = self.ready(self.begin(("a.jpg", photo(1)), width_mm=100, height_mm=129.41))
        where = f"/api/imports/{body['id']}/again"
        self.client.post(where, {"sheets": [{"at": 0, "dropped": [0, 2]}]}, format="json")
        wide = self.client.post(where, {"sheets": [{"at": 0, "level": 0.4}]}, format="json").json()

        def inked(one: Any) -> float:
            return sum(g["area_mm2"] for g in one["draft"]["sheets"][0]["groups"])

        self.assertEqual(wide["sheets"][0]["level"], 0.4)
        # openings are found anew: what was left out before was another one
        self.assertEqual(wide["sheets"][0]["dropped"], [])
        self.assertGreater(inked(wide), inked(body))
        self.refused(self.client.post(where, {"sheets": [{"at": 0, "level": 0.9}]}, format="json"), 400)
        corners = wide["sheets"][0]["corners"]
        # its top is 107.95 mm, and was said to be 100
        measured = {"sheet": 0, "points": corners[:2], "apart": 107.95}
        sized = self.client.post(where, {"measured": measured}, format="json").json()
        self.assertEqual(sized["state"], "ready")
        self.assertAlmostEqual(sized["draft"]["width_mm"], 107.95, delta=0.1)
        self.assertAlmostEqual(sized["draft"]["height_mm"], 139.7, delta=0.2)
        self.assertEqual(sized["sheets"][0]["level"], 0.4, "the edges stay as they were put")
        for odd, status in (({"sheet": 7}, 404), ({"points": [[1, 1], [2, 2]]}, 400), ({"apart": 0}, 400)):
            self.refused(self.client.post(where, {"measured": {**measured, **odd}}, format="json"), status)

    def test_openings_mended_by_hand(self) -> None:
        """On the photograph, by two points; kept with the set, taken back, refused where they mean nothing."""
        body = self.ready(self.begin(("a.jpg", photo(1)), width_mm=107.95, height_mm=139.7))
        where = f"/api/imports/{body['id']}/again"
        sheet = body["sheets"][0]
        self.assertEqual(len(sheet["may_be_off"]), len(sheet["openings"]))

        def middle(path: str) -> tuple[list[float], list[float]]:
            points = [[float(v) for v in p.split(",")] for p in path[1:].split("Z", maxsplit=1)[0].split(" ")]
            low, high = (
                [min(v) for v in zip(*points, strict=True)],
                [max(v) for v in zip(*points, strict=True)],
            )
            across = (low[1] + high[1]) / 2
            return [low[0] - 9, across], [high[0] + 9, across]

        bridge = {"kind": "bridge", "points": middle(sheet["openings"][0])}
        count = len(sheet["openings"])

        def say(**values: Any) -> Any:
            return self.client.post(where, {"sheets": [{"at": 0, **values}]}, format="json")

        done = say(retouches=[bridge]).json()
        self.assertEqual(done["state"], "ready")
        own = done["sheets"][0]["openings"]
        self.assertEqual(own[0], "")
        self.assertGreaterEqual(len(own), count + 2)
        self.assertEqual(
            done["draft"]["sheets"][0]["openings"],
            body["draft"]["sheets"][0]["openings"] + len(own) - count - 1,
        )
        # what came of it may be left out as any other
        less = say(dropped=[count]).json()
        self.assertEqual(less["draft"]["sheets"][0]["openings"], done["draft"]["sheets"][0]["openings"] - 1)
        self.refused(say(retouches=[bridge, {"kind": "pull", "points": [[1, 1], [5, 5]]}]), 400)
        self.refused(say(retouches=[{"kind": "erase", "points": [[1, 1], [5, 5]]}]), 400)
        after = self.client.get(f"/api/imports/{body['id']}").json()
        self.assertEqual(len(after["sheets"][0]["retouches"]), 1, "what was refused left nothing behind")
        back = say(retouches=[], dropped=[]).json()
        self.assertEqual(back["draft"]["sheets"][0]["openings"], body["draft"]["sheets"][0]["openings"])
        # read anew, openings are counted anew
        say(retouches=[bridge])
        wide = say(level=0.45).json()
        self.assertEqual(wide["sheets"][0]["retouches"], [])

    def test_the_simulated_camera_photographs_a_set(self) -> None:
        two = LayerSet.objects.get(owner=self.ada, key="luna-moth")
        answer = self.client.post(
            "/api/imports", {"sample": two.pk, "name": "Moth again"}, format="multipart"
        )
        body = self.ready(answer)
        self.assertEqual(len(body["draft"]["sheets"]), 6)
        self.refused(
            self.client.post("/api/imports", {"sample": 999999, "name": "x"}, format="multipart"), 404
        )

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
        self.assertFalse(stray.exists())
        self.assertTrue(imports.folder(kept["id"]).exists())

    def tearDown(self) -> None:
        for row in Import.objects.all():
            imports.let_go(row)
