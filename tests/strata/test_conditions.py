"""The yardstick itself: what the table of conditions counts as missed, split, invented, wrong and silent; and its tables."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np
import shapely

from strata.camera import Shot, photograph
from strata.camera.nuisance import dusty, lamps, out_of_focus, sharpened
from strata.camera.shot import Lens
from strata.camera.surfaces import SURFACES, beside, over_the_table, printed_on, rounded
from tools.conditions import CONDITIONS, USUAL, judged

TRUE = [shapely.box(x, 0, x + 4, 4) for x in range(0, 40, 8)]


def row(found: list[Any], doubtful: tuple[bool, ...] = (), places: tuple[Any, ...] = ()) -> Any:
    return judged("any", "coarse", TRUE, found, doubtful or (False,) * len(found), places, ())


class JudgedTest(unittest.TestCase):
    def test_all_as_they_are(self) -> None:
        same = row(list(TRUE))
        self.assertTrue(same.whole)
        self.assertEqual((same.openings, same.iou, same.silent, same.off), (5, 1.0, 0, 0))

    def test_what_is_missed_is_silent_unless_its_place_is_told(self) -> None:
        self.assertEqual((row(TRUE[1:]).missed, row(TRUE[1:]).silent), (1, 1))
        told = row(TRUE[1:], places=(shapely.box(1, 1, 2, 2),))
        self.assertEqual((told.missed, told.silent, told.whole), (1, 0, False))

    def test_what_is_invented_is_silent_unless_doubtful(self) -> None:
        more = [*TRUE, shapely.box(0, 20, 1, 21)]
        self.assertEqual((row(more).invented, row(more).silent), (1, 1))
        said = row(more, (False,) * 5 + (True,))
        self.assertEqual((said.invented, said.silent, said.doubted, said.in_vain), (1, 0, 1, 0))

    def test_split_and_joined(self) -> None:
        halves = [shapely.box(0, 0, 1.8, 4), shapely.box(2.2, 0, 4, 4), *TRUE[1:]]
        self.assertEqual((row(halves).split, row(halves).off, row(halves).silent), (1, 1, 1))
        joined = [shapely.box(0, 0, 12, 4), *TRUE[2:]]
        self.assertEqual(row(joined).off, 2)
        self.assertEqual(row(joined, (True, False, False, False)).silent, 0)

    def test_three_percent(self) -> None:
        wider, wide = shapely.box(0, 0, 4, 4.16), shapely.box(0, 0, 4, 4.1)
        self.assertEqual((row([wider, *TRUE[1:]]).off, row([wide, *TRUE[1:]]).off), (1, 0))

    def test_doubts_in_vain(self) -> None:
        self.assertEqual(row(list(TRUE), (True,) * 5).in_vain, 5)

    def test_there_are_thirty_and_more_conditions_that_a_camera_can_take(self) -> None:
        self.assertGreaterEqual(len(CONDITIONS), 30)
        for name, (values, _) in CONDITIONS.items():
            with self.subTest(name):
                Shot(**{**USUAL, **values})


class SurfaceTest(unittest.TestCase):
    SHOT = Shot(width=300, height=360, tilt_x=0.1, roll=0.1, fills=0.6)

    def test_places_on_the_table(self) -> None:
        """The way back from a pixel is where the lens put it."""
        lens = Lens(self.SHOT, 100, 120)
        x, y = over_the_table(lens)
        mm = np.array([[10.0, 20], [80, 100], [-12, 60]])
        for (u, v), (at_x, at_y) in zip(lens.project(mm, flat=True), mm, strict=True):
            column, line = int(u), int(v)
            self.assertAlmostEqual(float(x[line, column]), at_x, delta=0.7)
            self.assertAlmostEqual(float(y[line, column]), at_y, delta=0.7)

    def test_tables_are_what_they_are_called(self) -> None:
        lens = Lens(self.SHOT, 100, 120)
        for name, made in SURFACES.items():
            pattern = made(lens)
            with self.subTest(name):
                self.assertEqual(pattern.shape, (360, 300))
                np.testing.assert_array_equal(pattern, made(lens))
                self.assertGreater(float(pattern.std()), 0.03)
                self.assertTrue(float(pattern.min()) > 0.2 and float(pattern.max()) < 1.6)

    def test_what_lies_beside_and_on_it(self) -> None:
        lens = Lens(Shot(width=300, height=360, beside=("ruler", "second sheet", "paper")), 100, 120)
        things = beside(lens)
        self.assertGreater(len(things), 100)
        ruler = shapely.Polygon(things[0][0])
        # it touches the sheet and lies not on it
        self.assertEqual(ruler.intersection(shapely.box(0, 0, 100, 120)).area, 0)
        self.assertEqual(shapely.distance(ruler, shapely.box(0, 0, 100, 120)), 0)
        letters = printed_on(100, 120)
        self.assertTrue(all(shapely.box(0, 110, 100, 120).contains(letter) for letter in letters))
        self.assertAlmostEqual(rounded(100, 120, 10).area, 100 * 120 - (4 - np.pi) * 100, delta=5)
        self.assertEqual(rounded(100, 120, 0).area, 12_000)

    def test_what_a_lens_spreads_is_light(self) -> None:
        """A white dot out of focus: its light is kept; as encoded values most of it would be lost."""
        picture = np.zeros((60, 60, 3), np.uint8)
        picture[28:32, 28:32] = 255
        from strata.optics.colour import linear_of_bytes

        soft = out_of_focus(picture, 2.0)
        self.assertAlmostEqual(
            float(linear_of_bytes(soft).sum()), float(linear_of_bytes(picture).sum()), delta=1.5
        )

    def test_nuisances_leave_the_picture_as_large_as_it_was(self) -> None:
        picture = photograph([shapely.box(20, 20, 60, 80)], 100, 120, self.SHOT)
        before = picture.copy()
        for seen in (
            sharpened(picture),
            dusty(picture),
            lamps(picture, [(0.2, 0.2, (1.0, 0.8, 0.6)), (0.8, 0.8, (0.6, 0.8, 1.0))]),
        ):
            self.assertEqual((seen.shape, seen.dtype), (picture.shape, np.dtype(np.uint8)))
            self.assertFalse(np.array_equal(seen, picture))
        np.testing.assert_array_equal(picture, before)
        halo = int(sharpened(picture).max()) - int(picture.max())
        self.assertGreater(halo, 5)
