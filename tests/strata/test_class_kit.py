"""A class at one card: nobody wants a pad that somebody else has, by every pair and every pad."""

import random
import unittest
from itertools import combinations

from strata.errors import BadValue
from strata.order import dispatch
from strata.order.class_kit import kits, pads_used, turns
from tests import world


class ClassTest(unittest.TestCase):
    def clash(self, used: dict[str, list[tuple[float, float]]], apart: float, sharing: int) -> bool:
        every = [
            (ink, s + seat * apart, e + seat * apart, seat)
            for ink, spans in used.items()
            for s, e in spans
            for seat in range(sharing)
        ]
        return any(
            a[0] == b[0] and a[3] != b[3] and a[1] < b[2] and b[1] < a[2] for a, b in combinations(every, 2)
        )

    def test_nobody_wants_a_pad_that_another_has_and_no_shorter_way_would_do(self) -> None:
        rng = random.Random(5)
        for _ in range(40):
            used = {}
            for ink in range(rng.randint(1, 4)):
                at, spans = 0.0, []
                for _ in range(rng.randint(1, 3)):
                    at += rng.randint(0, 20) / 2
                    spans.append((at, at + rng.randint(1, 10) / 2))
                    at = spans[-1][1]
                used[f"ink {ink}"] = spans
            minutes = max(e for spans in used.values() for _, e in spans)
            for kit in kits(used, minutes, rng.randint(1, 6)):
                self.assertFalse(self.clash(used, kit.apart, kit.sharing))
                for n in range(int(kit.apart / 0.5)):
                    self.assertTrue(self.clash(used, n * 0.5, kit.sharing))

    def test_the_demo_card(self) -> None:
        scene = world.whole_card("thank-you-by-lantern-light")
        order = dispatch(scene)
        used = pads_used(scene.plan, order.steps)
        found = kits(used, order.minutes, 8)
        self.assertEqual((found[-1].sets, found[-1].sharing, found[-1].apart), (8, 1, 0.0))
        self.assertEqual([k.sets for k in found], sorted(k.sets for k in found))
        self.assertTrue(any(k.sharing > 1 for k in found))
        for kit in found:
            self.assertFalse(self.clash(used, kit.apart, kit.sharing))
            last = max(t.ends for t in turns(used, kit))
            self.assertLessEqual(last, kit.minutes + 1e-6)
        self.assertEqual(len(list(turns(used, found[0]))), found[0].sharing * sum(map(len, used.values())))

    def test_a_class_has_people(self) -> None:
        for people in (0, 61, float("nan")):
            with self.assertRaises(BadValue):
                kits({}, 10, people)  # type: ignore[arg-type]
        self.assertEqual([k.sets for k in kits({}, 10, 1)], [1])
