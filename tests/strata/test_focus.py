"""How wide edges are from place to place: a lens that is sharp in its middle, or at one end, only."""

from __future__ import annotations

import unittest

import cv2
import numpy as np
import shapely

from strata.camera import Shot, jpeg, photograph
from strata.camera.nuisance import in_focus_at
from strata.tracing import trace
from strata.tracing.focus import EVEN, edge_px, there, unsharp, wider_at
from strata.tracing.inexact import area_errors, unevenness
from tests import world
from tools.conditions import judged

SIZE, APART = 960, 80
# px


def _dots(left: float, right: float) -> np.ndarray:
    """(h, w) how open a sheet of dots is whose edges are ``left`` px wide at its left, ``right`` px at its right, and between
    them on the way."""
    plane = np.zeros((SIZE, SIZE), np.float32)
    for x in range(APART // 2, SIZE, APART):
        for y in range(APART // 2, SIZE, APART):
            cv2.circle(plane, (x, y), 25, 1.0, -1, cv2.LINE_AA)
    own = np.linspace(left, right, SIZE // APART)
    return np.hstack(
        [cv2.GaussianBlur(plane, (0, 0), s)[:, APART * n : APART * (n + 1)] for n, s in enumerate(own)]
    )


def _of_pixels(blur: np.ndarray) -> np.ndarray:
    """How wide an edge of so much ``blur`` (px) is by what differs between two pixels two apart: a box of two more."""
    return np.sqrt(np.square(blur) + 2**2 / 12)


class WiderTest(unittest.TestCase):
    def test_each_place_has_edges_of_its_own_width(self) -> None:
        share = _dots(1.5, 4.0)
        usual = edge_px([share])
        own = _of_pixels(np.linspace(1.5, 4.0, 10))
        # a quarter of its rows tells as much
        for bands in ([share], [share[a : a + 12] for a in range(0, SIZE, 48)]):
            field = usual * wider_at(bands, usual)
            np.testing.assert_allclose(field, np.tile(own, (10, 1)), rtol=0.08)
        ends = there(field / usual, np.array([[0.05, 0.5], [0.95, 0.5]]))
        np.testing.assert_allclose(ends, [1, own[-1] / usual], rtol=0.08)

    def test_what_is_as_sharp_everywhere_is_told_to_be_so(self) -> None:
        for px in (1.3, 3.0):
            share = _dots(px, px)
            self.assertAlmostEqual(edge_px([share]), float(_of_pixels(px)), delta=0.03 * px)
            np.testing.assert_allclose(wider_at([share], float(_of_pixels(px))), 1.0, atol=0.06)

    def test_skirts_and_bare_sheets_are_no_edges(self) -> None:
        bare = np.zeros((400, 300), np.float32)
        np.testing.assert_array_equal(wider_at([bare], 1.3), EVEN)
        glow = _dots(1.3, 1.3)
        # a glint over one corner goes over into the sheet within a hundred pixels
        y, x = np.mgrid[:SIZE, :SIZE] / SIZE
        glow = np.maximum(glow, np.clip(1.2 - 4 * np.hypot(x, y), 0, 1)).astype(np.float32)
        np.testing.assert_allclose(wider_at([glow], float(_of_pixels(1.3)))[5:, 5:], 1.0, atol=0.1)
        self.assertAlmostEqual(edge_px([glow]), float(_of_pixels(1.3)), delta=0.1)

    def test_where_it_is_not_sharp_is_said_in_words(self) -> None:
        field = np.full((10, 10), 1.3, np.float32)
        self.assertIsNone(unsharp(field, 10.0))
        # few pixels to the millimetre are no lens's fault
        self.assertIsNone(unsharp(field, 5.0))
        self.assertEqual(unsharp(np.full((10, 10), 4.0, np.float32), 10.0), "")
        low, corner, rim = field.copy(), field.copy(), np.full((10, 10), 4.0, np.float32)
        low[7:], corner[:4, 6:], rim[2:8, 2:8] = 4.0, 4.0, 1.3
        self.assertEqual(unsharp(low, 10.0), " at its bottom")
        self.assertEqual(unsharp(corner, 10.0), " at its top right")
        self.assertEqual(unsharp(rim, 10.0), " towards its edges")

    def test_an_opening_is_as_sure_as_its_place_is_sharp(self) -> None:
        share = _dots(1.3, 4.0)
        uneven = unevenness(share + 0.02 * np.sin(np.arange(SIZE) / 15).astype(np.float32), 10.0, 1.3)
        shapes = [shapely.Point(x, 54).buffer(2.5) for x in (6, 94)]
        scale = np.array([10.0, 10.0])
        even = area_errors(uneven, shapes, scale, 2.0)
        own = area_errors(uneven, shapes, scale, 2.0, wider=wider_at([share], 2.0))
        # nothing is surer than where edges are as wide as usual
        self.assertAlmostEqual(own[0], even[0])
        self.assertGreater(own[1], 1.3 * even[1])
        np.testing.assert_allclose(area_errors(uneven, shapes, scale, 2.0, wider=EVEN), even)


class PictureTest(unittest.TestCase):
    def _read(self, at: tuple[float, float], sigma: float) -> tuple[int, tuple[str, ...]]:
        """How many openings of a sheet are wrong in silence, and what is said of its photograph."""
        koi = world.koi()
        sheet = koi.sheet(1)
        shapes = [*(o.polygon for o in sheet.openings), *sheet.marks]
        shot = Shot(2400, 3000, tilt_x=0.1, tilt_y=0.06, fills=0.78, noise=0.012, uneven=0.3, seed=51)
        picture = in_focus_at(photograph(shapes, koi.width, koi.height, shot), at, sigma)
        found = trace(jpeg(picture, 80), koi.width, koi.height)
        places = [*found.places, *found.blinded]
        row = judged("", "coarse", shapes, list(found.openings), found.doubtful, places, found.said)
        self.assertGreater(row.iou, 0.98)
        return row.silent, found.said

    def test_thin_lines_in_a_corner_that_is_less_sharp_are_as_wide_as_they_are(self) -> None:
        silent, said = self._read((0.5, 0.5), 3.0)
        self.assertEqual(silent, 0)
        self.assertFalse(any("not sharp" in s for s in said), said)

    def test_a_sheet_whose_far_end_is_out_of_focus_says_so(self) -> None:
        silent, said = self._read((0.5, 0.02), 4.5)
        self.assertEqual(silent, 0)
        self.assertTrue(any("not sharp at its bottom" in s for s in said), said)


if __name__ == "__main__":
    unittest.main()
