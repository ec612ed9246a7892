"""Measures against shapes whose answers are known by hand."""

from __future__ import annotations

import math
import unittest

import numpy as np
import shapely
import shapely.affinity
from shapely import Polygon
from shapely.geometry import Point

from strata.errors import BadValue, UnknownName
from strata.measuring import measure_openings, trim
from strata.measuring.bridges import bridges, islands, nearest_gaps
from strata.measuring.masks import mask_fits, mask_shape
from strata.sheets import LayerSet, Opening, Sheet
from strata.sheets.medial import neck
from tests import world


def a_set(
    *sheets: dict[str, Polygon], kind: str = "stencil", width: float = 100, height: float = 80
) -> LayerSet:
    """Sheets of openings; each key is ``element`` or ``element/anything``."""
    made = []
    for n, openings in enumerate(sheets, start=1):
        made.append(
            Sheet(
                n,
                f"Sheet {n}",
                tuple(
                    Opening(f"{n}.{i}", n, k.split("/")[0], p) for i, (k, p) in enumerate(openings.items())
                ),
            )
        )
    return LayerSet("Test", kind, width, height, tuple(made))


def _clouds(rng: np.random.Generator) -> Polygon:
    """Some ellipses that lie on one another, without holes."""
    places, sizes = rng.uniform(0, 8, (4, 2)), rng.uniform(0.3, 2.5, (4, 2))
    round_ones = [
        shapely.affinity.scale(Point(*at).buffer(1), *size) for at, size in zip(places, sizes, strict=True)
    ]
    parts = shapely.get_parts(shapely.union_all(round_ones))
    return Polygon(max(parts, key=lambda part: part.area).exterior)


def _parts_at(shape: Polygon, wider: float) -> float | None:
    """Twice the mm by which it shrinks until it falls into two parts so many times wider; None where it never does."""

    def falls(by: float) -> bool:
        rest = shapely.get_parts(shape.buffer(-by, 16))
        return sum(not part.buffer(-max((wider - 1) * by, 0.15 - by), 8).is_empty for part in rest) > 1

    steps = np.linspace(0.01, 0.8, 80) * shapely.maximum_inscribed_circle(shape, tolerance=0.001).length
    at = next((i for i, by in enumerate(steps) if falls(by)), None)
    if at is None:
        return None
    low, high = (steps[at - 1] if at else 0.0), steps[at]
    for _ in range(10):
        middle = (low + high) / 2
        low, high = (low, middle) if falls(middle) else (middle, high)
    return 2 * high


class NeckTest(unittest.TestCase):
    def test_known_necks(self) -> None:
        box, union = shapely.box, shapely.union_all
        cases = {
            "two squares and a bar": (union([box(0, 0, 10, 10), box(10, 4, 20, 6), box(20, 0, 30, 10)]), 2.0),
            "two discs that overlap": (union([Point(0, 0).buffer(5, 64), Point(8, 0).buffer(5, 64)]), 6.0),
            "an hourglass": (Polygon([(0, 0), (10, 0), (6, 10), (10, 20), (0, 20), (4, 10)]), 2.0),
            "a narrow slit of a neck": (
                union([box(0, 0, 10, 10), box(10, 4.9, 12, 5.1), box(12, 0, 22, 10)]),
                0.2,
            ),
            "the narrowest of two": (
                union(
                    [
                        box(0, 0, 10, 10),
                        box(10, 3, 20, 7),
                        box(20, 0, 30, 10),
                        box(30, 4, 40, 6),
                        box(40, 0, 50, 10),
                    ]
                ),
                2.0,
            ),
        }
        for name, (shape, width) in cases.items():
            with self.subTest(name):
                found = neck(shape)
                self.assertIsNotNone(found)
                self.assertAlmostEqual(found.width, width, delta=0.02 * width + 0.005)
                self.assertAlmostEqual(math.dist(*found.ends), found.width, delta=1e-6)

    def test_two_discs_and_a_bar(self) -> None:
        """However short the end behind it: about a small disc both sides come near each other once more."""
        rng = np.random.default_rng(11)
        for _ in range(150):
            one, other = rng.uniform(0.5, 4, 2)
            half = min(one, other) * rng.uniform(0.1, 0.78)
            apart = one + other + rng.uniform(0.3, 2)
            discs = [Point(x, 0).buffer(r, int(rng.integers(8, 32))) for x, r in ((0, one), (apart, other))]
            shape = shapely.union_all([*discs, shapely.box(0, -half, apart, half)])
            turned = shapely.affinity.rotate(shape, rng.uniform(0, 360))
            with self.subTest(one=one, other=other, half=half, apart=apart):
                self.assertAlmostEqual(neck(turned).width, 2 * half, delta=0.04 * half)

    def test_against_shrinking(self) -> None:
        """Told in another way: by how much a shape may shrink before it falls into two that are clearly wider."""
        rng, told = np.random.default_rng(4), []
        for _ in range(40):
            shape = _clouds(rng)
            at_least, at_most, found = _parts_at(shape, 1.3), _parts_at(shape, 1.2), neck(shape)
            if (at_least is None) != (at_most is None) or at_least != at_most:
                # about a quarter wider: it may count or not
                continue
            told.append(found is not None)
            self.assertEqual(at_least is None, found is None, shape.wkt)
            if found is not None:
                self.assertAlmostEqual(found.width / at_least, 1, delta=0.02, msg=shape.wkt)
        self.assertGreater(sum(told), 8)
        self.assertGreater(told.count(False), 8)

    def test_round_islands_and_windows(self) -> None:
        """The narrowest place is known: where two outlines come nearest, though the shape hangs together without it."""
        square = shapely.box(0, 0, 60, 60)

        def around(*holes: tuple[float, float, float]) -> Polygon:
            return square.difference(shapely.union_all([Point(x, y).buffer(r, 64) for x, y, r in holes]))

        grid = [(7.5 + 15 * i, 7.5 + 15 * j) for i in range(4) for j in range(4)]
        cases = {
            "a round window": (around((30, 30, 29.6)), 0.4),
            "a window near one edge": (around((30, 20.4, 20)), 0.4),
            "a small one near one edge": (around((30, 8.4, 8)), 0.4),
            "sixteen islands, closest to the rim": (around(*((x, y, 7.35) for x, y in grid)), 0.15),
            "two of sixteen islands close together": (
                around(*((x, y, 4.0) for x, y in grid[1:]), (7.5 + 15 - 8.3, 7.5, 4.0)),
                0.3,
            ),
        }
        for name, (shape, width) in cases.items():
            with self.subTest(name):
                found = neck(shape)
                self.assertIsNotNone(found)
                self.assertAlmostEqual(found.width, width, delta=0.01 * width)

    def test_twenty_four_lattices(self) -> None:
        for n in (3, 5, 8):
            for pitch, gap, margin in ((6, 0.3, 2), (6, 0.3, 0.2), (6, 1.0, 1.5), (9, 0.5, 0.4)):
                for square in (False, True):
                    half = (pitch - gap) / 2
                    centres = [margin + half + pitch * i for i in range(n)]
                    side = 2 * (margin + half) + pitch * (n - 1)
                    holes = [
                        shapely.box(x - half, y - half, x + half, y + half)
                        if square
                        else Point(x, y).buffer(half, 24)
                        for x in centres
                        for y in centres
                    ]
                    shape = shapely.box(0, 0, side, side).difference(shapely.union_all(holes))
                    found = neck(shape)
                    with self.subTest(n=n, pitch=pitch, gap=gap, margin=margin, square=square):
                        if square:
                            # slots cross: only a crossing as wide as it is long parts them, and the rim's is wider
                            self.assertTrue(found is None or found.width <= 1.02 * max(gap, margin))
                        else:
                            self.assertAlmostEqual(
                                found.width, min(gap, margin), delta=0.02 * min(gap, margin)
                            )

    def test_a_large_lace(self) -> None:
        holes = [Point(1.25 + 1.2 * i, 1.25 + 1.2 * j).buffer(0.45) for i in range(43) for j in range(43)]
        shape = shapely.box(0, 0, 53, 53).difference(shapely.union_all(holes))
        self.assertEqual(len(shape.interiors), 1849)
        self.assertAlmostEqual(neck(shape).width, 0.3, delta=0.003)

    def test_even_rings_and_frames_have_none(self) -> None:
        ring = Point(0, 0).buffer(30, 64).difference(Point(0, 0).buffer(25, 64))
        frame = shapely.box(0, 0, 60, 60).difference(shapely.box(5, 5, 55, 55))
        self.assertIsNone(neck(ring))
        self.assertIsNone(neck(frame))

    def test_shapes_without_one(self) -> None:
        slot = shapely.box(0, 0, 40, 3)
        wedge = Polygon([(0, 0), (30, 4), (30, -4)])
        ell = Polygon([(0, 0), (20, 0), (20, 4), (4, 4), (4, 20), (0, 20)])
        for shape in (Point(0, 0).buffer(7), slot, wedge, shapely.box(0, 0, 5, 5), ell):
            self.assertIsNone(neck(shape))

    def test_a_neck_turned_and_scaled_is_the_same_neck(self) -> None:
        shape = shapely.union_all(
            [shapely.box(0, 0, 10, 10), shapely.box(10, 4, 20, 6), shapely.box(20, 0, 30, 10)]
        )
        for angle, factor in ((17, 1), (45, 3), (80, 0.3)):
            turned = shapely.affinity.scale(shapely.affinity.rotate(shape, angle), factor, factor)
            self.assertAlmostEqual(neck(turned).width, 2 * factor, delta=0.03 * factor)


class OpeningTest(unittest.TestCase):
    def test_brushes_and_minutes(self) -> None:
        found = measure_openings(
            a_set(
                {
                    "large": shapely.box(5, 5, 45, 45),
                    "thin": shapely.box(50, 5, 52, 45),
                    "mid": Point(75, 40).buffer(6.3),
                }
            )
        )
        large, thin, mid = found.values()
        self.assertEqual((large.brush.key, thin.brush, mid.brush.key), ("large", None, "medium"))
        self.assertAlmostEqual(large.minutes, 1600 / 2600)
        self.assertAlmostEqual(thin.minutes, 80 / 170)
        self.assertEqual(large.smallest.key, "medium")
        self.assertAlmostEqual(mid.inscribed, 12.6, delta=0.06)
        for measured in found.values():
            self.assertTrue(all(how.endswith(".") for how in measured.how.values()))

    def test_waste_is_not_measured(self) -> None:
        layer_set = world.two_sheets()
        from strata.sheets.edits import apply

        wasted = apply(layer_set, "role", {"openings": ["1.1"], "role": "waste"}).layer_set
        self.assertEqual(len(measure_openings(wasted)), len(measure_openings(layer_set)) - 1)


class BridgeTest(unittest.TestCase):
    def test_widths_ends_and_what_is_thin(self) -> None:
        layer_set = a_set(
            {
                "a": shapely.box(0, 0, 10, 10),
                "a/2": shapely.box(10.5, 0, 20, 10),
                "b": shapely.box(22, 0, 30, 10),
                "c": shapely.box(60, 0, 70, 10),
            }
        )
        found = bridges(layer_set)
        self.assertEqual([round(b.width, 3) for b in found], [0.5, 2.0])
        self.assertEqual([b.thin for b in found], [True, False])
        self.assertAlmostEqual(math.dist(*found[0].ends), 0.5)
        self.assertEqual(set(nearest_gaps(layer_set)), {"1.0", "1.1", "1.2"})

    def test_islands_of_a_stencil_fall_out(self) -> None:
        ring = shapely.box(0, 0, 20, 20).difference(shapely.box(5, 5, 9, 9))
        self.assertAlmostEqual(islands(a_set({"a": ring}))[0].shape.area, 16)
        self.assertEqual(islands(a_set({"a": ring}, kind="stamp set")), [])


class MaskTest(unittest.TestCase):
    def test_where_a_mask_fits(self) -> None:
        wide, tight, far = (
            shapely.box(32, 10, 42, 40),
            shapely.box(10, 40.4, 30, 60),
            shapely.box(80, 10, 95, 40),
        )
        layer_set = a_set({"leaf": shapely.box(10, 10, 30, 40), "stem": wide, "pot": tight, "sun": far})
        fits = {(m.inked.element, m.covered.element): m.fits for m in mask_fits(layer_set)}
        self.assertEqual((fits["leaf", "stem"], fits["leaf", "pot"]), (True, False))
        self.assertNotIn(("leaf", "sun"), fits)

    def test_the_mask_covers_the_neighbour_and_leaves_the_element_free(self) -> None:
        leaf, stem = shapely.box(10, 10, 30, 40), shapely.box(32, 10, 42, 40)
        layer_set = a_set({"leaf": leaf, "stem": stem})
        mask = mask_shape(layer_set, "leaf", 1)
        self.assertEqual(mask.intersection(leaf).area, 0)
        reached = stem.intersection(leaf.buffer(25 / 4))
        self.assertGreater(mask.intersection(reached).area, 0.98 * reached.area)
        self.assertGreaterEqual(mask.distance(leaf), 0.49)
        with self.assertRaises(BadValue):
            mask_shape(a_set({"leaf": leaf}), "leaf", 1)
        with self.assertRaises(UnknownName):
            mask_shape(layer_set, "moon", 1)


class TrimTest(unittest.TestCase):
    def test_what_stays(self) -> None:
        layer_set = a_set({"left": shapely.box(0, 0, 20, 80), "middle": shapely.box(40, 20, 60, 60)})
        found = trim(layer_set, 80, 60)
        self.assertEqual(found.box, (10, 10, 90, 70))
        self.assertAlmostEqual(found.cut["left"], 600 / 1600)
        self.assertAlmostEqual(found.kept, 1400 / 2400)
        self.assertEqual(trim(layer_set, 100, 80).cut, {})

    def test_marks_that_would_show(self) -> None:
        koi = world.koi()
        self.assertEqual(trim(koi, 96, 128).marks, ())
        self.assertEqual(trim(koi, koi.width, koi.height).marks, (1, 2, 3, 4, 5))
        for wrong in ((0, 10), (float("nan"), 10), (10, 1e9)):
            with self.assertRaises(BadValue):
                trim(koi, *wrong)
