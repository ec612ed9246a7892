"""A card is known by its name, not by its colour: what is measured anew takes the place of what was measured there."""

import unittest
from dataclasses import replace

from strata.optics import Coat, Stock, Swatch, predict
from strata.optics.colour import difference
from strata.optics.inks import CHEMISTRIES, Ink
from strata.optics.swatches import lies_on, named, same_card, same_place, with_readings

WHITE, DARKER = (95.8, 0.2, 0.9), (94.6, 0.3, 1.4)


def dab(
    on: tuple[float, float, float], lab: tuple[float, float, float], card: str = "", coats: float = 1
) -> Swatch:
    return Swatch(on, coats, lab, card=card)


class CardTest(unittest.TestCase):
    def test_a_card_read_again_is_the_same_card(self) -> None:
        old, new = dab(WHITE, (48, 40, 10), "white"), dab(DARKER, (30, 44, 12), "white")
        self.assertTrue(same_card(old, new))
        self.assertEqual(with_readings([old], [new]), (new,))

    def test_the_prediction_follows_the_new_reading(self) -> None:
        old, new = dab(WHITE, (48, 40, 10), "white"), dab(DARKER, (30, 44, 12), "white")
        card = Stock(DARKER, "White", key="white")
        ink = Ink("red", CHEMISTRIES["dye"], with_readings([old], [new]), "Red")
        self.assertLess(difference(predict(card, [Coat(ink, 1.0)]), (30, 44, 12)), 0.5)

    def test_two_cards_of_one_colour_are_two(self) -> None:
        one, other = dab(WHITE, (48, 40, 10), "smooth"), dab(WHITE, (44, 38, 10), "laid")
        self.assertFalse(same_place(one, other))
        self.assertEqual(len(with_readings([one], [other])), 2)

    def test_nameless_dabs_are_told_apart_by_their_cards_colour(self) -> None:
        one, same, other = dab(WHITE, (48, 40, 10)), dab(WHITE, (44, 38, 10)), dab(DARKER, (44, 38, 10))
        self.assertEqual(with_readings([one], [same]), (same,))
        self.assertEqual(len(with_readings([one], [other])), 2)

    def test_a_nameless_dab_gets_the_name_of_exactly_its_card(self) -> None:
        cards = {"white": WHITE, "cream": (92.0, 1.0, 9.0)}
        self.assertEqual(named(dab(WHITE, (48, 40, 10)), cards).card, "white")
        self.assertEqual(named(dab(DARKER, (48, 40, 10)), cards).card, "")
        kept = dab(WHITE, (48, 40, 10), "laid")
        self.assertIs(named(kept, cards), kept)

    def test_what_lies_on_a_stock(self) -> None:
        white = Stock(DARKER, "White", key="white")
        self.assertTrue(lies_on(dab(WHITE, (48, 40, 10), "white"), white))
        self.assertFalse(lies_on(dab(DARKER, (48, 40, 10), "laid"), white))
        self.assertTrue(lies_on(dab(WHITE, (48, 40, 10)), white), "nameless, and alike to the eye")
        self.assertFalse(lies_on(dab((60, 0, 0), (48, 40, 10)), white))

    def test_coats_make_another_place_however_they_were_rounded(self) -> None:
        one = dab(WHITE, (48, 40, 10), "white", 1.6)
        self.assertTrue(same_place(one, replace(one, coats=1.6004)))
        self.assertFalse(same_place(one, replace(one, coats=2.0)))

    def test_the_last_of_several_readings_of_one_dab_holds(self) -> None:
        fresh = [dab(WHITE, (40 + n, 40, 10), "white") for n in range(4)]
        self.assertEqual(with_readings([dab(DARKER, (20, 0, 0), "white")], fresh), (fresh[-1],))
        doubled = [dab(WHITE, (48, 40, 10), "white"), dab(DARKER, (47, 40, 10), "white")]
        self.assertEqual(with_readings(doubled, fresh[:1]), (fresh[0],), "doubles of an older version go")
