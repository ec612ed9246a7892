"""Cleaning a sheet: with a damp wipe where that is enough, not at all where there is a second copy of it."""

from __future__ import annotations

import json
import random
import unittest
from dataclasses import replace
from typing import Any

from strata.errors import BadValue
from strata.making import Making, Meant
from strata.making.pull import pull_list
from strata.order import Ordering, facts
from strata.order.check import check
from strata.order.evening import Evening, Make
from strata.order.gather import work_of
from strata.order.narration import narrate
from strata.order.planning import at_once, plan
from strata.order.schedule import Schedule
from strata.order.second_copy import copied, never_dirty, told_apart
from strata.order.table_rules import PLAIN, TableRules
from strata.order.ticks import Work
from strata.order.wish import Wish
from strata.plan import Form, Scene
from strata.plan.edits import apply
from strata.plan.wishes import OrderWishes, read_wishes, write_wishes
from tests import world
from tests.orders import KINDS, QUICK, judged, some_scene
from tests.strata.test_making import BEGIN, done

DAMP = replace(PLAIN, damp_wipe=True)


def through_one_opening(*inks: str, coats: int = 1) -> Scene:
    """Inks one after another from the same side of one opening."""
    passes = [world.a_pass(k, "leaf", 1, k, coats, Form("side", 0, 0.3)) for k in inks]
    return world.scene(world.plan_of(*passes), world.two_sheets())


def kinds(found: Schedule) -> list[str]:
    return [a.kind for a in found.actions if a.kind in ("damp", "wash")]


def json_of(
    scene: Scene, rules: TableRules, twice: tuple[int, ...] = (), cards: int = 1, wish: Wish = QUICK
) -> tuple[Any, Any]:
    """(facts, plan) as the checker gets them."""
    evening = Evening([Make(scene, cards, twice=frozenset(twice))])
    work = work_of(evening, rules)
    found = facts.plan_json(plan(work, wish), work.by_hand)
    return json.loads(json.dumps([facts.facts_of(evening, rules, work.jobs), found]))


class DampTest(unittest.TestCase):
    def test_thin_dye_comes_off_with_a_wipe_that_is_quicker_than_washing(self) -> None:
        scene = through_one_opening("campion", "lily-leaf")
        washed, wiped = judged(scene, PLAIN), judged(scene, DAMP)
        self.assertEqual((kinds(washed), kinds(wiped)), (["wash"], ["damp"]))
        self.assertLess(wiped.minutes, washed.minutes)

    def test_what_is_thick_or_wants_alcohol_is_washed_off(self) -> None:
        self.assertEqual(kinds(judged(through_one_opening("campion", "lily-leaf", coats=2), DAMP)), ["wash"])
        # white pigment lies under the dye: it is what is left on the sheet
        self.assertEqual(kinds(judged(through_one_opening("whitewash", "campion"), DAMP)), ["wash"])

    def test_it_is_told_what_met_what_and_that_water_is_enough(self) -> None:
        scene = through_one_opening("campion", "lily-leaf")
        for rules, kind in ((PLAIN, "wash"), (DAMP, "damp")):
            work = work_of(Evening([Make(scene)]), rules)
            found = plan(work, QUICK)
            step = next(s for s in narrate(scene, work, found).steps if s.kind == kind)
            first, second = (scene.ink_of(k).name for k in (found.passes[0], found.passes[1]))
            self.assertEqual(step.reasons[0], f"{first} is still on it and must not meet {second}.")
            self.assertEqual("damp wipe" in step.sentence, kind == "damp")
            self.assertEqual(step.caution is None, kind == "damp")

    def test_the_checker_knows_what_a_damp_wipe_does_not_take_off(self) -> None:
        said, good = json_of(through_one_opening("campion", "lily-leaf"), DAMP)
        self.assertEqual(check(said, good), [])
        spoilt: list[tuple[str, Any]] = [
            ("no such rule", {**said, "rules": {**said["rules"], "damp_wipe": False}}),
            ("too thick", {**said, "passes": [{**p, "thickness": 1.6} for p in said["passes"]]}),
            ("alcohol", {**said, "inks": {k: {**i, "cleaning": "alcohol"} for k, i in said["inks"].items()}}),
            ("lumps", {**said, "inks": {k: {**i, "chemistry": "paste"} for k, i in said["inks"].items()}}),
        ]
        for name, facts_said in spoilt:
            with self.subTest(name):
                self.assertNotEqual(check(facts_said, good), [])

    def test_random_builds_with_the_solver_and_for_several_cards(self) -> None:
        rng = random.Random(3)
        wiped = 0
        for n in range(6):
            found = judged(some_scene(rng, 12, *KINDS[0]), DAMP, QUICK, cards=1 + n % 3)
            wiped += kinds(found).count("damp")
        self.assertGreater(wiped, 0)


class SecondCopyTest(unittest.TestCase):
    def test_nothing_is_washed_where_the_inks_fall_into_two_sorts(self) -> None:
        scene = through_one_opening("campion", "lily-leaf")
        said, one = json_of(scene, PLAIN)
        with_two, two = json_of(scene, PLAIN, (1,))
        self.assertEqual((check(said, one), check(with_two, two)), ([], []))
        self.assertEqual([s["kind"] for s in one["steps"]].count("wash"), 1)
        self.assertNotIn("wash", [s["kind"] for s in two["steps"]])
        self.assertEqual({s["copy"] for s in two["steps"] if s["kind"] == "place"}, {1, 2})
        self.assertLess(two["minutes"], one["minutes"])

    def test_three_sorts_of_ink_and_two_copies_are_washed_once(self) -> None:
        scene = through_one_opening("whitewash", "campion", "lily-leaf")
        said, found = json_of(scene, PLAIN, (1,))
        self.assertEqual(check(said, found), [])
        self.assertEqual([s["kind"] for s in found["steps"]].count("wash"), 1)

    def test_random_builds_are_sound_and_no_more_is_washed(self) -> None:
        rng = random.Random(8)
        spared = 0
        for n in range(6):
            scene, cards = some_scene(rng, 12, *KINDS[0]), 1 + n % 3
            washes = []
            for twice in ((), (1, 2, 3, 4, 5)):
                said, found = json_of(scene, PLAIN, twice, cards)
                self.assertEqual(check(said, found), [])
                washes.append(found["cleanings"])
            spared += washes[0] > washes[1]
        self.assertGreater(spared, 0)

    def test_the_checker_knows_how_many_copies_there_are_and_what_lies_on_each(self) -> None:
        said, good = json_of(through_one_opening("campion", "lily-leaf"), PLAIN, (1,))
        owned_once = {**said, "sheets": [{**s, "owned": 1} for s in said["sheets"]]}
        on_one = {**good, "steps": [{**s, "copy": 1} for s in good["steps"]]}
        on_third = {**good, "steps": [{**s, "copy": s["copy"] + 1} for s in good["steps"]]}
        for facts_said, spoilt in ((owned_once, good), (said, on_one), (said, on_third)):
            self.assertNotEqual(check(facts_said, spoilt), [])
        self.assertIn("spoils", " ".join(check(said, on_one)))

    def test_nothing_is_shorter_than_sheets_that_are_never_dirty(self) -> None:
        rng = random.Random(4)
        for _ in range(4):
            scene = some_scene(rng, 7, *KINDS[0])
            work = work_of(Evening([Make(scene, twice=frozenset((1, 2, 3, 4, 5)))]), PLAIN)
            found = plan(work, Wish(budget=2))
            least = plan(never_dirty(work), Wish(budget=2))
            self.assertGreaterEqual(found.minutes, (least.bound or 0) - 1e-6)
            self.assertLessEqual(found.bound or 0, found.minutes + 1e-6)
            self.assertLessEqual(at_once(Work(never_dirty(work))).timed.end, at_once(Work(work)).timed.end)

    def test_the_second_copy_is_called_so(self) -> None:
        scene = through_one_opening("campion", "lily-leaf")
        work = work_of(Evening([Make(scene, twice=frozenset((1,)))]), PLAIN)
        steps = narrate(scene, work, plan(work, QUICK)).steps
        second = [s for s in steps if s.copy == 2 and s.kind in ("place", "lift")]
        self.assertEqual(len(second), 2)
        for step in second:
            self.assertIn("your second sheet 1", step.sentence)
        self.assertEqual(told_apart(copied(7, 2)), (7, 2))


class WishedTest(unittest.TestCase):
    def test_it_is_wished_of_sheets_of_a_stencil(self) -> None:
        scene = through_one_opening("campion", "lily-leaf")
        wished = apply(scene, "wish_order", {"twice": [1, 1]})[0].order
        self.assertEqual(wished.twice, (1,))
        self.assertEqual(read_wishes(write_wishes(wished)), wished)
        for odd in ([9], "1", [True and 1.5], [None]):
            with self.assertRaises(BadValue, msg=str(odd)):
                apply(scene, "wish_order", {"twice": odd})
        with self.assertRaises(BadValue):
            OrderWishes(twice=(0,))

    def test_the_rest_goes_on_with_the_copies_as_they_lie(self) -> None:
        plain = through_one_opening("whitewash", "campion", "lily-leaf")
        scene = plain.with_plan(apply(plain, "wish_order", {"twice": [1]})[0])
        sequence = Ordering(scene, 1).sequence
        self.assertEqual({s.copy for s in sequence.steps if s.kind == "place"}, {1, 2})
        self.assertIn("both copies", pull_list(scene, sequence.steps, 1, {}).sheets[0])
        meant = Meant(sequence, 1)
        for walked in range(len(sequence.steps)):
            events, at = [], BEGIN
            for n, step in enumerate(sequence.steps[:walked]):
                at += 60 * step.minutes
                events.append(done(n, step, at))
            asked = Making(scene, meant, events).as_request()
            with self.subTest(walked=walked):
                self.assertEqual(check(asked["facts"], asked["plan"]), [])
