"""Recipes against exhaustive search, and against the model that predicts."""

from __future__ import annotations

import json
import unittest
from functools import cache
from itertools import product

import numpy as np

from strata.answers import recipe
from strata.errors import BadValue, StrataError, TooLarge
from strata.formats.drawer import write_drawer
from strata.optics import Stock, spectrum
from strata.optics.colour import differences
from strata.optics.stack import Coat, predict
from strata.recipes import Shelf
from tests import world

CARD = Stock(world.WHITE)
TARGETS = [
    (52, -30, 28),
    (40, 30, -40),
    (70, 5, 60),
    (25, 5, 5),
    (88, -4, 10),
    (60, 55, 30),
    (35, -20, -25),
    (12, 0, 0),
    (80, 35, -54),
]


@cache
def shelf(count: int = 40, coats: int = 3) -> Shelf:
    return Shelf(CARD, world.drawer().inks[:count], coats).warm(3)


class SearchTest(unittest.TestCase):
    def test_singles_and_pairs_are_what_prediction_says(self) -> None:
        found = shelf(12)
        inks = {i.key: i for i in found.inks}
        for target in TARGETS[:3]:
            for pads in (1, 2, 3):
                for item in found.of(np.array(target, float), pads, 3):
                    lab = predict(CARD, [Coat(inks[k], float(c)) for k, c in item.passes])
                    self.assertLess(float(differences(np.array(lab), np.array(item.lab))), 0.01)
                    off = float(differences(np.array(lab), np.array(target, float)))
                    self.assertAlmostEqual(off, item.difference, delta=0.01)

    def test_the_best_pair_is_the_exhaustive_one(self) -> None:
        labs = shelf().pairs[1].astype(float)
        for target in TARGETS:
            wanted = np.array(target, float)
            every = differences(np.broadcast_to(wanted, labs.shape), labs)
            found = shelf().of(wanted, 2, 5)
            np.testing.assert_allclose([r.difference for r in found], np.sort(every)[:5], atol=1e-9)

    def test_the_best_triple_is_close_to_the_exhaustive_one(self) -> None:
        small = shelf(12, 2)
        n = len(small.laids)
        triples = np.array(list(product(range(n), repeat=3)))
        labs = small._lab_of(triples).astype(float)
        excess = []
        for target in TARGETS:
            wanted = np.array(target, float)
            best = differences(np.broadcast_to(wanted, labs.shape), labs).min()
            excess.append(small.of(wanted, 3, 1)[0].difference - best)
        self.assertLess(float(np.mean(excess)), 0.05)
        self.assertLess(max(excess), 0.3)

    def test_a_colour_that_two_pads_make_is_found(self) -> None:
        inks = world.drawer().inks
        made = predict(CARD, [Coat(inks[3], 2.0), Coat(inks[17], 1.0)])
        best = shelf().find(made)[0]
        self.assertLess(best.difference, 0.01)

    def test_fewer_pads_first_where_they_do_as_well(self) -> None:
        made = predict(CARD, [Coat(world.drawer().inks[5], 2.0)])
        self.assertEqual(len(shelf().find(made)[0].passes), 1)
        self.assertTrue(all(len(r.passes) == 1 for r in shelf().find(made, most_pads=1)))

    def test_refusals(self) -> None:
        with self.assertRaises(BadValue):
            Shelf(CARD, [])
        with self.assertRaises(BadValue):
            Shelf(CARD, world.drawer().inks, 9)
        with self.assertRaises(TooLarge):
            Shelf(CARD, world.drawer().inks * 20, 3)


class PrepareTest(unittest.TestCase):
    def test_many_at_once_are_as_one_by_one(self) -> None:
        labs = [
            (50.0, 20.0, -30.0),
            (95.0, 0.0, 2.0),
            (30.0, -25.0, 11.0),
            (60.0, 120.0, 90.0),
            (0.0, 0.0, 0.0),
        ]
        spectrum._READY.clear()
        single = [spectrum.reflectance(lab) for lab in labs]
        spectrum._READY.clear()
        spectrum.prepare([(lab, None, False) for lab in labs])
        for lab, one in zip(labs, single, strict=True):
            np.testing.assert_allclose(spectrum.reflectance(lab), one, atol=2e-6)


class CommandTest(unittest.TestCase):
    def request(self, **changes: object) -> str:
        drawer = json.loads(json.dumps(write_drawer(world.drawer())))
        inks = dict(list(drawer["inks"].items())[:8])
        return json.dumps(
            {"card": {"lab": [95.8, 0.2, 0.9]}, "inks": inks, "target": {"lab": [52, -30, 28]}, **changes}
        )

    def test_an_answer(self) -> None:
        found = recipe.answer(self.request(keep=4, max_pads=2, max_coats=2))["recipes"]
        self.assertEqual(len(found), 4)
        self.assertEqual(found, sorted(found, key=lambda r: r["de00"]))
        self.assertTrue(all(p["coats"] in (1, 2) for r in found for p in r["passes"]))

    def test_refusals(self) -> None:
        for changes in (
            {"target": {}},
            {"target": {"lab": [1, 2]}},
            {"max_pads": 0},
            {"max_pads": "two"},
            {"max_coats": 99},
            {"keep": 0},
            {"inks": {}},
            {"card": {}},
            {"target": {"lab": [float("nan"), 0, 0]}},
        ):
            with self.subTest(changes=changes), self.assertRaises(StrataError) as caught:
                recipe.answer(self.request(**changes))
            self.assertTrue(caught.exception.sentence.endswith("."))
