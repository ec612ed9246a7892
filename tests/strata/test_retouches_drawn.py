"""Openings mended by hand, drawn at random: what comes of a mend is what was there with what was asked, and the rest stays."""

from __future__ import annotations

import math
import unittest

import numpy as np
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely import LineString, Polygon

from strata.errors import BadValue
from strata.tracing.retouched import BRIDGE, Retouch, retouched

COORDINATE = st.floats(5, 95).map(lambda v: round(v, 2))
PLACE = st.tuples(COORDINATE, COORDINATE)


@st.composite
def stars(draw: st.DrawFn, least: float = 1.5, most: float = 8.0) -> Polygon:
    """A shape around a place, its points nearer and farther; never across itself."""
    x, y = draw(PLACE)
    radii = draw(st.lists(st.floats(least, most), min_size=5, max_size=12))
    way = np.linspace(0, 2 * np.pi, len(radii), endpoint=False)
    return Polygon(np.c_[x + np.cos(way) * radii, y + np.sin(way) * radii])


@st.composite
def sheets(draw: st.DrawFn) -> list[Polygon]:
    """Openings that lie apart, as those of a sheet do."""
    found: list[Polygon] = []
    for shape in draw(st.lists(stars(), min_size=1, max_size=6)):
        if all(shapely.distance(shape, other) > 0.2 for other in found):
            found.append(shape)
    return found


def outlined(shape: Polygon) -> Retouch:
    points = [tuple(p) for p in shapely.get_coordinates(shape.exterior)[:-1].tolist()]
    return Retouch("draw", points[0], points[-1], tuple(points[1:-1]))


def left(shapes: list[Polygon], after: list[Polygon | None]) -> list[Polygon | None]:
    """What stands in the places of before; what came of a mend stands behind them."""
    return after[: len(shapes)]


class DrawnTest(unittest.TestCase):
    @given(shapes=sheets(), own=stars(least=2.0))
    def test_an_outline_takes_up_what_it_lies_on(self, shapes: list[Polygon], own: Polygon) -> None:
        after = retouched(shapes, [outlined(own)])
        met = [s for s in shapes if shapely.intersection(s, own).area > 0.01]
        # what it hardly touches may count or not
        assume(all(not 1e-4 < shapely.intersection(s, own).area < 0.02 for s in shapes))
        self.assertEqual([s is None for s in left(shapes, after)], [s in met for s in shapes])
        (new,) = after[len(shapes) :]
        assert new is not None
        self.assertTrue(new.is_valid)
        whole = shapely.union_all([own, *met])
        self.assertAlmostEqual(new.area, max(p.area for p in shapely.get_parts(whole)), places=6)
        self.assertTrue(shapely.buffer(new, 1e-6).contains(own))

    @given(shapes=sheets(), own=stars(), again=stars())
    def test_two_that_lie_apart_come_to_the_same_in_either_order(
        self, shapes: list[Polygon], own: Polygon, again: Polygon
    ) -> None:
        assume(shapely.distance(own, again) > 20)
        one, other = (retouched(shapes, [outlined(s) for s in pair]) for pair in ((own, again), (again, own)))
        areas = [sorted(s.area for s in found if s is not None) for found in (one, other)]
        np.testing.assert_allclose(*areas, rtol=1e-9)


class BridgedTest(unittest.TestCase):
    @given(shapes=sheets(), start=PLACE, way=st.floats(0, 2 * math.pi), long=st.floats(1, 20))
    def test_a_bridge_takes_its_own_strip_and_no_more(
        self, shapes: list[Polygon], start: tuple[float, float], way: float, long: float
    ) -> None:
        end = start[0] + long * math.cos(way), start[1] + long * math.sin(way)
        strip = shapely.buffer(LineString([start, end]), BRIDGE / 2, cap_style="flat")
        try:
            after = retouched(shapes, [Retouch("bridge", start, end)])
        except BadValue:
            # refused only where nothing is crossed, or nothing left
            crossed = [s for s in shapes if shapely.intersection(s, strip).area > 0.02]
            self.assertTrue(all(shapely.difference(s, strip).area < 0.5 for s in crossed))
            return
        before = shapely.union_all(shapes)
        now = shapely.union_all([s for s in after if s is not None])
        self.assertLess(shapely.intersection(now, shapely.buffer(strip, -1e-6)).area, 0.011 * len(shapes))
        lost = shapely.difference(before, shapely.union_all([now, strip])).area
        # pieces too small to be openings are gone with it
        self.assertLess(lost, 0.08 * 4 * len(shapes))
        self.assertLess(shapely.difference(now, before).area, 1e-6)
        for was, own in zip(shapes, left(shapes, after), strict=True):
            self.assertTrue(own is None or own.equals(was))


class JoinedTest(unittest.TestCase):
    @given(gap=st.floats(0.25, 5.5), high=st.floats(1, 12), low=st.floats(1, 12), off=st.floats(-3, 3))
    def test_two_become_one_that_holds_both_and_little_else(
        self, gap: float, high: float, low: float, off: float
    ) -> None:
        one = shapely.box(20, 40, 30, 40 + high)
        other = shapely.box(30 + gap, 40 + off, 42 + gap, 40 + off + low)
        assume(shapely.distance(one, other) < 5.9)
        after = retouched([one, other], [Retouch("join", (25, 40.5), (36 + gap, 40.2 + off + low / 2))])
        (new,) = after[2:]
        assert new is not None
        self.assertEqual(after[:2], [None, None])
        self.assertTrue(shapely.buffer(new, 1e-6).contains(shapely.union_all([one, other])))
        # what fills the gap lies between them, in their common hull but for a hair
        hull = shapely.buffer(shapely.convex_hull(shapely.union_all([one, other])), gap / 2 + 0.3)
        self.assertLess(shapely.difference(new, hull).area, 1e-6)
        self.assertTrue(new.is_valid)

    @given(far=st.floats(6.2, 30))
    def test_what_lies_too_far_apart_is_refused_in_words(self, far: float) -> None:
        shapes = [shapely.box(10, 40, 20, 50), shapely.box(20 + far, 40, 30 + far, 50)]
        with self.assertRaises(BadValue) as caught:
            retouched(shapes, [Retouch("join", (15, 45), (25 + far, 45))])
        self.assertEqual(caught.exception.sentence, "These two openings lie too far apart to be one.")


class PulledTest(unittest.TestCase):
    @given(by=st.floats(-3, 6), at=st.floats(26, 54))
    def test_an_edge_goes_to_where_it_is_pulled_and_stays_elsewhere(self, by: float, at: float) -> None:
        assume(abs(by) > 0.05)
        shape = shapely.box(20, 30, 60, 60)
        (gone, new) = retouched([shape], [Retouch("pull", (at, 30), (at, 30 - by))])
        assert gone is None
        assert new is not None
        self.assertTrue(new.is_valid)
        self.assertLess(shapely.distance(new.exterior, shapely.Point(at, 30 - by)), 0.15)
        self.assertEqual(new.area > shape.area, by > 0)
        # three times as far as it goes, and no farther
        reach = max(1.5, 3 * abs(by)) + 0.2
        beyond = shapely.box(at - reach, 30 - abs(by) - 1, at + reach, 30 + abs(by) + 1)
        # the last point that goes along does so by a thousandth of a millimetre, and the edge with it to its corner
        self.assertLess(
            shapely.difference(new.symmetric_difference(shape), beyond).area, 0.001 * shape.length
        )
