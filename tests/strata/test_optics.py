"""Spectra, the layer law, inks and stacks: limits that must hold, and the craft's own sanity."""

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from strata.errors import BadValue
from strata.optics import Coat, Stock, Swatch, chroma, difference, hue, predict
from strata.optics import layers as law
from strata.optics.colour import XYZ_WEIGHTS, hue_apart, lab_from_xyz
from strata.optics.inks import CHEMISTRIES, Ink, chemistry
from strata.optics.spectrum import reflectance
from strata.optics.stack import take
from tests import world

SHARE = st.floats(0.01, 0.99)
AMOUNT = st.floats(0.0, 6.0)


def band(value: float) -> np.ndarray:
    return np.array([value])


class SpectrumTest(unittest.TestCase):
    def test_a_reflectance_has_its_colour_and_stays_within_bounds(self) -> None:
        for lab in (
            (95.8, 0.2, 0.9),
            (36.0, 3.0, -46.0),
            (53.0, 60.0, 4.5),
            (89.0, -1.0, 80.0),
            (18.0, 0.0, 0.0),
        ):
            r = reflectance(lab)
            self.assertTrue(np.all((r > 0) & (r < 1)))
            self.assertLess(difference(tuple(lab_from_xyz(XYZ_WEIGHTS @ r)), lab), 0.01)

    def test_a_colour_no_surface_has_gives_the_nearest_of_its_hue(self) -> None:
        r = reflectance((97.0, 60.0, -60.0))
        self.assertTrue(np.all((r > 0) & (r < 1)))
        found = tuple(float(v) for v in lab_from_xyz(XYZ_WEIGHTS @ r))
        self.assertAlmostEqual(found[0], 97.0, delta=0.2)
        self.assertLess(chroma(found), 40)
        for lab in ((0.0, 0.0, 0.0), (100.0, 0.0, 0.0), (110.0, 150.0, 150.0), (1.0, -150.0, 0.0)):
            self.assertTrue(np.all(np.isfinite(reflectance(lab))))


class LayerLawTest(unittest.TestCase):
    @given(SHARE)
    def test_inside_and_outside_undo_each_other(self, share: float) -> None:
        seen = band(law.SURFACE + (1 - law.SURFACE) * share)
        self.assertAlmostEqual(float(law.outside(law.inside(seen))[0]), float(seen[0]), places=9)

    @given(SHARE, AMOUNT, AMOUNT)
    def test_no_thickness_leaves_the_substrate(self, ground: float, k: float, s: float) -> None:
        thin = law.over(band(ground), band(k * 1e-9), band(s * 1e-9))
        self.assertAlmostEqual(float(thin[0]), ground, places=6)

    @given(SHARE, st.floats(0.05, 3.0), st.floats(0.05, 3.0))
    def test_endless_thickness_is_the_masstone(self, ground: float, k: float, s: float) -> None:
        thick = float(law.over(band(ground), band(k * 400), band(s * 400))[0])
        a = 1 + k / s
        self.assertAlmostEqual(thick, a - np.sqrt(a * a - 1), places=6)

    @given(SHARE, AMOUNT)
    def test_without_scattering_it_is_the_dye_law(self, ground: float, k: float) -> None:
        self.assertAlmostEqual(
            float(law.over(band(ground), band(k), band(0.0))[0]), ground * np.exp(-2 * k), places=7
        )

    @given(SHARE, AMOUNT, AMOUNT)
    def test_one_coat_of_two_is_two_coats_of_one(self, ground: float, k: float, s: float) -> None:
        once = law.over(band(ground), band(2 * k), band(2 * s))
        twice = law.over(law.over(band(ground), band(k), band(s)), band(k), band(s))
        self.assertAlmostEqual(float(once[0]), float(twice[0]), places=6)

    @given(st.floats(0.02, 3.0), st.floats(0.1, 5.0))
    @settings(deadline=None)
    def test_two_cards_give_back_absorption_and_scattering(self, k: float, s: float) -> None:
        white, black = band(0.988), band(0.105)
        found = law.scattering_pair(
            law.over(white, band(k), band(s)), law.over(black, band(k), band(s)), white, black
        )
        self.assertAlmostEqual(float(found[0][0]), k, delta=1e-4 + 1e-3 * k)
        self.assertAlmostEqual(float(found[1][0]), s, delta=1e-4 + 1e-3 * s)

    def test_noisy_readings_are_clipped_not_fatal(self) -> None:
        k, s = law.scattering_pair(band(0.3), band(0.6), band(0.988), band(0.105))
        self.assertTrue(np.all(np.isfinite([k, s])))


class InkTest(unittest.TestCase):
    def test_every_swatch_of_the_demo_drawer_comes_back(self) -> None:
        for ink in world.drawer().inks:
            for swatch in ink.swatches:
                seen = predict(Stock(swatch.on), [Coat(ink, swatch.coats)])
                self.assertLess(difference(seen, swatch.lab), 1.5, f"{ink.name} {swatch}")

    def test_a_dye_all_but_vanishes_on_black(self) -> None:
        black = Stock(world.BLACK)
        dyes = [ink for ink in world.drawer().inks if not ink.chemistry.opaque]
        shown = [difference(predict(black, [Coat(ink, 1)]), world.BLACK) for ink in dyes]
        self.assertLess(np.mean(shown), 4)
        self.assertLess(max(shown), 8)

    def test_an_opaque_ink_seen_on_white_only_is_an_estimate(self) -> None:
        swatch = Swatch(world.WHITE, 1, (50.0, 55.0, 20.0))
        guess = Ink("r", CHEMISTRIES["pigment"], (swatch,))
        self.assertTrue(guess.estimated)
        self.assertLess(difference(predict(Stock(world.WHITE), [Coat(guess, 1)]), swatch.lab), 0.5)
        on_black = predict(Stock(world.BLACK), [Coat(guess, 1)])
        self.assertGreater(difference(on_black, world.BLACK), 8)
        self.assertFalse(world.inks()["whitewash"].estimated)

    def test_coats_deepen_and_run_on_past_the_last_measured(self) -> None:
        ink = world.inks()["weir-water"]
        lights = [predict(Stock(world.WHITE), [Coat(ink, n)])[0] for n in (0.5, 1, 1.6, 2, 3, 4, 5)]
        self.assertEqual(lights, sorted(lights, reverse=True))

    def test_brightened_card_does_not_crash(self) -> None:
        brighter = Ink("b", CHEMISTRIES["dye"], (Swatch((90.0, 0.0, 0.0), 1, (92.0, 0.0, -3.0)),))
        self.assertLess(
            difference(predict(Stock((90.0, 0.0, 0.0)), [Coat(brighter, 1)]), (90.0, 0.0, 0.0)), 4
        )

    def test_wrong_values_are_refused(self) -> None:
        with self.assertRaises(BadValue):
            Ink("x", CHEMISTRIES["dye"], ())
        with self.assertRaises(BadValue):
            Swatch(world.WHITE, 0, (50.0, 0.0, 0.0))
        with self.assertRaises(BadValue):
            chemistry("crayon")
        with self.assertRaises(BadValue):
            Coat(world.inks()["campion"], -1)


class StackTest(unittest.TestCase):
    def test_nothing_laid_is_exactly_the_card(self) -> None:
        self.assertEqual(predict(Stock((66.5, 8.4, 24.2)), []), (66.5, 8.4, 24.2))

    def test_light_blue_on_kraft_turns_grey_green(self) -> None:
        kraft = world.stocks()["Kraft"]
        seen = predict(kraft, [Coat(world.inks()["thin-ice"], 1)])
        self.assertLess(chroma(seen), 0.6 * chroma(kraft.lab))
        self.assertLess(seen[1], kraft.lab[1] - 4)

    def test_dark_blue_over_mid_green_about_halves_its_lightness(self) -> None:
        green, blue = world.inks()["lily-leaf"], world.inks()["lock-midnight"]
        white = Stock(world.WHITE)
        before, after = (predict(white, [Coat(green, 1)]), predict(white, [Coat(green, 1), Coat(blue, 1)]))
        self.assertTrue(0.35 < after[0] / before[0] < 0.65)

    def test_yellow_over_violet_changes_it_but_is_not_yellow(self) -> None:
        violet, yellow = world.inks()["sloe"], world.inks()["cabin-lamp"]
        white = Stock(world.WHITE)
        alone, before = predict(white, [Coat(yellow, 1)]), predict(white, [Coat(violet, 1)])
        after = predict(white, [Coat(violet, 1), Coat(yellow, 1)])
        self.assertGreater(difference(before, after), 5)
        self.assertLess(chroma(after), 0.5 * chroma(alone))

    def test_wet_ink_takes_less_and_dry_ink_takes_all(self) -> None:
        self.assertEqual(take(5.0, wet=False), 1.0)
        self.assertEqual(take(0.0, wet=True), 1.0)
        self.assertAlmostEqual(take(1e9, wet=True), 0.65)
        a, b = world.inks()["long-pound"], world.inks()["lily-leaf"]
        white = Stock(world.WHITE)
        dry = predict(white, [Coat(a, 1), Coat(b, 1)])
        wet = predict(white, [Coat(a, 1), Coat(b, 1, wet=True)])
        self.assertGreater(wet[0], dry[0])

    def test_white_pigment_brings_a_dye_back_on_black(self) -> None:
        dye, white = world.inks()["campion"], world.inks()["whitewash"]
        black = Stock(world.BLACK)
        seen = predict(black, [Coat(white, 2), Coat(dye, 1)])
        self.assertGreater(chroma(seen), 30)
        self.assertLess(hue_apart(seen, predict(Stock(world.WHITE), [Coat(dye, 1)])), 25)

    def test_pale_blue_over_violet_moves_to_periwinkle(self) -> None:
        seen = predict(
            Stock(world.WHITE), [Coat(world.inks()["dusk-mist"], 1), Coat(world.inks()["thin-ice"], 1)]
        )
        self.assertTrue(255 < hue(seen) < 310)
