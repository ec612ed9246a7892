"""What is found of many shapes at once is what is found of each, whatever the others are."""

from __future__ import annotations

import unittest
from collections.abc import Callable, Sequence
from typing import Any, TypeVar
from unittest import mock

import numpy as np
import shapely
from shapely import Polygon

from strata.answers.opened import described
from strata.errors import BadFile
from strata.formats.set_file import polygons_from_rings, rings_of
from strata.kept import Kept
from strata.sheets import model, outline
from strata.sheets.elements import tone_roles
from strata.sheets.known import of_each
from strata.sheets.model import find_inscribed
from tests import world
from tests.strata.test_measuring import a_set

V = TypeVar("V")


def shapes(count: int) -> list[Polygon]:
    """Stars about the middle of a panel, every third with a hole, every fifth with a hair of a spike."""
    rng, found = np.random.default_rng(3), []
    for n in range(count):
        way = np.linspace(0, 2 * np.pi, 40, endpoint=False)
        far = rng.uniform(4, 8, 40)
        star = Polygon(np.c_[20 + np.cos(way) * far, 20 + np.sin(way) * far])
        if n % 3 == 0:
            star = star.difference(shapely.Point(20, 20).buffer(rng.uniform(0.02, 3)))
        if n % 5 == 0:
            star = star.union(shapely.box(20, 19.99, 40, 20.005)).difference(shapely.box(10, 5, 11, 35))
        found.append(max(shapely.get_parts(star), key=shapely.area))
    return found


class ManyShapesTest(unittest.TestCase):
    def setUp(self) -> None:
        self.shapes = shapes(90)
        for kept in (outline._KNOWN, model._INSCRIBED):
            kept.clear()
            self.addCleanup(kept.clear)

    def one_by_one(self, find: Callable[[Sequence[Polygon]], list[V]], kept: Kept[bytes, V]) -> list[V]:
        found = list[V]()
        for shape in self.shapes:
            kept.clear()
            found += find([shape])
        kept.clear()
        return found

    def test_circles(self) -> None:
        alone = self.one_by_one(find_inscribed, model._INSCRIBED)
        self.assertEqual(find_inscribed(self.shapes), alone)
        self.assertGreater(len(set(alone)), 80)

    def test_outlines(self) -> None:
        alone = self.one_by_one(outline.outlines, outline._KNOWN)
        self.assertEqual(outline.outlines(self.shapes), alone)
        self.assertEqual(
            [path.count("M") for path in alone], [1 + len(shape.interiors) for shape in self.shapes]
        )

    def test_an_outline_loses_no_ring_and_crosses_itself_nowhere(self) -> None:
        """Where the quick way would: a hole finer than the tolerance, a slit that runs beside the edge."""
        dot = shapely.box(0, 0, 9, 9).difference(shapely.Point(4, 4).buffer(0.02))
        wavy = [(x, 0.01 + 0.02 * (x % 2)) for x in np.arange(0.0, 40.0)]
        slit = Polygon(
            [(0, -5), (39, -5), *wavy[::-1]], [[(1, -0.005), (38, -0.005), (38, -0.03), (1, -0.03)]]
        )
        quick = shapely.simplify(np.array([dot, slit]), outline.TOLERANCE, preserve_topology=False)
        self.assertFalse(shapely.is_valid(quick).all() and (shapely.get_num_interior_rings(quick) == 1).all())
        made = outline._coarser(np.array([dot, slit], dtype=object))
        self.assertTrue(shapely.is_valid(made).all())
        self.assertEqual(shapely.get_num_interior_rings(made).tolist(), [1, 1])

    def test_each_shape_is_asked_for_once(self) -> None:
        asked: list[int] = []

        def sizes(some: Any) -> Any:
            asked.append(len(some))
            return shapely.get_num_coordinates(some).tolist()

        kept = Kept[bytes, int](10_000, lambda _: 10)
        twice = [*self.shapes, *self.shapes[::-1]]
        self.assertEqual(of_each(twice, kept, sizes), [shapely.get_num_coordinates(s) for s in twice])
        of_each(self.shapes[3:9], kept, sizes)
        self.assertEqual(asked, [len(self.shapes)])
        self.assertEqual(of_each([], kept, sizes), [])

    def test_what_does_not_fit_the_memory_is_found_all_the_same(self) -> None:
        with mock.patch.object(outline, "_KNOWN", Kept[bytes, str](100, len)):
            self.assertEqual(len(outline.outlines(self.shapes)), len(self.shapes))


class WrittenShapesTest(unittest.TestCase):
    def test_rings_are_those_that_were_written(self) -> None:
        made = shapes(30)
        self.assertEqual(polygons_from_rings([rings_of(s) for s in made]), made)
        self.assertEqual(polygons_from_rings([]), [])

    def test_one_that_cannot_be_read_is_refused_among_good_ones(self) -> None:
        good = rings_of(shapely.box(0, 0, 9, 9))
        for bad in (
            [],
            [[]],
            [[0, 0, 1, 1]],
            [["a", 0, 1, 1, 2, 2]],
            [[0, 0, 1, 1, 2]],
            None,
            [[0, 0, 1, None, 2, 2]],
        ):
            with self.subTest(bad), self.assertRaises(BadFile):
                polygons_from_rings([good, bad, good])


class OpenedTest(unittest.TestCase):
    def test_a_group_is_drawn_as_its_openings_where_they_lie_apart(self) -> None:
        for sheet in described(world.koi())["sheets"]:
            for group in sheet["groups"]:
                own = [s["outline"] for s in sheet["shapes"] if s["element"] == group["element"]]
                self.assertEqual(group["outline"], "".join(own))

    def test_a_group_whose_openings_meet_is_drawn_as_one(self) -> None:
        meeting = {"leaf/one": shapely.box(0, 0, 10, 10), "leaf/two": shapely.box(8, 0, 20, 10)}
        (sheet,) = described(a_set(meeting))["sheets"]
        self.assertEqual([g["outline"].count("M") for g in sheet["groups"]], [1])
        self.assertEqual([s["outline"].count("M") for s in sheet["shapes"]], [1, 1])

    def test_what_lies_on_its_base_by_half_or_more_is_a_tone_of_it(self) -> None:
        """Whether the base covers it, or it stands out."""
        for out, told in ((0.0, "tone 1 on its base"), (0.4, "tone 1 on its base"), (0.6, "base")):
            tone = shapely.box(30 - 8 * (1 - out), 4, 30 + 8 * out, 12)
            roles = tone_roles(a_set({"leaf": shapely.box(0, 0, 30, 30)}, {"leaf": tone}))
            self.assertEqual(roles["leaf", 2], told)
