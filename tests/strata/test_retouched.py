"""Openings mended by hand, and the way from the photograph to the sheet that it is done by."""

from __future__ import annotations

import unittest
from typing import cast

import numpy as np
import shapely
from shapely import Polygon

from strata.errors import BadValue
from strata.formats.photo_seat import path_in_photo, retouches_of, seat_json, seat_of
from strata.tracing.retouched import BRIDGE, MOST_POINTS, Retouch, RetouchKind, retouched, unanswered
from strata.tracing.sides import Lens
from strata.tracing.straighten import Seat, in_picture, on_sheet


def box(x0: float, y0: float, x1: float, y1: float) -> Polygon:
    return shapely.box(x0, y0, x1, y1)


class RetouchedTest(unittest.TestCase):
    def test_two_that_are_one(self) -> None:
        """A slanted shadow 0.8 mm wide cut an opening in two: filled over all of its length, and nothing else is touched."""
        whole = Polygon([(0, 0), (10, 0), (10, 6), (0, 6)])
        shadow = shapely.LineString([(4, -1), (6, 7)]).buffer(0.4)
        one, other = shapely.get_parts(whole.difference(shadow))
        far = box(20, 0, 24, 4)
        found = retouched([one, far, other], [Retouch("join", (1, 3), (9, 3))])
        self.assertEqual([s is None for s in found], [True, False, True, False])
        joined = found[3]
        assert joined is not None
        self.assertAlmostEqual(joined.area / whole.area, 1, delta=0.03)
        self.assertEqual(found[1], far)

    def test_a_bridge_that_the_photograph_hides(self) -> None:
        long = box(0, 0, 10, 2)
        found = retouched([long], [Retouch("bridge", (5, -0.5), (5, 2.5))])
        pieces = [s for s in found if s is not None]
        self.assertEqual(len(pieces), 2)
        self.assertAlmostEqual(sum(p.area for p in pieces), 2 * (10 - BRIDGE), places=6)
        self.assertAlmostEqual(float(shapely.distance(*pieces)), BRIDGE, places=6)

    def test_an_edge_pulled(self) -> None:
        """The point goes where it was put, its surroundings along with it, the other side of the opening not at all."""
        thin = box(0, 0, 20, 1)
        found = next(s for s in retouched([thin], [Retouch("pull", (10, 0), (10, -0.5))]) if s is not None)
        self.assertAlmostEqual(found.bounds[1], -0.5, places=3)
        self.assertAlmostEqual(found.bounds[3], 1, places=9)
        self.assertAlmostEqual(float(shapely.distance(found.exterior, shapely.Point(10, -0.5))), 0, places=3)
        self.assertTrue(found.covers(shapely.box(0, 0, 20, 1)))
        untouched = shapely.box(0, 0, 8.4, 1)
        self.assertAlmostEqual(found.intersection(shapely.box(0, -1, 8.4, 2)).area, untouched.area, places=3)

    def test_an_opening_drawn(self) -> None:
        """One that was missed; one that was half found is made whole; the others stay as they are."""
        half, far = box(0, 0, 5, 4), box(20, 0, 24, 4)
        around = Retouch("draw", (10, 10), (10, 14), ((16, 10), (16, 14)))
        found = retouched([half, far], [around])
        self.assertEqual([s is None for s in found], [False, False, False])
        self.assertAlmostEqual(cast(Polygon, found[2]).area, 24)
        whole = retouched([half, far], [Retouch("draw", (4, 0), (4, 4), ((9, 0), (9, 4)))])
        self.assertEqual([s is None for s in whole], [True, False, False])
        self.assertAlmostEqual(cast(Polygon, whole[2]).area, 36)
        self.assertEqual(len(retouched([], [around])), 1, "where nothing was found at all")

    def test_what_a_hand_has_answered_is_asked_no_more(self) -> None:
        places, blinded = [box(0, 0, 4, 4), box(10, 0, 14, 4)], [box(20, 0, 30, 9), box(40, 0, 50, 9)]
        take = Retouch("take", (12, 2), (12, 2))
        # a glint hides several: what is drawn in a corner of it is one of them
        corner = Retouch("draw", (21, 1), (22, 3), ((24, 1),))
        draw = Retouch("draw", (20.5, 0.5), (20.5, 8.5), ((29.5, 0.5), (29.5, 8.5)))
        beside = Retouch("draw", (31, 1), (32, 3), ((34, 1),))
        self.assertEqual(unanswered([], places, blinded), ([0, 1], [0, 1]))
        self.assertEqual(unanswered([take, beside], places, blinded), ([0], [0, 1]))
        self.assertEqual(unanswered([take, corner], places, blinded), ([0], [0, 1]))
        self.assertEqual(unanswered([take, draw], places, blinded), ([0], [1]))
        over = Retouch("draw", (1, 1), (3, 3), ((3, 1),))
        self.assertEqual(unanswered([over], places, blinded), ([1], [0, 1]))
        with self.assertRaises(BadValue):
            unanswered([Retouch("take", (70, 70), (70, 70))], places, blinded)

    def test_a_place_of_which_it_is_said_that_nothing_is_there(self) -> None:
        """It is asked of no more, nothing comes of it, and a word on what another reading does not show is no fault."""
        places, blinded = [box(0, 0, 4, 4), box(10, 0, 14, 4)], [box(20, 0, 30, 9), box(40, 0, 50, 9)]

        def leave(x: float, y: float = 2) -> Retouch:
            return Retouch("leave", (x, y), (x, y))

        self.assertEqual(unanswered([leave(12)], places, blinded), ([0], [0, 1]))
        # pressed on its outline, which was drawn a little beside it
        self.assertEqual(unanswered([leave(30.3), leave(-0.3)], places, blinded), ([1], [1]))
        self.assertEqual(unanswered([leave(70, 70), leave(37)], places, blinded), ([0, 1], [0, 1]))
        shapes = [box(60, 0, 64, 4)]
        bridge = Retouch("bridge", (62, -1), (62, 5))
        plain, told = retouched(shapes, [bridge]), retouched(shapes, [leave(12), bridge, leave(62)], places)
        self.assertEqual(
            [s and s.wkt for s in told], [s and s.wkt for s in plain], "others are counted as before"
        )
        taken = retouched(shapes, [leave(12), Retouch("take", (12, 2), (12, 2))], places)
        self.assertEqual(len(taken), 2, "she may think again")
        twice = [Retouch("take", (12, 2), (12, 2)), bridge, Retouch("take", (13, 3), (13, 3))]
        self.assertEqual(
            len(retouched(shapes, twice, places)),
            4,
            "two pieces and one opening, however often it is pressed",
        )

    def test_an_outline_that_means_nothing(self) -> None:
        crossed = Retouch("draw", (0, 0), (10, 0), ((10, 10), (0, 10), (5, -5)))
        tiny = Retouch("draw", (0, 0), (0, 0.1), ((0.1, 0.1),))
        for wrong in (crossed, tiny):
            with self.assertRaises(BadValue) as caught:
                retouched([box(0, 0, 5, 5)], [wrong])
            self.assertTrue(caught.exception.sentence.endswith("."))
        for kind, through in (
            ("draw", ()),
            ("draw", ((1.0, 1.0),) * (MOST_POINTS - 1)),
            ("join", ((1.0, 1.0),)),
        ):
            with self.assertRaises(BadValue):
                Retouch(cast(RetouchKind, kind), (0, 0), (9, 9), through)

    def test_an_island_pulled(self) -> None:
        ring = box(0, 0, 10, 10).difference(box(4, 4, 6, 6))
        found = next(s for s in retouched([ring], [Retouch("pull", (4, 5), (3.6, 5))]) if s is not None)
        self.assertEqual(len(found.interiors), 1)
        self.assertAlmostEqual(Polygon(found.interiors[0]).bounds[0], 3.6, places=3)

    def test_one_after_another(self) -> None:
        shapes = [box(0, 0, 4, 2), box(5, 0, 9, 2)]
        both = [Retouch("join", (2, 1), (7, 1)), Retouch("bridge", (2, -1), (2, 3))]
        found = retouched(shapes, both)
        self.assertEqual([s is None for s in found], [True, True, True, False, False])
        # taking the last back leaves the others counted as they were
        self.assertEqual([s is None for s in retouched(shapes, both[:1])], [True, True, False])

    def test_what_means_nothing_is_refused_in_words(self) -> None:
        two = [box(0, 0, 4, 2), box(30, 0, 34, 2)]
        for bad in (
            Retouch("join", (1, 1), (3, 1)),
            Retouch("join", (1, 1), (31, 1)),
            Retouch("join", (15, 15), (1, 1)),
            Retouch("bridge", (15, 15), (18, 15)),
            Retouch("bridge", (1, 1), (1.1, 1)),
            Retouch("pull", (15, 15), (16, 15)),
            Retouch("pull", (4, 1), (40, 1)),
        ):
            with self.subTest(bad), self.assertRaises(BadValue):
                retouched(two, [bad])
        with self.assertRaises(BadValue):
            retouched([], [Retouch("pull", (0, 0), (1, 1))])
        with self.assertRaises(BadValue):
            retouched([box(0, 0, 0.5, 0.5)], [Retouch("bridge", (-1, 0.25), (2, 0.25))])


class SeatTest(unittest.TestCase):
    def seats(self) -> list[Seat]:
        corners = np.array([[120.0, 90], [880, 130], [850, 1100], [90, 1060]])
        t = np.linspace(0, 1, 33)
        bows = np.stack([6 * t * (1 - t), np.zeros(33), -4 * t * (1 - t), np.zeros(33)])
        return [
            Seat(corners, corners, Lens(s, (500, 600), 780, cubic), b, sure=True)
            for s, cubic in ((0.0, False), (0.08, False), (0.1, True), (-0.08, True))
            for b in (np.zeros((4, 33)), bows)
        ]

    def test_to_the_sheet_and_back(self) -> None:
        places = np.random.default_rng(3).uniform(0.02, 0.98, (40, 2))
        for seat in self.seats():
            with self.subTest(lens=seat.lens, bowed=bool(seat.bows.any())):
                back = on_sheet(seat, in_picture(seat, places))
                self.assertLess(float(np.abs(back - places).max()), 2e-4)

    def test_a_seat_kept_and_read_back(self) -> None:
        seat = self.seats()[3]
        result = {
            "corners": (seat.corners / 2).tolist(),
            "photo_size": [500, 600],
            "seat": seat_json(seat, 0.5),
            "width_mm": 100.0,
            "height_mm": 130.0,
        }
        places = np.array([[0.25, 0.5], [0.8, 0.1]])
        seen = in_picture(seat, places) / 2
        np.testing.assert_allclose(in_picture(seat_of(result), places), seen, atol=0.02)
        done = retouches_of(result, [{"kind": "pull", "points": seen.tolist()}])[0]
        np.testing.assert_allclose([done.start, done.end], places * [100, 130], atol=0.05)
        with self.assertRaises(BadValue):
            retouches_of(result, [{"kind": "pull", "points": [[1e9, 2], [3, 4]]}])
        del result["seat"]
        # an import of before: by its corners alone
        self.assertEqual(seat_of(result).lens.strength, 0)

    def test_a_shape_drawn_in_the_photograph(self) -> None:
        seat = self.seats()[0]
        path = path_in_photo(shapely.box(0, 0, 100, 130), seat, (100, 130))
        self.assertTrue(path.startswith("M") and path.endswith("Z"))
        points = np.array([[float(v) for v in p.split(",")] for p in path[1:-1].split(" ")])
        self.assertAlmostEqual(
            float(np.abs(points.max(axis=0) - seat.corners.max(axis=0)).max()), 0, delta=0.1
        )
