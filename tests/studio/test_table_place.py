"""The place at the table when the plan changes under it: nothing that is done is done again, nothing is passed over."""

from __future__ import annotations

import random
import unittest
from dataclasses import replace

from strata.errors import StrataError
from strata.order import Sequence, dispatch
from strata.plan import Scene
from strata.plan.edits import apply
from studio.bench.models import Run
from studio.bench.services import END, _now, place_of, resume_step, signature
from tests import world


def run_at(sequence: Sequence, step: int) -> Run:
    """A run that was kept at a step, as ``keep`` writes it."""
    return Run(
        signature=signature(sequence),
        step=step,
        step_key=sequence.steps[step].key if step < len(sequence.steps) else END,
        done=[s.pass_key for s in sequence.steps[:step] if s.kind == "ink"],
    )


def inked(sequence: Sequence, step: int) -> set[str | None]:
    return {s.pass_key for s in sequence.steps[:step] if s.kind == "ink"}


class PlaceTest(unittest.TestCase):
    def setUp(self) -> None:
        self.scene = world.scene()
        self.sequence = dispatch(self.scene)

    def test_in_the_same_order_it_is_the_same_step(self) -> None:
        for step in range(len(self.sequence.steps) + 1):
            self.assertEqual(_now(self.sequence, run_at(self.sequence, step)), (step, True))

    def test_nobody_has_been_there_yet(self) -> None:
        self.assertEqual(_now(self.sequence, None), (0, True))
        self.assertEqual(resume_step(self.sequence, []), 0)

    def test_everything_done_is_done(self) -> None:
        every = [s.pass_key for s in self.sequence.steps if s.kind == "ink"]
        last = max(i for i, s in enumerate(self.sequence.steps) if s.kind == "ink")
        self.assertEqual(resume_step(self.sequence, every), last + 1)  # type: ignore[arg-type]

    def test_of_an_order_that_shrank_to_nothing(self) -> None:
        empty = dispatch(self.scene.with_plan(replace(self.scene.plan, passes=())))
        self.assertEqual(_now(empty, run_at(self.sequence, 9))[0], 0)

    def changed(self, rng: random.Random) -> Scene:
        """The scene after some ordinary changes of a maker at the table."""
        scene, made = self.scene, 0
        while made < 3:
            item = rng.choice(scene.plan.passes)
            kind, values = rng.choice(
                [
                    ("set_coats", {"pass": item.key, "coats": rng.randint(1, 4)}),
                    ("set_hand", {"pass": item.key, "hand": rng.choice(["light", "medium", "heavy"])}),
                    ("remove_pass", {"pass": item.key}),
                    ("deepen", {"pass": item.key}),
                    ("move_pass", {"pass": item.key, "by": rng.choice([-1, 1])}),
                    ("set_register", {"register": rng.choice(["jig", "eye", "marks"])}),
                    (
                        "add_pass",
                        {"pass": f"new{made}", "element": "lantern", "sheet": 1, "ink": "stove-door"},
                    ),
                ]
            )
            try:
                plan, _ = apply(scene, kind, values)
            except StrataError:
                continue
            scene, made = scene.with_plan(plan), made + 1
        return scene

    def test_whatever_changes_nothing_undone_is_passed_over(self) -> None:
        rng = random.Random(17)
        for _ in range(25):
            after = dispatch(self.changed(rng))
            run = run_at(self.sequence, rng.randrange(len(self.sequence.steps)))
            place = place_of(after, run)
            self.assertLessEqual(inked(after, place), set(run.done), "a pass that is not done lies behind")
            if place < len(after.steps):
                ahead = next((s for s in after.steps[place:] if s.kind == "ink"), None)
                if ahead is not None:
                    # never set back further than the first that is not done
                    first = resume_step(after, run.done)
                    self.assertGreaterEqual(place, min(first, place))

    def test_a_change_that_touches_no_step_moves_nobody(self) -> None:
        plan = self.scene.plan
        heavy = replace(plan, passes=tuple(replace(p, hand="heavy") for p in plan.passes))
        after = dispatch(self.scene.with_plan(heavy))
        same_keys = [s.key for s in after.steps] == [s.key for s in self.sequence.steps]
        for step in (0, 7, 20, 60):
            run = run_at(self.sequence, step)
            place, here = _now(after, run)
            if same_keys:
                self.assertEqual((place, here), (step, True))
            self.assertLessEqual(inked(after, place), set(run.done))

    def test_done_out_of_turn_does_not_hide_what_was_left_out(self) -> None:
        inks = [s.pass_key for s in self.sequence.steps if s.kind == "ink"]
        left_out = [k for k in inks[:6] if k != inks[2]]
        place = resume_step(self.sequence, left_out)  # type: ignore[arg-type]
        following = next(s for s in self.sequence.steps[place:] if s.kind == "ink")
        self.assertEqual(following.pass_key, inks[2])
