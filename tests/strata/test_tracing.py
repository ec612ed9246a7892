"""Photographs of sheets, by the simulated camera and by a plainer one, against the sheets themselves."""

from __future__ import annotations

import io
import unittest
from collections.abc import Callable
from functools import cache
from typing import Any

import numpy as np
import shapely
from PIL import Image
from shapely import Polygon

from strata.camera import Shot, jpeg, photograph
from strata.camera.nuisance import glare, out_of_focus, shadow, shaken
from strata.errors import BadFile, BadValue, StrataError
from strata.formats.photo_set import read_photo, set_from_sheets
from strata.formats.set_file import rings_of
from strata.guard.child import run_guarded
from strata.picture.raster import Raster, Window, coverage
from strata.sheets.model import Seat
from strata.sheets.seats import moved
from strata.tracing import Traced, trace
from strata.tracing.assemble import AS_IT_LIES, assemble, find_marks, ways_up
from tests import world

SIZE = {"width": 1800, "height": 2300}


def shapes_of(number: int) -> list[Polygon]:
    sheet = world.koi().sheet(number)
    return [*(o.polygon for o in sheet.openings), *sheet.marks]


@cache
def taken(number: int, **values: Any) -> bytes:
    koi = world.koi()
    shot = Shot(**{**SIZE, "seed": number, "noise": 0.012, "quality": 75, **values})
    return jpeg(photograph(shapes_of(number), koi.width, koi.height, shot), shot.quality)


def traced(data: bytes, **values: Any) -> Traced:
    koi = world.koi()
    return trace(data, koi.width, koi.height, **values)


class Against(unittest.TestCase):
    def check(self, found: Traced, shapes: list[Polygon], median: float = 0.6, iou: float = 0.985) -> None:
        """No opening missed or invented, areas and places right."""
        tree, used, errors = shapely.STRtree(found.openings), set(), []
        for shape in shapes:
            near = [
                i
                for i in tree.query(shape, "intersects").tolist()
                if found.openings[i].intersection(shape).area > 0.3 * shape.area
            ]
            self.assertEqual(len(near), 1, f"an opening at {shape.centroid} is missed or split")
            used.add(near[0])
            errors.append(abs(found.openings[near[0]].area / shape.area - 1) * 100)
        self.assertEqual(len(used), len(found.openings), "an opening was invented")
        self.assertLess(float(np.median(errors)), median)
        one, other = shapely.union_all(shapes), shapely.union_all(found.openings)
        self.assertGreater(one.intersection(other).area / one.union(other).area, iou)


class TraceTest(Against):
    def test_tilt_and_uneven_light(self) -> None:
        found = traced(taken(1, tilt_x=0.28, tilt_y=-0.12, roll=0.07, uneven=0.5, quality=60))
        self.check(found, shapes_of(1))
        self.assertLess(sum(found.doubtful), 2)

    def test_light_sheet_on_dark_table(self) -> None:
        self.check(
            traced(taken(1, tilt_x=0.1, plastic=(0.85, 0.84, 0.8), table=(0.05, 0.05, 0.06))), shapes_of(1)
        )

    def test_coloured_sheet_and_lens(self) -> None:
        data = taken(1, tilt_y=0.12, k1=-0.03, plastic=(0.04, 0.16, 0.4), table=(0.75, 0.6, 0.5), warmth=0.1)
        self.check(traced(data), shapes_of(1), median=1.6, iou=0.975)

    def test_small_openings(self) -> None:
        self.check(traced(taken(2, tilt_x=0.1, roll=-0.03)), shapes_of(2), median=0.8, iou=0.975)

    def test_a_sheet_lying_on_its_side(self) -> None:
        koi = world.koi()
        found = trace(taken(3, width=2300, height=1800, roll=1.57, tilt_x=0.1), koi.width, koi.height)
        self.check(found, shapes_of(3), median=1.0, iou=0.97)

    @staticmethod
    def drawn(sheet: float, opening: float, whole: Callable[[np.ndarray], np.ndarray]) -> bytes:
        """A drawing program's picture: grey mixed without regard to light, and how it made whole numbers of it."""
        koi = world.koi()
        scale, margin = 16.0, 200
        raster = Raster(round(koi.width * scale), round(koi.height * scale), scale)
        share = coverage(shapes_of(1), Window(0, 0, raster.width, raster.height), raster)
        page = np.full((raster.height + 2 * margin, raster.width + 2 * margin), opening, np.float32)
        page[margin:-margin, margin:-margin] = sheet + (opening - sheet) * share
        import cv2

        askew = cv2.warpAffine(
            page, cv2.getRotationMatrix2D((900, 1200), 4, 1), page.shape[::-1], borderValue=opening
        )
        grey = whole(cv2.GaussianBlur(askew, (0, 0), 1.1)).clip(0, 255).astype(np.uint8)
        out = io.BytesIO()
        Image.fromarray(grey).save(out, "PNG")
        return out.getvalue()

    def test_edges_mixed_in_encoded_values(self) -> None:
        for sheet, opening, whole in (
            (50, 200, np.floor),
            (100, 200, np.rint),
            (30, 240, np.floor),
            (0, 255, np.rint),
        ):
            with self.subTest(sheet=sheet, opening=opening):
                found = traced(self.drawn(sheet, opening, whole))
                self.check(found, shapes_of(1))
                self.assertLess(abs(self.wider(found)), 0.004)

    def test_a_white_sheet_on_wood_is_a_cameras(self) -> None:
        """Its few tones and the grain leave little to tell by; taken for a drawing every opening were 0.01 mm narrower."""
        wood = {"table": (0.42, 0.27, 0.15), "surface": "wood", "plastic": (0.75, 0.75, 0.74)}
        found = traced(
            taken(
                1,
                width=2400,
                height=3000,
                tilt_x=0.1,
                tilt_y=0.06,
                fills=0.78,
                quality=80,
                uneven=0.3,
                **wood,
            )
        )
        self.assertLess(abs(self.wider(found)), 0.004)

    def test_fine_lines_are_a_cameras(self) -> None:
        """The next edge is near everywhere: taken for a drawing, 128 of 135 openings were 0.025 mm wider all around."""
        lying = {"tilt_x": -0.07, "tilt_y": 0.09, "roll": 0.05, "shift": (0.02, -0.03), "fills": 0.78}
        found = traced(taken(5, width=2400, height=3000, seed=105, uneven=0.3, **{**lying, "quality": 35}))
        self.assertLess(abs(self.wider(found, 5)), 0.006)

    @staticmethod
    def wider(found: Traced, number: int = 1) -> float:
        """mm by which the edge of the usual opening lies further out than it is."""
        tree, shapes = shapely.STRtree(found.openings), shapes_of(number)
        near = [found.openings[i] for i in tree.nearest([s.representative_point() for s in shapes])]
        return float(np.median([(n.area - s.area) / s.length for n, s in zip(near, shapes, strict=True)]))

    def test_turned_by_its_tag_and_without_its_metadata(self) -> None:
        picture = Image.open(io.BytesIO(taken(1, tilt_x=0.05)))
        exif = Image.Exif()
        exif[0x0112] = 6
        exif[0x8825] = {1: "N", 2: (51.0, 30.0, 0.0)}
        out = io.BytesIO()
        picture.rotate(90, expand=True).save(out, "JPEG", quality=90, exif=exif)
        found = traced(out.getvalue())
        self.check(found, shapes_of(1))
        shown = read_photo(out.getvalue(), {"width_mm": 107.95, "height_mm": 139.7}, lambda *_: None)
        import base64

        self.assertFalse(dict(Image.open(io.BytesIO(base64.b64decode(shown["photographs"][0]))).getexif()))

    def test_of_a_size_that_the_picture_belies_nothing_is_kept_silently(self) -> None:
        """A stain taken for the sheet, or a width for the height: whichever is wrong, no measure is right."""
        found = trace(taken(1, tilt_x=0.05), 107.95, 107.95)
        self.assertTrue(found.unlike and all(found.doubtful))
        self.assertIn("other proportions", found.said[0])
        self.assertFalse([s for s in found.said if "cannot be trusted" in s], "the photograph is a good one")

    def test_size_from_one_side_or_none(self) -> None:
        data = taken(1, tilt_x=0.1)
        self.assertAlmostEqual(trace(data, width=107.95).height, 139.7, delta=1.5)
        unknown = trace(data)
        self.assertEqual(unknown.height, 150)
        self.assertTrue(unknown.warnings)

    def test_the_edges_of_the_openings_moved_by_hand(self) -> None:
        koi, data = world.koi(), taken(1, tilt_x=0.1)
        areas = [
            sum(p.area for p in trace(data, koi.width, koi.height, level=level).openings)
            for level in (0.35, 0.5, 0.65)
        ]
        self.assertGreater(areas[0], areas[1])
        self.assertGreater(areas[1], areas[2])
        self.assertEqual(areas[1], sum(p.area for p in trace(data, koi.width, koi.height).openings))
        with self.assertRaises(BadValue):
            trace(data, koi.width, koi.height, level=0.9)

    def test_corners_by_hand(self) -> None:
        data = taken(1, tilt_x=0.1)
        good = traced(data).corners
        self.check(traced(data, corners=good + np.array([[4.0, -3.0]])), shapes_of(1))
        away = good.copy()
        away[0] += 150
        self.assertTrue(
            np.allclose(traced(data, corners=away).corners[0], away[0], atol=1), "a clear wish is kept"
        )
        with self.assertRaises(BadFile):
            traced(data, corners=np.zeros((4, 2)))

    def test_corners_by_hand_of_a_sheet_lying_on_its_side(self) -> None:
        """Mended a little it stands up as it does by itself; whichever corner a hand begins at, it is never stretched."""
        koi = world.koi()
        data = taken(3, width=2300, height=1800, roll=1.57, tilt_x=0.1)
        by_itself = trace(data, koi.width, koi.height)
        edges = sum(s.length for s in shapes_of(3))
        for start in range(4):
            mended = np.roll(by_itself.corners, start, axis=0) + np.array([[2.0, -2.0]])
            found = trace(data, koi.width, koi.height, corners=mended)
            self.assertEqual((found.width, found.height), (by_itself.width, by_itself.height))
            if start == 0:
                self.check(found, shapes_of(3), median=1.0, iou=0.97)
            total = sum(o.length for o in found.openings)
            self.assertAlmostEqual(total / edges, 1, delta=0.03, msg=f"begun at corner {start}")

    def test_the_order_of_corners_given_by_hand_is_kept_where_it_fits(self) -> None:
        """A sheet photographed upside down: who says which corner is its top left is believed."""
        koi = world.koi()
        data = taken(3, width=1500, height=1900, roll=3.14, tilt_x=0.1)
        seen = trace(data, koi.width, koi.height)
        mine = np.roll(seen.corners, 2, axis=0)
        found = trace(data, koi.width, koi.height, corners=mine)
        self.assertTrue(np.allclose(found.corners, mine, atol=3))
        self.check(found, shapes_of(3), median=1.5, iou=0.97)

    def test_corners_pulled_to_the_nearest_are_the_right_way_up(self) -> None:
        """A landscape photograph of a sheet that stands in it, whose handles began turned: the top stays the top."""
        koi = world.koi()
        data = taken(3, width=2300, height=1800, tilt_x=0.1)
        seen = trace(data, koi.width, koi.height)
        for start in (1, 3):
            found = trace(data, koi.width, koi.height, corners=np.roll(seen.corners, start, axis=0))
            self.assertTrue(np.allclose(found.corners, seen.corners, atol=3), start)
            self.check(found, shapes_of(3), median=1.5, iou=0.97)

    def test_on_a_cutting_mat(self) -> None:
        """Green and blue, with lines and figures: dark sheets whole, light ones found, and it is said."""
        green, blue, white = (0.03, 0.14, 0.10), (0.03, 0.09, 0.24), (0.75, 0.75, 0.74)
        size = {"width": 2400, "height": 2900, "tilt_x": 0.1, "tilt_y": 0.06, "fills": 0.75, "quality": 80}
        dark = Shot().plastic
        for table, plastic, number, whole, least in (
            (green, dark, 1, 0.97, 37), (blue, dark, 4, 0.94, 93), (blue, white, 1, 0.93, 34), (green, white, 4, 0.89, 84),
        ):  # fmt: skip
            data = taken(number, **{**size, "table": table, "plastic": plastic, "grid": 10.0})
            found = traced(data)
            self.assertTrue(any("on a mat" in w for w in found.warnings))
            tree = shapely.STRtree(found.openings)
            alike = []
            for shape in shapes_of(number):
                near = (found.openings[j] for j in tree.query(shape, predicate="intersects"))
                alike.append(max((p.intersection(shape).area / p.union(shape).area for p in near), default=0))
            with self.subTest(table=table, plastic=plastic, sheet=number):
                self.assertGreater(np.mean(alike), whole)
                self.assertGreaterEqual(sum(v > 0.8 for v in alike), least)

    def test_what_a_photograph_does_not_show_clearly_is_doubtful(self) -> None:
        """Of what comes out wrong next to nothing is silent; of what is clear nothing is doubted."""
        shot = Shot(**{**SIZE, "seed": 1, "tilt_x": 0.1, "tilt_y": 0.06, "fills": 0.75})
        koi = world.koi()
        picture = photograph(shapes_of(1), koi.width, koi.height, shot)
        half = [(0, 0.5), (0.55, 0.38), (1, 0.65), (1, 1), (0, 1)]
        spoilt = {
            "clear": (picture, 0, 0),
            "a hard shadow": (shadow(picture, half), 5, 20),
            "a soft one": (shadow(picture, half, soft=60), 0, 0),
            "glare": (glare(picture, [(0.42, 0.59, 0.07), (0.67, 0.72, 0.05)]), 3, 20),
            "no focus": (out_of_focus(picture, 6), 3, 99),
            "shaken": (shaken(picture, 22, 12), 6, 99),
        }
        for name, (seen, most_silent, most_doubtful) in spoilt.items():
            found = traced(jpeg(seen, 80))
            tree = shapely.STRtree(found.openings)
            silent = 0
            for shape in shapes_of(1):
                near = tree.query(shape, predicate="intersects").tolist()
                j = max(near, key=lambda k: found.openings[k].intersection(shape).area, default=None)
                wrong = j is None or abs(found.openings[j].area / shape.area - 1) > 0.03
                silent += wrong and (j is None or not found.doubtful[j]) and not found.said
                silent += wrong and j is not None and not found.doubtful[j]
            with self.subTest(name):
                self.assertLessEqual(silent, most_silent)
                self.assertLessEqual(sum(found.doubtful), most_doubtful)
                self.assertEqual(bool(found.said), name not in ("clear", "a soft one"), found.said)
        blurred = traced(jpeg(out_of_focus(picture, 6), 80))
        self.assertIn("This photograph cannot be trusted as it is.", blurred.warnings)

    def test_nothing_to_see(self) -> None:
        out = io.BytesIO()
        Image.new("RGB", (900, 700), "#bbbbbb").save(out, "PNG")
        found = trace(out.getvalue(), 100, 80)
        self.assertEqual(found.openings, ())
        self.assertGreaterEqual(len(found.said), 2)

    def test_not_a_picture(self) -> None:
        good = taken(1, tilt_x=0.1)
        for data in (b"", b"GIF89a", b"hello", good[:4000], world.drawing("")):
            with self.assertRaises(StrataError) as caught:
                run_guarded("trace", [data], {"width_mm": None, "height_mm": None})
            self.assertTrue(caught.exception.sentence.endswith("."))
        bomb = io.BytesIO()
        Image.new("1", (30000, 30000)).save(bomb, "PNG")
        with self.assertRaises(StrataError):
            trace(bomb.getvalue())


class AssembleTest(unittest.TestCase):
    def test_marks_come_back_and_lay_the_sheets(self) -> None:
        koi = world.koi()
        sheets = [shapes_of(1), [shapely.affinity.translate(p, 0.6, -0.4) for p in shapes_of(3)]]
        marks = find_marks(sheets)
        self.assertEqual([len(m) for m in marks], [4, 4])
        laid = assemble(sheets)
        self.assertAlmostEqual(laid[1].shift, 0.6, delta=0.05)
        off = shapely.union_all(laid[1].openings).symmetric_difference(
            shapely.union_all([o.polygon for o in koi.sheet(3).openings])
        )
        self.assertLess(off.area, 0.5)

    def test_which_way_up_by_the_marks(self) -> None:
        koi = world.koi()
        sheets = [[*(o.polygon for o in s.openings), *s.marks] for s in koi.sheets]
        size = koi.width, koi.height
        plain = [AS_IT_LIES] * len(sheets)
        self.assertEqual(ways_up(sheets, *size), plain)
        self.assertEqual(ways_up([s[:5] for s in sheets], *size), plain, "no marks, no opinion")
        for way in ((180, False), (0, True), (180, True)):
            place = Seat(0, turn=way[0], mirrored=way[1])
            for which in (0, 2):
                laid = [list(s) for s in sheets]
                laid[which] = [moved(p, place, *size) for p in laid[which]]
                found = ways_up(laid, *size)
                self.assertEqual([i for i, w in enumerate(found) if w != AS_IT_LIES], [which])
                self.assertEqual(found[which], way)
        two = [sheets[0], [moved(p, Seat(0, turn=180), *size) for p in sheets[1]]]
        self.assertEqual(ways_up(two, *size), [AS_IT_LIES, (180, False)], "of two the first is right")

    def test_without_marks_the_corners_hold(self) -> None:
        squares = [[shapely.box(10, 10, 30, 30)], [shapely.box(40, 40, 80, 90)]]
        self.assertEqual([x.marks for x in assemble(squares)], [(), ()])

    def test_a_set_from_sheets(self) -> None:
        sheets = [
            {
                "title": "One",
                "openings": [rings_of(shapely.box(10, 10, 30, 30)), rings_of(shapely.box(1, 1, 1.5, 1.5))],
                "dropped": [1],
            },
            {"title": "Two", "openings": [rings_of(shapely.box(70, 10, 80, 20))], "mirrored": True},
        ]
        found, notes = set_from_sheets(sheets, "Squares", "stencil", 100, 80)
        self.assertEqual([len(s.openings) for s in found.sheets], [1, 1])
        self.assertEqual(found.sheets[1].openings[0].polygon.bounds, (20, 10, 30, 20))
        self.assertEqual(
            found.sheets[0].openings[0].element, found.sheets[1].openings[0].element, "it lies on the first"
        )
        self.assertEqual(len(notes), 1)

    def test_why_there_is_no_opening(self) -> None:
        square = [rings_of(shapely.box(10, 10, 30, 30))]
        mark = [rings_of(shapely.box(5, 5, 7, 7)), rings_of(shapely.box(90, 5, 92, 7))]
        for sheets, said in (
            ([{"openings": []}], "No opening was found"),
            ([{"openings": square, "dropped": [0]}], "Every opening is left out"),
            ([{"openings": mark}, {"openings": mark}], "Nothing but register marks"),
        ):
            with self.assertRaises(BadValue) as caught:
                set_from_sheets(sheets, "x", "stencil", 100, 80)
            self.assertTrue(caught.exception.sentence.startswith(said), caught.exception.sentence)


class CameraTest(unittest.TestCase):
    def test_the_same_shot_gives_the_same_picture(self) -> None:
        koi = world.koi()
        shot = Shot(width=400, height=500, tilt_x=0.1, curl=1.0, seed=4)
        one, two = (photograph(shapes_of(3), koi.width, koi.height, shot) for _ in range(2))
        self.assertTrue((one == two).all())
        self.assertEqual(one.shape, (500, 400, 3))

    def test_shots_that_no_camera_takes(self) -> None:
        for values in (
            {"tilt_x": 2.0},
            {"width": 10},
            {"quality": 0},
            {"width": 9000, "height": 9000},
            {"noise": float("nan")},
        ):
            with self.assertRaises(BadValue):
                Shot(**values)
