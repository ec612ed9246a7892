"""The checker of orders: it passes sound ones of every kind, and no spoilt one, and knows nothing of the planner."""

import copy
import json
import math
import subprocess
import sys
import tempfile
import unittest
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

from strata.answers import order
from strata.errors import BadFile, BadValue, StrataError, UnknownName
from strata.formats.build_file import write_plan
from strata.formats.drawer import write_drawer
from strata.formats.set_file import write_set
from strata.formats.svg_set import read
from strata.order.check import check
from strata.plan import Form, Plan
from strata.sheets import LayerSet
from tests import world
from tests.strata.test_order import answer_for

Json = dict[str, Any]


def demo_set(name: str, kind: str) -> LayerSet:
    return read((world.DEMO / "sets" / f"{name}.svg").read_bytes(), name, kind).layer_set


def metallic() -> tuple[Json, Json]:
    """The build of the demo world with a glint of metallic on it, for two cards: every kind of step but a wash."""
    plan = world.demo_plan("thank-you-by-lantern-light")
    glint = world.a_pass("glint", "light on the water", 2, "gate-gold")
    return answer_for(world.scene(replace(plan, passes=(*plan.passes, glint))), 2)


def first(plan: Json, kind: str, after: int = 0) -> int:
    return next(i for i, s in enumerate(plan["steps"]) if i >= after and s["kind"] == kind)


def moved(plan: Json) -> None:
    """Timed anew, one after another, as if it had been meant so; and added up."""
    clock = 0.0
    for step in plan["steps"]:
        step["starts"], clock = clock, clock + step["minutes"]
    kinds = [s["kind"] for s in plan["steps"]]
    plan["minutes"] = clock
    plan["placements"], plan["masks"] = kinds.count("place"), kinds.count("mask")
    plan["cleanings"] = kinds.count("clean") + kinds.count("wash")


def without(kind: str, nth: int = 0) -> Callable[[Json], None]:
    def spoil(plan: Json) -> None:
        places = [i for i, s in enumerate(plan["steps"]) if s["kind"] == kind]
        del plan["steps"][places[nth]]
        moved(plan)

    return spoil


def changed(kind: str, field: str, value: Any) -> Callable[[Json], None]:
    def spoil(plan: Json) -> None:
        plan["steps"][first(plan, kind)][field] = value
        moved(plan)

    return spoil


def doubled(kind: str) -> Callable[[Json], None]:
    def spoil(plan: Json) -> None:
        at = first(plan, kind)
        plan["steps"].insert(at, copy.deepcopy(plan["steps"][at]))
        moved(plan)

    return spoil


def backwards(plan: Json) -> None:
    inks = [i for i, s in enumerate(plan["steps"]) if s["kind"] == "ink"]
    one, two = inks[0], inks[-1]
    plan["steps"][one], plan["steps"][two] = plan["steps"][two], plan["steps"][one]
    moved(plan)


def overlapping(plan: Json) -> None:
    at = first(plan, "ink")
    plan["steps"][at]["starts"] -= 0.2


def said(field: str, value: Any) -> Callable[[Json], None]:
    return lambda plan: plan.update({field: value})


SPOILT: dict[str, Callable[[Json], None]] = {
    "a seating left out": without("place"),
    "a pass left out": without("ink"),
    "the last pass left out": without("ink", -1),
    "drying left out": without("wait"),
    "the drying before the seal left out": without("wait", -2),
    "the drying of the seal left out": without("wait", -1),
    "a mask left out": without("mask"),
    "a mask never taken off": without("unmask"),
    "a sheet never lifted": without("lift"),
    "the last sheet never lifted": without("lift", -1),
    "a care left out": without("clean"),
    "the seal left out": without("seal"),
    "a pass twice": doubled("ink"),
    "a seating twice": doubled("place"),
    "a lift twice": doubled("lift"),
    "a mask on a mask": doubled("mask"),
    "the first and the last pass exchanged": backwards,
    "two hands where there is one pair": overlapping,
    "a pass in no time": changed("ink", "minutes", 0.1),
    "a pass that takes for ever": changed("ink", "minutes", 30.0),
    "a seating in no time": changed("place", "minutes", 0.0),
    "a wait cut short": changed("wait", "minutes", 0.2),
    "time that runs backwards": changed("wait", "minutes", -1.0),
    "a pass on a card that nobody makes": changed("ink", "card", 7),
    "a pass on the other card": changed("ink", "card", 2),
    "a pass that is not there": changed("ink", "pass", "nobody"),
    "a brush of the wrong size": changed("ink", "brush", {"size": "extra-fine", "which": 0}),
    "a brush that nobody has": changed("ink", "brush", {"size": "large", "which": 40}),
    "no brush": changed("ink", "brush", None),
    "another sheet seated": changed("place", "sheet", 5),
    "the element itself covered": changed("mask", "masks", ["lantern"]),
    "a mask over nothing": changed("mask", "masks", []),
    "a mask over what is not there": changed("mask", "masks", ["moon"]),
    "a step that nobody knows": changed("lift", "kind", "shake"),
    "fewer minutes said": said("minutes", 3.0),
    "more placements said": said("placements", 99),
    "no cleanings said": said("cleanings", 0),
    "masks said that are not": said("masks", 99),
    "a bound above the plan": said("bound", 1e6),
    "a proof that is none": said("proven", True),
    "nothing at all": said("steps", []),
    "hands that are not there": changed("clean", "who", 2),
    "a heat tool that nobody has": lambda plan: plan["steps"].insert(
        first(plan, "wait"), {**plan["steps"][first(plan, "wait")], "kind": "heat"}
    ),
    "other work that nobody asked for": lambda plan: plan["steps"].append(
        {**plan["steps"][-1], "kind": "prep", "job": "nap", "minutes": 0.0}
    ),
    "a light hand where masks are wanted": lambda plan: (
        plan.update(by_hand=[s["pass"] for s in plan["steps"] if s["kind"] == "ink"]),
        without("mask")(plan),
    ),
}


class SoundTest(unittest.TestCase):
    def test_every_kind_of_set_and_a_batch(self) -> None:
        inks = ["peach-tin", "campion", "stove-door", "lily-leaf", "gate-gold", "whitewash"]
        for name, kind in (
            ("koi-and-lantern", "stencil"),
            ("hedgehog-in-ferns", "stamp set"),
            ("luna-moth", "die-cut"),
        ):
            core = demo_set(name, kind)
            groups = [g for g in core.groups if core.sheet(g[1]).number][:14]
            passes = [
                world.a_pass(f"p{i}", element, sheet, inks[i % len(inks)])
                for i, (element, sheet) in enumerate(groups)
            ]
            scene = world.scene(world.plan_of(*passes), core)
            for cards in (1, 3):
                facts, plan = answer_for(scene, cards)
                self.assertEqual(check(facts, plan), [], (name, cards))
                self.assertEqual(sum(s["kind"] == "ink" for s in plan["steps"]), cards * len(passes))

    def test_of_nothing_nothing_is_asked(self) -> None:
        self.assertEqual(check(*answer_for(world.scene(world.plan_of()))), [])

    def test_a_plan_of_another_planner_is_judged_by_the_same_facts(self) -> None:
        """Waits may run beside work: a second sheet of cards can be inked while the first dries."""
        facts, plan = answer_for(world.scene(world.plan_of(world.a_pass("a", "lantern", 1, "lamp-haze"))), 2)
        single = [s for s in plan["steps"] if s["card"] == 1 and s["kind"] != "wait"]
        second = [{**s, "card": 2} for s in single]
        plan["steps"] = [*single, *second]
        moved(plan)
        dry = plan["minutes"] - facts["minutes"]["lift"] + 2.0
        wait = {**second[-1], "kind": "wait", "starts": plan["minutes"], "minutes": dry - plan["minutes"]}
        plan["steps"].append(wait)
        plan["minutes"], plan["bound"], plan["proven"] = dry, None, False
        self.assertEqual(check(facts, plan), [])
        plan["steps"].pop()
        plan["minutes"] -= wait["minutes"]
        self.assertNotEqual(check(facts, plan), [])

    def test_rules_of_the_table_can_be_other_ones(self) -> None:
        plan = world.plan_of(
            world.a_pass("a", "lantern", 1, "lamp-haze"),
            world.a_pass("b", "light on the water", 2, "weir-water"),
        )
        facts, steps = answer_for(world.scene(plan))
        between = first(steps, "wait")
        del steps["steps"][between]
        moved(steps)
        steps["bound"] = None
        self.assertIn("wet ink", " ".join(check(facts, steps)))
        facts["rules"]["wet_blocks"] = "piece"
        self.assertEqual(check(facts, steps), [])


class SpoiltTest(unittest.TestCase):
    def test_no_spoilt_plan_passes(self) -> None:
        facts, good = metallic()
        self.assertEqual(check(facts, good), [])
        kinds = {s["kind"] for s in good["steps"]}
        self.assertLessEqual({"place", "mask", "unmask", "ink", "clean", "wait", "lift", "seal"}, kinds)
        for name, spoil in SPOILT.items():
            plan = copy.deepcopy(good)
            spoil(plan)
            with self.subTest(name):
                self.assertNotEqual(check(facts, plan), [])

    def test_an_opposite_left_on_the_sheet(self) -> None:
        plan = world.plan_of(
            world.a_pass("a", "lantern", 1, "roses-red"),
            world.a_pass("b", "lantern", 1, "culvert-teal", form=Form("side", 0, 0.4)),
        )
        facts, good = answer_for(world.scene(plan))
        self.assertIn("wash", {s["kind"] for s in good["steps"]})
        at = first(good, "wash")
        lifted = {**good["steps"][at], "kind": "lift", "minutes": facts["minutes"]["lift"]}
        good["steps"][at] = lifted
        moved(good)
        self.assertIn("spoils", " ".join(check(facts, good)))

    def test_pieces_are_glued_when_they_are_dry(self) -> None:
        core = demo_set("luna-moth", "die-cut")
        element, sheet = next(iter(core.groups))
        facts, good = answer_for(
            world.scene(world.plan_of(world.a_pass("a", element, sheet, "lamp-haze")), core)
        )
        self.assertEqual(check(facts, good), [])
        for spoil in (without("glue"), doubled("glue"), without("wait")):
            plan = copy.deepcopy(good)
            spoil(plan)
            self.assertNotEqual(check(facts, plan), [])


class CommandTest(unittest.TestCase):
    def request(self, plan: Plan | None = None, **more: Any) -> Json:
        build = {
            "format": "anastrata-build",
            **write_plan(plan or world.demo_plan("thank-you-by-lantern-light")),
        }
        own = {"build": build, "set": write_set(world.koi()), "drawer": write_drawer(world.drawer())}
        return own | more

    def answer(self, **more: Any) -> Json:
        return order.answer(json.dumps(self.request(**more)))

    def test_it_prints_facts_and_a_sound_plan(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder, "order.json")
            file.write_text(json.dumps(self.request(budget=1)))
            ran = subprocess.run(
                [sys.executable, "-m", "strata", "order", str(file)],
                cwd=world.ROOT,
                capture_output=True,
                text=True,
                check=True,
            )
        found = json.loads(ran.stdout)
        self.assertEqual(check(found["facts"], found["plan"]), [])
        self.assertGreaterEqual(found["plan"]["placements"], 5)
        self.assertLessEqual(found["plan"]["minutes"], 96, "three minutes less than by rule of thumb")
        self.assertGreater(found["plan"]["bound"], 0.9 * found["plan"]["minutes"])
        self.assertEqual(found["plan"]["by"], "search")
        self.assertEqual(
            list(found["plan"]),
            ["steps", "minutes", "placements", "cleanings", "masks", "bound", "proven", "by", "by_hand"],
        )

    def test_cards_of_a_batch(self) -> None:
        found = self.answer(cards=3, budget=0.3)
        self.assertEqual(check(found["facts"], found["plan"]), [])
        self.assertEqual({s["card"] for s in found["plan"]["steps"]}, {1, 2, 3})

    def test_the_shortest_is_said_only_where_it_is_proven(self) -> None:
        alone = read(world.drawing('<path data-element="leaf" d="M10 10h30v40h-30z"/>'), "Leaf").layer_set
        one = world.plan_of(world.a_pass("a", "leaf", 1, "lamp-haze"))
        found = order.answer(json.dumps(self.request(one, set=write_set(alone))))
        self.assertTrue(found["plan"]["proven"])
        self.assertEqual(check(found["facts"], found["plan"]), [])
        self.assertFalse(self.answer(budget=0)["plan"]["proven"])

    def test_a_pin_is_kept(self) -> None:
        free = world.plan_of(
            world.a_pass("a", "lantern", 1, "lamp-haze"), world.a_pass("b", "upper koi", 1, "weir-water")
        )
        for pin in (["a", "b"], ["b", "a"]):
            found = order.answer(json.dumps(self.request(free, pins=[pin])))
            self.assertEqual([s["pass"] for s in found["plan"]["steps"] if s["pass"]], pin)
            self.assertEqual(check(found["facts"], found["plan"]), [])
            found["facts"]["pins"] = [pin[::-1]]
            self.assertNotEqual(check(found["facts"], found["plan"]), [])

    def test_pins_that_contradict_are_refused_with_the_chain(self) -> None:
        stacked = world.plan_of(
            world.a_pass("a", "lantern", 1, "lamp-haze"),
            world.a_pass("b", "lantern", 1, "peach-tin"),
            world.a_pass("c", "lantern", 1, "stove-door"),
        )
        with self.assertRaises(BadValue) as refused:
            order.answer(json.dumps(self.request(stacked, pins=[["c", "a"]])))
        sentence = refused.exception.sentence
        self.assertIn("impossible", sentence)
        self.assertIn("Lamp Haze on lantern must come before Stove Door on lantern", sentence)
        self.assertIn(
            "Stove Door on lantern must come before Lamp Haze on lantern (You want it so)", sentence
        )
        self.assertNotIn("Peach Tin", sentence, "the shortest chain, not every one")

    def test_an_evening_of_several_builds_and_other_work(self) -> None:
        one = self.request(world.demo_plan("first-try-on-kraft"))
        small = world.plan_of(world.a_pass("a", "lantern", 1, "lamp-haze"), stock="Ivory")
        makes = [
            {"build": one["build"], "set": one["set"], "cards": 2},
            {"build": self.request(small)["build"], "set": one["set"]},
        ]
        jobs = [{"name": "Fold the bases", "minutes": 4}, {"name": "Cut", "minutes": 2, "before": "1/p5"}]
        asked = {"evening": makes, "drawer": one["drawer"], "jobs": jobs, "budget": 0.2}
        for rules in ({}, {"hands": 2, "heat": True, "first_card": True, "parted_by": "weighed"}):
            found = json.loads(json.dumps(order.answer(json.dumps({**asked, "rules": rules}))))
            self.assertEqual(check(found["facts"], found["plan"]), [], rules)
            self.assertEqual(found["facts"]["makes"], [2, 1])
            self.assertEqual({s["card"] for s in found["plan"]["steps"] if s["kind"] == "ink"}, {1, 2, 3})
        self.assertEqual(len({s["number"] for s in found["facts"]["sheets"]}), len(world.koi().sheets))
        jobs += [
            {"name": "Glue", "minutes": 3, "last": True},
            {"name": "Gems", "minutes": 1, "after": "Glue"},
        ]
        found = json.loads(json.dumps(order.answer(json.dumps({**asked, "jobs": jobs}))))
        self.assertEqual(check(found["facts"], found["plan"]), [])
        self.assertEqual([s["job"] for s in found["plan"]["steps"]][-2:], ["job 3", "job 4"])
        for wrong in ({"before": "p5"}, {"after": "Nothing"}):
            with self.assertRaises(UnknownName):
                order.answer(json.dumps({**asked, "jobs": [{"name": "Cut", "minutes": 2, **wrong}]}))

    def test_what_it_cannot_do_it_says(self) -> None:
        refused: list[tuple[Json, type[StrataError]]] = [
            ({"rules": {"wet_blocks": "moon"}}, BadValue),
            ({"rules": {"masks_stay": 1}}, BadValue),
            ({"rules": {"brush_dry": -1}}, BadValue),
            ({"rules": {"hands": 3}}, BadValue),
            ({"rules": {"gravity": 1}}, UnknownName),
            ({"evening": []}, BadValue),
            ({"pins": [["a"]]}, BadValue),
            ({"pins": [["nobody", "p1"]]}, UnknownName),
            ({"cards": 0}, BadValue),
            ({"cards": 1.5}, BadValue),
            ({"first": "beauty"}, BadValue),
            ({"budget": -1}, BadValue),
            ({"sets": []}, BadValue),
            ({"drawer": 3}, BadValue),
        ]
        for more, error in refused:
            with self.subTest(more), self.assertRaises(error):
                self.answer(**more)
        for text in ("{", "[]", '{"build": 1e999}', '{"name": "\\ud800"}', "[" * 100_000, f"[1{'0' * 5000}]"):
            with self.subTest(text[:20]), self.assertRaises((BadFile, BadValue)):
                order.answer(text)


class FactsTest(unittest.TestCase):
    def test_they_are_finite_measures(self) -> None:
        facts, _ = answer_for(world.scene())
        for item in facts["passes"]:
            self.assertTrue(all(math.isfinite(v) for v in (*item["lab"], item["area"], item["thickness"])))
        names = {i["ink"] for i in facts["passes"]}
        self.assertEqual(set(facts["inks"]), names)
        koi = world.koi()
        for a, s, b, t, area in facts["overlaps"]:
            exact = koi.groups[a, s].shape.intersection(koi.groups[b, t].shape).area
            self.assertAlmostEqual(area, exact, delta=0.02 + 0.001 * exact)
