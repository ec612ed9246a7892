"""Plans and edits: values that refuse to be wrong, and edits that never change a plan in place."""

import unittest
from dataclasses import replace
from typing import Any

from strata.errors import BadValue, StrataError, TooLarge, UnknownName
from strata.formats.build_file import read_plan, write_plan
from strata.panel import Place, Thing, Wear
from strata.panel.shapes import Shape
from strata.plan import Form, Materials, Plan
from strata.plan.edits import EDITS, apply
from strata.plan.tools import BRUSHES, fitting
from strata.plan.wishes import OrderWishes, OtherWork
from tests import world

LEFT = "brown_risk|pair|bud,water|1|p1,p2"
GOOD: dict[str, dict[str, Any]] = {
    "add_pass": {"pass": "new", "element": "lantern", "sheet": 1, "ink": "campion"},
    "remove_pass": {"pass": "p1"},
    "set_ink": {"pass": "p1", "ink": "campion"},
    "deepen": {"pass": "p1"},
    "lighten": {"pass": "p2"},
    "set_coats": {"pass": "p1", "coats": 2},
    "add_coats": {"pass": "p1", "by": 2},
    "set_hand": {"pass": "p1", "hand": "heavy"},
    "set_form": {"pass": "p1", "form": {"kind": "side", "angle": 120, "extent": 0.4}},
    "set_brush": {"pass": "p1", "brush": "detail"},
    "move_pass": {"pass": "p1", "by": 1},
    "set_school": {"element": "water", "school": "deep first"},
    "leave_bare": {"element": "bud", "sheet": 5},
    "set_stock": {"stock": "Kraft"},
    "set_register": {"register": "eye"},
    "set_cards": {"cards": 12},
    "leave_finding": {"finding": "lost|element|bud|5|p1"},
    "look_again": {"finding": LEFT},
    "several": {
        "edits": [
            {"kind": "set_stock", "values": {"stock": "Kraft"}},
            {"kind": "set_cards", "values": {"cards": 3}},
        ]
    },
    "replace_ink": {
        "ink": "thin-ice",
        "to": "drizzle",
        "amounts": {"p1": {"coats": 1, "hand": "light"}},
    },
    "lay_recipe": {
        "element": "lantern",
        "sheet": 1,
        "passes": [{"pass": "n1", "ink": "lamp-haze", "coats": 2}, {"pass": "n2", "ink": "campion"}],
    },
    "set_panel": {"format": "5x7"},
    "set_light": {"angle": 45},
    "add_thing": {
        "thing": {"key": "s", "kind": "mask", "shape": {"kind": "round"}, "wear": {"way": "window"}}
    },
    "copy_thing": {"thing": "disc", "key": "again"},
    "move_thing": {"thing": "disc", "by": [1.5, -2]},
    "raise_thing": {"thing": "disc", "by": -1},
    "rename_thing": {"thing": "disc", "name": "sun"},
    "remove_thing": {"thing": "disc"},
    "set_thing": {"thing": "disc", "wear": {"way": "window"}},
    "take_layout": {"places": {"disc": {"x": 20, "y": 20}}, "panel": {"width": 120, "height": 150}},
    "set_pass": {"pass": "p1", "generation": 2},
    "lay_join": {"pass": "p2", "key": "j"},
    "touch_all": {"medium": "lights", "ink": "whitewash", "thing": "image", "key": "l"},
    "place_pass": {"pass": "p1", "to": "top"},
    "wear_family": {
        "elements": ["bud", "reeds"],
        "pads": ["lamp-haze", "brass-rail"],
        "strength": "deepest",
        "pass": "w-",
    },
    "swap_line": {"line": "Sluice", "to": "Towrope"},
    "wish_order": {"first": "cleanings"},
    "pin_order": {"before": "p1", "after": "p7"},
    "freeze_order": {"passes": ["p1", "p2", "p3"]},
    "unpin_order": {"before": "p3", "after": "p1"},
    "keep_apart": {"passes": ["p3"], "after": "p1"},
    "set_finish": {
        "finish": {
            "width": 120.0,
            "height": 150.0,
            "base": "Kraft",
            "mats": [{"stock": "Kraft", "margin": 3.0}],
        }
    },
    "part_by": {"element": "water", "sheet": 1, "way": "hand"},
    "add_job": {"key": "j1", "name": "Fold the bases", "minutes": 4},
    "drop_job": {"key": "j0"},
    "take_part": {"element": "bud", "pass": "t-", "passes": [{"sheet": 3, "ink": "sloe", "coats": 2}]},
}
DISC = Thing(
    "disc",
    1,
    "mask",
    "disc",
    Place(40, 40),
    shape=Shape("round", 20),
    wear=Wear("cover", since="p1", until="p3"),
)
ANY = {
    ("set_light", "angle"),
    ("copy_thing", "key"),
    ("lay_join", "key"),
    ("touch_all", "key"),
    ("rename_thing", "name"),
    ("raise_thing", "by"),
    ("set_thing", "wear"),
    ("take_layout", "places"),
    ("take_layout", "panel"),
    ("wear_family", "pass"),
    ("take_part", "pass"),
    ("add_job", "key"),
    ("add_job", "name"),
    ("add_job", "minutes"),
}
# values for which much of what is wrong elsewhere is good
WRONG: list[Any] = [None, "", 7.5, -1, [], {}, "no such thing", True, float("nan"), 10**9, "x" * 500]


class EditTest(unittest.TestCase):
    def setUp(self) -> None:
        plan = replace(world.demo_plan("thank-you-by-lantern-light"), left=(LEFT,))
        wishes = OrderWishes(pins=(("p3", "p1"),), jobs=(OtherWork("j0", "Stamp the inside", 3),))
        plan = replace(plan, things=(*plan.things, DISC), order=wishes)
        self.scene = world.scene(plan)

    def test_several_edits_are_all_made_or_none(self) -> None:
        both = GOOD["several"]["edits"]
        plan, label = apply(self.scene, "several", {"edits": both})
        self.assertEqual((plan.stock, plan.cards, label), ("Kraft", 3, "3 cards and 1 more"))
        wrong = (
            [],
            [*both, {"kind": "several", "values": {"edits": both}}],
            [*both, {"kind": "x", "values": {}}],
            both * 30,
        )
        for edits in (*wrong, [*both, {"kind": "set_cards"}], "x", [3]):
            with self.assertRaises(StrataError):
                apply(self.scene, "several", {"edits": edits})
        self.assertEqual(self.scene.plan.cards, world.demo_plan("thank-you-by-lantern-light").cards)

    def test_every_edit_is_tried_here(self) -> None:
        self.assertEqual(set(GOOD), set(EDITS))

    def test_every_edit_makes_a_new_plan_and_says_what_it_did(self) -> None:
        before = write_plan(self.scene.plan)
        for kind, values in GOOD.items():
            plan, label = apply(self.scene, kind, values)
            self.assertNotEqual(write_plan(plan), before, kind)
            self.assertEqual(write_plan(self.scene.plan), before, kind)
            self.assertTrue(label, kind)
            self.assertEqual(write_plan(read_plan(write_plan(plan))), write_plan(plan), kind)

    def test_no_wrong_value_gets_through_or_crashes(self) -> None:
        may_be_left_out = {("set_brush", "brush"), ("set_form", "form"), ("part_by", "way")}
        for kind, values in GOOD.items():
            for name in values:
                for wrong in WRONG:
                    if (kind, name) in ANY or (name == "to" and kind == "place_pass" and wrong == []):
                        continue
                    if (kind, name) in may_be_left_out and wrong in (None, {}):
                        continue
                    if (kind, name) == ("add_pass", "pass") and wrong in ("no such thing", "x" * 500):
                        continue
                    with self.assertRaises(StrataError, msg=f"{kind} {name}={wrong!r}"):
                        apply(self.scene, kind, {**values, name: wrong})
        with self.assertRaises(BadValue):
            apply(self.scene, "explode", {})

    def test_the_end_of_a_family_is_said(self) -> None:
        with self.assertRaises(BadValue) as caught:
            apply(self.scene, "lighten", {"pass": "p1"})
        self.assertIn("lightest of its family", caught.exception.sentence)

    def test_a_pass_finds_its_natural_place(self) -> None:
        plan, _ = apply(
            self.scene, "add_pass", {"pass": "n", "element": "lantern", "sheet": 1, "ink": "campion"}
        )
        own = [p.key for p in plan.of_element("lantern")]
        self.assertEqual(own.index("n"), 2, "after the lighter shades of its sheet, before the next sheet")
        first, _ = apply(
            self.scene, "add_pass", {"pass": "n", "element": "lantern", "sheet": 2, "ink": "lamp-haze"}
        )
        own = [(p.sheet, p.key) for p in first.of_element("lantern")]
        self.assertEqual(own[2], (2, "n"), "the lightest goes first")

    def test_moving_swaps_neighbours_of_one_element(self) -> None:
        before = [p.key for p in self.scene.plan.of_element("lantern")]
        plan, _ = apply(self.scene, "move_pass", {"pass": before[0], "by": 1})
        after = [p.key for p in plan.of_element("lantern")]
        self.assertEqual(after[:2], [before[1], before[0]])
        with self.assertRaises(BadValue):
            apply(self.scene, "move_pass", {"pass": before[-1], "by": 1})

    def test_inking_takes_away_bare(self) -> None:
        bare, _ = apply(self.scene, "leave_bare", {"element": "lantern", "sheet": 1})
        again, _ = apply(self.scene.with_plan(bare), "add_pass", GOOD["add_pass"])
        self.assertEqual(again.bare, ())


class PlanTest(unittest.TestCase):
    def test_plans_refuse_to_be_wrong(self) -> None:
        one = world.a_pass("a", "lantern", 1, "campion")
        for make in (
            lambda: world.plan_of(one, one),
            lambda: world.plan_of(school="sideways first"),
            lambda: world.plan_of(register="glue"),
            lambda: world.plan_of(cards=0),
            lambda: world.plan_of(*(world.a_pass(str(i), "lantern", 1, "campion") for i in range(121))),
            lambda: world.a_pass("a", "lantern", 1, "campion", coats=7),
            lambda: world.a_pass("a", "lantern", 1, "campion", coats=1.5),  # type: ignore[arg-type]
            lambda: world.a_pass("a", "lantern", 1, "campion", hand="iron"),
            lambda: world.a_pass("a", "lantern", 1, "campion", brush="broom"),
            lambda: Form("spiral"),
            lambda: Form("side", extent=0),
            lambda: Form("band", place=float("inf")),
        ):
            with self.assertRaises((BadValue, TooLarge)):
                make()

    def test_a_scene_refuses_what_is_not_there(self) -> None:
        for plan in (
            Plan(Materials("Vellum")),
            world.plan_of(world.a_pass("a", "heron", 1, "campion")),
            world.plan_of(world.a_pass("a", "lantern", 3, "campion")),
            world.plan_of(world.a_pass("a", "lantern", 1, "no-such-ink")),
        ):
            with self.assertRaises(UnknownName):
                world.scene(plan)

    def test_damaged_plan_files(self) -> None:
        good = write_plan(world.demo_plan("first-try-on-kraft"))
        self.assertEqual(write_plan(read_plan(good)), good)
        for name, wrong in (
            ("passes", 3),
            ("passes", [3]),
            ("passes", [{}]),
            ("materials", {"stock": None}),
            ("materials", {"stock": "Kraft", "cards": True}),
            ("passes", [{"on": {"thing": 3, "element": "water", "sheet": 1}, "ink": "campion"}]),
            ("bare", [{"element": "water"}]),
            ("schools", []),
            ("bare", [[1]]),
            ("bare", "x"),
        ):
            with self.assertRaises(StrataError, msg=name):
                read_plan({**good, name: wrong})
        for wrong in (None, [], "plan", 3):
            with self.assertRaises(StrataError):
                read_plan(wrong)

    def test_a_file_of_the_first_version_is_the_same_plan(self) -> None:
        plan = world.demo_plan("first-try-on-kraft")
        now = write_plan(plan)
        flat = [{**p, **p["on"]} for p in now["passes"]]
        for p in flat:
            del p["on"], p["thing"]
        bare = [[b["element"], b["sheet"]] for b in now["bare"]]
        old = {**now["materials"], "school": plan.school, "schools": {}, "bare": bare, "passes": flat}
        self.assertEqual(read_plan(old), read_plan(now))

    def test_the_largest_brush_that_fits(self) -> None:
        self.assertEqual(
            [fitting(w).key for w in (40, 19, 12.6, 8, 4, 2.6, 0.4)],
            ["large", "large", "medium", "small", "detail", "extra-fine", "extra-fine"],
        )
        for brush in BRUSHES.values():
            self.assertAlmostEqual(brush.spread * 2, brush.wants)
