"""The optics against a second, plain implementation written from the equations alone."""

import math
import random
import unittest

import numpy as np

from strata.optics import Coat, Stock, Swatch, difference, predict
from strata.optics.colour import XYZ_WEIGHTS, lab_from_xyz
from strata.optics.inks import CHEMISTRIES, Ink
from strata.optics.spectrum import reflectance
from strata.order import dispatch
from strata.picture import layers_of
from strata.picture.colours import reference_lab
from strata.picture.raster import Raster
from tests import world

K1, K2, LOSS, RATE, CLEAR = 0.01, 0.85, 0.3, 3.0, 0.02


def to_inside(seen: float) -> float:
    q = (seen - K1) / (1 - K1)
    return q / ((1 - K2) + K2 * q)


def to_outside(r: float) -> float:
    return K1 + (1 - K1) * (1 - K2) * r / (1 - K2 * r)


def plain_dyes(card: tuple, layers: list[tuple[tuple, tuple, float, bool]]) -> tuple:
    """CIELAB of dyes on a card, band by band in scalars: (swatch card, swatch, coats, wet) bottom first."""
    r = [to_inside(v) for v in reflectance(card)]
    damp = 0.0
    for on, swatch, coats, wet in layers:
        pairs = zip(reflectance(swatch, on), reflectance(on), strict=True)
        absorbed = [absorption(to_inside(a), to_inside(b)) for a, b in pairs]
        share = 1 - LOSS * (1 - math.exp(-RATE * damp)) if wet else 1.0
        laid = share * coats
        r = [plain_layer(laid * k, laid * CLEAR, v) for v, k in zip(r, absorbed, strict=True)]
        damp = (damp if wet else 0.0) + laid
    seen = np.array([to_outside(v) for v in r])
    return tuple(float(v) for v in lab_from_xyz(XYZ_WEIGHTS @ seen))


def plain_layer(k: float, s: float, ground: float) -> float:
    """Kubelka-Munk of one layer on a ground, in hyperbolic functions as Kubelka wrote it."""
    a = 1 + k / s
    b = math.sqrt(a * a - 1) or 1e-9
    coth = 1 / math.tanh(b * s)
    return (1 - ground * (a - b * coth)) / (a - ground + b * coth)


def absorption(wanted: float, ground: float) -> float:
    """K x of one coat of an all but clear ink, by halving."""
    low, high = 0.0, 30.0
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if plain_layer(middle, CLEAR, ground) > wanted else (low, middle)
    return low


class IndependentTest(unittest.TestCase):
    def test_stacks_of_dyes(self) -> None:
        rng = random.Random(5)
        cards = [s.lab for s in world.drawer().stocks]
        swatches = [i.swatches[0] for i in world.drawer().inks if not i.chemistry.opaque]
        for _ in range(40):
            card = rng.choice(cards)
            chosen = [
                (rng.choice(swatches), rng.choice([0.5, 1.0, 1.6, 2.0]), rng.random() < 0.5)
                for _ in range(rng.randint(1, 5))
            ]
            expected = plain_dyes(card, [(w.on, w.lab, n, wet) for w, n, wet in chosen])
            inks = [Ink(str(i), CHEMISTRIES["dye"], (w,)) for i, (w, _, _) in enumerate(chosen)]
            coats = [Coat(ink, n, wet) for ink, (_, n, wet) in zip(inks, chosen, strict=True)]
            self.assertLess(difference(predict(Stock(card), coats), expected), 1e-3)

    def test_one_opaque_layer(self) -> None:
        from strata.optics.layers import over

        rng = random.Random(6)
        for _ in range(200):
            k, s, ground = rng.uniform(0.01, 4), rng.uniform(0.05, 6), rng.uniform(0.02, 0.98)
            found = float(over(np.array([ground]), np.array([k]), np.array([s]))[0])
            self.assertAlmostEqual(found, plain_layer(k, s, ground), places=9)

    def test_a_swatch_of_three_coats_is_met_at_each_and_between(self) -> None:
        ink = world.inks()["wet-slate"]
        stock = Stock(world.WHITE)
        lights = {n: next(s.lab[0] for s in ink.swatches if s.coats == n) for n in (1, 2, 3)}
        for n, light in lights.items():
            self.assertAlmostEqual(predict(stock, [Coat(ink, n)])[0], light, delta=0.3)
        between = predict(stock, [Coat(ink, 1.5)])[0]
        self.assertTrue(lights[2] < between < lights[1])
        self.assertGreater(lights[1] - lights[2], lights[2] - lights[3], "measured saturation is kept")

    def test_pixels_with_wet_in_wet_agree_with_stacks(self) -> None:
        scene = world.scene()
        sequence = dispatch(scene)
        self.assertTrue(sequence.wet)
        raster = Raster.of(scene.layer_set.width, scene.layer_set.height, 120)
        layers = layers_of(scene, scene.plan.passes, sequence.wet, raster)
        rng = np.random.default_rng(4)
        shares = np.float32(
            (rng.random((60, len(layers))) < 0.2) * rng.choice([0.3, 0.6, 1.0], (60, len(layers)))
        )
        labs = reference_lab(scene.stock, layers, shares)
        for share, lab in zip(shares, labs, strict=True):
            coats = [
                Coat(la.ink, la.thickness * float(s), la.wet)
                for la, s in zip(layers, share, strict=True)
                if s > 0
            ]
            self.assertLess(difference(predict(scene.stock, coats), tuple(lab)), 0.35)

    def test_the_card_of_a_swatch_belongs_to_it(self) -> None:
        on_white = Ink("w", CHEMISTRIES["dye"], (Swatch(world.WHITE, 1, (60.0, 40.0, 20.0)),))
        cream = (92.0, 1.0, 12.0)
        measured = predict(Stock(cream), [Coat(on_white, 1)])
        on_cream = Ink("c", CHEMISTRIES["dye"], (Swatch(cream, 1, measured),))
        back = predict(Stock(world.WHITE), [Coat(on_cream, 1)])
        self.assertLess(difference(back, (60.0, 40.0, 20.0)), 1.5)
