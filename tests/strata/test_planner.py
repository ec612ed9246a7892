"""The planner: sound by every rule, never worse than at once, as good as trying everything, the same every time."""

import itertools
import json
import random
import unittest
from dataclasses import replace

from strata.errors import BadFile
from strata.order.check import check
from strata.order.evening import Evening, Make
from strata.order.explain import explain
from strata.order.facts import facts_of, plan_json
from strata.order.found import read_found, write_found
from strata.order.gather import work_of
from strata.order.needed import least_ticks
from strata.order.planning import at_once, plan, search
from strata.order.schedule import Schedule
from strata.order.scheduled import scheduled
from strata.order.table_rules import AT_THE_TABLE, PLAIN, TODAY
from strata.order.ticks import Work
from strata.order.timing import timed
from strata.order.visits import visits_of
from strata.order.wetness import wet_by_card
from strata.order.wish import Wish
from strata.order.wishes import work_for
from strata.order.work_file import read_work, write_work
from strata.plan import Form, Scene
from strata.plan.wishes import OrderWishes, OtherWork
from tests import world
from tests.orders import KINDS, QUICK, judged, plan_greedily, some_scene

RULES = {
    "today": TODAY,
    "plain": PLAIN,
    "table": AT_THE_TABLE,
    "helped": replace(PLAIN, hands=2),
    "heated": replace(PLAIN, heat=True),
}


class SoundTest(unittest.TestCase):
    def test_every_kind_by_every_rule(self) -> None:
        rng = random.Random(4)
        for name, kind in KINDS:
            scene = some_scene(rng, 9, name, kind)
            for called, rules in RULES.items():
                with self.subTest(name=name, rules=called):
                    first = plan_greedily(work_of(Evening([Make(scene)]), rules))
                    found = judged(scene, rules)
                    self.assertLessEqual(found.minutes, first.minutes + 1e-9)
                    self.assertLessEqual(found.bound or 0, found.minutes + 1e-9)

    def test_batches_and_a_card_that_leads(self) -> None:
        rng = random.Random(9)
        scene = some_scene(rng, 8, *KINDS[0])
        alone = judged(scene, PLAIN).minutes
        for rules in (
            PLAIN,
            replace(PLAIN, masks_stay=False),
            AT_THE_TABLE,
            replace(PLAIN, hands=2, heat=True),
        ):
            found = judged(scene, rules, cards=5)
            self.assertLess(found.minutes, 5 * alone)
        led = judged(scene, replace(PLAIN, first_card=True), cards=4)
        first_done = max(a.starts for a in led.actions if a.kind == "ink" and a.card == 1)
        self.assertLess(first_done, min(a.starts for a in led.actions if a.kind == "ink" and a.card > 1))

    def test_a_rack_of_few_places(self) -> None:
        rng = random.Random(9)
        scene = some_scene(rng, 8, *KINDS[0])
        enough = judged(scene, AT_THE_TABLE, cards=6)
        before = 0.0
        for places in (4, 2, 1):
            rules = replace(AT_THE_TABLE, rack=places)
            found = judged(scene, rules, cards=6)
            self.assertGreaterEqual(found.minutes, max(before, enough.minutes) - 0.5)
            before = found.minutes
            facts = json.loads(json.dumps(facts_of(Evening([Make(scene, 6)]), replace(rules, rack=1))))
            told = json.loads(
                json.dumps(plan_json(enough, work_of(Evening([Make(scene, 6)]), rules).by_hand))
            )
            self.assertIn("no place left", " ".join(check(facts, told)))

    def test_an_evening_of_several_builds(self) -> None:
        rng = random.Random(2)
        koi, moth = some_scene(rng, 7, *KINDS[0]), some_scene(rng, 6, *KINDS[2])
        stocks = [
            koi.with_plan(replace(koi.plan, materials=replace(koi.plan.materials, stock=s)))
            for s in ("White smooth", "Kraft", "Ivory")
        ]
        for makes in ([Make(s) for s in stocks], [Make(koi, 2), Make(moth, 2)]):
            evening = Evening(makes)
            work = work_of(evening, PLAIN)
            found = plan(work, QUICK)
            facts = json.loads(json.dumps(facts_of(evening, PLAIN)))
            self.assertEqual(check(facts, json.loads(json.dumps(plan_json(found)))), [])
            alone = [plan(work_of(Evening([Make(m.scene)]), PLAIN), QUICK).minutes for m in makes]
            apart = sum(m.cards * a for m, a in zip(makes, alone, strict=True))
            self.assertLess(found.minutes, 0.85 * apart, "at least 15 % less than one after the other")
        sheets = {s["number"] for s in facts_of(Evening([Make(s) for s in stocks]), PLAIN)["sheets"]}
        self.assertEqual(
            len(sheets), len(koi.layer_set.sheets) - 1, "the same plastic for all; no bare panel"
        )

    def test_a_build_without_a_pass_may_be_among_them(self) -> None:
        koi = some_scene(random.Random(2), 4, *KINDS[0])
        bare = koi.with_plan(replace(koi.plan, passes=()))
        evening = Evening([Make(bare, 2), Make(koi)])
        found = plan(work_of(evening, PLAIN), QUICK)
        facts = json.loads(json.dumps(facts_of(evening, PLAIN)))
        self.assertEqual(check(facts, json.loads(json.dumps(plan_json(found)))), [])
        self.assertEqual(plan(work_of(Evening([Make(bare)]), PLAIN), QUICK).actions, ())

    def test_other_work_is_done_and_in_time(self) -> None:
        scene = some_scene(random.Random(7), 8, *KINDS[0])
        needed = scene.plan.passes[3].key
        jobs = (
            OtherWork("a", "Fold the bases", 3),
            OtherWork("b", "Cut a mask", 4, needed),
            OtherWork("c", "Inside", 1.5),
        )
        for hands in (1, 2):
            found = judged(scene, replace(PLAIN, hands=hands), jobs=jobs)
            done = {a.job: a for a in found.actions if a.kind == "prep"}
            self.assertEqual(set(done), {"a", "b", "c"})
            inked = next(a for a in found.actions if a.pass_key == needed)
            self.assertLessEqual(done["b"].starts + done["b"].minutes, inked.starts)
        plain = judged(scene, PLAIN).minutes
        short = judged(scene, PLAIN, jobs=(OtherWork("c", "Inside", 1.0),)).minutes
        self.assertAlmostEqual(short, plain, msg="it fits into a wait and costs nothing")


class BestTest(unittest.TestCase):
    """Against trying everything: every order that the rules allow, each laid out in time."""

    def cheapest(self, work: Work, wish: Wish) -> float:
        best = float("inf")
        for order in itertools.permutations(range(work.count)):
            done = 0
            for i in order:
                if work.below[i] & ~done:
                    break
                done |= 1 << i
            else:
                laid = timed(work, visits_of(work, [(1, i) for i in order]))
                best = min(best, wish.price(laid))
        return best

    def test_no_order_of_few_passes_is_better(self) -> None:
        rng = random.Random(13)
        for n in range(9):
            name, kind = KINDS[n % 3]
            scene = some_scene(rng, rng.randint(4, 6), name, kind)
            for first in ("time", "cleanings", "placements", "masks"):
                wish = Wish(first, 2)  # type: ignore[arg-type]
                work = Work(work_of(Evening([Make(scene)]), PLAIN))
                found = search(work, wish)
                with self.subTest(n=n, first=first):
                    self.assertTrue(found.proven or first != "time")
                    self.assertLessEqual(wish.price(found.timed), self.cheapest(work, wish))

    def test_what_is_proven_is_no_better_than_any_other_found(self) -> None:
        """A proof that is wrong would be beaten sooner or later."""
        rng = random.Random(3)
        for name, kind in KINDS:
            work = Work(work_of(Evening([Make(some_scene(rng, 10, name, kind))]), PLAIN))
            found = search(work, Wish(budget=4))
            self.assertTrue(found.proven)
            self.assertGreaterEqual(found.timed.end, least_ticks(work))
            for _ in range(300):
                order, done = [], 0
                while len(order) < work.count:
                    ready = [i for i in range(work.count) if not done >> i & 1 and not work.below[i] & ~done]
                    order.append(rng.choice(ready))
                    done |= 1 << order[-1]
                laid = timed(work, visits_of(work, [(1, i) for i in order]))
                self.assertGreaterEqual(laid.end, found.timed.end)


class HeldTest(unittest.TestCase):
    def test_the_picture_stays(self) -> None:
        """Who lies wet on whom is as by the order at once, on every card."""
        rng = random.Random(8)
        for name, kind in KINDS:
            scene = some_scene(rng, 12, name, kind)
            for cards in (1, 3):
                work = Work(work_of(Evening([Make(scene, cards)]), replace(PLAIN, hold_wet=True)))
                alone = Work(work_of(Evening([Make(scene)]), PLAIN))
                held = wet_by_card(alone, at_once(alone).timed)[1]
                for wet in wet_by_card(work, search(work, QUICK).timed).values():
                    self.assertEqual(wet, held)


class KeptTest(unittest.TestCase):
    def test_the_same_plan_every_time_and_in_another_process(self) -> None:
        scene = some_scene(random.Random(5), 11, *KINDS[1])
        for cards in (1, 3):
            work = Work(work_of(Evening([Make(scene, cards)]), AT_THE_TABLE))
            one, two = search(work, QUICK), search(work, QUICK)
            self.assertEqual(one, two)
            sent = Work(read_work(json.loads(json.dumps(write_work(work.instance)))))
            kept = json.loads(json.dumps(write_found(sent, search(sent, QUICK))))
            self.assertEqual(read_found(work, kept), one)

    def test_what_is_of_other_work_is_refused(self) -> None:
        rng = random.Random(6)
        one, other = (Work(work_of(Evening([Make(some_scene(rng, n, *KINDS[0]))]), PLAIN)) for n in (5, 6))
        kept = write_found(one, search(one, Wish(budget=0)))
        for wrong in (kept, {}, {**kept, "version": 9}, {**kept, "did": [["ink"]]}):
            with self.assertRaises(BadFile):
                read_found(other, wrong)


def _together(schedule: Schedule) -> dict[int, list[str]]:
    """For each sheet the most passes that are done on card 1 while it is seated once."""
    found: dict[int, list[str]] = {}
    here: list[str] = []
    for a in schedule.actions:
        if a.kind == "place":
            here = []
        elif a.kind == "ink" and a.card == 1 and a.pass_key:
            here.append(a.pass_key)
            if len(here) > len(found.get(a.sheet, [])):
                found[a.sheet] = list(here)
    return found


class WishesTest(unittest.TestCase):
    def test_a_pin_is_kept_and_one_that_cannot_be_is_passed_over(self) -> None:
        plan_ = world.demo_plan("first-try-on-kraft")
        scene = world.scene(plan_)
        keys = plan_greedily(work_for(scene)).passes
        work = work_for(scene)
        free = next(
            (a, b) for a, b in itertools.pairwise(keys) if not any(r.before == a for r in work.before[b])
        )
        pinned = scene.with_plan(replace(plan_, order=OrderWishes(pins=(free[::-1],))))
        order = list(plan_greedily(work_for(pinned)).passes)
        self.assertLess(order.index(free[1]), order.index(free[0]))
        rule = work.precedences[0]
        wrong = scene.with_plan(replace(plan_, order=OrderWishes(pins=((rule.after, rule.before),))))
        self.assertEqual(plan_greedily(work_for(wrong)).passes, keys)

    def test_a_return_is_kept_apart_by_every_planner(self) -> None:
        rng = random.Random(7)
        for cards, count, name in ((1, 6, 0), (1, 14, 0), (3, 8, 0), (1, 9, 1)):
            scene = some_scene(rng, count, *KINDS[name])
            usual = judged(scene, PLAIN, cards=cards)
            sheet, own = max(_together(usual).items(), key=lambda found: len(found[1]))
            self.assertGreater(len(own), 1)
            with self.subTest(cards=cards, count=count, sheet=sheet):
                evening = Evening([Make(scene, cards, returns=((own[-1],),))])
                work = work_of(evening, PLAIN)
                facts = json.loads(json.dumps(facts_of(evening, PLAIN)))
                self.assertIn("another seating", " ".join(check(facts, plan_json(usual))))
                for rules in (work.rules, replace(work.rules, hands=2)):
                    found = plan(replace(work, rules=rules), QUICK)
                    facts["rules"] = rules.as_facts()
                    self.assertEqual(check(facts, json.loads(json.dumps(plan_json(found)))), [])
                again = read_work(json.loads(json.dumps(write_work(work))))
                self.assertEqual(Work(again).split, Work(work).split)

    def test_colour_by_colour_and_element_by_element(self) -> None:
        scene = some_scene(random.Random(11), 12, *KINDS[0])
        work = Work(work_of(Evening([Make(scene)]), PLAIN))
        usual = search(work, QUICK).timed
        for first in ("pads", "elements"):
            found = search(work, Wish(first, 0.5)).timed
            self.assertLess(getattr(found, first), getattr(usual, first))
            self.assertGreaterEqual(
                getattr(found, first), len({getattr(t, first[:-1], t.ink) for t in work.tasks})
            )
            judged(scene, PLAIN, Wish(first, 0.5))

    def test_a_mask_where_it_is_wanted(self) -> None:
        plan_ = world.demo_plan("thank-you-by-lantern-light")
        chosen = OrderWishes(partings=(("water", 1, "mask"),))
        work = work_for(world.scene(replace(plan_, order=chosen)))
        water = [t.key for t in work.tasks if t.group == ("water", 1)]
        self.assertTrue(all(work.masks[k] and k not in work.by_hand for k in water))
        self.assertTrue(any(j.before in water for j in work.jobs), "it has to be cut first")
        light = work_for(world.scene(plan_))
        self.assertTrue(all(not light.masks[k] and k in light.by_hand for k in water))
        self.assertFalse(light.jobs)


class ExplainTest(unittest.TestCase):
    def test_every_step_has_a_reason_and_what_cannot_be_earlier_names_the_rule(self) -> None:
        scene = world.scene(world.demo_plan("first-try-on-kraft"))
        work = Work(work_for(scene))
        found = search(work, Wish(budget=0))
        told = scheduled(work, found).actions
        waited = 0
        for n, action in enumerate(told):
            if action.kind in ("wait", "prep") or n % 3:
                continue
            why = explain(scene, work, found, n)
            self.assertTrue(why.because)
            waited += any("dry in minute" in s for s in why.because)
            if action.kind == "ink" and why.earlier:
                self.assertNotEqual(why.forbids is None, why.cost is None)
        self.assertGreater(waited, 3)


class WashTest(unittest.TestCase):
    def scene(self, angle: float) -> Scene:
        """Two inks whose hues cancel, from one side of an opening and from a side ``angle`` away."""
        sides = [Form("side", 0, 0.3), Form("side", angle, 0.3)]
        inks = ["campion", "lily-leaf"]
        passes = [world.a_pass(k, "leaf", 1, k, 1, f) for k, f in zip(inks, sides, strict=True)]
        return world.scene(world.plan_of(*passes), world.two_sheets())

    def washes(self, angle: float, wash_by: str) -> int:
        rules = replace(PLAIN, wash_by=wash_by)
        return [a.kind for a in judged(self.scene(angle), rules).actions].count("wash")

    def test_only_where_one_ink_meets_what_another_left(self) -> None:
        self.assertEqual((self.washes(180, "opening"), self.washes(180, "place")), (1, 0))
        self.assertEqual((self.washes(0, "opening"), self.washes(0, "place")), (1, 1))
