"""Colorimetry against colour-science and published pairs."""

import unittest

import numpy as np

from strata.errors import BadValue
from strata.optics import colour


class ColourTest(unittest.TestCase):
    def test_weights_are_what_the_tool_derives(self) -> None:
        from tools.derive_weights import derive, derive_smoothness

        self.assertEqual(derive()["xyz_weights"], colour.XYZ_WEIGHTS.tolist())
        from strata.optics.spectrum import _STEP_WEIGHTS

        np.testing.assert_allclose(derive_smoothness()["step_weights"], _STEP_WEIGHTS, atol=1e-4)

    def test_lab_and_xyz_agree_with_an_independent_library(self) -> None:
        import colour as science

        labs = np.array([[95.8, 0.2, 0.9], [50, -30, 40], [5, 2, -3], [30, 60, -60]], float)
        white_xy = science.XYZ_to_xy(colour.WHITE)
        expected = science.Lab_to_XYZ(labs, white_xy)
        np.testing.assert_allclose(colour.xyz_from_lab(labs), expected, atol=2e-4)
        np.testing.assert_allclose(colour.lab_from_xyz(colour.xyz_from_lab(labs)), labs, atol=1e-9)

    def test_srgb_agrees_with_an_independent_library(self) -> None:
        import colour as science

        for code in ("#ffffff", "#000000", "#3a7f9c", "#e0794a", "#102030"):
            rgb = np.array([int(code[i : i + 2], 16) / 255 for i in (1, 3, 5)])
            d50 = science.CCS_ILLUMINANTS["CIE 1931 2 Degree Standard Observer"]["D50"]
            xyz = science.RGB_to_XYZ(rgb, "sRGB", d50, "Bradford", apply_cctf_decoding=True)
            expected = science.XYZ_to_Lab(xyz, d50)
            np.testing.assert_allclose(colour.lab_of_hex(code), expected, atol=0.15)

    def test_hex_round_trip(self) -> None:
        for code in ("#ffffff", "#000000", "#3a7f9c", "#fe01aa", "#7f7f7f"):
            self.assertEqual(colour.hex_of(colour.lab_of_hex(code)), (code, True))

    def test_a_strong_cyan_is_outside_srgb_and_says_so(self) -> None:
        self.assertFalse(colour.hex_of((55.0, -45.0, -45.0))[1])

    def test_ciede2000_on_published_pairs(self) -> None:
        # Sharma, Wu and Dalal 2005, table 1: pairs 1, 4, 9, 16, 25
        pairs = [
            ((50.0, 2.6772, -79.7751), (50.0, 0.0, -82.7485), 2.0425),
            ((50.0, -1.3802, -84.2814), (50.0, 0.0, -82.7485), 1.0000),
            ((50.0, 2.49, -0.001), (50.0, -2.49, 0.0009), 7.1792),
            ((50.0, 2.5, 0.0), (50.0, 0.0, -2.5), 4.3065),
            ((60.2574, -34.0099, 36.2677), (60.4626, -34.1751, 39.4387), 1.2644),
        ]
        for first, second, expected in pairs:
            self.assertAlmostEqual(colour.difference(first, second), expected, places=3)

    def test_hue_and_chroma(self) -> None:
        self.assertAlmostEqual(colour.hue((50, 0, 10)), 90)
        self.assertAlmostEqual(colour.hue_apart((50, 10, -1), (50, 10, 1)), 11.42, places=2)
        self.assertAlmostEqual(colour.chroma((50, 3, 4)), 5)

    def test_impossible_colours_are_refused_by_name(self) -> None:
        for wrong in ([1, 2], "red", [1, 2, None], [50, 0, float("nan")], [500, 0, 0], [True, 0, 0]):
            with self.assertRaises(BadValue) as caught:
                colour.checked_lab(wrong, "card.lab")
            self.assertTrue(str(caught.exception.field).startswith("card.lab"))
        for wrong in ("#12345", "blue", "#1234567"):
            with self.assertRaises(BadValue):
                colour.lab_of_hex(wrong)
