"""What is looked at in places is the same as of the whole picture: beside a sheet's sides, and where edges are."""

from __future__ import annotations

import unittest

import cv2
import numpy as np
from shapely import Point, Polygon

from strata.tracing.beside import _weights, plane_beside
from strata.tracing.fields import mixed
from strata.tracing.light import curve
from strata.tracing.openness import uphill
from strata.tracing.sides import sampled

LIGHT = curve(of_light=True)


def sheet(corners: np.ndarray, size: tuple[int, int]) -> np.ndarray:
    """A dark sheet with grain on a light table, (h, w, 3)."""
    grain = np.random.default_rng(4).normal(0, 6, (*size, 3))
    picture = np.full((*size, 3), (206, 200, 180), float)
    cv2.fillPoly(picture, [np.rint(corners).astype(np.int32)], (36, 40, 52))
    return np.clip(picture + grain, 0, 255).astype(np.uint8)


class BesideTest(unittest.TestCase):
    def checked(self, corners: np.ndarray, size: tuple[int, int], reach: float, sides: np.ndarray) -> float:
        """The share of the picture that is looked at; within reach of its sides it is as of all of it."""
        rgb = sheet(corners, size)
        own = plane_beside(rgb, corners, LIGHT, sides, reach)
        whole = cv2.GaussianBlur(mixed(rgb, LIGHT, _weights(rgb, corners)), (0, 0), 1.0)
        self.assertGreater(float(np.ptp(whole)), 60)
        line = Polygon(sides).exterior
        by = np.random.default_rng(5)
        for at in by.uniform(0, line.length, 400):
            foot = line.interpolate(at)
            x, y = np.rint(np.array([foot.x, foot.y]) + by.uniform(-reach, reach, 2) / 2**0.5).astype(int)
            if 0 <= x < size[1] and 0 <= y < size[0]:
                self.assertLessEqual(line.distance(Point(x, y)), reach + 1)
                self.assertAlmostEqual(float(own[y, x]), float(whole[y, x]), places=3)
        return float((own != 0).mean())

    def test_a_large_picture_is_looked_at_along_its_sheets_sides(self) -> None:
        corners = np.array([[310.0, 240.0], [2130.0, 300.0], [2060.0, 2710.0], [260.0, 2600.0]])
        self.assertLess(self.checked(corners, (3000, 2400), 20.0, corners), 0.45)

    def test_sides_that_a_lens_bends_are_followed(self) -> None:
        corners = np.array([[300.0, 300.0], [1700.0, 300.0], [1700.0, 1500.0], [300.0, 1500.0]])
        t = np.linspace(0, 1, 40, endpoint=False)[:, None]
        ends = np.roll(corners, -1, axis=0)
        out = np.array([[0.0, -1.0], [1.0, 0.0], [0.0, 1.0], [-1.0, 0.0]])
        bent = [a + t * (b - a) + 240 * t * (1 - t) * o for a, b, o in zip(corners, ends, out, strict=True)]
        self.assertLess(self.checked(corners, (1800, 2000), 12.0, np.vstack(bent)), 0.7)

    def test_a_corner_outside_the_picture_and_a_picture_of_no_whole_tiles(self) -> None:
        corners = np.array([[-90.0, 40.0], [700.0, -60.0], [760.0, 560.0], [30.0, 640.0]])
        self.checked(corners, (601, 733), 15.0, corners)


class SampledTest(unittest.TestCase):
    def test_any_number_of_points_in_any_shape(self) -> None:
        y, x = np.mgrid[:50, :70]
        picture = (3.0 * x - 2.0 * y).astype(np.float32)
        many = np.random.default_rng(6).uniform(1, 48, (70_001, 2))
        self.assertLess(float(np.abs(sampled(picture, many) - many @ [3.0, -2.0]).max()), 0.1)
        block = many[:60].reshape(3, 4, 5, 2)
        found = sampled(np.dstack([picture] * 3), block)
        self.assertEqual(found.shape, (3, 4, 5, 3))
        self.assertLess(float(np.abs(found[..., 1] - block @ [3.0, -2.0]).max()), 0.1)


class UphillTest(unittest.TestCase):
    def test_it_is_the_slope_of_the_plane_made_soft(self) -> None:
        rng = np.random.default_rng(6)
        share = cv2.GaussianBlur(rng.uniform(-0.3, 1.4, (90, 120)).astype(np.float32), (0, 0), 0.8)
        soft = cv2.copyMakeBorder(share, 8, 8, 8, 8, cv2.BORDER_REPLICATE)
        soft = cv2.GaussianBlur(soft, (0, 0), 1.0)
        y, x = (v.ravel().astype(np.int32) for v in np.mgrid[:90, :120])
        own_y, own_x = y + 8, x + 8
        across = soft[own_y, own_x + 1] - soft[own_y, own_x - 1]
        down = soft[own_y + 1, own_x] - soft[own_y - 1, own_x]
        self.assertGreater(float(np.abs(across).max()), 0.3)
        np.testing.assert_allclose(uphill(share, x, y), np.column_stack([across, down]), atol=2e-6)
