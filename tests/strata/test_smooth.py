"""What is known here and there, carried on: blurs on a coarse grid, surfaces past outliers, means of what is near."""

from __future__ import annotations

import unittest

import numpy as np
from scipy.ndimage import gaussian_filter

from strata.tracing.smooth import smooth_model, softened, spread


class SmoothTest(unittest.TestCase):
    def test_a_wide_blur_on_a_coarse_grid_is_as_good(self) -> None:
        """Against another library's, in full resolution."""
        plane = gaussian_filter(
            (np.random.default_rng(3).random((301, 247)) > 0.9).astype(np.float32), 2.0, mode="reflect"
        )
        for sigma in (1.5, 5.0, 9.3, 24.0, 60.0):
            ours, theirs = softened(plane, sigma), gaussian_filter(plane, sigma, mode="reflect")
            self.assertEqual(ours.shape, plane.shape)
            self.assertLess(float(np.abs(ours - theirs).max()), 0.1 * float(theirs.std()), sigma)

    def test_a_surface_goes_past_what_does_not_belong_to_it(self) -> None:
        y, x = np.mgrid[:80, :120].astype(np.float32)
        truth = 100 + 0.2 * x - 0.1 * y + 0.001 * x * y
        seen = truth.copy()
        seen[20:40, 30:60] = 20
        found = smooth_model(seen, np.ones(seen.shape, bool))
        self.assertLess(float(np.abs(found - truth).max()), 0.01)

    def test_a_surface_through_a_line_of_pixels_holds_on_it(self) -> None:
        values = np.full((60, 60), 50, np.float32)
        known = np.zeros(values.shape, bool)
        known[:, 30] = True
        self.assertLess(float(np.abs(smooth_model(values, known) - values)[known].max()), 0.01)

    def test_near_known_places_their_mean_and_far_from_them_nought(self) -> None:
        values = np.full((200, 200), 7, np.float32)
        known = np.zeros(values.shape, bool)
        known[:, :40] = True
        found = spread(values, known, 6.0, 0.02)
        self.assertAlmostEqual(float(found[100, 20]), 7, delta=0.2)
        self.assertAlmostEqual(float(found[100, 180]), 0, delta=0.01)
