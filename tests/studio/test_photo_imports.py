"""Photographs brought in over HTTP: traced, turned by their marks, corrected and mended by hand."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from django.test import override_settings
from PIL import Image

from strata.camera import jpeg
from strata.camera.nuisance import shadow
from studio.sets.models import LayerSet
from tests import world
from tests.studio.importing import ImportCase, photo


@override_settings(JOBS_AT_ONCE=True)
class PhotoImportTest(ImportCase):
    def test_photographs_are_traced_laid_on_each_other_and_corrected(self) -> None:
        files = (("sheet 1.jpg", photo(1)), ("sheet 3.jpg", photo(3)))
        koi = world.koi()
        body = self.ready(self.begin(*files, width_mm=koi.width, height_mm=koi.height))
        draft = body["draft"]
        self.assertEqual(
            [s["openings"] for s in draft["sheets"]], [len(koi.sheet(n).openings) for n in (1, 3)]
        )
        self.assertTrue(all(s["marks"] for s in draft["sheets"]), "the four marks come back on both")
        self.assertEqual(self.client.get(body["sheets"][0]["photo"])["Content-Type"], "image/jpeg")
        self.assertEqual(len(body["sheets"][0]["openings"]), len(koi.sheet(1).openings) + 4)
        turned = {"sheets": [{"at": 1, "title": "Reeds"}, {"at": 0, "turn": 180, "dropped": [0]}]}
        after = self.client.post(f"/api/imports/{body['id']}/again", turned, format="json").json()
        self.assertEqual([s["name"] for s in after["draft"]["sheets"]], ["Reeds", "sheet 1"])
        # one opening dropped; turned half round, two of the four corner marks still look the same
        self.assertEqual(after["draft"]["sheets"][1]["openings"], len(koi.sheet(1).openings) + 4 - 1 - 2)
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
        body = self.ready(self.begin(("IMG_1.HEIC", out.getvalue()), **self.SIZE))
        self.assertEqual(
            body["draft"]["sheets"][0]["openings"], len(world.koi().sheet(1).openings) + 4, "and its marks"
        )

    def test_doubtful_openings_are_told_of(self) -> None:
        picture = np.asarray(Image.open(io.BytesIO(photo(1))))
        half = [(0, 0.5), (0.55, 0.38), (1, 0.65), (1, 1), (0, 1)]
        body = self.ready(self.begin(("a.jpg", jpeg(shadow(picture, half), 85)), **self.SIZE))
        doubtful = body["sheets"][0]["doubtful"]
        self.assertTrue(doubtful)
        self.assertTrue(all(0 <= i < len(body["sheets"][0]["openings"]) for i in doubtful))
        self.assertTrue(any("doubtful" in said for said in body["left_out"]))
        self.assertTrue(body["sheets"][0]["unclear"])
        self.assertTrue(any(said.startswith("Clearer:") for said in body["left_out"]))
        clear = self.ready(self.begin(("b.jpg", photo(1)), **self.SIZE))
        self.assertEqual((clear["sheets"][0]["doubtful"], clear["sheets"][0]["unclear"]), ([], False))

    def test_of_a_wrong_size_no_clearer_photograph_is_asked_for(self) -> None:
        body = self.ready(self.begin(("a.jpg", photo(1)), width_mm=100, height_mm=100))
        (sheet,) = body["sheets"]
        self.assertFalse(sheet["unclear"])
        self.assertEqual(len(sheet["doubtful"]), len(sheet["openings"]))
        self.assertIn("other proportions", body["left_out"][0])
        self.assertFalse([s for s in body["left_out"] if s.startswith("Clearer:") or "trusted" in s])

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
            [s["openings"] for s in body["draft"]["sheets"]], [len(koi.sheet(n).openings) for n in (1, 3)]
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
        body = self.ready(self.begin(("a.jpg", photo(1)), **self.SIZE))
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

    def test_the_size_by_the_lines_of_a_mat(self) -> None:
        mat = photo(1, table=(0.03, 0.09, 0.24), grid=10.0, fills=0.7)
        body = self.ready(self.begin(("a.jpg", mat)))
        self.assertTrue(body["guessed"])
        by = 10 / body["sheets"][0]["lines_apart"]
        size = {f"{side}_mm": body["draft"][f"{side}_mm"] * by for side in ("width", "height")}
        self.assertAlmostEqual(size["width_mm"], 107.95, delta=0.6)
        where = f"/api/imports/{body['id']}/again"
        sized = self.client.post(where, {"options": size}, format="json").json()
        self.assertFalse(sized["guessed"], "it was said")
        self.assertAlmostEqual(sized["sheets"][0]["lines_apart"], 10.0, delta=0.05)
        self.assertIsNone(self.ready(self.begin(("b.jpg", photo(1))))["sheets"][0]["lines_apart"])

    def test_the_size_by_a_ruler_that_lies_beside_it(self) -> None:
        body = self.ready(self.begin(("a.jpg", photo(1, beside=("ruler",), fills=0.6))))
        by = body["sheets"][0]["by_ruler"]
        size = {f"{side}_mm": body["draft"][f"{side}_mm"] * by for side in ("width", "height")}
        self.assertAlmostEqual(size["width_mm"], 107.95, delta=0.6)
        where = f"/api/imports/{body['id']}/again"
        mended = self.client.post(
            where, {"sheets": [{"at": 0, "corners": body["sheets"][0]["corners"]}]}, format="json"
        ).json()
        self.assertAlmostEqual(
            mended["sheets"][0]["by_ruler"], by, delta=0.005, msg="while the size is a guess"
        )
        sized = self.client.post(where, {"options": size}, format="json").json()
        self.assertEqual((sized["guessed"], sized["sheets"][0]["by_ruler"]), (False, None))

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
