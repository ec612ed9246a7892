"""Room to slip, against shapes whose answers are known by hand."""

from __future__ import annotations

import math
import unittest

import numpy as np
import shapely
from shapely import Polygon
from shapely.affinity import translate

from strata.measuring.slip import DIRECTIONS, slips
from tests.strata.test_measuring import a_set


def _star(rng: np.random.Generator, size: float) -> Polygon:
    """Five points about the middle of the panel; the outermost ``size`` mm away."""
    angle = np.linspace(0, 2 * np.pi, 10, endpoint=False) + rng.uniform(0, 1)
    far = size * np.where(np.arange(10) % 2, rng.uniform(0.45, 0.7, 10), rng.uniform(0.8, 1, 10))
    return Polygon(np.c_[50 + far * np.cos(angle), 40 + far * np.sin(angle)])


class SlipTest(unittest.TestCase):
    def test_room_in_each_direction(self) -> None:
        base, tone = shapely.box(0, 0, 40, 40), shapely.box(0.6, 10, 30, 35)
        (found,) = slips(a_set({"leaf": base}, {"leaf": tone}))
        rooms = dict(zip(DIRECTIONS, found.by_direction, strict=True))
        self.assertAlmostEqual(rooms[180], 0.6, delta=0.01)
        self.assertAlmostEqual(rooms[135], 0.6 * math.sqrt(2), delta=0.01)
        self.assertEqual(rooms[0], 5.0)
        self.assertEqual((found.worst, found.register), (180.0, "marks"))

    def test_half_a_millimetre_reads_half_a_millimetre(self) -> None:
        for size in (4.0, 12.0, 25.0):
            tone = shapely.box(0.5, 0.5, size - 0.5, size - 0.5)
            (found,) = slips(a_set({"leaf": shapely.box(0, 0, size, size)}, {"leaf": tone}))
            self.assertAlmostEqual(found.least, 0.5, delta=0.01)

    def test_a_tone_that_would_come_to_lie_on_another_part_has_left_its_own(self) -> None:
        """Two parts 1 mm apart: moved by 4.5 mm the tone lies wholly on the other, but between them it stood out."""
        base = {"leaf/one": shapely.box(0, 0, 4, 4), "leaf/other": shapely.box(5, 0, 9, 4)}
        (found,) = slips(a_set(base, {"leaf": shapely.box(0.3, 0.3, 3.7, 3.7)}))
        rooms = dict(zip(DIRECTIONS, found.by_direction, strict=True))
        self.assertAlmostEqual(rooms[0], 0.3, delta=0.01)
        self.assertAlmostEqual(rooms[180], 0.3, delta=0.01)

    def test_every_opening_counts_in_every_direction(self) -> None:
        """Four bars, three near the left edge; only the fourth, farthest from any edge, is near the right one."""
        base = shapely.box(0, 0, 40, 40)
        bars = {f"leaf/{n}": shapely.box(0.5, 2 + 8 * n, 4, 6 + 8 * n) for n in range(3)}
        (found,) = slips(a_set({"leaf": base}, {**bars, "leaf/far": shapely.box(30, 26, 37, 34)}))
        rooms = dict(zip(DIRECTIONS, found.by_direction, strict=True))
        self.assertAlmostEqual(rooms[180.0], 0.5, delta=0.01)
        self.assertAlmostEqual(rooms[0.0], 3.0, delta=0.01)

    def test_what_is_drawn_across_the_edge_is_meant_to(self) -> None:
        base, within = shapely.box(0, 0, 40, 40), shapely.box(0.7, 10, 30, 30)
        across, a_hair = shapely.box(35, 2, 44, 6), shapely.box(20, -0.05, 24, 6)
        self.assertEqual(slips(a_set({"leaf": base}, {"leaf": shapely.box(20, 2, 44, 30)})), [])
        (found,) = slips(a_set({"leaf": base}, {"leaf/one": within, "leaf/two": across}))
        self.assertAlmostEqual(found.least, 0.7, delta=0.01)
        self.assertEqual((found.meant, found.register, found.flush), (1, "marks", False))
        self.assertIn("One place of it is drawn across the base's edge", found.how)
        (found,) = slips(a_set({"leaf": base}, {"leaf/one": within, "leaf/two": a_hair}))
        self.assertLess(found.least, 0.01)
        self.assertEqual((found.meant, found.register, found.flush), (0, None, True))

    def test_of_bases_one_on_another_the_tightest_is_told(self) -> None:
        wide, middle, tone = shapely.box(0, 0, 40, 40), shapely.box(4, 4, 36, 36), shapely.box(6, 6, 34, 34)
        found = slips(a_set({"leaf": wide}, {"leaf": middle}, {"leaf": tone}))
        told = [(s.under.sheet, s.over.sheet, round(s.least, 2)) for s in found]
        self.assertEqual(told, [(2, 3, 2.0), (1, 2, 4.0)])
        # the wide one ends sooner on the left than the middle one
        lower = shapely.box(5, 0, 40, 40)
        found = slips(a_set({"leaf": lower}, {"leaf": middle}, {"leaf": tone}))
        self.assertEqual(
            {(s.under.sheet, s.over.sheet) for s in found if s.over.sheet == 3}, {(1, 3), (2, 3)}
        )
        # two alike: the one it is laid on
        found = slips(a_set({"leaf": wide}, {"leaf": wide}, {"leaf": tone}))
        self.assertEqual([(s.under.sheet, s.over.sheet) for s in found], [(2, 3)])

    def test_a_base_within_another_tells_of_both_only_where_it_holds_all_of_the_tone(self) -> None:
        """What is drawn across the smaller one's edge may have less room on the larger one."""
        wide, narrow = shapely.box(0, 0, 40, 40), shapely.box(0.5, 2, 36, 38)
        whole = {"leaf/one": shapely.box(3, 6, 30, 34), "leaf/two": shapely.box(4, 34.5, 20, 36)}
        found = slips(a_set({"leaf": wide}, {"leaf": narrow}, {"leaf": whole["leaf/one"]}))
        self.assertEqual({s.under.sheet for s in found if s.over.sheet == 3}, {2})
        across = {**whole, "leaf/three": shapely.box(33, 10, 39.7, 14)}
        found = slips(a_set({"leaf": wide}, {"leaf": narrow}, {"leaf/one": whole["leaf/one"], **across}))
        told = {s.under.sheet: (round(s.least, 1), s.meant) for s in found if s.over.sheet == 3}
        self.assertEqual(told, {1: (0.3, 0), 2: (2.0, 1)})

    def test_rooms_are_those_of_a_fine_walk(self) -> None:
        """Stars on stars: by steps of 0.02 mm the first that is not covered lies where the room ends."""
        rng, walked = np.random.default_rng(4), 0
        for _ in range(12):
            base, tone = (_star(rng, size) for size in (18, 9))
            if not base.covers(tone):
                continue
            walked += 1
            (found,) = slips(a_set({"leaf": base}, {"leaf": tone}))
            for angle, room in zip(DIRECTIONS, found.by_direction, strict=True):
                way = math.cos(math.radians(angle)), math.sin(math.radians(angle))
                steps = np.arange(0.02, 5.02, 0.02)
                out = [s for s in steps if not base.covers(translate(tone, way[0] * s, way[1] * s))]
                self.assertAlmostEqual(room, min(out, default=5.0), delta=0.03)
        self.assertGreater(walked, 4)

    def test_what_does_not_lie_on_a_base_has_no_slip(self) -> None:
        self.assertEqual(
            slips(a_set({"leaf": shapely.box(0, 0, 40, 40)}, {"leaf": shapely.box(60, 0, 70, 9)})), []
        )
        self.assertEqual(
            slips(a_set({"leaf": shapely.box(0, 0, 40, 40)}, {"sun": shapely.box(2, 2, 7, 9)})), []
        )
