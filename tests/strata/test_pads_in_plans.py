"""Several passes at once: another pad in the place of one, a recipe on an element; averaging over anything."""

from __future__ import annotations

import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from strata.errors import BadValue, StrataError, UnknownName
from strata.formats.drawer import read_ink, read_stock, read_swatch, read_tool
from strata.formats.tables.guess import guess, wavelength
from strata.optics.averaging import averaged
from strata.optics.colour import difference
from strata.plan import Form
from strata.plan.edits import apply
from tests import world

LAB = st.tuples(st.floats(5, 95), st.floats(-80, 80), st.floats(-80, 80))


class ReplaceTest(unittest.TestCase):
    def setUp(self) -> None:
        self.scene = world.scene()
        self.own = [p for p in self.scene.plan.passes if p.ink == "painted-rose"]

    def test_only_the_passes_named_and_nothing_else_of_them(self) -> None:
        first = self.own[0]
        values = {"ink": "painted-rose", "to": "sloe", "amounts": {first.key: {"coats": 3, "hand": "light"}}}
        plan, label = apply(self.scene, "replace_ink", values)
        self.assertEqual(label, "Sloe for Painted Rose")
        for old, new in zip(self.scene.plan.passes, plan.passes, strict=True):
            if old.key == first.key:
                self.assertEqual((new.ink, new.coats, new.hand), ("sloe", 3, "light"))
                self.assertEqual((new.form, new.sheet, new.brush), (old.form, old.sheet, old.brush))
            else:
                self.assertEqual(new, old)

    def test_a_pass_that_has_another_ink_by_now_is_not_overwritten(self) -> None:
        other = next(p for p in self.scene.plan.passes if p.ink != "painted-rose")
        for amounts in (
            {other.key: {"coats": 1, "hand": "light"}},
            {"gone": {"coats": 1, "hand": "light"}},
            {self.own[0].key: {"coats": 9, "hand": "light"}},
            {self.own[0].key: {"coats": 1, "hand": "feathery"}},
            {self.own[0].key: 3},
            {},
            None,
        ):
            with self.assertRaises(StrataError):
                apply(self.scene, "replace_ink", {"ink": "painted-rose", "to": "sloe", "amounts": amounts})
        with self.assertRaises(UnknownName):
            good = {self.own[0].key: {"coats": 1, "hand": "light"}}
            apply(self.scene, "replace_ink", {"ink": "painted-rose", "to": "nothing", "amounts": good})


class RecipeTest(unittest.TestCase):
    PASSES = [{"pass": "n1", "ink": "lamp-haze", "coats": 2}, {"pass": "n2", "ink": "sloe"}]

    def test_without_a_place_it_comes_after_all_that_lies_on_its_sheet_and_below(self) -> None:
        scene = world.scene()
        plan, label = apply(scene, "lay_recipe", {"element": "lantern", "sheet": 2, "passes": self.PASSES})
        self.assertEqual(label, "Lamp Haze + Sloe on lantern")
        keys = [p.key for p in plan.passes]
        self.assertEqual(keys.index("n2"), keys.index("n1") + 1)
        for item in plan.passes[: keys.index("n1")]:
            self.assertLessEqual(item.sheet, max(2, *(p.sheet for p in scene.plan.passes if p.sheet <= 2)))
        self.assertTrue(all(p.sheet > 2 for p in plan.passes[keys.index("n2") + 1 :]))
        self.assertEqual([p.coats for p in plan.passes if p.key in ("n1", "n2")], [2, 1])

    def test_in_the_place_of_a_pass_it_takes_its_shading(self) -> None:
        form = Form("side", angle=120, extent=0.4)
        scene = world.scene(
            world.plan_of(
                world.a_pass("p1", "leaf", 1, "willow-tip"),
                world.a_pass("p2", "leaf", 1, "lily-leaf", form=form),
                world.a_pass("p3", "disc", 1, "campion"),
            ),
            world.two_sheets(),
        )
        values = {"element": "leaf", "sheet": 1, "passes": self.PASSES, "instead": "p2"}
        plan, _ = apply(scene, "lay_recipe", values)
        self.assertEqual([p.key for p in plan.passes], ["p1", "n1", "n2", "p3"])
        self.assertEqual([p.form for p in plan.passes[1:3]], [form, form])
        with self.assertRaises(BadValue):
            apply(scene, "lay_recipe", {**values, "instead": "p3"})

    def test_bare_on_purpose_is_bare_no_more(self) -> None:
        plan = world.plan_of(bare=(("leaf", 1), ("disc", 1)))
        scene = world.scene(plan, world.two_sheets())
        after, _ = apply(scene, "lay_recipe", {"element": "leaf", "sheet": 1, "passes": self.PASSES})
        self.assertEqual([tuple(b) for b in after.bare], [("disc", 1)])


class AveragingTest(unittest.TestCase):
    @settings(max_examples=80, deadline=None)
    @given(LAB, st.integers(3, 12), st.integers(0, 2**31))
    def test_noise_alone_never_throws_the_mean_off(
        self, true: tuple[float, ...], times: int, seed: int
    ) -> None:
        rng = np.random.default_rng(seed)
        labs = [tuple(float(v) for v in np.array(true) + rng.normal(0, 0.15, 3)) for _ in range(times)]
        found = averaged(labs)  # type: ignore[arg-type]
        self.assertLess(difference(found.lab, true), 0.5)  # type: ignore[arg-type]
        self.assertLessEqual(len(found.left_out), times // 2)

    @settings(max_examples=60, deadline=None)
    @given(LAB, st.integers(5, 12), st.integers(0, 2**31))
    def test_one_far_reading_is_the_one_left_out(
        self, true: tuple[float, ...], times: int, seed: int
    ) -> None:
        rng = np.random.default_rng(seed)
        labs = [tuple(float(v) for v in np.array(true) + rng.normal(0, 0.1, 3)) for _ in range(times)]
        at = int(rng.integers(times))
        labs[at] = (labs[at][0] * 0.5 + 2, labs[at][1] + 25, labs[at][2] - 25)
        self.assertEqual(averaged(labs).left_out, (at,))  # type: ignore[arg-type]


class ReaderTest(unittest.TestCase):
    GOOD = {"chemistry": "dye", "swatches": [{"on": {"lab": [95, 0, 1]}, "lab": [50, 10, 10]}]}

    def test_what_is_left_out_is_as_usual(self) -> None:
        ink = read_ink("x", self.GOOD, "x")
        self.assertEqual((ink.name, ink.pad, ink.state, ink.place, ink.depth), ("x", "felt", "full", "", 0))
        self.assertEqual((ink.chemistry.dry_minutes, ink.chemistry.cleaning), (2, "wipe"))
        self.assertEqual(ink.swatches[0].how, "")

    def test_every_wrong_value_names_its_field(self) -> None:
        for name, wrong in (
            ("name", 7), ("name", ""), ("line", 7), ("line", "x" * 300), ("depth", -1), ("depth", "deep"), ("character", "loud"),
            ("pad", "wool"), ("state", "half"), ("notes", "x" * 5000), ("dry_minutes", 0), ("dry_minutes", "soon"),
            ("cleaning", "fire"), ("chemistry", "tea"), ("chemistry", None), ("swatches", {}), ("swatches", []),
        ):  # fmt: skip
            with self.assertRaises(BadValue, msg=f"{name}={wrong!r}") as caught:
                read_ink("x", {**self.GOOD, name: wrong}, "x")
            self.assertIn(name, f"{caught.exception.field} {caught.exception.sentence}")
        for name, wrong in (
            ("coats", 0),
            ("coats", 99),
            ("how", "luck"),
            ("when", "yesterday"),
            ("spread", -1),
            ("lab", [1]),
            ("on", {}),
        ):
            with self.assertRaises(BadValue, msg=name):
                read_swatch({**self.GOOD["swatches"][0], name: wrong}, "s")  # type: ignore[dict-item]
        for wrong_stock in ({"lab": [95, 0, 1], "finish": "furry"}, {"lab": [95, 0, 1], "state": "half"}, {}):
            with self.assertRaises(BadValue):
                read_stock(wrong_stock, "stock")
        for wrong_tool in ({"brush": "broom"}, {"brush": "small", "count": 999}, {"count": 1}, []):
            with self.assertRaises(BadValue):
                read_tool(wrong_tool, "tool")

    def test_headings_of_all_sorts(self) -> None:
        for heading, meaning in (
            ("Ink name", "name"), ("COLOUR", "name"), ("colour name", "name"), ("Range", "line"), ("Collection", "line"),
            ("Colour family", "family"), ("Ink type", "chemistry"), ("Drawer", "place"), ("Status", "state"), ("Comments", "notes"),
            ("Drying time", "dry_minutes"), ("Cardstock", "card"), ("CIE L*", ""), ("L*", "L"), ("CIELAB_L", "L"), ("XYZ_X", "X"),
            ("HTML code", "hex"), ("RGB_R", "R"), ("green", "G"), ("Date", "when"), ("price", ""), ("", ""), ("SPECTRAL_380", "nm"),
        ):  # fmt: skip
            self.assertEqual(guess([heading]), [meaning], heading)
        self.assertEqual(
            [wavelength(c) for c in ("NM_380", "r400.00", "550nm", "2026", "L")], [380, 400, 550, None, None]
        )
