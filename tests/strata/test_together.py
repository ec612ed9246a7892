"""Cutting, folding and putting together as part of the work: planned, told, judged, kept."""

import json
import random
import unittest
from dataclasses import replace

from strata.errors import BadValue
from strata.order.check import check
from strata.order.evening import Evening, Make
from strata.order.facts import facts_of, plan_json
from strata.order.gather import work_of
from strata.order.narration import narrate
from strata.order.ordering import Ordering
from strata.order.planning import plan
from strata.order.scheduled import scheduled
from strata.order.table_rules import AT_THE_TABLE, PLAIN
from strata.order.together import Together
from strata.order.told import told_visits
from strata.order.wishes import jobs_of
from strata.plan import Scene
from strata.plan.model import MOST_CARDS
from strata.plan.wishes import MOST_MINUTES, OtherWork
from tests.orders import KINDS, QUICK, judged, some_scene


class TogetherTest(unittest.TestCase):
    """Cutting, folding and putting together as part of the work, by the finish of the card."""

    def scene(self, cards: int = 1) -> Scene:
        scene = some_scene(random.Random(7), 6, *KINDS[0])
        own = replace(scene.plan.materials, cards=cards)
        order = replace(scene.plan.order, assembly=True)
        return scene.with_plan(replace(scene.plan, materials=own, order=order))

    def test_it_is_cut_in_waits_and_put_together_when_all_is_dry(self) -> None:
        for cards, hands in ((1, 1), (3, 1), (3, 2)):
            scene = self.scene(cards)
            jobs = tuple(jobs_of(scene))
            self.assertTrue(jobs[0].name.startswith("Cut") and not jobs[0].last and jobs[-1].last)
            found = judged(scene, replace(PLAIN, hands=hands), cards=cards, jobs=jobs)
            done = [a for a in found.actions if a.kind == "prep"]
            self.assertEqual([a.job for a in done], [j.key for j in jobs])
            inked = max(a.starts + a.minutes for a in found.actions if a.kind == "ink")
            late = [a for a in done if next(j for j in jobs if j.key == a.job).last]
            self.assertTrue(all(a.starts >= inked for a in late))
            self.assertLessEqual(found.bound or 0, found.minutes + 1e-9)

    def test_it_is_told_with_its_cautions_and_a_clock_for_the_weight(self) -> None:
        scene = self.scene()
        work = work_of(Evening([Make(scene)]), PLAIN, jobs_of(scene))
        steps = narrate(scene, work, plan(work, QUICK)).steps
        told = {s.job: s for s in steps if s.kind == "prep"}
        self.assertIn("knife", told["finish:cut"].caution or "")
        self.assertEqual((told["finish:press"].clock, told["finish:press"].dries), ("job:finish:press", 10.0))
        self.assertEqual(told["finish:mount"].reasons, ("Everything is dry: now it is put together.",))

    def test_of_several_cards_told_once_no_work_is_left_out_of_what_is_told(self) -> None:
        for cards in (2, 5):
            sequence = Ordering(self.scene(cards), cards).sequence
            told = [s.sentence for v in told_visits(sequence) for s in v.steps if s.kind == "prep"]
            self.assertEqual(told, [s.sentence for s in sequence.steps if s.kind == "prep"])
            inked = [(s.card, s.pass_key) for s in sequence.steps if s.kind == "ink"]
            shown = [
                (c, s.pass_key)
                for v in told_visits(sequence)
                for c in v.cards
                for s in v.steps
                if s.kind == "ink"
            ]
            self.assertEqual(sorted(shown), sorted(inked))
            # what is done once is not told as if it were done on each card
            self.assertFalse(
                [
                    v
                    for v in told_visits(sequence)
                    if len(v.cards) > 1 and any(s.kind == "prep" for s in v.steps)
                ]
            )

    def test_the_checker_refuses_what_is_glued_wet_or_in_the_wrong_order(self) -> None:
        scene = self.scene()
        evening, jobs = Evening([Make(scene)]), jobs_of(scene)
        work = work_of(evening, PLAIN, jobs)
        facts = json.loads(json.dumps(facts_of(evening, PLAIN, work.jobs)))
        good = json.loads(json.dumps(plan_json(plan(work, QUICK), work.by_hand)))
        place = {s["job"]: n for n, s in enumerate(good["steps"]) if s["kind"] == "prep"}
        for job in ("finish:mount", "finish:fold"):
            bad = json.loads(json.dumps(good))
            bad["steps"][place[job]]["starts"] = 0.0
            self.assertTrue([w for w in check(facts, bad) if w.startswith("prep")], job)
        twice = json.loads(json.dumps(good))
        twice["steps"].append(twice["steps"][place["finish:press"]])
        self.assertTrue(any("twice" in w for w in check(facts, twice)))

    def test_an_evening_puts_each_of_its_builds_together(self) -> None:
        evening = Together([Ordering(self.scene(), 1), Ordering(self.scene(2), 2)])
        facts = json.loads(json.dumps(facts_of(evening.evening, AT_THE_TABLE, evening.work.instance.jobs)))
        schedule = scheduled(evening.work, evening.found)
        plan_ = json.loads(json.dumps(plan_json(schedule, evening.work.instance.by_hand)))
        self.assertEqual(check(facts, plan_), [])
        jobs = [s["job"] for s in plan_["steps"] if s["kind"] == "prep"]
        self.assertTrue({"1/finish:cut", "2/finish:cut", "1/finish:mount", "2/finish:mount"} <= set(jobs))

    def test_what_takes_longer_than_anyone_works_is_done_in_parts(self) -> None:
        jobs = jobs_of(self.scene(MOST_CARDS))
        self.assertTrue(any("Part 2 of" in j.name for j in jobs))
        self.assertTrue(all(j.minutes <= MOST_MINUTES for j in jobs))

    def test_before_a_pass_and_after_other_work_is_not_both(self) -> None:
        for more in ({"last": True}, {"after": "b"}):
            with self.assertRaises(BadValue):
                OtherWork("a", "Cut a mask", 2, "p1", **more)  # type: ignore[arg-type]
