"""Where the sheet lies when more than the sheet stands out: something of another tone along a side, a shadow across, specks."""

from __future__ import annotations

import unittest
from typing import Any

import cv2
import numpy as np

from strata.camera import Shot, photograph
from strata.camera.nuisance import shadow
from strata.camera.shot import Lens
from strata.tracing.alongside import side_within
from strata.tracing.corners import find_corners
from strata.tracing.seating import seated
from tests import world
from tools.conditions import DESK, FROSTED, GREEN, KRAFT

_SHADOW = [(0.42, 1.05), (0.52, 0.72), (0.93, 0.74), (1.05, 1.05)]
_USUAL: dict[str, Any] = {
    "width": 1200, "height": 1500, "tilt_x": 0.1, "tilt_y": 0.06, "fills": 0.74, "noise": 0.012, "uneven": 0.3, "seed": 3,
}  # fmt: skip


class TableTest(unittest.TestCase):
    def off(
        self, values: dict[str, Any], across: list[tuple[float, float]] | None = None
    ) -> tuple[float, Any]:
        """mm by which a corner is off at most, and how the sheet was seated."""
        koi = world.koi()
        shot = Shot(**{**_USUAL, **values})
        picture = photograph([o.polygon for o in koi.sheet(1).openings], koi.width, koi.height, shot)
        picture = picture if across is None else shadow(picture, across, soft=30)
        found = seated(picture, koi.width, koi.height)
        own = np.array([[0, 0], [koi.width, 0], [koi.width, koi.height], [0, koi.height]], float)
        true = Lens(shot, koi.width, koi.height).project(own)
        away = np.hypot(*(found.sheet.seat.corners - true).T).max()
        return float(away / np.hypot(*(true[1] - true[0])) * koi.width), found

    def test_a_ruler_along_all_of_a_side_is_no_part_of_a_light_sheet(self) -> None:
        for table in (GREEN, (0.1, 0.07, 0.05)):
            away, found = self.off({"table": table, "plastic": KRAFT, "beside": ("ruler",)})
            self.assertLess(away, 0.3)
            self.assertFalse(found.unlike or found.unsure)

    def test_a_hands_shadow_across_a_corner_takes_no_colour_away(self) -> None:
        for values in (
            {"table": DESK, "plastic": KRAFT},
            {"table": (0.1, 0.07, 0.05), "plastic": KRAFT},
            {"table": GREEN, "grid": 10.0, "plastic": FROSTED},
        ):
            away, found = self.off(values, _SHADOW)
            # a line of the mat that runs beside a side draws it there
            self.assertLess(away, 0.9 if "grid" in values else 0.3)
            self.assertFalse(found.unlike or found.unsure)

    def test_a_size_that_is_not_the_sheets_is_still_said(self) -> None:
        koi = world.koi()
        picture = photograph(
            [o.polygon for o in koi.sheet(1).openings],
            koi.width,
            koi.height,
            Shot(**{**_USUAL, "plastic": KRAFT}),
        )
        self.assertTrue(seated(picture, koi.width, koi.height * 0.8).unlike)


class AlongsideTest(unittest.TestCase):
    QUAD = np.array([[60.0, 50.0], [520.0, 70.0], [500.0, 690.0], [40.0, 660.0]])

    def picture(self, side: int, step: int) -> np.ndarray:
        """A sheet and a strip along one of its sides, a fifth as wide as both."""
        made = np.full((750, 580, 3), 60, np.uint8)
        cv2.fillPoly(made, [np.rint(self.QUAD).astype(np.int32)], (150, 120, 90))
        a, b, c, d = np.roll(self.QUAD, -side, axis=0)
        strip = np.array([a, a + (b - a) / 5, d + (c - d) / 5, d])
        cv2.fillPoly(made, [np.rint(strip).astype(np.int32)], (150 + step, 120 + step, 90 + step))
        return made

    def test_each_side(self) -> None:
        for side in range(4):
            own = np.roll(self.QUAD, -side, axis=0)
            rest = np.array([own[0] + (own[1] - own[0]) / 5, own[1], own[2], own[3] + (own[2] - own[3]) / 5])
            run = np.hypot(*(np.roll(rest, -1, axis=0) - rest).T)
            found = side_within(
                self.picture(side, 60), self.QUAD, float((run[0] + run[2]) / (run[1] + run[3]))
            )
            assert found is not None
            self.assertLess(float(np.abs(np.roll(found, -side, axis=0) - rest).max()), 2.5)

    def test_none_where_there_is_no_line_or_not_at_that_place(self) -> None:
        self.assertIsNone(side_within(self.picture(0, 0), self.QUAD, 0.6))
        self.assertIsNone(side_within(self.picture(0, 60), self.QUAD, 0.4))

    def test_openings_in_a_row_are_no_side(self) -> None:
        made = self.picture(0, 0)
        for y in range(90, 640, 22):
            cv2.rectangle(made, (150, y), (190, y + 9), (60, 60, 60), -1)
        self.assertIsNone(side_within(made, self.QUAD, 0.6))


class SpeckTest(unittest.TestCase):
    def test_an_empty_table_with_specks_has_no_sheet(self) -> None:
        """Some of them are a pixel or two, which span no area: they ended the reading until 0.34."""
        by = np.random.default_rng(0)
        for _ in range(60):
            made = np.full((300, 400, 3), 90, np.uint8)
            for _ in range(by.integers(1, 6)):
                x, y, wide, high = (int(by.integers(0, most)) for most in (399, 299, 4, 4))
                made[y : y + high + 1, x : x + wide + 1] = by.integers(150, 256)
            self.assertTrue(find_corners(made, 0.7).whole)
