"""The steps of tracing each by itself: lens, lines, light, corners, brightness, files."""

from __future__ import annotations

import io
import unittest
from dataclasses import replace

import numpy as np
from PIL import Image
from shapely.geometry import Point, Polygon

from strata.camera import Shot, photograph
from strata.camera.shot import Lens as Way
from strata.errors import BadFile, BadValue, TooLarge
from strata.tracing.by_points import sized_by_points
from strata.tracing.corners import find_corners
from strata.tracing.fields import brightness, contrast_weights, kinds
from strata.tracing.light import OFFSETS, Edges, curve, edges_of, mixed_in_values
from strata.tracing.mat import find_printed
from strata.tracing.photo import open_photo
from strata.tracing.quads import clockwise, crossing, quad_area
from strata.tracing.sides import Lens, fit_lens, line_through
from strata.tracing.smooth import smooth_model
from strata.tracing.straighten import aspect, in_picture, refine, seat_from, straighten


def png(picture: Image.Image, **values: object) -> bytes:
    out = io.BytesIO()
    picture.save(out, "PNG", **values)
    return out.getvalue()


class LensTest(unittest.TestCase):
    def test_bent_is_the_way_back_from_straight(self) -> None:
        rng = np.random.default_rng(1)
        points = rng.uniform(0, 3000, (200, 2))
        for strength in (-0.15, -0.02, 0.0, 0.03, 0.12):
            lens = Lens(strength, (1500, 1500), 2100)
            back = lens.bent_points(lens.straight(points))
            np.testing.assert_allclose(back, points, atol=0.02)

    def test_the_lens_is_found_from_four_bent_sides(self) -> None:
        corners = np.array([[400, 300], [2600, 350], [2500, 1900], [380, 1850]], float)
        t = np.linspace(0.02, 0.98, 200)[:, None]
        for strength in (-0.06, 0.0, 0.05):
            true = Lens(strength, (1500, 1100), float(np.hypot(3000, 2200) / 2))
            sides = [true.bent_points(corners[i] + t * (corners[(i + 1) % 4] - corners[i])) for i in range(4)]
            found = fit_lens(sides, 3000, 2200)
            self.assertAlmostEqual(found.strength, strength, delta=0.004)

    def test_a_line_ignores_outliers(self) -> None:
        x = np.linspace(0, 100, 300)
        points = np.column_stack([x, 0.2 * x + 5])
        points[::15, 1] += 20
        middle, direction, off = line_through(points)
        self.assertAlmostEqual(abs(direction[1] / direction[0]), 0.2, places=3)
        self.assertLess(float(np.median(np.abs(off))), 0.01)
        other = (np.array([50.0, 0.0]), np.array([0.0, 1.0]))
        np.testing.assert_allclose(crossing((middle, direction), other), [50, 15], atol=0.05)
        self.assertEqual(quad_area(np.array([[0.0, 0], [4, 0], [4, 3], [0, 3]])), 12)


class LightTest(unittest.TestCase):
    def edges(self, as_light: bool, blur: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """A picture of one slanted edge, mixed in light or in encoded values."""
        import cv2

        y, x = np.mgrid[0:400, 0:400]
        share = cv2.GaussianBlur(np.clip(x - 180 - 0.13 * y, 0, 1).astype(np.float32), (0, 0), blur)
        dark, light = 40.0, 220.0
        if as_light:
            tones = curve(of_light=True)
            linear = tones[int(dark)] + share * (tones[int(light)] - tones[int(dark)])
            grey = np.interp(linear, tones, np.arange(256))
        else:
            grey = dark + share * (light - dark)
        picture = np.repeat(np.rint(grey).astype(np.uint8)[..., None], 3, axis=2)
        rows = np.linspace(20, 380, 300)
        feet = np.column_stack([180.5 + 0.13 * rows, rows])
        normal = np.array([1.0, -0.13]) / np.hypot(1, 0.13)
        return picture, feet, np.repeat(normal[None], len(feet), axis=0)

    def test_how_light_was_mixed_is_read_off_the_edge(self) -> None:
        for blur in (0.8, 1.2, 2.0):
            for as_light in (True, False):
                told = edges_of(*self.edges(as_light, blur))
                self.assertEqual(mixed_in_values(told), not as_light, f"{blur} {as_light} {told}")
                self.assertLess(told.uneven, 0.5)

    def test_the_less_even_a_picture_the_more_must_speak_for_a_drawing(self) -> None:
        """A lamp is never as even as a drawing, and strong compression makes a camera's edges look like a drawing's."""
        even, lit = Edges(encoded=1.1, uneven=0.7), Edges(encoded=1.1, uneven=6.0)
        self.assertTrue(mixed_in_values(even, even))
        self.assertFalse(mixed_in_values(even, lit) or mixed_in_values(lit))
        self.assertTrue(mixed_in_values(even, Edges(encoded=2.2, uneven=20.0)), "a drawing of many tones")
        self.assertFalse(mixed_in_values(even, Edges(encoded=-0.5)), "both together")
        self.assertTrue(mixed_in_values(even, Edges()), "what does not tell has no say")
        self.assertTrue(mixed_in_values(Edges(), even), "nor have sides that do not")
        self.assertFalse(mixed_in_values(Edges()) or mixed_in_values(Edges(), Edges()))
        sent = Edges(encoded=2.6, uneven=6.0)
        self.assertFalse(
            mixed_in_values(sent) or mixed_in_values(sent, sent), "a photograph that was made smaller"
        )

    def test_how_uneven_the_lighter_side_is(self) -> None:
        picture, *across = self.edges(True, 1.0)
        fades = np.linspace(1.0, 0.8, len(picture))[:, None, None]
        told = edges_of((picture * fades).astype(np.uint8), *across)
        self.assertAlmostEqual(told.uneven, 1.4826 * 220 * 0.2 * 0.9 / 4, delta=2.0)

    def test_where_there_is_no_edge_nothing_is_said(self) -> None:
        flat = np.full((100, 100, 3), 90, np.uint8)
        feet = np.column_stack([np.full(80, 50.0), np.linspace(10, 90, 80)])
        self.assertEqual(edges_of(flat, feet, np.tile([1.0, 0.0], (80, 1))).encoded, 0)
        self.assertEqual(edges_of(flat, feet[:5], np.tile([1.0, 0.0], (5, 1))).encoded, 0)
        self.assertEqual(len(OFFSETS), 65)

    def test_curves(self) -> None:
        np.testing.assert_allclose(curve(of_light=False), np.arange(256), atol=1e-4)
        linear = curve(of_light=True)
        self.assertTrue(np.all(np.diff(linear) > 0))
        self.assertAlmostEqual(float(linear[188]) / 255, 0.503, delta=0.003)


class CornerTest(unittest.TestCase):
    def test_clockwise_from_the_top_left(self) -> None:
        square = np.array([[10, 10], [90, 12], [88, 70], [8, 72]], float)
        for order in ((2, 0, 3, 1), (3, 2, 1, 0), (0, 1, 2, 3)):
            np.testing.assert_allclose(clockwise(square[list(order)]), square)

    def test_corners_of_a_simulated_sheet(self) -> None:
        shot = Shot(width=900, height=700, tilt_x=0.2, tilt_y=-0.1, roll=0.05, seed=3)
        picture = photograph([Polygon([(20, 20), (40, 20), (40, 50), (20, 50)])], 120, 90, shot)
        true = Way(shot, 120, 90).project(np.array([[0, 0], [120, 0], [120, 90], [0, 90]], float)) - 0.5
        found = find_corners(picture)
        self.assertTrue(found.sure)
        self.assertLess(float(np.abs(found.corners - true).max()), 6)
        seat = refine(picture, found.corners, found.scale)
        self.assertLess(float(np.abs(seat.corners - true).max()), 0.35)
        self.assertAlmostEqual(aspect(seat, 900, 700), 120 / 90, delta=0.03)
        middle = in_picture(seat, np.array([[0.5, 0.5]]))
        expected = Way(shot, 120, 90).project(np.array([[60, 45]], float)) - 0.5
        np.testing.assert_allclose(middle, expected, atol=0.4)

    def test_a_picture_without_a_sheet_is_taken_whole(self) -> None:
        rng = np.random.default_rng(2)
        for picture in (
            np.full((300, 400, 3), 200, np.uint8),
            rng.integers(180, 200, (300, 400, 3)).astype(np.uint8),
        ):
            self.assertTrue(find_corners(picture).whole)

    def test_a_smooth_model_forgets_what_does_not_fit(self) -> None:
        y, x = np.mgrid[0:80, 0:100]
        values = (5 + 0.02 * x - 0.01 * y + 0.0002 * x * x).astype(np.float32)
        spoilt = values.copy()
        spoilt[:20, :30] += 40
        model = smooth_model(spoilt, np.ones((80, 100), bool))
        self.assertLess(float(np.abs(model - values).max()), 0.2)

    def test_straightening_the_whole_picture_leaves_it(self) -> None:
        rng = np.random.default_rng(4)
        picture = rng.integers(0, 255, (20, 30), dtype=np.uint8).repeat(16, 0).repeat(16, 1)
        height, width = picture.shape
        corners = np.array(
            [[-0.5, -0.5], [width - 0.5, -0.5], [width - 0.5, height - 0.5], [-0.5, height - 0.5]]
        )
        same = straighten(picture, seat_from(corners, width, height), width / 8, height / 8, 8.0)
        self.assertEqual(same.shape, picture.shape)
        self.assertLess(float(np.abs(same.astype(int) - picture).mean()), 1.0)


class TwoPointsTest(unittest.TestCase):
    """The size of a sheet from two points of the photograph that are a known distance apart."""

    SHOT = Shot(width=900, height=700, tilt_x=0.25, tilt_y=-0.15, roll=0.1)

    def on_photo(self, *places: tuple[float, float]) -> np.ndarray:
        """Where places of a sheet of 120 x 90 mm lie in the picture, px."""
        return Way(self.SHOT, 120, 90).project(np.array(places, float)) - 0.5

    def sized(self, one: tuple[float, float], two: tuple[float, float], apart: float) -> tuple[float, float]:
        corners = self.on_photo((0, 0), (120, 0), (120, 90), (0, 90))
        # taken for a sheet of 150 mm, as nothing was known of it
        return sized_by_points(corners, self.on_photo(one, two), apart, 150.0, 112.5)

    def test_along_across_and_askew_say_the_same(self) -> None:
        for one, two in (((10, 10), (100, 10)), ((60, 5), (60, 85)), ((15, 80), (110, 12))):
            width, height = self.sized(one, two, float(np.hypot(two[0] - one[0], two[1] - one[1])))
            self.assertAlmostEqual(width, 120, delta=0.3)
            self.assertAlmostEqual(height, 90, delta=0.3)

    def test_what_cannot_be_measured_by_is_refused_in_words(self) -> None:
        for one, two, apart in (
            ((50, 50), (52, 50), 2.0),
            ((50, 50), (50, 50), 10.0),
            ((0, 0), (400, 90), 400.0),
            ((10, 10), (100, 10), 0.0),
            ((10, 10), (100, 10), float("nan")),
            ((10, 10), (100, 10), 1900.0),
        ):
            with self.subTest(two=two, apart=apart), self.assertRaises(BadValue):
                self.sized(one, two, apart)


class FieldTest(unittest.TestCase):
    def sheet(self, bare: float, opening: float, uneven: float) -> tuple[np.ndarray, np.ndarray]:
        """A straightened sheet of 60 x 40 mm at 8 px/mm with two round openings, and its light."""
        y, x = np.mgrid[0:320, 0:480]
        light = (1 - uneven * x / 480).astype(np.float32)
        open_ = ((x - 140) ** 2 + (y - 160) ** 2 < 70**2) | ((x - 340) ** 2 + (y - 160) ** 2 < 60**2)
        grey = np.where(open_, opening, bare) * light
        return np.repeat(grey.astype(np.uint8)[..., None], 3, axis=2), light

    def test_brightness_follows_the_light(self) -> None:
        for bare, opening in ((40, 220), (230, 60)):
            rgb, light = self.sheet(bare, opening, 0.4)
            found = kinds(rgb, 8.0)
            self.assertIsNotNone(found)
            two = brightness(rgb[..., 0].astype(np.float32), found, 8.0)
            self.assertIsNotNone(two)
            import cv2

            coarse = cv2.resize(light, two[0].shape[::-1], interpolation=cv2.INTER_AREA)
            inner = (slice(12, -12), slice(12, -12))
            self.assertLess(float(np.abs(two[0] - bare * coarse)[inner].max()), 0.06 * bare + 3)
            self.assertLess(float(np.abs(two[1] - opening * coarse)[found.open].max()), 0.06 * opening + 3)

    def test_a_sheet_without_openings(self) -> None:
        rgb, _ = self.sheet(120, 120, 0.3)
        self.assertIsNone(kinds(rgb, 8.0))

    def test_which_mix_of_channels(self) -> None:
        grey, white = np.full((500, 3), 40, np.uint8), np.full((500, 3), 220, np.uint8)
        np.testing.assert_allclose(contrast_weights(grey, white), [1 / 3] * 3, atol=1e-6)
        red, green = np.tile([200, 40, 40], (500, 1)), np.tile([40, 160, 40], (500, 1))
        mix = contrast_weights(red.astype(np.uint8), green.astype(np.uint8))
        self.assertTrue(mix is None or mix.min() >= 0)
        self.assertIsNone(contrast_weights(grey[:3], white))


class PhotoTest(unittest.TestCase):
    def test_all_eight_ways_to_hold_a_camera(self) -> None:
        upright = Image.new("RGB", (300, 400), "white")
        upright.paste((200, 30, 30), (0, 0, 60, 60))
        undo = {1: None, 2: 0, 3: 3, 4: 1, 5: 5, 6: 2, 7: 6, 8: 4}
        for tag, turned in undo.items():
            stored = upright if turned is None else upright.transpose(Image.Transpose(turned))
            exif = Image.Exif()
            exif[0x0112] = tag
            out = io.BytesIO()
            stored.save(out, "JPEG", quality=95, exif=exif)
            rgb = open_photo(out.getvalue())
            self.assertEqual(rgb.shape, (400, 300, 3), tag)
            self.assertGreater(int(rgb[20, 20, 0]) - int(rgb[20, 20, 1]), 100, tag)

    def test_kinds_of_pictures(self) -> None:
        pictures = {
            "grey": Image.new("L", (300, 260), 128),
            "palette": Image.new("P", (300, 260), 3),
            "two tones": Image.new("1", (300, 260), 1),
            "alpha": Image.new("RGBA", (300, 260), (10, 20, 30, 0)),
            "sixteen bits": Image.fromarray(np.full((260, 300), 40000, np.uint16)),
        }
        for name, picture in pictures.items():
            with self.subTest(name):
                rgb = open_photo(png(picture))
                self.assertEqual((rgb.shape, rgb.dtype), ((260, 300, 3), np.uint8))
        self.assertTrue((open_photo(png(pictures["alpha"])) == 255).all(), "see-through is white")
        self.assertAlmostEqual(int(open_photo(png(pictures["sixteen bits"]))[0, 0, 0]), 156, delta=1)

    def test_what_telephones_keep(self) -> None:
        import pillow_heif

        upright = Image.new("RGB", (300, 400), "white")
        upright.paste((200, 30, 30), (0, 0, 60, 60))
        out = io.BytesIO()
        pillow_heif.from_pillow(upright).save(out, quality=90)
        rgb = open_photo(out.getvalue(), heif=True)
        self.assertEqual(rgb.shape, (400, 300, 3))
        self.assertGreater(int(rgb[20, 20, 0]) - int(rgb[20, 20, 1]), 100)
        for bad in (out.getvalue()[:300], b"\0\0\0\x18ftypheic" + bytes(400)):
            with self.assertRaises(BadFile):
                open_photo(bad, heif=True)

    def test_refusals(self) -> None:
        for data in (b"", b"\x89PNG\r\n\x1a\n", b"GIF89a" + b"\x00" * 40, png(Image.new("RGB", (300, 50)))):
            with self.assertRaises(BadFile):
                open_photo(data)
        with self.assertRaises(TooLarge):
            open_photo(png(Image.new("1", (9000, 9000))))


class CameraGeometryTest(unittest.TestCase):
    def test_openings_lie_where_the_lens_puts_them(self) -> None:
        shot = Shot(width=800, height=640, tilt_x=0.15, tilt_y=0.1, blur=0.5, noise=0.0, uneven=0.0)
        picture = photograph([Point(60, 40).buffer(6)], 120, 90, shot)
        x, y = Way(shot, 120, 90).project(np.array([[60, 40]], float))[0]
        bright = picture[..., 1] > 120
        yy, xx = np.nonzero(bright[int(y) - 40 : int(y) + 40, int(x) - 40 : int(x) + 40])
        self.assertAlmostEqual(float(xx.mean()) + int(x) - 40 + 0.5, x, delta=0.7)
        self.assertAlmostEqual(float(yy.mean()) + int(y) - 40 + 0.5, y, delta=0.7)


class MatTest(unittest.TestCase):
    """Lines on the table, and what they do to openings."""

    def test_lines_beside_a_sheet_are_found_where_they_are(self) -> None:
        shot = Shot(
            width=1500, height=1700, fills=0.7, grid=12.7, table=(0.03, 0.14, 0.1), noise=0.0, uneven=0.0
        )
        picture = photograph([], 100, 130, shot)
        lens = Way(shot, 100, 130)
        corners = lens.project(np.array([[0, 0], [100, 0], [100, 130], [0, 130]], float))
        found = find_printed(picture, corners, 100, 130)
        assert found is not None
        for places in (ruling.places for ruling in found.grid):
            self.assertTrue(np.allclose(np.diff(places), 12.7, atol=0.15))
        self.assertAlmostEqual(found.apart, 12.7, delta=0.03)
        # of a sheet that was taken to be half as large, they lie half as far apart
        half = find_printed(picture, corners, 50, 65)
        assert half is not None
        self.assertAlmostEqual(half.apart, 6.35, delta=0.03)
        plain = photograph([], 100, 130, replace(shot, grid=0.0))
        self.assertIsNone(find_printed(plain, corners, 100, 130))
