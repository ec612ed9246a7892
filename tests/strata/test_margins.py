"""Margins, what swatches disagree about, and the constants found again on the published overprints."""

import json
import unittest

import numpy as np

from strata.answers.prediction import answer
from strata.optics import Coat, Stock, Swatch, layers
from strata.optics.inks import CHEMISTRIES, Ink
from strata.optics.margin import margin
from strata.optics.remarks import remarks
from strata.optics.stack import TRAP_LOSS
from tests import world
from tests.strata.test_overprints import errors
from tools.derive_optics import CHOSEN, best, criterion
from tools.derive_optics import errors as plain_errors

WHITE, BLACK = Stock(world.WHITE, finish="smooth"), Stock(world.BLACK, finish="smooth")


def dye(lab: tuple[float, float, float], on: tuple[float, float, float] = world.WHITE, **more: object) -> Ink:
    return Ink("d", CHEMISTRIES["dye"], (Swatch(on, 1, lab, **more),))  # type: ignore[arg-type]


class ConstantsTest(unittest.TestCase):
    def test_they_are_as_good_as_the_best_of_the_grid(self) -> None:
        least, _ = best()
        self.assertLess(criterion(CHOSEN), 1.05 * least, "round figures for the last twentieth")
        own = layers.INTERNAL
        self.assertEqual(
            (layers.SURFACE, own["coated"], own["absorbent"], CHEMISTRIES["dye"].scattering, TRAP_LOSS),
            tuple(CHOSEN.values()),
        )

    def test_the_plain_equations_give_the_same_errors(self) -> None:
        np.testing.assert_allclose(np.sort(plain_errors(**CHOSEN)), np.sort(errors("cmy")), atol=0.02)


class MarginTest(unittest.TestCase):
    def test_by_the_doubt(self) -> None:
        inks = world.inks()
        green, blue, rose = inks["lily-leaf"], inks["long-pound"], inks["painted-rose"]
        self.assertEqual(margin(WHITE, []), 0)
        self.assertEqual(margin(WHITE, [Coat(green, 1)]), 1)
        self.assertAlmostEqual(margin(WHITE, [Coat(green, 1.4)]), 2, delta=0.1)
        self.assertAlmostEqual(
            margin(Stock((66.5, 8.4, 24.2), finish="smooth"), [Coat(green, 1)]), 3, delta=0.1
        )
        three = [Coat(green, 1), Coat(blue, 1), Coat(rose, 1)]
        self.assertAlmostEqual(margin(WHITE, three[:2]), 4, delta=0.1)
        self.assertAlmostEqual(margin(WHITE, three), 4, delta=0.1)
        more = [*three, Coat(inks["campion"], 1)]
        self.assertGreater(margin(WHITE, more), margin(WHITE, three) + 0.5)
        self.assertGreater(margin(BLACK, [Coat(green, 1)]), 8)
        self.assertEqual(margin(WHITE, [*three[:2], Coat(rose, 0)]), margin(WHITE, three[:2]))

    def test_what_is_known_on_black_is_not_in_doubt_there(self) -> None:
        white = world.inks()["whitewash"]
        self.assertEqual(margin(BLACK, [Coat(white, 1)]), 1)
        guess = Ink("g", CHEMISTRIES["pigment"], (Swatch(world.WHITE, 1, (60.0, 30.0, 10.0)),))
        self.assertGreater(margin(BLACK, [Coat(guess, 1)]), 12)
        self.assertLess(margin(WHITE, [Coat(guess, 1)]), 1.5)

    def test_a_screen_colour_at_its_end_says_little(self) -> None:
        cyan, mild = (55.6, -38.0, -47.0), (60.0, 10.0, 10.0)
        self.assertGreater(margin(WHITE, [Coat(dye(cyan, how="screen colour"), 1)]), 16)
        self.assertEqual(margin(WHITE, [Coat(dye(mild, how="screen colour"), 1)]), 1)
        self.assertGreater(margin(WHITE, [Coat(dye(mild, spread=5.0), 1)]), 4.9)

    def test_it_covers_most_overprints(self) -> None:
        found = errors("cmy")
        self.assertGreaterEqual(np.mean(np.array(found) <= 4.0), 0.8)

    def test_the_command_prints_it(self) -> None:
        request = {
            "card": {"lab": list(world.WHITE), "finish": "absorbent"},
            "inks": {
                "a": {
                    "chemistry": "dye",
                    "swatches": [
                        {"on": {"lab": list(world.WHITE), "finish": "absorbent"}, "lab": [50, 20, 0]}
                    ],
                }
            },
            "stacks": [{"passes": [{"ink": "a"}]}, {"passes": []}],
        }
        told = answer(json.dumps(request))["stacks"]
        self.assertEqual([s["margin"] for s in told], [1.0, 0.0])
        request["card"] = {"lab": list(world.WHITE), "finish": "coated"}
        self.assertEqual(answer(json.dumps(request))["stacks"][0]["margin"], 5.0)


class RemarksTest(unittest.TestCase):
    def test_swatches_that_disagree_are_told(self) -> None:
        kraft = (66.5, 8.4, 24.2)
        self.assertIn("lighter than the card", remarks(dye((80.0, 0.0, 0.0), kraft))[0])
        self.assertIn("only seen on dark card", remarks(dye((16.0, 0.0, 0.0), world.BLACK))[0])
        two = (Swatch(world.WHITE, 1, (50.0, 20.0, 0.0)), Swatch(world.WHITE, 2, (58.0, 20.0, 0.0)))
        self.assertIn("2 coats read lighter", remarks(Ink("t", CHEMISTRIES["dye"], two))[0])
        left = (Swatch(world.WHITE, 1, (50.0, 20.0, 0.0)), Swatch(world.BLACK, 2, (17.0, 1.0, 0.0)))
        self.assertIn("left out", remarks(Ink("l", CHEMISTRIES["dye"], left))[0])

    def test_the_whole_demo_drawer_agrees_with_itself(self) -> None:
        self.assertEqual([said for ink in world.drawer().inks for said in remarks(ink)], [])
