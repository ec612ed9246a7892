"""The parts of the order by themselves: what is to be done, brushes in their cup, what is wet, keys of steps, the floor."""

import random
import unittest
from dataclasses import replace

from strata.errors import BadValue, UnknownName
from strata.order import dispatch
from strata.order.brushes import assigned
from strata.order.done import Did
from strata.order.instance import Instance
from strata.order.needed import least_ticks
from strata.order.planning import at_once
from strata.order.steps import Step, keyed
from strata.order.ticks import A_MINUTE, CLEANED, NOTHING, Work, ticks
from strata.order.wetness import laid_on_wet
from strata.order.wishes import work_for
from strata.plan import Form, Pass
from strata.plan.tools import Tool, Tools
from tests import world
from tests.orders import instance_of, plan_greedily
from tests.strata.test_order import random_scene


def work_of(*passes: Pass, **values: object) -> Instance:
    return instance_of(world.scene(world.plan_of(*passes, **values)))


STACK = (
    world.a_pass("a", "lantern", 1, "lamp-haze"),
    world.a_pass("b", "lantern", 1, "peach-tin"),
    world.a_pass("c", "lantern", 1, "stove-door"),
)


class InstanceTest(unittest.TestCase):
    def test_it_holds_what_a_planner_asks(self) -> None:
        work = work_of(*STACK)
        self.assertEqual([t.key for t in work.tasks], ["a", "b", "c"])
        self.assertEqual(
            [(r.before, r.after) for r in work.precedences], [("a", "b"), ("a", "c"), ("b", "c")]
        )
        self.assertTrue(all(r.reason.endswith(".") for r in work.precedences))
        self.assertEqual(work.before["a"], ())
        self.assertEqual({r.before for r in work.before["c"]}, {"a", "b"})
        self.assertIn(frozenset(("a", "c")), work.touching)
        self.assertEqual(set(work.masks), {"a", "b", "c"})

    def test_what_does_not_meet_is_free(self) -> None:
        work = work_of(world.a_pass("a", "lantern", 1, "lamp-haze"), world.a_pass("b", "reeds", 3, "campion"))
        self.assertEqual((work.precedences, work.touching), ((), frozenset()))

    def test_a_dye_on_pigment_waits_for_it_to_dry(self) -> None:
        work = work_of(
            world.a_pass("a", "lantern", 1, "whitewash"), world.a_pass("b", "lantern", 1, "campion")
        )
        self.assertTrue(work.precedences[0].dry)
        self.assertFalse(work_of(*STACK).precedences[0].dry)

    def test_copies_of_a_piece_take_as_often_the_time(self) -> None:
        scene = world.scene(world.plan_of(world.a_pass("a", "leaf", 1, "lamp-haze")), world.two_sheets())
        once = instance_of(scene).tasks[0]
        own = world.two_sheets()
        sheets = tuple(replace(s, copies=4) if s.number == 1 else s for s in own.sheets)
        four = instance_of(world.scene(scene.plan, replace(own, sheets=sheets))).tasks[0]
        self.assertAlmostEqual(four.area, 4 * once.area)
        self.assertAlmostEqual(four.minutes - 0.3, 4 * (once.minutes - 0.3), delta=0.003)

    def test_pins_are_precedences_and_name_real_passes(self) -> None:
        scene = world.scene(world.plan_of(*STACK))
        self.assertEqual(len(instance_of(scene, [("a", "c")]).precedences), 4)
        with self.assertRaises(UnknownName):
            instance_of(scene, [("a", "nobody")])

    def test_the_shortest_contradiction_is_named(self) -> None:
        scene = world.scene(world.plan_of(*STACK, world.a_pass("d", "reeds", 3, "campion")))
        for pins, said, unsaid in (
            ([("b", "a")], ("Peach Tin", "Lamp Haze"), ("Stove Door", "Campion")),
            ([("c", "d"), ("d", "a")], ("Stove Door", "Campion", "Lamp Haze"), ("Peach Tin",)),
            ([("a", "a")], ("Lamp Haze",), ("Peach Tin",)),
            ([("c", "d"), ("d", "a"), ("b", "a")], ("Peach Tin", "Lamp Haze"), ("Campion",)),
        ):
            with self.subTest(pins), self.assertRaises(BadValue) as refused:
                instance_of(scene, pins)
            for name in said:
                self.assertIn(name, refused.exception.sentence)
            for name in unsaid:
                self.assertNotIn(name, refused.exception.sentence)

    def test_no_plan_contradicts_itself(self) -> None:
        rng = random.Random(21)
        for _ in range(40):
            self.assertTrue(instance_of(random_scene(rng)).tasks)


class BrushTest(unittest.TestCase):
    """Passes by name: pale and deep are kin, blue is not; each time (which brush, what care)."""

    def taken(self, order: str, *owned: Tool) -> list[tuple[int, int]]:
        passes = [
            world.a_pass("pale", "lantern", 1, "peach-tin", brush="small"),
            world.a_pass("deep", "lantern", 1, "painted-rose", brush="small"),
            world.a_pass("blue", "reeds", 3, "weir-water", brush="small"),
        ]
        scene = replace(world.scene(world.plan_of(*passes)), tools=Tools(owned))
        work = Work(instance_of(scene))
        held = assigned(work, [work.index[k] for k in order.split()])
        return [(h.which, h.care) for h in held if h is not None]

    def test_an_unused_brush_wants_nothing(self) -> None:
        self.assertEqual(self.taken("pale blue", Tool("small", 2)), [(0, NOTHING), (1, NOTHING)])

    def test_the_brush_that_needs_least_is_taken(self) -> None:
        self.assertEqual(
            self.taken("pale deep pale", Tool("small", 1)), [(0, NOTHING), (0, NOTHING), (0, CLEANED)]
        )

    def test_the_next_card_finds_its_ink_on_the_brush(self) -> None:
        self.assertEqual(self.taken("pale pale", Tool("small", 1)), [(0, NOTHING), (0, NOTHING)])

    def test_an_ink_that_comes_again_keeps_its_brush(self) -> None:
        found = self.taken("pale blue pale blue pale", Tool("small", 2))
        self.assertEqual([w for w, _ in found], [0, 1, 0, 1, 0])
        self.assertEqual({care for _, care in found}, {NOTHING})

    def test_a_brush_kept_for_a_family_is_left_to_it(self) -> None:
        line, family = world.inks()["weir-water"].line, world.inks()["weir-water"].family
        found = self.taken("blue pale blue", Tool("small", 1, line, family), Tool("small", 1))
        self.assertEqual(found, [(0, NOTHING), (1, NOTHING), (0, NOTHING)])

    def test_where_all_are_kept_for_others_one_has_to_serve(self) -> None:
        line, family = world.inks()["weir-water"].line, world.inks()["weir-water"].family
        self.assertEqual(
            self.taken("pale deep", Tool("small", 1, line, family)), [(0, NOTHING), (0, NOTHING)]
        )

    def test_never_more_brushes_than_there_are(self) -> None:
        for count in (1, 2, 3):
            found = self.taken("pale blue deep " * 5, Tool("small", count))
            self.assertLessEqual({w for w, _ in found}, set(range(count)))

    def test_a_stamp_takes_none(self) -> None:
        core = replace(world.koi(), kind="stamp set")
        work = instance_of(world.scene(world.plan_of(world.a_pass("a", "lantern", 1, "lamp-haze")), core))
        self.assertEqual(assigned(Work(work), [0]), [None])


class WetTest(unittest.TestCase):
    """What lies wet under what follows from the plan in time alone: another order is another colour, and says so."""

    def wet(self, work: Instance, *did: tuple[str, float, int]) -> set[str]:
        """Passes (key, minute, card) of a minute each; ``heat`` is the heat tool."""
        own = Work(work)
        done = [
            Did("heat", ticks(at), A_MINUTE, card, 0)
            if key == "heat"
            else Did("ink", ticks(at), A_MINUTE, card, 1, own.index[key])
            for key, at, card in did
        ]
        return {own.tasks[i].key for i in laid_on_wet(own, done)}

    def test_within_the_drying_time_it_is_wet(self) -> None:
        work = work_of(*STACK)
        dry = work.by_key["a"].dry
        self.assertEqual(self.wet(work, ("a", 0, 1), ("b", 1.5, 1)), {"b"})
        self.assertEqual(self.wet(work, ("a", 0, 1), ("b", 1 + dry, 1)), set())

    def test_what_the_heat_tool_dried_is_dry(self) -> None:
        self.assertEqual(self.wet(work_of(*STACK), ("a", 0, 1), ("heat", 1, 1), ("b", 2, 1)), set())
        self.assertEqual(self.wet(work_of(*STACK), ("a", 0, 1), ("heat", 1, 2), ("b", 2, 1)), {"b"})

    def test_what_does_not_touch_is_never_wet_on(self) -> None:
        work = work_of(world.a_pass("a", "lantern", 1, "lamp-haze"), world.a_pass("b", "reeds", 3, "campion"))
        self.assertEqual(self.wet(work, ("a", 0, 1), ("b", 1, 1)), set())

    def test_cards_do_not_wet_one_another(self) -> None:
        self.assertEqual(self.wet(work_of(*STACK), ("a", 0, 1), ("b", 1.5, 2)), set())

    def test_a_batch_is_judged_by_the_card_that_gets_it_first(self) -> None:
        lead = (("a", 0, 1), ("b", 1.5, 1))
        self.assertEqual(self.wet(work_of(*STACK), *lead, ("a", 4, 2), ("b", 30, 2)), {"b"})

    def test_the_sequence_takes_it_from_there(self) -> None:
        rng = random.Random(5)
        for _ in range(6):
            scene = random_scene(rng)
            work = Work(work_for(scene))
            wet = laid_on_wet(work, at_once(work).timed.did)
            self.assertEqual(dispatch(scene).wet, {work.tasks[i].key for i in wet})


class StepKeyTest(unittest.TestCase):
    def test_keys_are_distinct_and_outlive_words(self) -> None:
        sequence = dispatch(world.scene())
        keys = [s.key for s in sequence.steps]
        self.assertEqual(len(set(keys)), len(keys))
        reworded = keyed([replace(s, sentence="Go on.", key="", minutes=9.0) for s in sequence.steps])
        self.assertEqual([s.key for s in reworded], keys)

    def test_a_pass_taken_off_leaves_the_others_keys(self) -> None:
        plan = world.demo_plan("thank-you-by-lantern-light")
        before = dispatch(world.scene(plan))
        after = dispatch(world.scene(replace(plan, passes=plan.passes[:-1])))
        own = {s.key for s in before.steps if s.kind == "ink"}
        self.assertEqual(
            {s.key for s in after.steps if s.kind == "ink"}, own - {f"ink:{plan.passes[-1].key}"}
        )

    def test_several_of_a_kind_before_one_pass_are_counted(self) -> None:
        steps = [Step("wait", 1, "One."), Step("wait", 2, "Two."), Step("ink", 1, "Ink.", pass_key="a")]
        self.assertEqual([s.key for s in keyed(steps)], ["wait:a:2", "wait:a", "ink:a"])


def least(work: Instance) -> float:
    return least_ticks(Work(work)) / A_MINUTE


class BoundTest(unittest.TestCase):
    def test_no_schedule_is_below_it(self) -> None:
        rng = random.Random(11)
        for _ in range(20):
            scene = random_scene(rng)
            for cards in (1, 2):
                work = instance_of(scene, (), cards)
                self.assertLessEqual(least(work), plan_greedily(work).minutes)

    def test_of_nothing_it_is_nothing_and_it_grows_with_work(self) -> None:
        self.assertEqual(least(work_of()), 0)
        one, two = work_of(STACK[0]), work_of(*STACK[:2])
        self.assertLess(least(one), least(two))
        gold = work_of(world.a_pass("g", "light on the water", 2, "gate-gold"))
        self.assertGreater(least(gold), 20, "metallic dries twenty minutes, then it is sealed")

    def test_shading_half_of_it_takes_no_less_hands(self) -> None:
        half = work_of(world.a_pass("a", "lantern", 1, "lamp-haze", form=Form("side", 0, 0.4)))
        self.assertGreater(least(half), 0)
