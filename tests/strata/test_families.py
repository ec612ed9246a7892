"""A family of pads on elements, and a line for a line."""

import unittest

from strata.errors import BadValue, UnknownName
from strata.order import dispatch
from strata.plan import Scene
from strata.plan.edits import apply
from strata.plan.family import STRENGTHS, slots_of
from strata.tones import ladders
from tests import world
from tests.cards import ONE, koi, stamps

EMBER = ["stove-door", "coral-kettle", "peach-tin", "painted-rose"]


def worn(scene: Scene, **values: object) -> Scene:
    asked = {"elements": ["upper koi"], "pads": EMBER, "strength": "even", "pass": "x-", **values}
    return scene.with_plan(apply(scene, "wear_family", asked)[0])


def inks(scene: Scene, element: str) -> list[tuple[int, str, int]]:
    return [(p.sheet, p.ink, p.coats) for p in scene.plan.of_element(element)]


class FamilyTest(unittest.TestCase):
    def test_openings_have_their_roles(self) -> None:
        roles = lambda scene, e: [(s.sheet, s.role) for s in slots_of(scene, e)]  # noqa: E731
        self.assertEqual(roles(koi(), "upper koi"), [(1, "base"), (2, "tone"), (4, "tone"), (5, "line")])
        self.assertEqual(roles(koi(), "water"), [(1, "base"), (1, "tone"), (4, "line")])
        self.assertEqual(roles(koi(), "light on the water"), [(2, "base")])
        self.assertNotIn(
            "side", [s.form.kind for s in slots_of(stamps(), "toadstool cap")], "a stamp prints whole"
        )

    def test_light_mid_and_deep_by_strength(self) -> None:
        light = {"even": "peach-tin", "next": "peach-tin", "deepest": "peach-tin", "mid": "coral-kettle"}
        last = {"even": "stove-door", "next": "painted-rose", "deepest": "stove-door", "mid": "stove-door"}
        for strength in STRENGTHS:
            own = inks(worn(koi(), strength=strength), "upper koi")
            self.assertEqual((own[0][1], own[2][1]), (light[strength], last[strength]), strength)
            self.assertEqual([s for s, _, _ in own], [1, 2, 4, 5])

    def test_one_pad_gets_deeper_by_coats(self) -> None:
        scene = worn(koi(), pads=["weir-water"])
        rungs = ladders(scene, dispatch(scene))["upper koi"]
        own = [r.alone[0] for r in rungs[:3]]
        self.assertEqual(own, sorted(own, reverse=True))
        self.assertEqual(len(set(own)), 3)

    def test_several_at_once_with_one_ink_for_all_lines(self) -> None:
        scene = worn(koi(), elements=["upper koi", "lantern"], line="coal-wharf")
        lines = [p.ink for p in scene.plan.passes if p.sheet == 5]
        self.assertEqual(lines, ["coal-wharf", "coal-wharf"])
        sheets = [p.sheet for p in scene.plan.passes]
        self.assertEqual(sheets, sorted(sheets), "sheet by sheet, whatever the element")

    def test_what_the_element_wore_is_gone_and_the_rest_stays(self) -> None:
        before = koi(
            ONE("a", "upper koi", 1, "sloe"),
            ONE("b", "water", 1, "thin-ice"),
            ONE("c", "upper koi", 5, "whitewash", medium="lights"),
        )
        after = worn(before)
        self.assertNotIn("sloe", {p.ink for p in after.plan.passes})
        self.assertEqual([p.key for p in after.plan.of_element("water")], ["b"])
        self.assertEqual(after.plan.passes[-1].key, "c", "touches come last of all")

    def test_a_ground_goes_under_each_sheet_of_tones(self) -> None:
        scene = worn(koi(stock="Black"), ground={"ink": "whitewash", "coats": 2})
        own = [p for p in scene.plan.of_element("upper koi") if p.ink == "whitewash"]
        self.assertEqual([(p.sheet, p.coats) for p in own], [(1, 2), (2, 2), (4, 2)])

    def test_a_line_for_a_line(self) -> None:
        scene = world.scene()
        plan, label = apply(scene, "swap_line", {"line": "Sluice", "to": "Towrope"})
        self.assertEqual(label, "Towrope in the place of Sluice")
        lines = {scene.inks[p.ink].line for p in plan.passes}
        self.assertNotIn("Sluice", lines)
        for old, new in zip(scene.plan.passes, plan.passes, strict=True):
            a, b = scene.on_stock(old.ink), scene.on_stock(new.ink)
            self.assertLess(abs(a[0] - b[0]), 24, (old.ink, new.ink))

    def test_nonsense_is_refused(self) -> None:
        for wrong in ({"elements": []}, {"pads": []}, {"strength": "loud"}, {"ground": "white"}):
            with self.assertRaises(BadValue):
                worn(koi(), **wrong)
        with self.assertRaises(UnknownName):
            worn(koi(), pads=["no-such-pad"])
        with self.assertRaises(BadValue):
            worn(koi(), elements=["no such thing"])
        with self.assertRaises(BadValue):
            apply(koi(), "swap_line", {"line": "Sluice", "to": "Sluice"})
