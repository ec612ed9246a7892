"""More photographs of one sheet: put together, taken apart, one sent after the others, one that is another sheet."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import override_settings
from PIL import Image

from strata.camera import jpeg
from strata.camera.nuisance import glare
from studio.sets.models import LayerSet
from tests import world
from tests.studio.importing import ImportCase, photo


@override_settings(JOBS_AT_ONCE=True)
class TogetherTest(ImportCase):
    def spoilt(self, sheet: int = 1) -> bytes:
        picture = np.asarray(Image.open(io.BytesIO(photo(sheet))))
        return jpeg(glare(picture, [(0.42, 0.59, 0.06)]), 85)

    def test_two_photographs_are_one_sheet_and_two_again(self) -> None:
        files = (("a.jpg", self.spoilt()), ("b.jpg", photo(3)), ("c.jpg", photo(1, roll=3.1)))
        body = self.ready(self.begin(*files, **self.SIZE))
        before = body["sheets"][0]
        one = self.say(body["id"], {"at": 0, "also": [2], "dropped": [1]}, {"at": 1}).json()
        self.assertEqual((one["state"], len(one["sheets"]), len(one["draft"]["sheets"])), ("ready", 2, 2))
        sheet = one["sheets"][0]
        self.assertEqual((sheet["together"], sheet["dropped"], sheet["doubtful"]), (["c.jpg"], [], []))
        self.assertEqual(len(sheet["openings"]), len(world.koi().sheet(1).openings) + 4)
        # other corners are read with both
        moved = [[x + 2, y] for x, y in sheet["corners"]]
        self.assertEqual(
            len(self.say(body["id"], {"at": 0, "corners": moved}, {"at": 1}).json()["sheets"][0]["openings"]),
            len(sheet["openings"]),
        )
        # taken apart, it is as it was before, corners and all
        apart = self.say(body["id"], {"at": 0, "apart": True}, {"at": 1}).json()
        self.assertEqual([s["name"] for s in apart["sheets"]], ["a.jpg", "c.jpg", "b.jpg"])
        self.assertEqual(apart["sheets"][0]["openings"], before["openings"])
        self.assertEqual(
            (apart["sheets"][0]["together"], apart["sheets"][0]["corners"]), ([], before["corners"])
        )
        # at another size meanwhile, the photographs are read at that size when they are taken apart
        self.say(body["id"], {"at": 0, "also": [1]}, {"at": 2})
        larger = {"options": {"width_mm": 110.0, "height_mm": 142.35}}
        self.client.post(f"/api/imports/{body['id']}/again", larger, format="json")
        apart = self.say(body["id"], {"at": 0, "apart": True}, {"at": 1}).json()
        self.assertEqual(
            (apart["state"], len(apart["sheets"]), apart["draft"]["width_mm"]), ("ready", 3, 110.0)
        )
        areas = [sum(g["area_mm2"] for g in s["groups"]) for s in apart["draft"]["sheets"][:2]]
        self.assertAlmostEqual(areas[0] / areas[1], 1.0, delta=0.1)
        for wrong in (
            [{"at": 0, "also": [0]}],
            [{"at": 0, "also": [1]}],
            [{"at": 0, "also": [9]}, {"at": 1}],
        ):
            self.refused(self.say(body["id"], *wrong), 400)

    def test_one_more_is_sent_and_kept_with_the_set(self) -> None:
        body = self.ready(self.begin(("a.jpg", self.spoilt()), **self.SIZE))
        where = f"/api/imports/{body['id']}/photographs"

        def send(data: bytes, name: str = "again.jpg", sheet: int = 0) -> Any:
            sent = SimpleUploadedFile(name, data)
            return self.client.post(where, {"sheet": sheet, "file": sent}, format="multipart")

        self.refused(send(photo(1), sheet=4), 404)
        self.refused(send(b"", "empty.jpg"), 400)
        self.refused(send(b"<svg/>", "drawn.svg"), 400)
        one = send(photo(1, roll=0.06)).json()
        self.assertEqual((one["state"], one["sheets"][0]["together"]), ("ready", ["again.jpg"]))
        self.assertEqual(len(one["sheets"][0]["openings"]), len(world.koi().sheet(1).openings) + 4)
        self.client.post(f"/api/imports/{body['id']}/keep")
        made = LayerSet.objects.get(owner=self.ada, name="Given")
        self.assertEqual(
            sorted(made.pictures.values_list("name", flat=True)), ["sheet-1-2.jpg", "sheet-1.jpg"]
        )

    def test_another_sheet_becomes_a_sheet_of_its_own(self) -> None:
        body = self.ready(self.begin(("a.jpg", photo(1)), **self.SIZE))
        sent = {"sheet": 0, "file": SimpleUploadedFile("other.jpg", photo(3))}
        after = self.client.post(f"/api/imports/{body['id']}/photographs", sent, format="multipart").json()
        self.assertEqual([s["name"] for s in after["sheets"]], ["a.jpg", "other.jpg"])
        self.assertEqual(len(after["draft"]["sheets"]), 2)
        self.assertIn(
            "Sheet 1: “other.jpg” does not show this sheet and is a sheet of its own again.",
            after["left_out"],
        )
        calm = self.say(body["id"], {"at": 1}, {"at": 0}).json()
        self.assertFalse(any("does not show" in said for said in calm["left_out"]), "said once")
