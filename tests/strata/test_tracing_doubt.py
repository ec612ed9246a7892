"""What a photograph leaves open: how far an area may be off, what lies in an opening, what sharpening does to an edge."""

from __future__ import annotations

import itertools
import unittest

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter, gaussian_filter1d
from scipy.special import ndtr
from shapely import Polygon

from strata.optics.colour import decode_srgb, encode_srgb
from strata.tracing import trace
from strata.tracing.doubt import UNSURE, doubts, other_colour
from strata.tracing.fields import closer, kinds
from strata.tracing.focus import EVEN
from strata.tracing.glare import Coarse, blinded_places
from strata.tracing.inexact import area_errors, unevenness
from strata.tracing.light import OFFSETS, Edges, edges_of
from strata.tracing.openings import _is_dust
from strata.tracing.openness import _to_their_own
from strata.tracing.sharpening import level_at_the_edge
from strata.tracing.sides import Lens, fit_lens

SCALE = np.array([10.0, 10.0])
Floats32 = NDArray[np.float32]


def drawn(shapes: list[Polygon], width: int = 40, height: int = 30, blur: float = 1.0) -> Floats32:
    """How open each pixel of a sheet (mm) of 10 px/mm is."""
    import cv2

    fine = np.zeros((height * 40, width * 40), np.uint8)
    for shape in shapes:
        cv2.fillPoly(fine, [np.rint(np.array(shape.exterior.coords) * 40).astype(np.int32)], 1)
    share = cv2.resize(fine.astype(np.float32), None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    return np.asarray(cv2.GaussianBlur(share, (0, 0), blur), np.float32)


class AreaErrorTest(unittest.TestCase):
    WIDE = shapely.box(4, 4, 16, 12)
    THIN = shapely.box(4, 16, 30, 16.25)

    def errors(self, share: Floats32, **more: bool) -> list[float]:
        known = unevenness(share, 10.0, 1.0)
        return area_errors(known, [self.WIDE, self.THIN], SCALE, 1.0, **more).tolist()

    def test_on_an_even_sheet_only_hairlines_are_unsure(self) -> None:
        wide, thin = self.errors(drawn([self.WIDE, self.THIN]))
        self.assertLess(wide, 0.01)
        self.assertGreater(thin, UNSURE)

    def test_edges_are_no_unevenness(self) -> None:
        """Many small openings close together: no pixel is far from an edge, and none is called uneven for it."""
        many = [
            shapely.box(x, y, x + 1.2, y + 1.2) for x in np.arange(2, 36, 1.8) for y in np.arange(2, 26, 1.8)
        ]
        known = unevenness(drawn(many), 10.0, 1.0)
        self.assertLess(float(area_errors(known, many, SCALE, 1.0).max()), UNSURE)

    def test_grain_beside_an_opening_makes_it_unsure(self) -> None:
        rng = np.random.default_rng(4)
        grain = gaussian_filter(rng.normal(0, 1, (300, 400)), 12)
        share = drawn([self.WIDE, self.THIN])
        plain = self.errors(share)[0]
        uneven = self.errors(share + (0.25 * grain / grain.std()).astype(np.float32))[0]
        self.assertGreater(uneven, 2.5 * plain)

    def test_colour_alone_and_sharpening_make_all_less_sure(self) -> None:
        share = drawn([self.WIDE, self.THIN])
        plain, colour, sharp = (
            self.errors(share),
            self.errors(share, by_colour=True),
            self.errors(share, sharpened=True),
        )
        for n in (0, 1):
            self.assertLess(plain[n], min(sharp[n], colour[n]))

    def test_grain_is_no_sheet(self) -> None:
        """Noise has edges everywhere: nothing of it is an opening, and nothing is looked at grain by grain."""
        from strata.camera import jpeg

        noise = np.random.default_rng(2).integers(0, 256, (900, 700, 3), np.uint8)
        found = trace(jpeg(noise, 60), 100, 130)
        self.assertEqual((found.openings, found.doubtful), ((), ()))
        self.assertIn("No opening was found on this sheet.", found.said)
        self.assertNotIn("No opening was found on this sheet.", found.warnings, "until one is drawn by hand")

    def test_no_openings(self) -> None:
        share = drawn([])
        self.assertEqual(len(area_errors(unevenness(share, 10.0, 1.0), [], SCALE, 1.0)), 0)
        self.assertEqual(doubts([], []), ([], [], []))

    def test_a_hair_is_dust_where_the_picture_shows_it(self) -> None:
        hair = shapely.box(0, 0, 2, 0.09)
        self.assertTrue(_is_dust(hair, 12.0))
        # of four pixels a millimetre nothing can be said of its width
        self.assertFalse(_is_dust(hair, 4.0))
        self.assertFalse(_is_dust(shapely.box(0, 0, 2, 0.2), 12.0))
        self.assertTrue(_is_dust(shapely.box(0, 0, 0.25, 0.25), 12.0))


def size_of(rgb: NDArray[np.uint8]) -> tuple[float, float]:
    """mm of a sheet drawn with ten px each."""
    return rgb.shape[1] / 10, rgb.shape[0] / 10


class ColourTest(unittest.TestCase):
    SHAPES = (shapely.box(3, 3, 15, 12), shapely.box(20, 3, 36, 12), shapely.box(3, 16, 36, 26))

    def sheet(self, table: tuple[int, int, int] = (220, 214, 205)) -> NDArray[np.uint8]:
        share = drawn(list(self.SHAPES))[..., None]
        return np.asarray(np.rint(share * np.array(table) + (1 - share) * np.array([45, 52, 60])), np.uint8)

    def test_a_finger_in_one_of_them(self) -> None:
        rgb = self.sheet()
        rgb[50:90, 40:80] = (205, 150, 125)
        self.assertEqual(other_colour(rgb, list(self.SHAPES), *size_of(rgb)), [0])

    def test_a_small_blot_in_a_large_one_is_not_worth_a_word(self) -> None:
        rgb = self.sheet()
        rgb[200:204, 100:104] = (180, 60, 90)
        self.assertEqual(other_colour(rgb, list(self.SHAPES), *size_of(rgb)), [])

    def test_two_lamps_are_no_finger(self) -> None:
        rgb = self.sheet().astype(float)
        warm = np.linspace(1.0, 0.78, rgb.shape[1])[None, :, None] ** np.array([0, 0.5, 1.0])
        self.assertEqual(
            other_colour(np.rint(rgb * warm).astype(np.uint8), list(self.SHAPES), *size_of(rgb)), []
        )

    def test_a_sheet_that_is_not_quite_so_many_pixels_wide(self) -> None:
        """Straightened to whole blocks: thin openings at the far end were looked for beside where they lie."""
        strip = shapely.box(36.5, 16, 37.3, 26)
        share = drawn([*self.SHAPES[:2], strip])[..., None]
        rgb = np.rint(share * np.array((220, 214, 205)) + (1 - share) * np.array([45, 60, 90])).astype(
            np.uint8
        )
        small = cv2.resize(rgb, None, fx=0.97, fy=0.97, interpolation=cv2.INTER_AREA)
        self.assertEqual(other_colour(small, [*self.SHAPES[:2], strip], *size_of(rgb)), [])

    def test_next_to_nothing_to_see(self) -> None:
        rgb = self.sheet()
        self.assertEqual(other_colour(rgb, [], *size_of(rgb)), [])
        self.assertEqual(other_colour(rgb, [shapely.box(1, 1, 1.3, 1.3)], *size_of(rgb)), [])


class BlindedTest(unittest.TestCase):
    """A light sheet of 100 x 80 mm on a dark table, 5 px/mm."""

    def sheet(self, light: float, lamp: float = 0.0, at: tuple[float, float] = (250, 200)) -> Coarse:
        """``lamp``: by how much it adds at its middle, of 255, some 40 px wide."""
        y, x = np.mgrid[:400, :500].astype(np.float32)
        share = np.zeros((400, 500), np.float32)
        share[40:120, 40:200] = share[240:340, 320:460] = 1
        grain = np.random.default_rng(2).normal(0, 1.5, share.shape)
        spot = lamp * np.exp(-((x - at[0]) ** 2 + (y - at[1]) ** 2) / (2 * 40.0**2))
        tone = np.clip(light * (1 - share) + 40 * share + spot + grain, 0, 255)
        rgb = np.repeat(np.rint(tone).astype(np.uint8)[..., None], 3, axis=2)
        return Coarse(rgb, share, share > 0.7, np.ones_like(share))

    def test_a_lamp_blinds_the_camera_where_it_glints(self) -> None:
        (place,) = blinded_places(self.sheet(205, lamp=160), 100, 80)
        self.assertTrue(place.contains(shapely.Point(50, 40)))
        self.assertLess(place.area, 1000)

    def test_a_lamp_that_leaves_something_to_see_does_not(self) -> None:
        self.assertEqual(blinded_places(self.sheet(170, lamp=60), 100, 80), [])

    def test_a_white_sheet_is_white_all_over(self) -> None:
        self.assertEqual(blinded_places(self.sheet(254), 100, 80), [])

    def test_a_window_at_one_side_is_no_glint(self) -> None:
        """The sheet grows lighter towards it, evenly."""
        own = self.sheet(205)
        slope = np.linspace(0, 48, 500)[None, :, None]
        lit = np.clip(own.rgb + slope, 0, 255).astype(np.uint8)
        self.assertEqual(blinded_places(own._replace(rgb=lit), 100, 80), [])

    def test_next_to_no_sheet(self) -> None:
        own = self.sheet(205, lamp=160)
        self.assertEqual(blinded_places(own._replace(share=np.ones_like(own.share)), 100, 80), [])


class HaloTest(unittest.TestCase):
    """A telephone's sharpening: the level at which the edge is, against edges made step by step."""

    def across(
        self, low: float, high: float, blur: float, amount: float, radius: float, bent: float = 0.0
    ) -> NDArray[np.float64]:
        """Encoded 0..255 over OFFSETS of an edge at nought: light, lens, encoding, tones bent, unsharp mask."""
        fine = np.linspace(-20, 20, 4001)
        light = low + (high - low) * gaussian_filter1d((fine > 0).astype(float), blur * 100)
        seen = encode_srgb(light)
        seen = seen - bent * np.sin(2 * np.pi * seen) / (2 * np.pi)
        seen = np.clip(seen + amount * (seen - gaussian_filter1d(seen, radius * 100)), 0, 1)
        return 255 * np.interp(OFFSETS, fine, seen)

    def edges(self, profile: NDArray[np.float64]) -> Edges:
        """Told from a picture of that edge, upright and a little askew."""
        y, x = np.mgrid[0:300, 0:120].astype(float)
        place = (x - 60 - 0.11 * (y - 150)) / np.hypot(1, 0.11)
        picture = np.rint(np.interp(place, OFFSETS, profile)).astype(np.uint8)
        rows = np.linspace(20, 280, 200)
        feet = np.column_stack([60 + 0.11 * (rows - 150), rows])
        normal = np.array([1.0, -0.11]) / np.hypot(1, 0.11)
        return edges_of(picture, feet, np.repeat(normal[None], len(feet), axis=0))

    def off(self, level: float, profile: NDArray[np.float64], low: float, high: float) -> float:
        """px by which a level (of 1, in light) misses the edge."""
        share = (decode_srgb(profile / 255) - low) / (high - low)
        inner = np.abs(OFFSETS) < 2.5
        return abs(float(np.interp(level, share[inner], OFFSETS[inner])))

    def test_the_level_follows_the_mask(self) -> None:
        """To 0.07 px where tones are not bent, and a third nearer than half-way lies where they are."""
        unbent = itertools.product((0.6, 0.9, 1.5), (1.5, 2.0, 3.0), (0.0,))
        made = [*unbent, (0.9, 1.5, 0.5), (0.9, 2.0, 0.5), (0.6, 3.0, 0.5), (1.5, 1.5, 0.5)]
        for (low, high), (amount, radius, bent) in itertools.product(((0.04, 0.7), (0.2, 0.75)), made):
            profile = self.across(low, high, 0.9, amount, radius, bent)
            told = self.edges(profile)
            sides = decode_srgb(profile[[0, -1]] / 255)
            half, found = (self.off(level, profile, *sides) for level in (0.5, told.lit))
            with self.subTest(low=low, amount=amount, radius=radius, bent=bent):
                self.assertTrue(told.sharpened)
                self.assertLess(
                    told.encoded, 1.5 if amount < 0.9 and radius < 2 else 0, "halos are a camera's"
                )
                self.assertLess(found, 0.65 * half if bent else 0.07)

    def test_what_no_mask_has_made_is_left_at_one_half(self) -> None:
        """A line beside the edge, as lighter as a halo but not where one would be."""
        edge = ndtr(OFFSETS / 1.1) + 0.2 * ((OFFSETS > 3) & (OFFSETS < 5))
        self.assertEqual(level_at_the_edge(edge, OFFSETS, 40, 200), 0.5)

    def test_without_a_halo_it_is_one_half(self) -> None:
        told = self.edges(self.across(0.04, 0.7, 0.9, 0.0, 1.0))
        self.assertEqual(told.lit, 0.5)
        self.assertLess(told.encoded, 0.5)
        self.assertEqual(Edges().lit, 0.5)


class StepsTest(unittest.TestCase):
    def test_a_cubic_lens_there_and_back(self) -> None:
        points = np.random.default_rng(2).uniform(0, 3000, (200, 2))
        for strength in (-0.12, 0.05, 0.15):
            lens = Lens(strength, (1500, 1500), 2100, cubic=True)
            np.testing.assert_allclose(lens.bent_points(lens.straight(points)), points, atol=0.02)

    def test_of_two_kinds_of_lens_the_one_that_fits(self) -> None:
        corners = np.array([[300, 200], [2700, 240], [2640, 2000], [260, 1960]], float)
        t = np.linspace(0.02, 0.98, 200)[:, None]
        for cubic in (False, True):
            true = Lens(0.1, (1500, 1100), float(np.hypot(3000, 2200) / 2), cubic)
            sides = [true.bent_points(corners[i] + t * (corners[(i + 1) % 4] - corners[i])) for i in range(4)]
            found = fit_lens(sides, 3000, 2200)
            self.assertEqual(found.cubic, cubic)
            self.assertAlmostEqual(found.strength, 0.1, delta=0.004)

    def test_the_middle_of_a_lens_of_a_picture_that_was_cut(self) -> None:
        corners = np.array([[300, 200], [2700, 240], [2640, 2000], [260, 1960]], float)
        t, noise = np.linspace(0.02, 0.98, 200)[:, None], np.random.default_rng(4)
        for cubic in (False, True):
            true = Lens(0.1, (1620, 1010), float(np.hypot(3000, 2200) / 2), cubic)
            sides = [true.bent_points(corners[i] + t * (corners[(i + 1) % 4] - corners[i])) for i in range(4)]
            found = fit_lens([s + noise.normal(0, 0.1, s.shape) for s in sides], 3000, 2200)
            self.assertEqual(found.cubic, cubic)
            np.testing.assert_allclose(found.centre, true.centre, atol=8)

    def test_each_opening_is_as_open_as_its_own_middle(self) -> None:
        """Grain and the rim of a shadow; not dirt, nor what is too narrow to have a middle."""
        wide, dirty, line = shapely.box(5, 5, 7, 9), shapely.box(15, 5, 17, 9), shapely.box(25, 5, 25.3, 9)
        share = 0.9 * drawn([wide]) + 0.6 * drawn([dirty]) + 0.9 * drawn([line])
        own = _to_their_own(share.astype(np.float32), 10.0, 2.5 * EVEN)
        self.assertAlmostEqual(float(own[70, 60]), 1.0, delta=0.01)
        self.assertAlmostEqual(float(own[70, 160]), 0.6, delta=0.01)
        np.testing.assert_allclose(own[40:100, 230:], share[40:100, 230:], atol=0.01)
        np.testing.assert_allclose(own[:, :30], 0, atol=1e-5)
        # a halo reaches to the middle of it
        np.testing.assert_allclose(
            _to_their_own(share.astype(np.float32), 10.0, 12.0 * EVEN), share, atol=1e-5
        )

    def test_an_opening_in_half_the_light_is_still_one(self) -> None:
        """A shadow with a hard rim over half of a sheet: both fields follow it within two millimetres."""
        shapes = [shapely.box(x, y, x + 4, y + 3) for x in range(3, 36, 6) for y in range(3, 26, 5)]
        share = drawn(shapes)
        lit = np.where(np.arange(400) < 200, 1.0, 0.45)[None, :].astype(np.float32)
        grey = (20 + share * 180) * lit
        flat = np.ones((75, 100), np.float32)
        bare, opening = closer(np.asarray(grey, np.float32), (20 * flat, 200 * flat), 10.0, EVEN)
        at = [round(20 * bare.shape[0] / 30), *(round(mm * bare.shape[1] / 40) for mm in (5, 35))]
        np.testing.assert_allclose([bare[at[0], at[1]], bare[at[0], at[2]]], [20, 9], rtol=0.12)
        np.testing.assert_allclose([opening[at[0], at[1]], opening[at[0], at[2]]], [200, 90], rtol=0.12)

    def test_what_is_darker_where_openings_are_lighter_is_no_opening(self) -> None:
        import cv2

        shapes = [shapely.box(x, y, x + 3, y + 3) for x in range(4, 34, 6) for y in range(4, 24, 6)]
        rgb = np.repeat((60 + drawn(shapes)[..., None] * 150), 3, axis=2)
        rgb[:, 220:300] *= 0.5
        found = kinds(np.rint(rgb).astype(np.uint8), 10.0)
        assert found is not None
        open_, bare = found.open, found.bare
        shadow = slice(round(open_.shape[1] * 0.57), round(open_.shape[1] * 0.73))
        truth = cv2.resize(drawn(shapes), open_.shape[1::-1], interpolation=cv2.INTER_AREA)
        # nothing of the shadowed plastic is open, and nothing open is taken for plastic
        self.assertFalse((open_[:, shadow] & (truth[:, shadow] < 0.02)).any())
        self.assertFalse((bare & (truth > 0.98)).any())
