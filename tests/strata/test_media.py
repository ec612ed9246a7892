"""What else than laying ink a pass can be, and the forms that a ground is laid with."""

import unittest
from dataclasses import replace

import numpy as np

from strata.errors import BadValue
from strata.optics import difference, predict
from strata.optics.stack import Coat
from strata.order import dispatch
from strata.picture.shown import panel_after
from strata.plan import Form
from strata.plan.edits import apply
from strata.plan.tools import Tools
from tests import world
from tests.small_panel import free, lab, scene, seen


class MediumTest(unittest.TestCase):
    def test_a_lift_takes_dye_and_leaves_pigment(self) -> None:
        for ink, goes in (("sloe", True), ("cabin-blue", False)):
            under = world.a_pass("a", "leaf", 1, ink)
            wiped = world.a_pass("b", "leaf", 2, "~water", medium="lift", hand="heavy")
            made = seen(scene(under, wiped))
            there, plain = lab(made, 25, 40), lab(made, 25, 15)
            self.assertEqual(difference(there, plain) > 5, goes, ink)
        want = predict(made.stock, [Coat(world.inks()["cabin-blue"], 1)])
        self.assertLess(difference(there, want), 0.5)

    def test_a_light_lift_leaves_four_fifths(self) -> None:
        wiped = world.a_pass("b", "leaf", 1, "~water", medium="lift", hand="light")
        made = seen(scene(world.a_pass("a", "leaf", 1, "sloe"), wiped))
        want = predict(made.stock, [Coat(world.inks()["sloe"], 0.8)])
        self.assertLess(difference(lab(made, 25, 30), want), 0.3)

    def test_a_second_print_is_paler(self) -> None:
        for generation, share in ((1, 1.0), (2, 0.45), (3, 0.2)):
            made = seen(scene(world.a_pass("a", "leaf", 1, "sloe", generation=generation)))
            want = predict(made.stock, [Coat(world.inks()["sloe"], share)])
            self.assertLess(difference(lab(made, 25, 30), want), 0.3)

    def test_a_striped_pad_runs_from_one_colour_into_the_other(self) -> None:
        made = seen(scene(world.a_pass("a", "leaf", 1, "lamp-haze", more=("sloe",), form=Form(angle=90))))
        alone = {k: predict(made.stock, [Coat(world.inks()[k], 1)]) for k in ("lamp-haze", "sloe")}
        self.assertLess(difference(lab(made, 25, 13), alone["lamp-haze"]), 0.5)
        self.assertLess(difference(lab(made, 25, 47), alone["sloe"]), 0.5, "the last at the foot")
        self.assertGreater(difference(lab(made, 25, 30), alone["sloe"]), 5)
        turned = scene(world.a_pass("a", "leaf", 1, "lamp-haze", more=("sloe",), form=Form(angle=270)))
        self.assertLess(difference(lab(seen(turned), 25, 13), alone["sloe"]), 0.5, "the pad turned round")
        said = next(s.sentence for s in dispatch(turned).steps if s.kind == "ink")
        self.assertIn("Sloe at the head", said)

    def test_a_marker_shadow_is_the_shape_moved_less_the_shape(self) -> None:
        item = world.a_pass("a", "leaf", 1, "towpath-shade", medium="shadow", width=1.0)
        shadow = scene(item).shape(item)
        step = np.sqrt(0.5)
        self.assertAlmostEqual(shadow.bounds[0], 10 - step, delta=0.1)
        self.assertAlmostEqual(shadow.area, step * (30 + 40) + step**2, delta=0.06 * shadow.area)
        own = world.two_sheets()
        self.assertEqual(max(shadow.intersection(g.shape).area for g in own.groups.values()), 0)

    def test_lights_lie_inside_at_the_other_side(self) -> None:
        item = world.a_pass("a", "leaf", 1, "chalk-pen", medium="lights", width=0.5)
        made = scene(item)
        light = made.shape(item)
        self.assertTrue(made.layer_set.groups["leaf", 1].shape.contains(light))
        x, y = light.centroid.coords[0]
        self.assertTrue(x > 25 and y < 30, "away from the lower left")
        key = made.layer_set.groups["leaf", 1].openings[0].key
        self.assertTrue(
            scene(replace(item, without=(key,))).shape(item=replace(item, without=(key,))).is_empty
        )

    def test_shadows_and_lights_for_all_shapes_and_off_one_by_one(self) -> None:
        plan, label = apply(
            scene(), "touch_all", {"medium": "shadow", "ink": "towpath-shade", "thing": "image", "key": "t"}
        )
        self.assertEqual([p.element for p in plan.passes], ["leaf", "disc"])
        self.assertIn("every shape", label)
        with self.assertRaises(BadValue):
            apply(
                scene().with_plan(plan),
                "touch_all",
                {"medium": "shadow", "ink": "towpath-shade", "thing": "image", "key": "u"},
            )

    def test_a_join_is_the_ink_before_over_the_border_only(self) -> None:
        deep = world.a_pass("b", "leaf", 1, "sloe", form=Form("side", 90, 0.5))
        made = scene(world.a_pass("a", "leaf", 1, "lamp-haze"), deep)
        plan, _ = apply(made, "lay_join", {"pass": "b", "key": "j"})
        join = plan.find("j")
        self.assertEqual((join.ink, plan.index("j")), ("lamp-haze", 2))
        field = next(la for la in seen(made.with_plan(plan)).layers if la.pass_key == "j").field.values
        middle = field.shape[0] // 2
        self.assertGreater(field[middle, field.shape[1] // 2], 0.9)
        self.assertLess(field[2, field.shape[1] // 2], 0.05)
        with self.assertRaises(BadValue):
            apply(made, "lay_join", {"pass": "a", "key": "j"})

    def test_spatter_and_a_dry_brush_are_the_same_at_every_look(self) -> None:
        for medium in ("spatter", "dry brush"):
            made = scene(free("a", "chalk-pen", medium=medium, width=2.0), stock="Black")
            one, again = seen(made).stacks.numbers, seen(made).stacks.numbers
            np.testing.assert_array_equal(one, again)
            light = panel_after(seen(made), None)[..., 0] > 120
            self.assertTrue(0.005 < light.mean() < 0.8, (medium, light.mean()))

    def test_gloss_deepens_and_sealing_changes_nothing(self) -> None:
        plain = lab(seen(scene(world.a_pass("a", "leaf", 1, "sloe"))), 25, 30)
        for medium, ink, deeper in (("gloss", "~gloss", True), ("seal", "~sealer", False)):
            over = world.a_pass("b", "leaf", 1, ink, medium=medium)
            there = lab(seen(scene(world.a_pass("a", "leaf", 1, "sloe"), over)), 25, 30)
            self.assertEqual(there[0] < plain[0] - 0.5, deeper, medium)

    def test_water_is_no_ink(self) -> None:
        with self.assertRaises(BadValue):
            scene(world.a_pass("a", "leaf", 1, "~water"))


class GroundTest(unittest.TestCase):
    def test_one_ink_fades_from_heavy_to_nothing_in_one_pass(self) -> None:
        made = seen(scene(free("a", "sloe", Form("fade", 90, 1.0))))
        lights = [lab(made, 50, y)[0] for y in (2, 20, 40, 60, 78)]
        self.assertEqual(lights, sorted(lights, reverse=True))
        self.assertGreater(lights[0] - lights[-1], 40)

    def test_soft_length_is_in_mm(self) -> None:
        for soft in (6.0, 24.0):
            field = (
                seen(scene(free("a", "sloe", Form("side", 0, 0.5, soft=soft))), 400).layers[0].field.values
            )
            row = field[field.shape[0] // 2]
            fading = np.count_nonzero((row > 0.01) & (row < 0.99)) / 4
            self.assertAlmostEqual(fading, soft, delta=0.15 * soft + 0.5)

    def test_around_a_pale_middle_and_from_a_corner(self) -> None:
        around = seen(scene(free("a", "sloe", Form("around", extent=0.5))))
        self.assertGreater(lab(around, 50, 40)[0], 90)
        self.assertLess(lab(around, 2, 2)[0], 60)
        corner = seen(scene(free("a", "sloe", Form("corner", 225, 0.3))))
        self.assertLess(lab(corner, 2, 2)[0], 60)
        self.assertGreater(lab(corner, 98, 78)[0], 90)

    def test_the_proposed_tool_spares_a_mask_where_it_does_not_streak(self) -> None:
        """Leaf and disc are 2 mm apart: a large brush strays 9.5 mm, a detail brush just 2."""
        item = world.a_pass("a", "leaf", 1, "sloe")
        self.assertEqual(scene(item).brush(item).key, "large", "finer than a medium one would streak")
        for width, room, key in ((12.5, 9.0, "medium"), (12.5, 4.0, "small"), (12.5, 1.0, "medium")):
            self.assertEqual(Tools().fitting(width, room).key, key, "1 mm: a finer one would streak as well")
