"""A ruler beside a sheet whose size nobody has said: its strokes, and what is none."""

from __future__ import annotations

import unittest
from typing import Any
from unittest import mock

import numpy as np
from numpy.typing import NDArray

from strata.camera import Shot, photograph
from strata.camera.nuisance import shadow
from strata.tracing.ruler import larger_by_ruler
from strata.tracing.seating import GUESSED_LONG_SIDE, seated
from strata.tracing.trace import traced
from tests import world

OAK, GREEN, WHITE = (0.42, 0.27, 0.15), (0.03, 0.14, 0.10), (0.75, 0.75, 0.74)


def pictured(**values: Any) -> NDArray[np.uint8]:
    """A photograph of the demo stencil's first sheet."""
    koi = world.koi()
    usual = {
        "width": 1500,
        "height": 1875,
        "tilt_x": 0.1,
        "tilt_y": 0.06,
        "fills": 0.66,
        "quality": 80,
        "seed": 4,
    }
    shapes = [o.polygon for o in koi.sheet(1).openings]
    return photograph(shapes, koi.width, koi.height, Shot(**{**usual, **values}))


def told(**values: Any) -> float | None:
    """By how many times it is larger than it was taken to be, of what it truly is."""
    koi, rgb = world.koi(), pictured(**values)
    sheet = seated(rgb).sheet
    by = larger_by_ruler(rgb, sheet.seat, sheet.width, sheet.height)
    return None if by is None else by * GUESSED_LONG_SIDE / max(koi.width, koi.height)


class RulerTest(unittest.TestCase):
    def test_millimetres_and_sixteenths_of_an_inch(self) -> None:
        wood = {"table": OAK, "surface": "wood"}
        cases = (
            ("ruler", {}),
            ("ruler", {"roll": 0.3, "noise": 0.04}),
            ("inch ruler", {}),
            ("inch ruler", wood),
        )
        for thing, how in cases:
            with self.subTest(thing=thing, **how):
                self.assertAlmostEqual(told(beside=(thing,), **how) or 0, 1, delta=0.005)

    def test_of_a_sheet_that_is_not_clearly_seen_no_size_is_told(self) -> None:
        """Whatever its strokes say: what was taken for the sheet is half the table."""
        hidden = {
            "table": OAK,
            "surface": "wood",
            "plastic": (0.45, 0.33, 0.22),
            "width": 1800,
            "height": 2250,
        }
        half = [(0, 0.4), (1, 0.5), (1, 1), (0, 1)]
        picture = shadow(pictured(beside=("inch ruler",), **hidden), half, depth=0.7)
        with mock.patch("strata.tracing.trace.larger_by_ruler", return_value=1.2):
            found = traced([picture], ruler=True)
        self.assertIn("corners of the sheet were not clear", " ".join(found.warnings))
        self.assertIsNone(found.by_ruler)

    def test_what_is_no_ruler(self) -> None:
        mat = {"table": GREEN, "plastic": WHITE, "grid": 10.0}
        for how in ({}, mat, {"surface": "newsprint"}):
            with self.subTest(**how):
                self.assertIsNone(told(**how))
