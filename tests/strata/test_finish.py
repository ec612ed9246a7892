"""Finishing a card: sizes to the unit, sheets of stock against floors found elsewhere, cuts that a trimmer can make."""

import itertools
import json
import math
import random
import unittest
from dataclasses import replace
from fractions import Fraction
from typing import Any

from strata.advice.made import Thickness
from strata.answers import finish as answers
from strata.errors import BadValue, StrataError
from strata.finish import Finished
from strata.finish.cuts import cut_up
from strata.finish.floor import fewest
from strata.finish.lay import Laid, Size, laid
from strata.finish.lengths import SIXTEENTH, mm, units
from strata.finish.pieces import pieces_of
from strata.finish.post import PostalClass, cheapest
from strata.finish.stock_sheets import SHEETS, envelope_for
from strata.finish.told import told
from strata.formats.build_file import read_plan, write_plan
from strata.formats.set_file import write_set
from strata.panel.size import FORMATS, PanelSize
from strata.plan.edits import apply
from strata.plan.finish import Finish, Mat, Strip, read_finish, write_finish
from tests import world

IN = Fraction(254, 10)
CARDS = [(f.width, f.height) for f in FORMATS.values()]


def inch(sixteenths: int) -> float:
    """mm of so many sixteenths of an inch."""
    return float(Fraction(sixteenths, 16) * IN)


class SizesTest(unittest.TestCase):
    def test_two_hundred_cards_by_fractions(self) -> None:
        """The same sums by fractions of an inch or tenths of a millimetre, from the words of the craft alone."""
        rng = random.Random(13)
        for n in range(200):
            inches = n % 2 == 0
            step = IN / 16 if inches else Fraction(1, 10)
            card = [
                Fraction(rng.randrange(48, 130)) * (IN / 16)
                if inches
                else Fraction(rng.randrange(900, 2200), 10)
                for _ in "wh"
            ]
            edge, foot = (Fraction(rng.randrange(0, 6)) * step * (1 if inches else 10) for _ in "ef")
            mats = [
                [
                    Fraction(rng.randrange(1, 5)) * step * (1 if inches else 10),
                    Fraction(rng.randrange(0, 3)) * step,
                ]
                for _ in range(rng.randrange(4))
            ]
            fold, way = rng.choice(["side", "top", "none"]), rng.choice(["card", "panel"])
            finish = Finish(
                float(card[0]),
                float(card[1]),
                "White smooth",
                fold,
                way,
                float(edge),
                float(foot),
                tuple(Mat("Kraft", float(m), float(f)) for m, f in mats),
            )
            panel = [
                Fraction(rng.randrange(30, 40)) * (IN / 16)
                if inches
                else Fraction(rng.randrange(400, 700), 10)
                for _ in "wh"
            ]
            found = pieces_of(finish, PanelSize(float(panel[0]), float(panel[1])), "White smooth")
            got = {p.key: (Fraction(p.width, 80), Fraction(p.height, 80)) for p in found.pieces}
            with self.subTest(n=n, fold=fold, way=way):
                self.assertEqual(
                    got["base"],
                    (card[0] * (2 if fold == "side" else 1), card[1] * (2 if fold == "top" else 1)),
                )
                if way == "card":
                    size = [card[0] - 2 * edge, card[1] - 2 * edge - foot]
                    for k, (margin, more) in enumerate(mats, 1):
                        self.assertEqual(got[f"mat {k}"], tuple(size))
                        size = [size[0] - 2 * margin, size[1] - 2 * margin - more]
                else:
                    size = list(panel)
                    for k, (margin, more) in reversed(list(enumerate(mats, 1))):
                        size = [size[0] + 2 * margin, size[1] + 2 * margin + more]
                        self.assertEqual(got[f"mat {k}"], tuple(size))
                    self.assertEqual(sum(found.shows[:2]), (card[0] - size[0]) * 80)
                    size = list(panel)
                self.assertEqual(got["panel"], tuple(size))
                scores = next(p for p in found.pieces if p.key == "base").scores
                at = {"side": [(True, card[0])], "top": [(False, card[1])], "none": []}[fold]
                self.assertEqual([(s.down, Fraction(s.at, 80)) for s in scores], at)

    def test_the_usual_card_as_people_know_it(self) -> None:
        """4 1/4 x 5 1/2 in: base 8 1/2 x 5 1/2 scored at 4 1/4, panel a quarter smaller, a mat between them."""
        self.assertEqual((units(25.4), SIXTEENTH * 16), (2032, 2032))
        finish = Finish(inch(68), inch(88), "White smooth", mats=(Mat("Kraft", inch(2)),), edge=inch(2))
        found = {p.key: p for p in pieces_of(finish, PanelSize(105, 137), "White smooth").pieces}
        self.assertEqual((found["base"].width, found["base"].height), (136 * SIXTEENTH, 88 * SIXTEENTH))
        self.assertEqual((found["mat 1"].width, found["mat 1"].height), (64 * SIXTEENTH, 84 * SIXTEENTH))
        self.assertEqual((found["panel"].width, found["panel"].height), (60 * SIXTEENTH, 80 * SIXTEENTH))

    def test_frames_strips_stiffener_and_what_cannot_be(self) -> None:
        finish = Finish(
            105,
            148,
            "White smooth",
            edge=3,
            mats=(Mat("Kraft", 3, rim=6),),
            stiffener="Kraft",
            strips=(Strip(60, 12, "White smooth", "Kraft", 1.5, 1),),
        )
        found = {p.key: p for p in pieces_of(finish, PanelSize(99, 140), "White smooth").pieces}
        self.assertEqual(tuple(map(mm, found["mat 1"].window or ())), (9, 9, 81, 124))
        self.assertEqual(mm(found["shadow 1"].width), 63)
        self.assertLess(found["stiffener"].width, found["panel"].width)
        for wrong in (
            replace(finish, edge=60),
            replace(finish, mats=(Mat("Kraft", 3, rim=50),)),
            replace(finish, way="panel", edge=0, width=60.0),
        ):
            self.assertTrue(pieces_of(wrong, PanelSize(99, 140), "White smooth").problems)
        with self.assertRaises(BadValue):
            replace(finish, alone=True)


def some_batch(rng: random.Random) -> tuple[list[Size], tuple[int, int]]:
    """Pieces of one stock for a batch of cards as people make them."""
    sheet = SHEETS[rng.choice(["letter", "a4", "12x12"])]
    sizes: list[Size] = []
    for c in range(rng.randint(1, 2)):
        (w, h), count, less = rng.choice(CARDS), rng.randint(1, 8), 0
        if rng.random() < 0.4:
            sizes.append(Size(f"base {c}", units(2 * w), units(h), count))
        for k in range(rng.randint(1, 3)):
            less += rng.choice([4, 4, 6, 8])
            sizes.append(Size(f"mat {c} {k}", units(w - inch(less)), units(h - inch(less)), count))
        if rng.random() < 0.5:
            sizes.append(Size(f"strip {c}", units(rng.choice([50.8, 63.5, 76.2])), units(12.7), count))
    whole = (units(sheet.width), units(sheet.height))
    fit = [
        s
        for s in sizes
        if any(a <= whole[0] and b <= whole[1] for a, b in ((s.width, s.height), (s.height, s.width)))
    ]
    return fit, whole


def judged(case: unittest.TestCase, sizes: list[Size], found: Laid, blade: int = 0) -> None:
    """Everything is there, nothing lies over anything, and cuts from edge to edge part it."""
    want = {s.key: (s.count, {s.width, s.height}) for s in sizes}
    got = [p for s in found.sheets for p in s.pieces]
    case.assertEqual({k: n for k, (n, _) in want.items()}, {k: sum(p.key == k for p in got) for k in want})
    for sheet in found.sheets:
        for p in sheet.pieces:
            case.assertEqual({p.width, p.height}, want[p.key][1])
            case.assertTrue(
                p.x >= 0 and p.y >= 0 and p.x + p.width <= sheet.width and p.y + p.height <= sheet.height
            )
        for a, b in itertools.combinations(sheet.pieces, 2):
            apart = (
                a.x + a.width + blade <= b.x
                or b.x + b.width + blade <= a.x
                or a.y + a.height + blade <= b.y
                or b.y + b.height + blade <= a.y
            )
            case.assertTrue(apart, "two pieces lie over one another")
        cut_by_hand(case, sheet, cut_up(sheet, blade).cuts, blade)


def cut_by_hand(case: unittest.TestCase, sheet: Any, cuts: Any, blade: int) -> None:
    """Makes the cuts one after another on real rectangles, and finds every piece among what falls off."""
    parts = [(0, 0, sheet.width, sheet.height)]
    for cut in cuts:
        case.assertIn(cut.box, parts, "it cuts what is in hand, from edge to edge")
        parts.remove(cut.box)
        x, y, w, h = cut.box
        if cut.down:
            parts += [(x, y, cut.at, h), (x + cut.at + blade, y, w - cut.at - blade, h)]
        else:
            parts += [(x, y, w, cut.at), (x, y + cut.at + blade, w, h - cut.at - blade)]
    for p in sheet.pieces:
        case.assertIn((p.x, p.y, p.width, p.height), parts)


class SheetsTest(unittest.TestCase):
    def test_forty_batches_against_the_floor(self) -> None:
        rng = random.Random(40)
        over = 0
        for n in range(40):
            sizes, sheet = some_batch(rng)
            if not sizes:
                continue
            found = laid(sizes, sheet)
            with self.subTest(n=n):
                judged(self, sizes, found)
                cut = laid([s for s in sizes if max(s.width, s.height) < max(sheet)], sheet, blade=units(1))
                judged(self, [s for s in sizes if max(s.width, s.height) < max(sheet)], cut, units(1))
                kept = [(units(120), units(90)), (units(200), units(60))]
                with_kept = laid(sizes, sheet, kept)
                judged(self, sizes, with_kept)
                self.assertLessEqual(with_kept.new, found.new)
                self.assertEqual(with_kept.fewest, 0, "what is least is known only without off-cuts")
                area = sum(s.width * s.height * s.count for s in sizes) / (sheet[0] * sheet[1])
                self.assertGreaterEqual(found.fewest, math.ceil(area - 1e-9))
                self.assertLessEqual(found.fewest, found.new)
                if found.fewest <= 6:
                    self.assertLessEqual(found.new, found.fewest + 1)
                over += found.new > found.fewest
                if n % 8 == 0:
                    self.assertEqual(laid(sizes, sheet), found, "the same pieces lie the same way every time")
        self.assertLess(over, 8)

    def test_what_is_known_to_fit_does(self) -> None:
        letter = (units(inch(136)), units(inch(176)))
        base = Size("base", units(inch(136)), units(inch(88)), 12)
        self.assertEqual(laid([base], letter).new, 6, "two bases to a letter sheet, exactly")
        quarter = Size("quarter", units(inch(68)), units(inch(88)), 9)
        self.assertEqual((laid([quarter], letter).new, laid([quarter], letter).fewest), (3, 3))
        # three of these by area, but no way to lay them: the floor knows it
        big = Size("big", units(inch(136)), units(inch(88)), 6)
        twelve = (units(inch(192)), units(inch(192)))
        self.assertEqual(
            (laid([big], twelve).new, fewest([(big.width, big.height, 6, True)], twelve)), (3, 3)
        )

    def test_a_blade_takes_its_part_and_off_cuts_come_first(self) -> None:
        letter = (units(inch(136)), units(inch(176)))
        base = Size("base", units(inch(136)), units(inch(88)), 2)
        found = laid([base], letter, blade=units(1))
        self.assertEqual(found.new, 2, "with a blade two no longer fit exactly")
        judged(self, [base], found, units(1))
        small = [Size("strip", units(60), units(12), 5), Size("mat", units(90), units(120), 1)]
        found = laid(small, letter, [(units(70), units(70))])
        judged(self, small, found)
        self.assertEqual(found.new, 1)
        self.assertEqual({p.key for s in found.sheets if s.of == 0 for p in s.pieces}, {"strip"})
        with self.assertRaises(BadValue):
            laid([Size("huge", units(900), units(20), 1)], letter)

    def test_what_may_not_be_turned_is_not(self) -> None:
        sizes = [Size("folded", units(120), units(60), 6, False), Size("any", units(120), units(60), 3)]
        found = laid(sizes, (units(210), units(297)))
        judged(self, sizes, found)
        self.assertFalse(any(p.turned for s in found.sheets for p in s.pieces if p.key == "folded"))


class FinishedTest(unittest.TestCase):
    def setUp(self) -> None:
        self.plan = replace(world.demo_plan("thank-you-by-lantern-light"), finish=None)
        self.scene = world.scene(self.plan)

    def finished(self, **values: Any) -> Finished:
        size = self.scene.layer_set.size
        finish = Finish(
            round(size.width + 19, 1),
            round(size.height + 19, 1),
            "White smooth",
            edge=3.0,
            mats=(Mat("Kraft", 3.0),),
        )
        return Finished(self.scene.with_plan(replace(self.plan, finish=replace(finish, **values))))

    def test_without_a_word_a_card_is_proposed_that_holds_the_panel(self) -> None:
        made = Finished(self.scene)
        self.assertFalse(made.decided)
        self.assertEqual(made.problems, [])
        self.assertEqual(json.loads(json.dumps(told(made)))["decided"], False)
        self.assertTrue(made.assembly and made.envelope and made.grams > 5)

    def test_thickness_and_weight_are_added_up_piece_by_piece(self) -> None:
        plain, high = self.finished(), self.finished(foam=2.0, stiffener="Kraft")
        stocks = self.scene.stocks
        self.assertAlmostEqual(
            plain.thick, 3 * stocks["White smooth"].thickness_mm + stocks["Kraft"].thickness_mm
        )
        self.assertAlmostEqual(high.thick - plain.thick, 2.0 + stocks["Kraft"].thickness_mm)
        front = plain.finish.width * plain.finish.height
        mat = (plain.finish.width - 6) * (plain.finish.height - 6)
        panel = (plain.finish.width - 12) * (plain.finish.height - 12)
        gsm = stocks["White smooth"].weight_gsm / 1e6
        grams = 2 * front * gsm + mat * stocks["Kraft"].weight_gsm / 1e6 + panel * gsm
        envelope = sum(p.amount for p in plain.weight if p.name == "Envelope")
        self.assertAlmostEqual(plain.grams - envelope, grams, places=4)
        # what advice says of the whole card is the same sum
        found = list(
            Thickness().look(
                type(
                    "S",
                    (),
                    {"scene": self.finished(foam=3.0, stiffener="Kraft", mats=(Mat("Kraft", 2),) * 3).scene},
                )()
            )
        )
        self.assertEqual(
            bool(found), self.finished(foam=3.0, stiffener="Kraft", mats=(Mat("Kraft", 2),) * 3).thick > 5
        )

    def test_rates(self) -> None:
        letter, large = (
            PostalClass("Letter", 5, 100, 240, 165, "1.00"),
            PostalClass("Large", 25, 750, 353, 250),
        )
        envelope = envelope_for(108, 140, 2)
        self.assertIs(cheapest([letter, large], 2.0, 30, envelope), letter)
        self.assertIs(cheapest([letter, large], 6.0, 30, envelope), large)
        self.assertIsNone(cheapest([letter, large], 30, 30, envelope))
        self.assertIn("mm thick", next(letter.against(6.0, 30, envelope)))

    def test_grain_and_a_panel_that_is_cut_into(self) -> None:
        cut = self.finished(width=70.0, height=90.0)
        self.assertTrue(any("is cut into" in p for p in cut.problems))
        size = self.scene.layer_set.size
        for grain, sheet in itertools.product(("long", "short"), ("a4", "12x12")):
            made = self.finished(width=min(100.0, size.width), sheets=(("White smooth", sheet, grain),))
            bases = [
                p
                for s in made.from_stock
                for u in (s.laid.sheets if s.laid else ())
                for p in u.pieces
                if p.key == "Base"
            ]
            for p in bases:
                folded_down = p.height == units(made.finish.height)
                self.assertEqual(folded_down, grain == "long", "the fold runs with the grain")
        odd = self.finished(width=100.0, sheets=(("White smooth", "cloth", ""),))
        self.assertTrue(any("size that is not known here" in p for p in odd.problems))
        wide = self.finished(width=127.0, height=158.75, sheets=(("White smooth", "letter", "long"),))
        self.assertTrue(any("across the grain" in p for p in wide.problems))
        self.assertTrue(all(s.laid for s in wide.from_stock), "it is laid all the same")

    def test_a_finish_is_an_edit_and_goes_with_the_build(self) -> None:
        finish = write_finish(
            self.finished(
                strips=(Strip(60, 12, "Kraft"),),
                sheets=(("Kraft", "a4", "long"),),
                offcuts=(("Kraft", 80.0, 60.0),),
            ).finish
        )
        plan, label = apply(self.scene, "set_finish", {"finish": json.loads(json.dumps(finish))})
        self.assertEqual(write_finish(plan.finish or self.fail()), finish)
        self.assertIn("folded at the side", label)
        self.assertEqual(read_plan(json.loads(json.dumps(write_plan(plan)))), plan)
        self.assertIsNone(apply(self.scene.with_plan(plan), "set_finish", {})[0].finish)
        for name, wrong in itertools.product(
            finish, (None, "", -1, [], {}, "x" * 900, [[1]], [{}], float("nan"), True)
        ):
            values = {**finish, name: wrong}
            try:
                read_finish(values)
            except StrataError:
                continue
            self.assertTrue(wrong in ("", [], True, None) or wrong == finish[name], f"{name}={wrong!r}")

    def test_from_the_command_line(self) -> None:
        values = {
            "build": write_plan(replace(self.plan, finish=self.finished().finish)),
            "set": write_set(world.koi()),
            "drawer": json.loads((world.DEMO / "drawer" / "lockside-drawer.json").read_text()),
            "cards": 5,
            "rates": [
                {"name": "Letter", "thick": 5, "weight": 100, "long": 240, "wide": 165, "price": "1.00"}
            ],
        }
        found = answers.answer(json.dumps(values))
        self.assertEqual({p["count"] for p in found["pieces"]}, {5})
        self.assertEqual(len(found["rates"]), 1)
        self.assertTrue(all(len(s["laid"]) == s["take"] >= s["fewest"] for s in found["sheets"]))
        with self.assertRaises(BadValue):
            answers.answer(json.dumps({**values, "rates": [{"name": 5}]}))
