"""Spectra, the layer law, inks and stacks: limits that must hold, and the craft's own sanity."""

import itertools
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from strata.errors import BadValue
from strata.optics import Coat, Stock, Swatch, chroma, difference, hue, predict
from strata.optics import layers as law
from strata.optics.colour import XYZ_WEIGHTS, hue_apart, lab_from_xyz, lab_of_hex, xyz_from_lab
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

    def test_a_colour_no_surface_has_gives_the_last_one_towards_the_middle(self) -> None:
        middle = XYZ_WEIGHTS @ np.full(36, law.SURFACE + 0.2 * (1 - law.SURFACE))
        for lab in ((97.0, 60.0, -60.0), (60.0, 120.0, 90.0)):
            r = reflectance(lab)
            self.assertTrue(np.all((r > 0) & (r < 1)))
            wanted, found = xyz_from_lab(np.array(lab)) - middle, XYZ_WEIGHTS @ r - middle
            share = float(found @ wanted / (wanted @ wanted))
            self.assertTrue(0 < share < 1, "on the way from the middle to what was asked for")
            np.testing.assert_allclose(found, share * wanted, atol=1e-4)
            # a hair's breadth in what is asked is one in what is answered
            near = reflectance((lab[0], lab[1] + 0.01, lab[2]))
            self.assertLess(
                difference(tuple(lab_from_xyz(XYZ_WEIGHTS @ near)), tuple(lab_from_xyz(XYZ_WEIGHTS @ r))), 0.1
            )
        for lab in ((0.0, 0.0, 0.0), (100.0, 0.0, 0.0), (110.0, 150.0, 150.0), (1.0, -150.0, 0.0)):
            self.assertTrue(np.all(np.isfinite(reflectance(lab))))


class LayerLawTest(unittest.TestCase):
    @given(SHARE, st.sampled_from(law.FINISHES))
    def test_inside_and_outside_undo_each_other(self, share: float, finish: str) -> None:
        seen = band(law.SURFACE + (1 - law.SURFACE) * share)
        back = law.outside(law.inside(seen, finish), finish)
        self.assertAlmostEqual(float(back[0]), float(seen[0]), places=9)

    @given(SHARE, AMOUNT, st.floats(0.0, 0.08))
    def test_the_quick_form_for_clear_inks_agrees(self, ground: float, k: float, s: float) -> None:
        quick = law.hardly_scattering(band(ground), band(k), band(s))
        self.assertAlmostEqual(
            float(quick[0]), float(law.over(band(ground), band(k), band(s))[0]), delta=1.5e-3
        )

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
        self.assertLess(np.mean(shown), 7)
        self.assertLess(max(shown), 13)

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

    def test_a_screen_colour_comes_back_from_its_own_card(self) -> None:
        rng = np.random.default_rng(11)
        off = []
        while len(off) < 600:
            lab = lab_of_hex("#" + rng.bytes(3).hex())
            if lab[0] >= 20:
                for finish in ("coated", "absorbent"):
                    ink = Ink("x", CHEMISTRIES["dye"], (Swatch(world.WHITE, 1, lab, finish=finish),))
                    off.append(difference(predict(Stock(world.WHITE, finish=finish), [Coat(ink, 1)]), lab))
        self.assertGreater(np.mean(np.array(off) < 1), 0.96)
        self.assertLess(max(off), 4)

    def test_no_jump_where_a_second_card_begins_to_count(self) -> None:
        white, colour = (95.0, 0.0, 0.0), (50.0, 40.0, 20.0)
        for chemistry_key, step in (("pigment", 1.5), ("dye", 1.0)):
            seen = []
            for dark in np.arange(60.0, 80.0, 0.5 if chemistry_key == "pigment" else 0.25):
                second = Swatch((float(dark), 0.0, 0.0), 1, (45.0, 30.0, 15.0))
                ink = Ink("x", CHEMISTRIES[chemistry_key], (Swatch(white, 1, colour), second))
                seen.append(predict(Stock((20.0, 0.0, 0.0)), [Coat(ink, 1)]))
            steps = [difference(a, b) for a, b in itertools.pairwise(seen)]
            self.assertLess(max(steps), step, chemistry_key)

    def test_the_finish_belongs_to_the_card_and_to_its_swatches(self) -> None:
        on = {f: Stock(world.WHITE, finish=f) for f in ("", "coated", "absorbent")}
        green, blue = world.inks()["lily-leaf"], world.inks()["lock-midnight"]
        stacks = [predict(stock, [Coat(green, 1), Coat(blue, 1)]) for stock in on.values()]
        self.assertEqual(len({tuple(np.round(s, 1)) for s in stacks}), 3)
        one, other = (30.0, 10.0, -40.0), (40.0, 0.0, -50.0)
        both = Ink(
            "b",
            CHEMISTRIES["dye"],
            (Swatch(world.WHITE, 1, one, finish="coated"), Swatch(world.WHITE, 1, other, finish="smooth")),
        )
        self.assertLess(difference(predict(on["coated"], [Coat(both, 1)]), one), 0.5)
        self.assertLess(difference(predict(on["absorbent"], [Coat(both, 1)]), other), 0.5)

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
        share = take(np.array([0.0, 1e9]))
        np.testing.assert_allclose(share, [1.0, 0.7])
        a, b = world.inks()["long-pound"], world.inks()["lily-leaf"]
        white = Stock(world.WHITE)
        dry = predict(white, [Coat(a, 1), Coat(b, 1)])
        wet = predict(white, [Coat(a, 1), Coat(b, 1, wet=True)])
        self.assertGreater(wet[0], dry[0])
        # what dried in between is no longer wet beneath
        pale = world.inks()["thin-ice"]
        between = predict(white, [Coat(a, 1), Coat(pale, 1), Coat(b, 1, wet=True)])
        never = predict(white, [Coat(a, 1), Coat(pale, 1, wet=True), Coat(b, 1, wet=True)])
        self.assertNotEqual(between, never)

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
