"""The drawer's gaps, its twins and its ranks; likeness; dabs against the model one by one."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np

from strata.drawer import Gap, alike, gaps
from strata.drawer.gaps import SECTORS, sector_of
from strata.optics import Ink, Stock, Swatch, difference
from strata.optics.dabs import dabs, dabs_over
from strata.optics.deposits import deposits_of
from strata.optics.inks import CHEMISTRIES
from strata.optics.layers import FINISHES
from strata.optics.stack import Coat, Stack, predict
from tests import world

CARD, KRAFT, BLACK = (
    Stock(world.WHITE, "White"),
    Stock((66.5, 8.4, 24.2), "Kraft"),
    Stock(world.BLACK, "Black"),
)


def of_hue(hue: float, lightness: float, chroma: float, key: str, **values: object) -> Ink:
    """A dye whose coats hardly deepen, so that a test says where its tones are."""
    a, b = chroma * np.cos(np.radians(hue)), chroma * np.sin(np.radians(hue))
    marks = tuple(Swatch(world.WHITE, n, (lightness - 1.5 * (n - 1), float(a), float(b))) for n in (1, 2, 3))
    return Ink(key, CHEMISTRIES["dye"], marks, key, **values)  # type: ignore[arg-type]


def kinds(found: tuple[Gap, ...], name: str) -> list[str]:
    return [g.kind for g in found if name in g.sentence]


class GapTest(unittest.TestCase):
    def test_greens_that_stop_too_early_are_named_with_where(self) -> None:
        greens = [of_hue(140, lightness, 40, f"g{lightness}") for lightness in (80, 66, 50)]
        found = next(g for g in gaps(greens, CARD) if g.kind == "shadow")
        self.assertIn("Your greens stop at L* 4", found.sentence)
        self.assertIn("nothing for a shadow", found.sentence)
        self.assertEqual(set(found.inks), {"g80", "g66", "g50"})
        assert found.wanted is not None
        self.assertLess(found.wanted[0], 43)
        self.assertIs(sector_of(found.wanted), sector_of((50, -31, 26)))

    def test_a_deep_pad_closes_it(self) -> None:
        greens = [of_hue(140, lightness, 40, f"g{lightness}") for lightness in (80, 66, 50, 36)]
        self.assertEqual(kinds(gaps(greens, CARD), "greens"), [])

    def test_holes_and_missing_lights(self) -> None:
        blues = [of_hue(260, 84, 25, "pale"), of_hue(260, 38, 40, "deep")]
        found = gaps(blues, CARD)
        self.assertIn("middle", kinds(found, "blues"))
        reds = [of_hue(25, 48, 60, "red"), of_hue(25, 38, 55, "deep")]
        strong = [replace(i, chemistry=CHEMISTRIES["pigment"]) for i in reds]
        self.assertIn("highlight", kinds(gaps([*reds, *strong], KRAFT), "reds"))

    def test_missing_hues_are_named_and_greys_too(self) -> None:
        found = gaps([of_hue(140, 60, 40, "g")], CARD)
        missing = {g.sentence for g in found if g.kind == "hue"}
        self.assertEqual(len(missing), len(SECTORS) - 1)
        self.assertIn("There are no violets in the drawer.", missing)
        self.assertIn("grey", [g.kind for g in found])

    def test_twins_are_told_only_when_no_number_of_coats_parts_them(self) -> None:
        one, other = of_hue(20, 50, 50, "one"), of_hue(20.4, 50.2, 50, "other")
        self.assertEqual([g.inks for g in gaps([one, other], CARD) if g.kind == "twins"], [("one", "other")])
        deeper = replace(other, swatches=(*other.swatches[:2], Swatch(world.WHITE, 3, (30, 47, 17))))
        self.assertFalse([g for g in gaps([one, deeper], CARD) if g.kind == "twins"])
        opaque = replace(other, chemistry=CHEMISTRIES["pigment"])
        self.assertFalse([g for g in gaps([one, opaque], CARD) if g.kind == "twins"])

    def test_many_that_are_alike_are_told_of_once(self) -> None:
        same = [of_hue(20 + 0.1 * n, 50, 50, f"pad {n}") for n in range(5)]
        far = of_hue(200, 50, 50, "far")
        found = [g for g in gaps([*same, far], CARD) if g.kind == "twins"]
        self.assertEqual(len(found), 1)
        self.assertEqual(set(found[0].inks), {ink.key for ink in same})
        self.assertIn("5 pads nobody could tell apart", found[0].sentence)

    def test_ranks_the_wrong_way_round(self) -> None:
        kin = {"line": "L", "family": "F"}
        right = [of_hue(90, 80, 50, "a", depth=1, **kin), of_hue(90, 70, 50, "b", depth=2, **kin)]
        wrong = [right[0], of_hue(90, 88, 40, "c", depth=2, **kin)]
        self.assertFalse([g for g in gaps(right, CARD) if g.kind == "rank"])
        self.assertEqual([g.inks for g in gaps(wrong, CARD) if g.kind == "rank"], [("a", "c")])

    def test_on_black_only_what_hides_counts(self) -> None:
        found = gaps(world.drawer().inks, BLACK)
        self.assertEqual((found[0].kind, len(found[0].inks)), ("dark card", 7))
        self.assertEqual(gaps([], BLACK), ())
        dyes = [i for i in world.drawer().inks if not i.chemistry.opaque]
        self.assertIn("Nothing in the drawer shows", gaps(dyes, BLACK)[0].sentence)

    def test_every_hue_has_one_sector(self) -> None:
        for hue in np.arange(0, 360, 0.5):
            self.assertEqual(sum(s.holds(hue) for s in SECTORS), 1, hue)
            if any(abs(s.middle - hue) < 0.25 for s in SECTORS):
                self.assertTrue(any(s.holds(s.middle) for s in SECTORS))
        self.assertIsNone(sector_of((50, 3, 3)))


class DabTest(unittest.TestCase):
    def test_all_at_once_is_what_prediction_says(self) -> None:
        inks = world.drawer().inks
        for stock in (CARD, KRAFT, BLACK):
            labs = dabs(inks, stock)
            for i in (0, 7, 33, 38):
                for n in (1, 2, 3):
                    np.testing.assert_allclose(
                        labs[i, n - 1], predict(stock, [Coat(inks[i], float(n))]), atol=1e-6
                    )
        self.assertEqual(dabs([], CARD).shape, (0, 3, 3))

    def test_over_what_was_laid_and_on_wet_ink(self) -> None:
        pads, under = list(world.drawer().inks), world.inks()
        for wet in (False, True):
            stack = Stack(KRAFT, (Coat(under["thin-ice"], 1.0), Coat(under["kingfisher-dive"], 0.4, True)))
            found = dabs_over(stack, pads, (0.5, 2.0), wet)
            for ink, row in zip(pads, found, strict=True):
                for coats, lab in zip((0.5, 2.0), row, strict=True):
                    own = predict(KRAFT, [*stack.coats, Coat(ink, coats, wet)])
                    self.assertLess(difference(own, (lab[0], lab[1], lab[2])), 1e-6)

    def test_what_swatches_tell_is_the_same_of_many_as_of_one(self) -> None:
        inks = list(world.drawer().inks)
        told = [(ink.swatches, ink.chemistry) for ink in inks]
        for finish in FINISHES:
            for one, many in zip(told, deposits_of(told, finish), strict=True):
                (alone,) = deposits_of([one], finish)
                self.assertEqual([d.coats for d in alone], [d.coats for d in many])
                for a, b in zip(alone, many, strict=True):
                    np.testing.assert_allclose(a.absorbed, b.absorbed, rtol=1e-9, atol=1e-12)
                    np.testing.assert_allclose(a.scattered, b.scattered, rtol=1e-9, atol=1e-12)


class LikenessTest(unittest.TestCase):
    def test_two_coats_of_a_paler_pad(self) -> None:
        inks = {i.key: i for i in world.drawer().inks}
        for_it, by_it = alike(inks["painted-rose"], list(inks.values()), [CARD, KRAFT])
        self.assertEqual(for_it[0].ink, "boat-fair-rose")
        self.assertIn(("coral-kettle", 2.0), [(f.ink, f.coats) for f in for_it])
        self.assertTrue(all(f.mean <= f.worst for f in (*for_it, *by_it)))
        self.assertEqual(for_it, tuple(sorted(for_it, key=lambda f: f.mean)))
        self.assertNotIn("painted-rose", [f.ink for f in (*for_it, *by_it)])
        self.assertEqual(alike(inks["campion"], [], [CARD]), ((), ()))
