"""Swatch cards photographed by the simulated camera: read right, or refused for the right reason."""

from __future__ import annotations

import io
import unittest
from dataclasses import replace
from functools import cache
from typing import Any

import numpy as np
from PIL import Image

from strata.camera.card import CardShot, card_shot
from strata.camera.card_sample import card_photograph, rendered
from strata.camera.photograph import jpeg
from strata.camera.spectral import Eye, spectrum_of_light
from strata.errors import BadFile, BadValue, TooLarge
from strata.formats.pdf.drawer_chart import drawer_chart_pdf
from strata.formats.pdf.swatch_card import swatch_card_pdf
from strata.optics import Ink, Stock, spectrum
from strata.optics.colour import Lab, differences
from strata.optics.stack import Coat, predict
from strata.swatchcard import CardLayout, Field
from strata.swatchcard.correct import correction, lab_of, linear_of
from strata.swatchcard.marks import find_marks, placed
from strata.swatchcard.reading import CardReading, read_card
from tests import world

CARD = Stock(world.WHITE, "White smooth")
INKS = {i.key: i for i in world.drawer().inks}
KEYS = list(INKS)[:40]
FIELDS = tuple(Field(((k, 1),), INKS[k].name) for k in KEYS)


@cache
def truth() -> tuple[Lab, ...]:
    return tuple(predict(CARD, [Coat(INKS[k], 1.0)]) for k in KEYS)


@cache
def photographed(seed: int, paper: str = "A4", **changes: Any) -> np.ndarray:
    """As it comes out of a JPEG file."""
    layout = CardLayout(seed % 166, len(FIELDS), paper)
    shot = replace(card_shot(seed, seed % 3 != 0), **changes)
    seen = card_photograph(swatch_card_pdf(layout, FIELDS, CARD.name), layout, FIELDS, CARD, INKS, shot)
    return np.asarray(Image.open(io.BytesIO(jpeg(seen, shot.quality))).convert("RGB"))


def read(picture: np.ndarray, seed: int, known: int = 0, paper: str = "A4") -> CardReading:
    chosen = np.random.default_rng(seed).choice(len(KEYS), known, replace=False)
    layout = CardLayout(seed % 166, len(FIELDS), paper)
    return read_card(picture, layout, CARD.lab, {int(i): truth()[i] for i in chosen})


class AccuracyTest(unittest.TestCase):
    def check(self, seed: int, known: int, paper: str = "A4", **changes: Any) -> None:
        found = read(photographed(seed, paper, **changes), seed, known, paper)
        off = differences(np.array([f.lab for f in found.fields]), np.array(truth()))
        self.assertLess(float(off.mean()), 2.0, (seed, known))
        self.assertLess(float(off.max()), 5.0, (seed, known, KEYS[int(off.argmax())]))

    def test_forty_inks_with_eight_known_by_lamp_and_window(self) -> None:
        for seed, paper in ((2, "A4"), (11, "letter"), (60, "A4")):
            self.check(seed, 8, paper)

    def test_with_nothing_known_but_the_card(self) -> None:
        self.check(2, 0)
        self.check(60, 0)

    def test_the_ends_of_the_range(self) -> None:
        self.check(4, 8, kelvin=3000.0, balance=0.9, uneven=0.5, noise=0.018, quality=70)
        self.check(4, 8, kelvin=6500.0, balance=0.6)

    def test_upside_down_and_scanned(self) -> None:
        picture = photographed(2)
        self.assertEqual(
            [f.state for f in read(np.rot90(picture, 2).copy(), 2).fields],
            [f.state for f in read(picture, 2).fields],
        )

    def test_an_uninked_field_and_a_wrong_pad_are_named(self) -> None:
        layout = CardLayout(7, 3)
        fields = [
            Field((("campion", 1),), "a"),
            Field((("lily-leaf", 1),), "b"),
            Field((("thin-ice", 1),), "c"),
        ]
        inks: dict[str, Ink] = {k: INKS[k] for k in ("campion", "lily-leaf", "thin-ice")}
        pdf = swatch_card_pdf(layout, fields, CARD.name)
        clear = world.dye((95.8, 0.2, 0.9), "thin-ice")
        seen = card_photograph(pdf, layout, fields, CARD, {**inks, "thin-ice": clear}, card_shot(7))
        known = {
            0: predict(CARD, [Coat(INKS["campion"], 1.0)]),
            1: predict(CARD, [Coat(INKS["campion"], 1.0)]),
        }
        found = read_card(seen, layout, CARD.lab, known)
        self.assertEqual(found.fields[2].state, "bare")
        self.assertEqual(found.fields[1].state, "doubtful")


class RefusalTest(unittest.TestCase):
    def refused(self, reason: str, picture: np.ndarray, seed: int) -> None:
        with self.assertRaises(BadFile, msg=reason) as caught:
            read(picture, seed)
        self.assertEqual(caught.exception.field, reason, caught.exception.sentence)
        self.assertTrue(caught.exception.sentence.endswith("."))

    def test_spoilt_by_the_light(self) -> None:
        for reason, changes in (
            ("overexposed", {"exposure": 1.6}),
            ("overexposed", {"exposure": 4.0}),
            ("too_dark", {"exposure": 0.04}),
            ("too_dark", {"exposure": 0.015}),
            ("too_yellow", {"kelvin": 2000.0, "balance": 0.1}),
            ("too_blue", {"kelvin": 18000.0, "balance": 0.0}),
            ("shadowed", {"shadow": 0.35}),
            ("shadowed", {"shadow": 0.7}),
            ("not_sharp", {"blur": 6.0}),
            ("too_small", {"fills": 0.24}),
        ):
            self.refused(reason, photographed(22, **changes), 22)

    def test_wrong_card_and_covered_marks(self) -> None:
        good = photographed(22)
        with self.assertRaises(BadFile) as caught:
            read_card(good, CardLayout(9, 40), CARD.lab, {})
        self.assertEqual(caught.exception.field, "wrong_card")
        self.assertIn("card 23, not card 10", caught.exception.sentence)
        hidden = good.copy()
        hidden[: good.shape[0] // 5, : good.shape[1] // 4] = 90
        self.refused("not_whole", hidden, 22)
        self.refused("no_card", np.random.default_rng(1).integers(0, 255, (900, 700, 3)).astype(np.uint8), 22)

    def test_half_a_card_in_full_light_and_half_in_the_dark(self) -> None:
        good = photographed(22).astype(float)
        ramp = np.linspace(1, 0.33, good.shape[1])[None, :, None]
        self.refused("uneven", (255 * np.clip((good / 255) * ramp, 0, 1)).astype(np.uint8), 22)


class LayoutTest(unittest.TestCase):
    def test_fields_and_bare_patches_keep_apart_on_the_paper(self) -> None:
        for paper in ("A4", "letter"):
            for count in (1, 12, 13, 24, 25, 48):
                layout = CardLayout(0, count, paper)
                self.assertEqual(len(layout.fields), count)
                width, height = layout.size
                for x, y, w, h in (*layout.fields, *layout.bare):
                    self.assertTrue(x > 0 and x + w < width and y > 0 and y + h < height)
                for bx, by, bw, bh in layout.bare:
                    for x, y, w, h in layout.fields:
                        apart = bx + bw < x or x + w < bx or by + bh < y or y + h < by
                        self.assertTrue(apart, (paper, count))

    def test_what_cannot_be_a_card(self) -> None:
        for code, count, paper in ((-1, 4, "A4"), (166, 4, "A4"), (0, 0, "A4"), (0, 4, "A3")):
            with self.assertRaises(BadValue):
                CardLayout(code, count, paper)
        with self.assertRaises(TooLarge):
            CardLayout(0, 49)
        for passes in ((), tuple(("a", 1) for _ in range(7)), (("a", 9),)):
            with self.assertRaises(BadValue):
                Field(passes)

    def test_marks_are_where_the_print_has_them(self) -> None:
        layout = CardLayout(165, 48, "letter")
        page = rendered(swatch_card_pdf(layout, [Field((("a", 1),), "Ä") for _ in range(48)], "x"), 8.0)
        found = find_marks(np.repeat(page[..., None], 3, axis=2))
        self.assertEqual(set(found), set(layout.marks))
        fit = placed(found, layout, page.shape[1], page.shape[0])
        self.assertLess(fit.residual, 0.1)
        np.testing.assert_allclose(fit.project(np.array([[100.0, 100.0]])), [[800, 800]], atol=1.5)


class CorrectionTest(unittest.TestCase):
    def test_white_stays_and_known_inks_are_met(self) -> None:
        card = linear_of(np.array([CARD.lab]))[0]
        wanted = np.array(truth())[::4]
        mix = np.array([[0.9, 0.06, 0.0], [0.1, 0.9, 0.1], [0.0, 0.04, 0.9]])
        relative = (linear_of(wanted) / card) @ np.linalg.inv(mix / mix.sum(axis=0))
        found = correction(relative, wanted, card)
        np.testing.assert_allclose(np.ones(3) @ found.matrix, np.ones(3), atol=1e-9)
        plain = differences(lab_of(relative * card), wanted)
        self.assertLess(float(differences(found.lab(relative), wanted).mean()), 0.35 * float(plain.mean()))
        self.assertEqual(correction(relative[:1], wanted[:1], card).known, 0)

    def test_lamps_and_daylight_against_published_figures(self) -> None:
        # CIE 15:2018: relative power of D65 at 460 and 640 nm is 117.81 and 83.70 to 100 at 560
        day = spectrum_of_light(6504.0)
        self.assertAlmostEqual(100 * day[8], 117.81, delta=0.3)
        self.assertAlmostEqual(100 * day[26], 83.70, delta=0.3)
        # illuminant A, 2856 K: 33.09 at 450 nm to 100 at 560
        lamp = spectrum_of_light(2856.0)
        self.assertAlmostEqual(100 * lamp[7], 33.09, delta=0.25)

    def test_a_balanced_camera_sees_white_as_grey(self) -> None:
        for kelvin in (3000.0, 5000.0, 6500.0):
            seen = Eye(kelvin, 1.0).sees(np.ones(spectrum.BANDS))
            self.assertLess(float(np.ptp(seen)), 0.02)
        warm = Eye(3000.0, 0.0).sees(np.ones(spectrum.BANDS))
        self.assertGreater(warm[0], 1.5 * warm[2])

    def test_shots_that_cannot_be(self) -> None:
        for wrong in (
            {"kelvin": 100.0},
            {"balance": 2.0},
            {"exposure": 0.0},
            {"shadow": 1.0},
            {"specks": -1},
        ):
            with self.assertRaises(BadValue):
                CardShot(**wrong)  # type: ignore[arg-type]


class PrintedTest(unittest.TestCase):
    def test_the_chart_holds_every_ink_and_the_same_drawer_gives_the_same_file(self) -> None:
        import pypdfium2

        inks = world.drawer().inks
        data = drawer_chart_pdf(inks, CARD, "letter")
        self.assertEqual(data, drawer_chart_pdf(inks, CARD, "letter"))
        document = pypdfium2.PdfDocument(data)
        text = "".join(page.get_textpage().get_text_range() for page in document)
        for ink in inks:
            self.assertIn(ink.name.replace("'", "'")[:12], text)
        many = tuple(replace(i, key=f"{i.key}{n}", family=f"{i.family} {n}") for n in range(6) for i in inks)
        self.assertGreater(len(pypdfium2.PdfDocument(drawer_chart_pdf(many, CARD))), 1)
        self.assertGreater(len(drawer_chart_pdf((), CARD)), 500)
        with self.assertRaises(BadValue):
            drawer_chart_pdf(inks, CARD, "A0")
