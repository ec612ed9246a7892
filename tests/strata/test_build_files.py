"""Build files: what is written is read back, version 1 too, and nothing else gets in or gets through as something else."""

import json
import unittest
from dataclasses import replace
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from strata.errors import StrataError
from strata.formats.build_file import read_plan, write_materials, write_passes, write_plan
from strata.panel.things import IMAGE
from strata.plan import Form, Materials, Pass, Plan
from strata.plan.media import MEDIA
from strata.plan.model import FORM_KINDS, REGISTERS, SCHOOLS
from strata.plan.tools import BRUSHES
from tests import world

WORDS = (
    st.text(st.characters(blacklist_categories=("Cs", "Cc")), min_size=1, max_size=20)
    .map(str.strip)
    .filter(bool)
)
FORMS = st.builds(
    Form,
    st.sampled_from(FORM_KINDS),
    st.floats(-360, 720),
    st.floats(0.02, 1),
    st.floats(0, 1),
    st.sampled_from(["element", "opening"]),
    st.none() | st.floats(0.2, 200),
).flatmap(lambda form: st.booleans().map(lambda join: replace(form, join=join and form.kind != "all")))
PASSES = st.builds(
    Pass,
    key=WORDS,
    element=WORDS,
    sheet=st.integers(1, 40),
    ink=WORDS,
    coats=st.integers(1, 6),
    hand=st.sampled_from(["light", "medium", "heavy"]),
    form=FORMS,
    brush=st.sampled_from([None, *BRUSHES]),
    medium=st.sampled_from(list(MEDIA)),
    more=st.lists(WORDS, max_size=3).map(tuple),
    generation=st.sampled_from([1, 2, 3]),
    width=st.floats(0.1, 12),
    without=st.lists(WORDS, max_size=2).map(tuple),
)
PLANS = st.builds(
    Plan,
    st.builds(Materials, WORDS, st.sampled_from(list(REGISTERS)), st.integers(1, 200)),
    st.lists(PASSES, max_size=6, unique_by=lambda p: p.key).map(tuple),
    school=st.sampled_from(SCHOOLS),
    schools=st.dictionaries(WORDS, st.sampled_from(SCHOOLS), max_size=3),
    bare=st.lists(st.tuples(WORDS, st.integers(1, 9)), max_size=3).map(tuple),
    left=st.lists(WORDS, max_size=3).map(tuple),
)
JSON = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False) | st.text(max_size=8),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    max_leaves=8,
)


class RoundTripTest(unittest.TestCase):
    @settings(max_examples=60, deadline=None, suppress_health_check=list(HealthCheck))
    @given(PLANS)
    def test_any_plan_comes_back(self, plan: Plan) -> None:
        values = json.loads(json.dumps(write_plan(plan)))
        back = read_plan(values)
        self.assertEqual(back, plan)

    @settings(max_examples=40, deadline=None, suppress_health_check=list(HealthCheck))
    @given(PLANS)
    def test_materials_and_passes_lie_apart_and_make_the_whole(self, plan: Plan) -> None:
        whole = {**write_passes(plan), "materials": write_materials(plan.materials)}
        self.assertEqual(read_plan(whole), plan)
        self.assertNotIn("stock", json.dumps(list(write_passes(plan))))

    def test_the_demo_builds_come_back(self) -> None:
        for name in ("thank-you-by-lantern-light", "first-try-on-kraft"):
            plan = world.demo_plan(name)
            self.assertEqual(read_plan(json.loads(json.dumps(write_plan(plan)))), plan)


class VersionOneTest(unittest.TestCase):
    """As files of 0.1 to 0.3 have it: everything flat, one set a build."""

    OLD: dict[str, Any] = {
        "version": 1,
        "stock": "kraft",
        "register": "eye",
        "cards": 6,
        "school": "deep first",
        "schools": {"water": "light first"},
        "bare": [["bud", 5]],
        "passes": [
            {"key": "p1", "element": "water", "sheet": 1, "ink": "thin-ice", "coats": 2, "hand": "light"},
            {
                "element": "lantern",
                "sheet": 1,
                "ink": "lamp-haze",
                "form": {"kind": "side", "angle": 45, "extent": 0.5},
            },
        ],
    }

    def test_it_reads_as_the_same_plan(self) -> None:
        plan = read_plan(self.OLD)
        self.assertEqual(plan.materials, Materials("kraft", "eye", 6))
        self.assertEqual((plan.school, dict(plan.schools)), ("deep first", {"water": "light first"}))
        self.assertEqual(plan.bare, (("bud", 5),))
        self.assertEqual([p.key for p in plan.passes], ["p1", "p2"])
        self.assertEqual([t.key for t in plan.things], [IMAGE])
        self.assertEqual(plan.passes[1].form, Form("side", 45, 0.5))
        self.assertEqual(plan.left, ())

    def test_written_again_it_is_version_three_and_the_same(self) -> None:
        plan = read_plan(self.OLD)
        new = write_plan(plan)
        self.assertEqual(new["version"], 3)
        self.assertEqual(new["passes"][0]["on"], {"thing": IMAGE, "element": "water", "sheet": 1})
        self.assertEqual(read_plan(new), plan)


class RefusedTest(unittest.TestCase):
    @settings(max_examples=60, deadline=None, suppress_health_check=list(HealthCheck))
    @given(JSON)
    def test_whatever_it_is_it_is_a_plan_or_a_sentence(self, value: Any) -> None:
        for given_ in (value, {"stock": "kraft", "passes": value}, {"stock": "kraft", "passes": [value]}):
            try:
                read_plan(given_)
            except StrataError as error:
                self.assertTrue(error.sentence.strip().endswith("."), error.sentence)

    @settings(max_examples=60, deadline=None, suppress_health_check=list(HealthCheck))
    @given(
        st.sampled_from(
            [
                "key",
                "on",
                "element",
                "sheet",
                "ink",
                "coats",
                "hand",
                "form",
                "brush",
                "thing",
                "angle",
                "kind",
            ]
        ),
        JSON,
    )
    def test_one_wrong_value_in_a_good_pass(self, field: str, value: Any) -> None:
        item = {
            "key": "p1",
            "on": {"thing": IMAGE, "element": "water", "sheet": 1},
            "ink": "sloe",
            "coats": 1,
            "hand": "medium",
            "form": {"kind": "side", "angle": 10, "extent": 0.5},
            "brush": None,
        }
        where = item["on"] if field in ("element", "sheet", "thing") else item["form"]
        where = where if field in ("element", "sheet", "thing", "angle", "kind") else item
        where[field] = value  # type: ignore[index]
        try:
            plan = read_plan({"materials": {"stock": "kraft"}, "passes": [item]})
        except StrataError as error:
            self.assertTrue(error.sentence)
        else:
            # what was taken can be kept and read again
            self.assertEqual(read_plan(json.loads(json.dumps(write_plan(plan)))), plan)

    def test_too_much_of_anything(self) -> None:
        one = {"element": "water", "sheet": 1, "ink": "sloe"}
        for values in (
            {"passes": [one] * 121},
            {"passes": [one], "left": ["a|b|c|d|e"] * 500},
            {"passes": [one], "cards": 100_000},
            {"passes": [{**one, "coats": 10**30}]},
            {"passes": [{**one, "element": "x" * 5000}]},
            {"passes": [{**one, "key": "a"}, {**one, "key": "a"}]},
        ):
            with self.subTest(list(values)), self.assertRaises(StrataError):
                read_plan({"stock": "kraft", **values})
