"""Whatever values an edit is sent, of a plan or of a set: it is made, or refused in a sentence; never an error of ours."""

import random
import unittest
from collections.abc import Callable
from typing import Any

from strata.errors import StrataError
from strata.plan.edits import EDITS as PLAN_EDITS
from strata.plan.edits import apply as apply_to_plan
from strata.sheets.edits import EDITS as SET_EDITS
from strata.sheets.edits import apply as apply_to_set
from tests import world

ODD: list[Any] = [
    None, [], {}, [1], ["a"], {"a": 1}, "", 0, 1, -1, 10**20, 1.5, True, "x" * 5000, "lantern", "p1", "tone",
    float("inf"), float("nan"), [[]], [{}], [[1, 2], [3, 4]], [[1, "a"]], {"kind": []}, {"kind": "side", "angle": []},
    {"p1": []}, [{"kind": [], "values": {}}], [{"kind": "set_hand", "values": {"pass": "p1", "hand": [[]]}}],
]  # fmt: skip
OF_PLANS = [
    "pass", "ink", "element", "sheet", "coats", "by", "hand", "form", "brush", "stock", "register", "cards", "school",
    "finding", "edits", "to", "amounts", "name", "thing", "key", "x", "y", "turn", "mirrored", "width", "height", "format",
    "angle", "medium", "more", "generation", "without", "wear", "card", "shape", "words", "sheets", "on", "places", "panel",
]  # fmt: skip
OF_SETS = [
    "openings", "opening", "element", "to", "role", "line", "sheet", "sheets", "dx", "dy", "turn", "mirrored", "of",
    "strength", "copies", "loose",
]  # fmt: skip


class OddValueTest(unittest.TestCase):
    def try_all(
        self, kinds: list[str], names: list[str], likely: dict[str, Any], act: Callable[[str, Any], Any]
    ) -> None:
        rng, made, refused = random.Random(1), 0, 0
        for kind in kinds:
            for _ in range(300):
                values = {k: rng.choice(ODD) for k in rng.sample(names, rng.randint(0, 8))}
                values |= {name: value for name, value in likely.items() if rng.random() < 0.6}
                try:
                    act(kind, values)
                    made += 1
                except StrataError as error:
                    refused += 1
                    self.assertTrue(error.sentence)
                except Exception as error:
                    raise AssertionError(f"{kind} {values}: {error!r}") from error
        self.assertGreater(made, 20, "some of it is good")
        self.assertGreater(refused, made, "most of it is not")

    def test_edits_of_a_plan(self) -> None:
        scene = world.scene()
        likely = {"pass": "p1", "element": "lantern", "sheet": 1, "ink": "sloe", "thing": "image", "key": "k"}
        self.try_all(sorted(PLAN_EDITS), OF_PLANS, likely, lambda k, v: apply_to_plan(scene, k, v))

    def test_edits_of_a_set(self) -> None:
        core = world.two_sheets()
        likely = {"openings": list(core.openings)[:1], "element": "leaf", "sheet": 1, "of": 1, "to": "stem"}
        self.try_all(sorted(SET_EDITS), OF_SETS, likely, lambda k, v: apply_to_set(core, k, v))

    def test_what_was_made_of_odd_values_can_be_written_and_read(self) -> None:
        from strata.formats.build_file import read_plan, write_plan

        rng, scene = random.Random(2), world.scene()
        for _ in range(1500):
            kind = rng.choice(sorted(PLAN_EDITS))
            values = {k: rng.choice(ODD) for k in rng.sample(OF_PLANS, 6)} | {"pass": "p1"}
            try:
                plan, label = apply_to_plan(scene, kind, values)
            except StrataError:
                continue
            self.assertLess(len(label), 1000)
            self.assertEqual(write_plan(read_plan(write_plan(plan))), write_plan(plan))
