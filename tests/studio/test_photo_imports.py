"""Photographs brought in over HTTP: traced, turned by their marks, corrected and mended by hand."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import shapely
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import override_settings
from PIL import Image

from strata.camera import jpeg
from strata.camera.nuisance import glare, shadow
from strata.formats.photo_seat import seat_of
from strata.tracing.straighten import in_picture
from strata.tracing.trace import said_of_openings
from studio.sets.history import core_set
from studio.sets.models import Import, LayerSet
from tests import world
from tests.studio.importing import ImportCase, photo


def shape_of(path: str) -> shapely.Polygon:
    """What path data of straight lines goes around first."""
    ring = path.split("Z", maxsplit=1)[0].lstrip("M").replace("L", " ").split()
    return shapely.Polygon([tuple(map(float, p.split(","))) for p in ring])


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
        body = self.ready(self.begin(("IMG_1.HEIC", out.getvalue()), width_mm=107.95, height_mm=139.7))
        self.assertEqual(
            body["draft"]["sheets"][0]["openings"], len(world.koi().sheet(1).openings) + 4, "and its marks"
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
        self.refused(say(retouches=[{"kind": "draw", "points": [[1, 1], [5, 5]]}]), 400)
        self.refused(say(retouches=[{"kind": "pull", "points": [[1, 1], [5, 5], [9, 9]]}]), 400)
        self.refused(say(retouches=[{"kind": "erase", "points": [[1, 1], [5, 5]]}]), 400)
        after = self.client.get(f"/api/imports/{body['id']}").json()
        self.assertEqual(len(after["sheets"][0]["retouches"]), 1, "what was refused left nothing behind")
        back = say(retouches=[], dropped=[]).json()
        self.assertEqual(back["draft"]["sheets"][0]["openings"], body["draft"]["sheets"][0]["openings"])
        # an opening that comes of another mend is not left out because one before it was
        say(retouches=[bridge])
        say(dropped=[count, 0])
        self.assertEqual(say(retouches=[]).json()["sheets"][0]["dropped"], [0])
        self.assertEqual(say(retouches=[bridge]).json()["sheets"][0]["dropped"], [0])
        # at another size it is mended again, on the new reading
        larger = self.client.post(where, {"options": {"width_mm": 110.0, "height_mm": 142.35}}, format="json")
        self.assertEqual(len(larger.json()["sheets"][0]["retouches"]), 1)
        self.assertEqual(larger.json()["sheets"][0]["openings"][0], "")
        # with other edges, openings are counted anew
        wide = say(level=0.45).json()
        self.assertEqual(wide["sheets"][0]["retouches"], [])

    def test_where_no_opening_was_found_one_is_drawn(self) -> None:
        """A sheet like the table: its corners are shown by hand, and what nothing tells is drawn."""
        plain = np.full((900, 700, 3), 205, np.uint8)
        plain += np.random.default_rng(3).integers(0, 3, plain.shape, np.uint8)
        out = io.BytesIO()
        Image.fromarray(plain).save(out, "JPEG", quality=92)
        body = self.begin(("clear.jpg", out.getvalue()), width_mm=70.0, height_mm=90.0).json()
        where = f"/api/imports/{body['id']}/again"
        self.assertEqual((body["state"], body["sheets"][0]["openings"]), ("failed", []))
        corners = [[0, 0], [699, 0], [699, 899], [0, 899]]
        self.client.post(where, {"sheets": [{"at": 0, "corners": corners}]}, format="json")
        square = {"kind": "draw", "points": [[100, 100], [300, 100], [300, 400], [100, 400]]}
        done = self.client.post(where, {"sheets": [{"at": 0, "retouches": [square]}]}, format="json").json()
        self.assertEqual((done["state"], done["sheets"][0]["retouches"]), ("ready", [square]))
        self.assertFalse([w for w in done["left_out"] if "No opening" in w], "one is there now")
        kept = self.client.post(f"/api/imports/{body['id']}/keep").json()
        (opening,) = core_set(LayerSet.objects.get(pk=kept["id"])).openings.values()
        self.assertAlmostEqual(opening.polygon.area, 20 * 30, delta=6)

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

    def test_mends_that_do_not_fit_another_reading_are_let_go_and_it_is_said(self) -> None:
        body = self.ready(self.begin(("a.jpg", photo(1)), width_mm=107.95, height_mm=139.7))
        row = Import.objects.get(pk=body["id"])
        corners = body["sheets"][0]["corners"]
        beside = [[corners[0][0] - 40, corners[0][1] - 40], [corners[0][0] - 20, corners[0][1] - 40]]
        row.sheets[0]["retouches"] = [{"kind": "pull", "points": beside}]
        row.save()
        sized = self.client.post(
            f"/api/imports/{row.pk}/again",
            {"options": {"width_mm": 110.0, "height_mm": 142.35}},
            format="json",
        ).json()
        self.assertEqual((sized["state"], sized["sheets"][0]["retouches"]), ("ready", []))
        self.assertTrue(any("mended by hand does not fit" in said for said in sized["left_out"]))


@override_settings(JOBS_AT_ONCE=True)
class TogetherTest(ImportCase):
    """More photographs of one sheet: put together, taken apart, one sent after the others, one that is another sheet."""

    SIZE = {"width_mm": 107.95, "height_mm": 139.7}

    def spoilt(self, sheet: int = 1) -> bytes:
        picture = np.asarray(Image.open(io.BytesIO(photo(sheet))))
        return jpeg(glare(picture, [(0.42, 0.59, 0.06)]), 85)

    def say(self, pk: int, *sheets: dict[str, Any]) -> Any:
        return self.client.post(f"/api/imports/{pk}/again", {"sheets": list(sheets)}, format="json")

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

    def test_an_outline_is_fitted_to_the_edge_beside_it(self) -> None:
        """Drawn roughly around openings of a photograph: what is handed back lies on them, and nothing is changed by it."""
        body = self.ready(self.begin(("a.jpg", photo(1)), **self.SIZE))
        where = f"/api/imports/{body['id']}/fit"
        shown = [shape_of(path) for path in body["sheets"][0]["openings"]]
        for own in sorted(shown, key=lambda s: -s.area)[:6]:
            rough = shapely.simplify(shapely.buffer(own, 4, quad_segs=2), 3).exterior
            drawn = [list(p) for p in rough.coords][:-1]
            answer = self.client.post(where, {"sheet": 0, "points": drawn}, format="json")
            self.assertEqual(answer.status_code, 200, answer.content)
            found = shapely.Polygon(answer.json()["points"])
            self.assertGreater(found.intersection(own).area / found.union(own).area, 0.95)
        self.assertEqual(self.client.get(f"/api/imports/{body['id']}").json(), body)
        bare = [[30, 30], [60, 30], [60, 60], [30, 60]]
        refused = self.client.post(where, {"sheet": 0, "points": bare}, format="json")
        self.assertIn("No clear edge", refused.json()["sentence"])
        for wrong in ({"sheet": 7, "points": bare}, {"sheet": 0, "points": bare[:2]}, {"points": bare}, {"sheet": 0, "points": [[1e300, 2]] * 3}):  # fmt: skip
            self.refused(self.client.post(where, wrong, format="json"), 400)

    def test_what_a_glint_hides_is_asked_until_something_is_drawn_there(self) -> None:
        body = self.ready(self.begin(("a.jpg", photo(1)), **self.SIZE))
        row = Import.objects.get(pk=body["id"])
        result = row.sheets[0]["result"]
        at = (44, 2, 64, 2, 64, 12, 44, 12), (80, 2, 90, 2, 90, 8, 80, 8)
        result |= {"blinded_mm": [[list(p)] for p in at], "blinded": ["M0,0 1,0 1,1Z", "M5,5 6,5 6,6Z"]}
        row.save()
        seat, size = seat_of(result), np.array([result["width_mm"], result["height_mm"]])
        drawn = in_picture(seat, np.array([[50, 4], [60, 4], [60, 10], [50, 10]]) / size).round(2).tolist()
        done = self.say(body["id"], {"at": 0, "retouches": [{"kind": "draw", "points": drawn}]}).json()
        self.assertEqual(done["sheets"][0]["blinded"], ["M5,5 6,5 6,6Z"])

        def told(of: dict[str, Any]) -> list[str]:
            return [w for w in of["left_out"] if "blinds" in w]

        self.assertEqual(told(done), [f"Sheet 1: {w}" for w in said_of_openings(1, 0, 1)])
        # of the other she says that nothing is there; and takes that back
        there = in_picture(seat, np.array([[82, 4]]) / size).tolist()
        answers = [{"kind": "draw", "points": drawn}, {"kind": "leave", "points": there * 2}]
        quiet = self.say(body["id"], {"at": 0, "retouches": answers}).json()
        self.assertEqual((quiet["sheets"][0]["blinded"], told(quiet)), ([], []))
        self.assertEqual(quiet["draft"]["sheets"][0]["openings"], done["draft"]["sheets"][0]["openings"])
        self.assertEqual(self.say(body["id"], {"at": 0, "retouches": answers[:1]}).json(), done)

    def test_a_place_that_is_an_opening_is_taken_in(self) -> None:
        body = self.ready(self.begin(("a.jpg", photo(1)), **self.SIZE))
        row = Import.objects.get(pk=body["id"])
        # as though the photograph had left one open there
        row.sheets[0]["result"] |= {
            "places_mm": [[[44, 2, 64, 2, 64, 12, 44, 12]]],
            "places": ["M0,0 1,0 1,1Z"],
        }
        row.save()
        seat = body["sheets"][0]["corners"]
        across, down = ([b - a for a, b in zip(seat[0], seat[i], strict=True)] for i in (1, 3))
        at = [seat[0][k] + 0.5 * across[k] + 0.05 * down[k] for k in (0, 1)]
        take = {"kind": "take", "points": [at, at]}
        done = self.say(body["id"], {"at": 0, "retouches": [take]}).json()
        count = [s["openings"] for s in (body["draft"]["sheets"][0], done["draft"]["sheets"][0])]
        self.assertEqual(count[1], count[0] + 1)
        self.assertEqual(done["sheets"][0]["places"], [], "it is an opening now")
        back = self.say(body["id"], {"at": 0, "retouches": []}).json()
        self.assertEqual(back["sheets"][0]["places"], ["M0,0 1,0 1,1Z"])
        far = {"kind": "take", "points": [seat[2], seat[2]]}
        self.refused(self.say(body["id"], {"at": 0, "retouches": [far]}), 400)
