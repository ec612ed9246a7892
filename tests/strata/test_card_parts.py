"""The parts of reading a swatch card, each by itself: light, beyond the picture, lens, fields, print."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np

from strata.camera.card import card_shot, photograph_card
from strata.errors import BadFile
from strata.formats.pdf.page import PLAIN, Page, rgb_of
from strata.formats.pdf.swatch_card import swatch_card_pdf
from strata.optics.spectrum import reflectance
from strata.swatchcard import CardLayout, Field
from strata.swatchcard.correct import LEAST_KNOWN, STRONGER, correction, lab_of, linear_of, restored
from strata.swatchcard.layout import MARKS_A_CARD, code_of
from strata.swatchcard.light import light_of
from strata.swatchcard.marks import Placed, placed
from strata.swatchcard.reading import _settled
from tests import world

LAYOUT = CardLayout(7, 40)
CARD = linear_of(np.array([world.WHITE]))[0]


def middles() -> np.ndarray:
    boxes = np.array(LAYOUT.bare)
    return boxes[:, :2] + boxes[:, 2:] / 2


def lit(fall: float = 0.3, warm: float = 0.0, level: float = 0.6) -> np.ndarray:
    """Bare patches under a lamp to the left, darker to the right."""
    x = middles()[:, 0] / LAYOUT.size[0]
    tint = np.array([1 + warm, 1.0, 1 - warm])
    return level * (1 - fall * x)[:, None] * tint * CARD / CARD.max()


NONE = np.zeros(len(LAYOUT.bare))


class LightTest(unittest.TestCase):
    def test_the_surface_is_the_light(self) -> None:
        for fall, warm in ((0.0, 0.0), (0.3, 0.2), (0.6, -0.2)):
            patches = lit(fall, warm)
            light = light_of(patches, NONE, LAYOUT, CARD)
            np.testing.assert_allclose(light.at(middles()), patches, rtol=0.01)
        self.assertAlmostEqual(light_of(lit(0.5), NONE, LAYOUT, CARD).uneven, 1.83, delta=0.15)

    def test_smears_on_the_paper_do_not_bend_it(self) -> None:
        clean = lit(0.3)
        for seed in range(6):
            rng = np.random.default_rng(seed)
            smeared = clean.copy()
            hit = rng.choice(len(clean), len(clean) // 8, replace=False)
            smeared[hit] *= rng.uniform(0.5, 0.9, (len(hit), 1)) * np.array([1.0, 0.4, 0.2])
            light = light_of(smeared, NONE, LAYOUT, CARD)
            off = np.abs(np.log(light.at(middles()) / clean))
            self.assertLess(float(off.max()), 0.05, seed)

    def test_a_shadow_is_no_smear_whichever_side_it_comes_from(self) -> None:
        x, y = middles().T
        for shaded in (x > 120, x < 80, y > 170, y < 90, x + y > 260):
            patches = lit(0.2)
            patches[shaded] *= 0.6
            with self.assertRaises(BadFile) as caught:
                light_of(patches, NONE, LAYOUT, CARD)
            self.assertEqual(caught.exception.field, "shadowed")
            self.assertRegex(caught.exception.sentence, "shadow")

    def test_each_reason_has_its_own_sentence(self) -> None:
        burnt = NONE.copy()
        burnt[: len(burnt) // 5] = 0.6
        bluish = lit() * np.array([0.25, 0.6, 1.4])
        yellow = lit() * np.array([1.2, 0.8, 0.1])
        found = {}
        for reason, patches, clipped in (
            ("overexposed", lit(), burnt),
            ("too_dark", lit(level=0.02), NONE),
            ("too_yellow", yellow, NONE),
            ("too_blue", bluish, NONE),
            ("uneven", lit(0.85), NONE),
        ):
            with self.assertRaises(BadFile, msg=reason) as caught:
                light_of(patches, clipped, LAYOUT, CARD)
            self.assertEqual(caught.exception.field, reason)
            found[reason] = caught.exception.sentence
        self.assertEqual(len(set(found.values())), 5)

    def test_on_kraft_the_yellow_of_the_card_is_not_the_lamps(self) -> None:
        kraft = linear_of(np.array([(66.5, 8.4, 24.2)]))[0]
        patches = 0.5 * np.ones((len(LAYOUT.bare), 1)) * kraft / kraft.max()
        self.assertAlmostEqual(light_of(patches, NONE, LAYOUT, kraft).blue_to_red, 1.0, delta=0.01)


class BeyondTest(unittest.TestCase):
    def test_only_lost_channels_of_strong_colours_are_put_back(self) -> None:
        seen = np.array([[0.0, 0.3, 0.4], [0.2, 0.3, 0.4], [0.0, 0.01, 0.02], [0.5, 0.0, 0.2]])
        found, strong = restored(seen)
        self.assertEqual(strong.tolist(), [True, False, False, True])
        self.assertAlmostEqual(found[0, 0], STRONGER[0] * 0.35)
        np.testing.assert_array_equal(found[1:3], seen[1:3])
        self.assertLess(found[3, 1], 0)

    def test_colours_beyond_srgb_come_back_from_linear_light(self) -> None:
        labs = np.array([(55.0, -40.0, -20.0), (45.0, 30.0, -60.0), (90.0, 0.0, 1.0), (60.0, 55.0, 30.0)])
        np.testing.assert_allclose(lab_of(linear_of(labs)), labs, atol=1e-6)

    def test_one_known_ink_says_nothing_and_a_wrong_one_does_not_rule(self) -> None:
        labs = np.array([i.swatches[0].lab for i in world.drawer().inks[:12]])
        relative = linear_of(labs) / CARD
        few = correction(relative[: LEAST_KNOWN - 1], labs[: LEAST_KNOWN - 1], CARD)
        np.testing.assert_array_equal(few.matrix, np.eye(3))
        wrong = labs.copy()
        wrong[0] = labs[7]
        found = correction(relative, wrong, CARD)
        self.assertLess(float(np.abs(found.matrix - np.eye(3)).max()), 0.12)
        self.assertGreater(found.error or 0, 1)

    def test_blocks_that_do_not_agree_are_left_out_of_the_mean(self) -> None:
        rng = np.random.default_rng(2)
        blocks = np.array([0.4, 0.2, 0.1]) + rng.normal(0, 0.004, (60, 3))
        specks = blocks.copy()
        specks[:9] = 0.95
        specks[9:12] = 0.01
        np.testing.assert_allclose(_settled(specks), _settled(blocks), atol=0.004)


class LensTest(unittest.TestCase):
    def seen(self, k1: float, noise: float = 0.0) -> dict[int, np.ndarray]:
        plane = np.array([[9.0, 0.4, 300.0], [-0.3, 9.2, 200.0], [1e-4, 5e-5, 1.0]])
        fit = Placed(plane, k1, np.array([1125.0, 1500.0]), float(np.hypot(1125, 1500)), 0.0)
        rng = np.random.default_rng(1)
        return {n: fit.project(c) + rng.normal(0, noise, (4, 2)) for n, c in LAYOUT.marks.items()}

    def test_plane_and_lens_are_found_from_the_marks(self) -> None:
        for k1 in (0.0, -0.03, 0.04):
            marks = self.seen(k1)
            fit = placed(marks, LAYOUT, 2250, 3000)
            self.assertLess(fit.residual, 0.05)
            for n, corners in LAYOUT.marks.items():
                np.testing.assert_allclose(fit.project(corners), marks[n], atol=0.5)

    def test_a_card_that_is_bent_is_refused(self) -> None:
        marks = self.seen(0.0)
        for n in marks:
            if n % MARKS_A_CARD in (2, 3):
                marks[n] = marks[n] + np.array([0.0, 40.0])
        with self.assertRaises(BadFile) as caught:
            placed(marks, LAYOUT, 2250, 3000)
        self.assertEqual(caught.exception.field, "not_flat")

    def test_every_corner_that_is_missing_is_named(self) -> None:
        for place, name in ((0, "top left"), (1, "top right"), (4, "bottom left"), (5, "bottom right")):
            marks = self.seen(0.0)
            del marks[MARKS_A_CARD * LAYOUT.code + place]
            with self.assertRaises(BadFile) as caught:
                placed(marks, LAYOUT, 2250, 3000)
            self.assertIn(name, caught.exception.sentence)
        side = self.seen(0.0)
        del side[MARKS_A_CARD * LAYOUT.code + 2]
        placed(side, LAYOUT, 2250, 3000)

    def test_the_number_of_a_mark_is_its_card_and_its_place(self) -> None:
        for code in (0, 7, 165):
            self.assertEqual({code_of(n) for n in CardLayout(code, 3).marks}, {(code, i) for i in range(6)})
        foreign = {n + MARKS_A_CARD: c for n, c in self.seen(0.0).items()}
        with self.assertRaises(BadFile) as caught:
            placed(foreign, LAYOUT, 2250, 3000)
        self.assertIn("This is card 9, not card 8", caught.exception.sentence)


class CameraTest(unittest.TestCase):
    def test_the_same_seed_takes_the_same_picture(self) -> None:
        page = np.full((594, 420), 255, np.uint8)
        laid = lambda s: reflectance((60.0, 20.0, 10.0)) ** (0.2 + 0.8 * s)  # noqa: E731
        shot = replace(card_shot(5), width=420, height=560)
        one, again, other = (
            photograph_card(page, LAYOUT.size, [(LAYOUT.fields[0], laid)], world.WHITE, s)
            for s in (shot, shot, replace(shot, seed=6))
        )
        np.testing.assert_array_equal(one, again)
        self.assertTrue((one != other).any())
        self.assertEqual(one.shape, (560, 420, 3))

    def test_exposure_and_shadow_do_what_they_say(self) -> None:
        page = np.full((594, 420), 255, np.uint8)
        plain = replace(card_shot(5), width=420, height=560, noise=0.0)
        means = [
            float(photograph_card(page, LAYOUT.size, [], world.WHITE, replace(plain, **c)).mean())  # type: ignore[arg-type]
            for c in ({"exposure": 0.5}, {}, {"exposure": 1.2}, {"shadow": 0.6})
        ]
        self.assertEqual(means[:3], sorted(means[:3]))
        self.assertLess(means[3], means[1])


class PrintTest(unittest.TestCase):
    def test_names_coats_and_the_size_of_the_paper(self) -> None:
        import pypdfium2

        for paper, size in (("A4", (210.0, 297.0)), ("letter", (215.9, 279.4))):
            layout = CardLayout(11, 3, paper)
            fields = [
                Field((("a", 1),), "Grün & Gelb"),
                Field((("a", 2),), "x" * 90),
                Field((("a", 1), ("b", 3)), "Two"),
            ]
            document = pypdfium2.PdfDocument(swatch_card_pdf(layout, fields, "Kraft", "Test swatch"))
            self.assertEqual(len(document), 1)
            width, height = (v * 25.4 / 72 for v in document[0].get_size())
            self.assertAlmostEqual(width, size[0], delta=0.05)
            self.assertAlmostEqual(height, size[1], delta=0.05)
            text = document[0].get_textpage().get_text_range()
            for words in (
                "Test swatch 12",
                "On Kraft",
                "Grün & Gelb",
                "1 coat",
                "2 coats",
                "1 + 3 coats",
                "…",
            ):
                self.assertIn(words, text)

    def test_words_never_run_wider_than_they_may(self) -> None:
        page = Page((100, 50), "x")
        for words in ("short", "a much longer name than fits", "W" * 200, ""):
            fitted = page._fitted(words, 20, PLAIN, 8)
            self.assertLessEqual(page.canvas.stringWidth(fitted, PLAIN, 8) * 25.4 / 72, 20.01)
            self.assertTrue(words.startswith(fitted.removesuffix("…")))
        self.assertEqual(rgb_of("#ff8000"), (1.0, 128 / 255, 0.0))
