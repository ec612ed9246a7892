"""The order of work: its rules, its words and its minutes; soundness is judged by the checker of the core."""

import json
import random
import unittest
from dataclasses import replace
from typing import Any

from strata.order import Sequence, dispatch
from strata.order.check import check
from strata.order.facts import plan_json
from strata.order.meeting import near_opposite, on_brush
from strata.plan import Form, Pass, Scene
from strata.sheets.edits import apply as apply_to_set
from tests import world
from tests.orders import facts_of_one, instance_of, plan_greedily


def answer_for(scene: Scene, cards: int = 1) -> tuple[dict[str, Any], dict[str, Any]]:
    """Facts and plan as the command line gives them, through JSON and back."""
    schedule = plan_greedily(instance_of(scene, (), cards))
    facts, plan = json.loads(json.dumps([facts_of_one(scene, cards), plan_json(schedule)]))
    return facts, plan


def wrongs(scene: Scene, cards: int = 1) -> list[str]:
    return check(*answer_for(scene, cards))


def random_scene(rng: random.Random) -> Scene:
    koi = world.koi()
    names = list(world.inks())
    passes = []
    for i in range(rng.randint(1, 24)):
        element, sheet = rng.choice(list(koi.groups))
        form = Form(rng.choice(["all", "side", "edges"]), rng.uniform(0, 360), rng.uniform(0.1, 1))
        passes.append(world.a_pass(f"r{i}", element, sheet, rng.choice(names), rng.randint(1, 3), form))
    stock = rng.choice(list(world.stocks()))
    return world.scene(world.plan_of(*passes, stock=stock, register=rng.choice(["jig", "eye", "marks"])))


class DispatchTest(unittest.TestCase):
    def test_the_demo_builds(self) -> None:
        for name in ("thank-you-by-lantern-light", "first-try-on-kraft"):
            scene = world.scene(world.demo_plan(name))
            sequence = dispatch(scene)
            self.assertEqual(wrongs(scene), [], name)
            self.assertEqual(sequence.placements, 5, "each sheet is seated once")

    def test_random_plans_are_sound(self) -> None:
        rng = random.Random(7)
        for _ in range(30):
            scene = random_scene(rng)
            self.assertEqual(wrongs(scene), [])

    def test_same_plan_same_sequence(self) -> None:
        self.assertEqual(dispatch(world.scene()), dispatch(world.scene()))

    def test_an_empty_plan_has_no_steps(self) -> None:
        self.assertEqual(dispatch(world.scene(world.plan_of())).minutes, 0)

    def test_schools_decide_which_shade_goes_first(self) -> None:
        for school, first in (("light first", "peach-tin"), ("deep first", "stove-door")):
            inks = ["peach-tin", "stove-door"] if school == "light first" else ["stove-door", "peach-tin"]
            passes = [world.a_pass(k, "lantern", 1, k) for k in inks]
            sequence = dispatch(world.scene(world.plan_of(*passes, school=school)))
            self.assertEqual(sequence.passes[0], first)
            reasons = " ".join(r for s in sequence.steps for r in s.reasons)
            self.assertIn(school.capitalize(), reasons)

    def test_inks_of_one_sheet_on_touching_openings_are_wet_in_wet(self) -> None:
        same = dispatch(
            world.scene(
                world.plan_of(
                    world.a_pass("a", "lantern", 1, "lamp-haze"), world.a_pass("b", "lantern", 1, "peach-tin")
                )
            )
        )
        self.assertEqual(same.wet, {"b"})
        apart = dispatch(
            world.scene(
                world.plan_of(
                    world.a_pass("a", "lantern", 1, "lamp-haze"), world.a_pass("b", "lantern", 2, "peach-tin")
                )
            )
        )
        self.assertEqual(apart.wet, set())
        self.assertTrue(any(s.kind == "wait" for s in apart.steps))

    def test_a_dye_waits_for_the_pigment_under_it(self) -> None:
        plan = world.plan_of(
            world.a_pass("a", "lantern", 1, "whitewash"),
            world.a_pass("b", "lantern", 1, "campion"),
            stock="Black",
        )
        sequence = dispatch(world.scene(plan))
        kinds = [s.kind for s in sequence.steps]
        self.assertLess(kinds.index("wait"), len(kinds) - 2)
        self.assertEqual(sequence.wet, set())

    def test_metallic_is_sealed_at_the_end_with_its_caution(self) -> None:
        sequence = dispatch(
            world.scene(world.plan_of(world.a_pass("g", "light on the water", 2, "gate-gold")))
        )
        seal = next(s for s in sequence.steps if s.kind == "seal")
        self.assertIn("flammable", seal.caution or "")

    def test_masks_where_inks_are_closer_than_the_brush_strays(self) -> None:
        scene = world.scene(
            world.plan_of(world.a_pass("a", "leaf", 1, "campion"), world.a_pass("b", "disc", 1, "lily-leaf")),
            world.two_sheets(),
        )
        masked = plan_greedily(instance_of(scene))
        self.assertEqual([a.masks for a in masked.actions if a.kind == "mask"], [("disc",), ("leaf",)])
        self.assertEqual(wrongs(scene), [])
        # small shapes are quicker done with a light hand than masked, and that is said
        steps = [s for s in dispatch(scene).steps if s.kind == "ink"]
        self.assertIn("Light hand", steps[0].reasons[0])

    def test_every_step_says_what_to_do_and_every_pass_why(self) -> None:
        for step in dispatch(world.scene()).steps:
            self.assertTrue(step.sentence.endswith((".", "?")), step)
            self.assertGreater(step.minutes, 0)
            if step.kind in ("ink", "wait", "mask", "clean", "wipe"):
                self.assertTrue(step.reasons, step)
            if step.kind == "wait" and step.heated_minutes:
                self.assertIn("burns", step.caution or "")


class MeetingTest(unittest.TestCase):
    def care(self, last: str, following: str) -> str:
        inks, stock = world.inks(), world.scene()
        return on_brush(inks[last], stock.on_stock(last), inks[following], stock.on_stock(following)).care

    def test_what_a_brush_needs_between_inks(self) -> None:
        self.assertEqual(self.care("campion", "campion"), "nothing")
        self.assertEqual(self.care("peach-tin", "painted-rose"), "nothing")
        self.assertEqual(self.care("painted-rose", "peach-tin"), "clean")
        self.assertEqual(self.care("campion", "roses-red"), "clean")
        self.assertEqual(self.care("painted-rose", "culvert-teal"), "clean")
        self.assertEqual(self.care("weir-water", "heather-bank"), "clean")
        self.assertEqual(self.care("kingfisher-dive", "long-pound"), "wipe")

    def test_opposites(self) -> None:
        self.assertTrue(near_opposite((50, 50, 20), (50, -40, -10)))
        self.assertFalse(near_opposite((50, 50, 20), (50, 40, 40)))
        self.assertFalse(near_opposite((50, 5, 2), (50, -40, -10)))


class TimeTest(unittest.TestCase):
    def one(self, **values: object) -> Sequence:
        return dispatch(world.scene(world.plan_of(world.a_pass("a", "lantern", 1, "lamp-haze"), **values)))

    def test_the_minutes_of_a_pass_follow_from_area_brush_and_coats(self) -> None:
        scene = world.scene(world.plan_of(world.a_pass("a", "lantern", 1, "lamp-haze", 2, hand="heavy")))
        step = next(s for s in dispatch(scene).steps if s.kind == "ink")
        item = scene.plan.passes[0]
        expected = 0.3 + scene.group(item).area * 3.2 / scene.brush(item).speed
        self.assertAlmostEqual(step.minutes, expected, places=2)
        self.assertIn(f"{scene.group(item).area:.0f} mm²", step.how)

    def test_registers_differ_by_their_seating(self) -> None:
        jig, eye = self.one(register="jig"), self.one(register="eye")
        self.assertAlmostEqual(eye.minutes - jig.minutes, 35 / 60, places=3)
        self.assertIn("jig", jig.steps[0].sentence)
        self.assertIn("by eye", eye.steps[0].sentence)

    def test_the_last_ink_dries_before_the_panel_is_handled(self) -> None:
        sequence = self.one()
        kinds = [s.kind for s in sequence.steps if s.kind not in ("mask", "unmask")]
        self.assertEqual(kinds, ["place", "ink", "lift", "wait"])
        inked = next(s for s in sequence.steps if s.kind == "ink")
        wait = sequence.steps[-1]
        self.assertAlmostEqual(wait.starts + wait.minutes, inked.starts + inked.minutes + 2, places=2)
        self.assertAlmostEqual(sequence.minutes, sum(s.minutes for s in sequence.steps))

    def test_hands_work_while_ink_dries(self) -> None:
        slow = world.a_pass("slow", "light on the water", 2, "gate-gold")
        others = [
            world.a_pass(f"o{i}", "lantern", 2, ink)
            for i, ink in enumerate(("lamp-haze", "peach-tin", "coral-kettle"))
        ]
        after = world.a_pass("z", "reeds", 3, "willow-tip")
        sequence = dispatch(world.scene(world.plan_of(slow, *others, after)))
        wait = next(s for s in sequence.steps if s.kind == "wait")
        self.assertIn("Gate Gold", wait.sentence)
        self.assertLess(wait.minutes, 20, "part of the drying passed under other work")

    def test_opposite_inks_through_the_same_openings_ask_for_a_washed_sheet(self) -> None:
        plan = world.plan_of(
            world.a_pass("a", "lantern", 1, "painted-rose", 2),
            world.a_pass("b", "lantern", 1, "culvert-teal", 2, Form("side")),
        )
        scene = world.scene(plan)
        sequence = dispatch(scene)
        wash = next(s for s in sequence.steps if s.kind == "wash")
        self.assertIn("flammable", wash.caution or "")
        self.assertEqual(wash.reasons[0], "Painted Rose is still on it and must not meet Culvert Teal.")
        again = [s for s in sequence.steps if s.kind == "place"]
        self.assertEqual(len(again), 2)
        self.assertIn("again", again[1].sentence)
        self.assertGreaterEqual(again[1].starts - (wash.starts + wash.minutes), 4 - 0.03)
        self.assertEqual(wrongs(scene), [])

    def test_one_ink_on_several_elements_is_taken_up_once(self) -> None:
        passes = [world.a_pass(e, e, 5, "coal-wharf") for e in ("lantern", "upper koi", "lower koi")]
        sequence = dispatch(world.scene(world.plan_of(*passes)))
        self.assertEqual(sequence.cleanings, 0)
        self.assertFalse(any(s.kind == "wipe" for s in sequence.steps))

    def test_a_mask_stays_while_it_serves_the_next_pass(self) -> None:
        passes = [world.a_pass(k, "leaf", 1, k) for k in ("peach-tin", "coral-kettle")]
        passes.append(world.a_pass("other", "disc", 1, "culvert-teal"))
        done = plan_greedily(instance_of(world.scene(world.plan_of(*passes), world.two_sheets()))).actions
        kinds = [a.kind for a in done if a.kind in ("mask", "ink", "unmask")]
        self.assertEqual(kinds.count("mask"), 2)
        self.assertEqual(kinds.count("unmask"), 2)

    def test_white_goes_under_the_colour_on_black(self) -> None:
        plan = world.plan_of(
            world.a_pass("w", "lantern", 1, "whitewash"),
            world.a_pass("c", "lantern", 2, "campion"),
            stock="Black",
        )
        sequence = dispatch(world.scene(plan))
        reasons = " ".join(r for s in sequence.steps for r in s.reasons)
        self.assertEqual(sequence.passes, ("w", "c"))
        self.assertIn("ground of Whitewash", reasons)


class KindTest(unittest.TestCase):
    """Stencils, stamps and die-cuts are worked differently, and the steps say so."""

    def sequence(self, kind: str, *passes: Pass, **changes: object) -> Sequence:
        layer_set = replace(world.two_sheets(), kind=kind)
        for edit_kind, values in changes.items():
            layer_set = apply_to_set(layer_set, edit_kind, values).layer_set  # type: ignore[arg-type]
        return dispatch(world.scene(world.plan_of(*passes), layer_set))

    def passes(self) -> tuple[Pass, ...]:
        return (
            world.a_pass("p1", "leaf", 1, "lily-leaf"),
            world.a_pass("p2", "disc", 1, "campion"),
            world.a_pass("p3", "leaf", 2, "lily-leaf", coats=2),
        )

    def test_a_stamp_is_inked_from_the_pad_without_brush_or_mask(self) -> None:
        steps = self.sequence("stamp set", *self.passes()).steps
        kinds = {s.kind for s in steps}
        self.assertFalse(kinds & {"mask", "wipe", "clean"})
        inked = [s for s in steps if s.kind == "ink"]
        self.assertTrue(all("from the pad" in s.sentence and s.brush is None for s in inked))
        self.assertIn("2 times on the same spot", inked[-1].sentence)
        self.assertIn("line it up", next(s.sentence for s in steps if s.kind == "place"))

    def test_a_shaded_stamp_is_inked_in_parts(self) -> None:
        item = world.a_pass("p1", "leaf", 1, "lily-leaf", form=Form("base"))
        (step,) = [s for s in self.sequence("stamp set", item).steps if s.kind == "ink"]
        self.assertIn("dabbed on the stamp", step.sentence)

    def test_die_cut_pieces_are_inked_apart_and_glued_in_order(self) -> None:
        steps = self.sequence("die-cut", *self.passes(), piece={"sheet": 2, "copies": 3}).steps
        glued = [s for s in steps if s.kind == "glue"]
        self.assertEqual([s.sheet for s in glued], [1, 2])
        self.assertEqual(glued, list(steps[-2:]))
        self.assertIn("Stack its 3 copies", glued[1].sentence)
        self.assertTrue(all("off the panel" in s.sentence for s in steps if s.kind == "place"))

    def test_a_loose_part_is_set_on_at_the_end(self) -> None:
        steps = self.sequence("stamp set", *self.passes(), piece={"sheet": 2, "loose": True}).steps
        self.assertIn("set it on", steps[-1].sentence)
        self.assertFalse(any(s.kind == "glue" for s in self.sequence("stencil", *self.passes()).steps))

    def test_a_second_print_without_inking_is_paler(self) -> None:
        layer_set = replace(world.two_sheets(), kind="stamp set")
        layer_set = apply_to_set(layer_set, "add_seat", {"of": 1, "dx": 5, "strength": 0.5}).layer_set
        plan = world.plan_of(
            world.a_pass("p1", "leaf", 1, "campion"), world.a_pass("p2", "leaf again", 3, "campion")
        )
        scene = world.scene(plan, layer_set)
        self.assertGreater(scene.alone["p2"][0], scene.alone["p1"][0] + 3)
        self.assertIn("without inking it afresh", " ".join(s.sentence for s in dispatch(scene).steps))
