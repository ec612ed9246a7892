"""Outlines at a level: against another algorithm of the library, over seams, with holes, and on planes with steps."""

import unittest

import cv2
import numpy as np
import shapely
from contourpy import FillType, contour_generator
from shapely import Polygon

from strata.tracing.openings import _BAND, _outlines


def otherwise(plane: np.ndarray, level: float) -> list[Polygon]:
    """The same by the algorithm that tells holes from outlines as it goes, in one piece."""
    lines = contour_generator(z=plane.astype(float), fill_type=FillType.OuterOffset, name="serial").filled(
        level, 10.0
    )
    rings = [np.split(p, o[1:-1]) for p, o in zip(*lines, strict=True)]
    return [Polygon(own[0], own[1:]) for own in rings]


class OutlinesTest(unittest.TestCase):
    def cloud(self, seed: int, soft: float) -> np.ndarray:
        """Islands with lakes, and islands in these; two seams and the edges of the plane cut some."""
        seen = np.random.default_rng(seed).random((2 * _BAND + 90, 90))
        seen = cv2.GaussianBlur(seen, (0, 0), soft)
        low, high = seen.min(), seen.max()
        return ((seen - low) / (high - low)).astype(np.float32)

    def hold(self, plane: np.ndarray, level: float) -> tuple[list[Polygon], list[Polygon]]:
        found, true = _outlines(plane, level), otherwise(plane, level)
        whole = [shapely.union_all(shapely.make_valid(some)) for some in (found, true)]
        self.assertLess(whole[0].symmetric_difference(whole[1]).area, 1e-6)
        return found, true

    def test_islands_lakes_and_islands_in_lakes(self) -> None:
        for seed, soft in enumerate((1.0, 2.0, 4.0)):
            for level in (0.35, 0.5):
                with self.subTest(soft=soft, level=level):
                    found, true = self.hold(self.cloud(seed, soft), level)
                    self.assertEqual(len(found), len(true))
                    holes = [sum(len(p.interiors) for p in some) for some in (found, true)]
                    self.assertEqual(holes[0], holes[1])
                    self.assertGreater(holes[0], 3)

    def test_steps_that_lie_at_the_level(self) -> None:
        """A plane of few values has pixels that are exactly as open as counts as open."""
        for seed in range(2):
            with self.subTest(seed=seed):
                self.hold(np.round(self.cloud(seed, 2.0) * 8) / 8, 0.5)


if __name__ == "__main__":
    unittest.main()
