"""Photographs as tables, light and telephones make them: what is read whole, and what is never wrong in silence."""

from __future__ import annotations

import unittest
from collections.abc import Callable
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from strata.camera import Shot, jpeg, photograph
from strata.camera.nuisance import dusty, finger, glare, lamps, out_of_focus, shadow, sharpened
from strata.camera.surfaces import rounded
from strata.errors import BadValue
from strata.tracing import Traced, trace
from strata.tracing.candidates import four_sides
from strata.tracing.doubt import lettering
from tests import world
from tests.strata.test_tracing import Against, shapes_of
from tools.conditions import judged

USUAL: dict[str, Any] = {
    "width": 1800, "height": 2250, "tilt_x": 0.1, "tilt_y": 0.06, "fills": 0.78, "noise": 0.012, "quality": 80,
}  # fmt: skip
Rgb = NDArray[np.uint8]


def seen(number: int, after: Callable[[Rgb], Rgb] | None = None, **values: Any) -> Traced:
    koi = world.koi()
    shot = Shot(**{**USUAL, "seed": number, **values})
    picture = photograph(shapes_of(number), koi.width, koi.height, shot)
    return trace(jpeg(picture if after is None else after(picture), shot.quality), koi.width, koi.height)


SHADOW = [(0.3, 0.2), (0.68, 0.24), (0.62, 0.86), (0.26, 0.8)]
HALF = [(0, 0.5), (0.55, 0.38), (1, 0.65), (1, 1), (0, 1)]
WHITE, DARK = (0.75, 0.75, 0.74), (0.1, 0.07, 0.05)


class WholeTest(Against):
    """No opening missed, split or invented, none called doubtful but marks of half a millimetre, areas right."""

    def whole(self, found: Traced, shapes: list[Polygon] | None = None, median: float = 0.6) -> None:
        self.check(found, shapes_of(1) if shapes is None else shapes, median)
        doubted = [p.area for p, d in zip(found.openings, found.doubtful, strict=True) if d]
        self.assertLess(max(doubted, default=0.0), 5.0)
        self.assertEqual([w for w in found.warnings if "doubtful: so thin" not in w], [])

    def test_a_telephones_hard_shadow(self) -> None:
        found = seen(1, lambda p: shadow(p, SHADOW))
        self.check(found, shapes_of(1))
        self.assertLess(sum(found.doubtful), 5)

    def test_fine_lines_half_in_shadow(self) -> None:
        """In the shadow hardly an opening is wide enough to tell how bright openings are there: forty of 135 were missed."""
        for where, soft in ((HALF, 60), (SHADOW, 10)):
            with self.subTest(soft=soft):
                lying = {"tilt_x": -0.01, "tilt_y": 0.08, "roll": -0.03, "width": 2400, "height": 3000}
                found = seen(5, lambda p, at=where, by=soft: shadow(p, at, soft=by), uneven=0.3, **lying)
                places = [*found.places, *found.blinded]
                row = judged("", "finest", shapes_of(5), list(found.openings), found.doubtful, places, ())
                self.assertEqual((row.missed, row.invented), (0, 0))
                self.assertLess(row.silent, 4)
                self.assertLess(sum(found.doubtful), 30)

    def test_a_wide_angle_picture_that_was_cut(self) -> None:
        """A lens bends about its own middle, which is not that of what was cut out: openings were 0.1 mm elsewhere."""
        koi, shapes = world.koi(), shapes_of(1)
        shot = Shot(**{**USUAL, "k1": 0.12, "fills": 0.6, "seed": 1})
        cut = photograph(shapes, koi.width, koi.height, shot)[260:, 150:]
        found = trace(jpeg(cut, shot.quality), koi.width, koi.height)
        self.whole(found)
        near = shapely.STRtree(found.openings).nearest([s.representative_point() for s in shapes])
        off = [s.centroid.distance(found.openings[i].centroid) for s, i in zip(shapes, near, strict=True)]
        self.assertLess(max(off), 0.03)

    def test_a_hard_shadow_on_a_white_sheet(self) -> None:
        found = seen(1, lambda p: shadow(p, SHADOW), plastic=WHITE, table=DARK)
        self.check(found, shapes_of(1), median=1.2)

    def test_a_white_sheet_half_in_shadow(self) -> None:
        """Its lit half has clearer sides than the whole of it."""
        found = seen(1, lambda p: shadow(p, HALF, soft=60), plastic=WHITE, table=DARK)
        self.check(found, shapes_of(1))

    def test_inks_of_many_colours_on_a_light_sheet(self) -> None:
        stained = {"stains": 0.8, "plastic": (0.62, 0.66, 0.68), "table": DARK}
        found = seen(1, **stained)
        self.check(found, shapes_of(1))
        self.assertLess(sum(found.doubtful), 5)
        self.check(seen(4, width=2400, height=3000, **stained), shapes_of(4), median=1.2, iou=0.97)

    def test_inks_on_a_grey_sheet_on_a_white_desk(self) -> None:
        """The stains are stranger to the sheet than its openings, and to the other side."""
        found = seen(4, stains=0.6, plastic=(0.55, 0.55, 0.55), table=(0.8, 0.8, 0.79))
        # one line of a fifth of a millimetre between dark stains looks half as wide, and is taken for a hair
        wide = [s for s in shapes_of(4) if 2 * s.area / s.length > 0.2]
        self.assertEqual(len(shapes_of(4)) - len(wide), 1)
        self.check(found, wide, median=0.6, iou=0.97)

    def test_mats_of_both_colours(self) -> None:
        for values in (
            {"table": (0.03, 0.14, 0.10), "plastic": WHITE},
            {"table": (0.03, 0.09, 0.24), "plastic": (0.035, 0.045, 0.06)},
        ):
            found = seen(1, grid=10.0, **values)
            self.check(found, shapes_of(1), median=1.2, iou=0.975)

    def test_a_second_sheet_touches_it(self) -> None:
        self.whole(seen(1, beside=("second sheet",)))

    def test_a_ruler_touches_it(self) -> None:
        self.whole(seen(1, beside=("ruler",)))

    def test_on_paper_on_a_dark_table(self) -> None:
        self.whole(seen(1, table=(0.1, 0.07, 0.05), beside=("paper",), fills=0.66))

    def test_corners_cut_round(self) -> None:
        outline = rounded(107.95, 139.7, 12).buffer(-0.5)
        self.whole(seen(1, corner=12.0), [s for s in shapes_of(1) if outline.contains(s)])

    def test_a_white_sheet_on_a_white_desk(self) -> None:
        self.whole(seen(1, table=(0.80, 0.80, 0.79), plastic=(0.55, 0.55, 0.55)))

    def test_a_strong_jpeg_is_still_taken_for_light(self) -> None:
        self.whole(seen(1, quality=35))

    def test_a_wide_angle(self) -> None:
        self.whole(seen(1, k1=0.12))

    def test_a_window_and_a_lamp(self) -> None:
        two = [(0.1, 0.1, (1.0, 0.8, 0.55)), (0.95, 0.9, (0.6, 0.8, 1.0))]
        self.whole(seen(1, lambda p: lamps(p, two)))

    def test_dust(self) -> None:
        self.whole(seen(1, dusty))

    def test_ink_left_on_a_dark_sheet(self) -> None:
        self.whole(seen(1, stains=0.8))

    def test_sharpened_by_the_telephone(self) -> None:
        """Edges are where they were before their halos: four times as near as light alone has them."""
        found = seen(1, sharpened)
        self.check(found, shapes_of(1), median=0.8)
        self.assertLess(sum(found.doubtful), 5)


class DoubtfulTest(unittest.TestCase):
    """What comes out wrong is doubtful, and it is said why."""

    def test_a_corner_outside_the_picture(self) -> None:
        found = seen(1, roll=0.25, shift=(-0.13, 0.05), fills=0.8)
        truth = shapely.union_all(shapes_of(1))
        read = shapely.union_all(found.openings)
        self.assertGreater(truth.intersection(read).area / truth.union(read).area, 0.98)
        self.assertTrue((found.corners[:, 0] < 0).any())
        # the mark in that corner runs out of the picture
        cut = min(
            range(len(found.openings)), key=lambda i: found.openings[i].distance(shapely.Point(0, 139.7))
        )
        self.assertTrue(found.doubtful[cut])
        self.assertLess(sum(found.doubtful), 4)

    def test_a_makers_name_is_no_opening_in_silence(self) -> None:
        found = seen(1, printed=True)
        tree = shapely.STRtree(shapes_of(1))
        invented = [i for i, p in enumerate(found.openings) if not len(tree.query(p, "intersects"))]
        self.assertGreater(len(invented), 9)
        self.assertTrue(all(found.doubtful[i] for i in invented))
        self.assertEqual(sum(found.doubtful), len(invented))
        self.assertIn("like a name that is printed on the sheet", found.warnings[-1])

    def test_a_border_of_like_shapes_is_no_lettering(self) -> None:
        """Dots and leaves in a row, and a greeting: what is sold is not doubted."""
        dots = [shapely.Point(10 + 4 * n, 135).buffer(1.2) for n in range(20)]
        self.assertEqual(lettering(dots, 107.95, 139.7), [])
        greeting = [shapely.box(20 + 8 * n, 120, 24 + 8 * n + n % 3, 128) for n in range(9)]
        self.assertEqual(lettering(greeting, 107.95, 139.7), [])
        middle = [shapely.box(20 + 3 * n, 70, 21 + 3 * n + 0.3 * (n % 3), 72) for n in range(9)]
        self.assertEqual(lettering(middle, 107.95, 139.7), [])
        name = [shapely.box(20 + 3 * n, 136, 21 + 3 * n + 0.3 * (n % 3), 138) for n in range(9)]
        self.assertEqual(len(lettering(name, 107.95, 139.7)), 9)

    def test_a_finger_over_openings(self) -> None:
        found = seen(1, lambda p: finger(p, (0.13, 0.45)))
        tree, wrong = shapely.STRtree(found.openings), 0
        for shape in shapes_of(1):
            own = max(
                tree.query(shape, "intersects").tolist(),
                key=lambda j: found.openings[j].intersection(shape).area,
                default=None,
            )
            if own is None or abs(found.openings[own].area / shape.area - 1) > 0.03:
                wrong += 1
                self.assertTrue(own is not None and found.doubtful[own])
        self.assertGreater(wrong, 0)
        self.assertTrue(any("another colour" in w for w in found.warnings))

    def test_what_may_be_off_is_told_of_thin_ones_only(self) -> None:
        """On a clear photograph the error that is shown is kept in 19 of 20 openings, and is small but for hairlines."""
        found = seen(4)
        tree, inside = shapely.STRtree(shapes_of(4)), []
        for shape, most in zip(found.openings, found.errors, strict=True):
            own = max(
                (shapes_of(4)[j] for j in tree.query(shape, "intersects")),
                key=lambda p: p.intersection(shape).area,
            )
            inside.append(abs(shape.area / own.area - 1) <= max(most, 0.002))
            if 2 * own.area / own.length > 0.5:
                self.assertLess(most, 0.04)
        self.assertGreater(np.mean(inside), 0.93)
        self.assertLess(sum(found.doubtful), 9)

    def test_what_a_shadow_leaves_wrong_is_doubtful(self) -> None:
        """White on wood, of which a shadow on the sheet is as dark: not read, and nothing of it is kept in silence."""
        oak = {"table": (0.42, 0.27, 0.15), "surface": "wood", "plastic": WHITE}
        found = seen(1, lambda p: shadow(p, SHADOW), **oak)
        largest = max(found.openings, key=lambda p: p.area)
        self.assertTrue(found.doubtful[found.openings.index(largest)])

    def test_a_glint(self) -> None:
        """What runs together in it is doubtful; a lit half beside a shadow is no glint."""
        found = seen(4, lambda p: glare(p, [(0.42, 0.59, 0.07)]))
        tree = shapely.STRtree(shapes_of(4))
        for shape, doubtful in zip(found.openings, found.doubtful, strict=True):
            self.assertTrue(doubtful or len(tree.query(shapely.buffer(shape, -0.2), "intersects")) < 2)
        self.assertLess(sum(seen(4, lambda p: shadow(p, HALF, soft=60)).doubtful), 12)

    def test_openings_under_a_glint_on_a_white_sheet(self) -> None:
        """There they cannot be seen: the place is marked."""
        found = seen(4, lambda p: glare(p, [(0.42, 0.59, 0.07)]), plastic=WHITE, table=DARK)
        tree, places = shapely.STRtree(found.openings), shapely.STRtree(found.blinded)
        hidden = [s for s in shapes_of(4) if s.area > 1 and not len(tree.query(s, "intersects"))]
        self.assertTrue(hidden)
        for shape in hidden:
            self.assertTrue(len(places.query(shape, "intersects")), shape.centroid)

    def test_walls_of_a_white_sheet_in_a_shadow_on_a_mat_are_no_print(self) -> None:
        """As grey as the mat's figures are in the light: two openings on either side are not one."""
        mat = {"table": (0.03, 0.14, 0.10), "grid": 10.0, "plastic": WHITE, "width": 2400, "height": 3000}
        shapes = shapely.STRtree([shapely.buffer(s, -0.2) for s in shapes_of(1)])
        # where the shadow ends a wall of a millimetre is as light as print for some of its length, or not, by the noise
        for seed in (1, 3):
            found = seen(1, lambda p: shadow(p, HALF, soft=60), **{**mat, "uneven": 0.3, "seed": seed})
            for opening in found.openings:
                self.assertLess(len(shapes.query(opening, "intersects")), 2, seed)

    def test_where_most_is_doubtful_all_is(self) -> None:
        found = seen(4, lambda p: out_of_focus(p, 3))
        self.assertTrue(all(found.doubtful))
        self.assertIn("This photograph cannot be trusted as it is.", found.warnings)
        self.assertTrue(any("are taken to be so too" in w for w in found.warnings))


class CandidatesTest(unittest.TestCase):
    def mask(self, *outlines: list[tuple[int, int]]) -> NDArray[np.uint8]:
        import cv2

        found = np.zeros((1000, 800), np.uint8)
        for outline in outlines:
            cv2.fillPoly(found, [np.array(outline, np.int32)], 1)
        return found

    SHEET = [(150, 200), (600, 220), (590, 800), (140, 780)]

    def near(self, found: Any, corners: list[tuple[int, int]]) -> None:
        self.assertIsNotNone(found)
        off = np.abs(found.corners[:, None] - np.array(corners)[None]).sum(axis=2).min(axis=0)
        self.assertLess(float(off.max()), 8)

    def test_two_that_touch(self) -> None:
        other = [(400, 0), (760, 0), (770, 205), (410, 212)]
        self.near(four_sides(self.mask(self.SHEET, other), 0.776), self.SHEET)

    def test_a_corner_that_is_outside(self) -> None:
        turned = [(-30, 300), (450, 170), (620, 760), (140, 890)]
        self.near(four_sides(self.mask(turned), 0.776), turned)

    def test_what_is_no_sheet(self) -> None:
        import cv2

        self.assertIsNone(
            four_sides(cv2.circle(np.zeros((1000, 800), np.uint8), (400, 500), 260, 1, -1), 0.7)
        )

    def test_tables_that_there_are_not(self) -> None:
        for values in ({"surface": "marble"}, {"beside": ("cat",)}):
            with self.subTest(values), self.assertRaises(BadValue):
                photograph([], 100, 130, Shot(width=300, height=400, **values))  # type: ignore[arg-type]
