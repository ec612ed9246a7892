"""Outlines drawn by hand, fitted to edges: against the shapes that pictures were made of."""

from __future__ import annotations

import io
import unittest
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFilter
from shapely import Polygon, affinity

from strata.errors import BadValue
from strata.tracing.fitted import _best_way_around, fitted
from strata.tracing.retouched import MOST_POINTS

PLAIN = {"opening": (240, 238, 230), "sheet": (90, 70, 50)}
WEAK = {"opening": (168, 168, 166), "sheet": (150, 150, 150)}
# seen by its colour alone
HUE = {"opening": (190, 120, 120), "sheet": (120, 150, 120)}


def around(count: int, radius: Any) -> Polygon:
    turn = np.linspace(0, 2 * np.pi, count, endpoint=False)
    far = radius(turn) if callable(radius) else radius
    return Polygon(np.column_stack([far * np.cos(turn), far * np.sin(turn)]))


def leaf(long: float, wide: float) -> Polygon:
    x = np.linspace(-1, 1, 60)
    half = wide / 2 * (1 - x**2)
    return Polygon(np.column_stack([np.r_[x, x[-2:0:-1]] * long / 2, np.r_[half, -half[-2:0:-1]]]))


SHAPES = {
    "round": around(200, 40.0),
    "leaf": leaf(130, 40),
    "wave": around(300, lambda t: 50 * (1 + 0.2 * np.sin(3 * t) + 0.06 * np.sin(7 * t))),
    "square": shapely.box(-40, -30, 40, 30),
}


def picture(
    shapes: list[Polygon], opening: Any, sheet: Any, blur: float = 1.0, noise: float = 3.0, seed: int = 1
) -> NDArray[np.uint8]:
    """Openings (px) of 420 x 340 on a sheet, light that falls off, a lens, grain, JPEG."""
    fine = Image.new("L", (420 * 4, 340 * 4), 0)
    for shape in shapes:
        ImageDraw.Draw(fine).polygon([(4 * x, 4 * y) for x, y in shape.exterior.coords], fill=255)
    share = np.asarray(fine.resize((420, 340), Image.Resampling.BOX), float)[..., None] / 255
    light = np.linspace(0.85, 1.15, 420)[None, :, None]
    seen = (np.array(opening) * share + np.array(sheet) * (1 - share)) * light
    soft = Image.fromarray(seen.clip(0, 255).astype(np.uint8)).filter(ImageFilter.GaussianBlur(blur))
    grain = np.random.default_rng(seed).normal(0, noise, seen.shape)
    out = io.BytesIO()
    Image.fromarray((np.asarray(soft) + grain).clip(0, 255).astype(np.uint8)).save(out, "JPEG", quality=82)
    return np.asarray(Image.open(out))


def by_hand(shape: Polygon, seed: int) -> NDArray[np.float64]:
    """A few points around a shape, each some pixels beside it."""
    points = shapely.get_coordinates(shapely.simplify(shape.exterior, 3))[:-1]
    return points + np.random.default_rng(seed).normal(0, 1.7, points.shape)


def likeness(one: Polygon, other: Polygon) -> float:
    return one.intersection(other).area / one.union(other).area


class FittedTest(unittest.TestCase):
    def fit(self, shape: Polygon, seed: int, beside: tuple[Polygon, ...] = (), **how: Any) -> float:
        """How like the shape is what is fitted to it; what was drawn is far less so."""
        outline = by_hand(shape, seed)
        found = fitted(picture([shape, *beside], **how, seed=seed), outline)
        self.assertLessEqual(len(found), MOST_POINTS)
        self.assertTrue(Polygon(found).is_valid)
        self.assertLess(likeness(Polygon(outline), shape), 0.97)
        return likeness(Polygon(found), shape)

    def test_shapes_in_lights(self) -> None:
        for name, shape in SHAPES.items():
            for seed, how in enumerate((PLAIN, WEAK, HUE, {**PLAIN, "blur": 3.0}, {**PLAIN, "noise": 9.0})):
                own = affinity.translate(affinity.rotate(shape, 23 * seed), 210.3, 170.6)
                with self.subTest(name, how=how):
                    self.assertGreater(self.fit(own, seed, **how), 0.975)

    def test_a_neighbour_near_by_is_not_taken(self) -> None:
        """Its far side is an edge as well; it goes the other way."""
        own = affinity.translate(leaf(130, 40), 200, 150)
        beside = (affinity.translate(own, 0, 46), affinity.translate(own, 0, -46))
        self.assertGreater(self.fit(own, 3, beside, **PLAIN), 0.98)

    def test_a_line_of_ten_pixels(self) -> None:
        bar = affinity.translate(affinity.rotate(leaf(160, 14), 31), 210, 170)
        outline = shapely.get_coordinates(shapely.buffer(bar, 2.5, quad_segs=1).simplify(2).exterior)[:-1]
        found = Polygon(fitted(picture([bar], **PLAIN), outline))
        self.assertGreater(likeness(found, bar), 0.93)
        self.assertLess(likeness(Polygon(outline), bar), 0.8)

    def test_where_part_of_the_edge_does_not_show(self) -> None:
        """A glint over a fourth of it: what was drawn stands there, the rest is fitted."""
        shape = affinity.translate(SHAPES["round"], 210, 170)
        seen = picture([shape], **PLAIN).copy()
        seen[110:170, 210:280] = 245
        found = Polygon(fitted(seen, by_hand(shape, 5)))
        self.assertGreater(likeness(found, shape), 0.94)
        clear = shapely.box(100, 172, 320, 300)
        self.assertGreater(likeness(found & clear, shape & clear), 0.975)

    def test_either_way_round_is_the_same(self) -> None:
        shape = affinity.translate(SHAPES["wave"], 210, 170)
        seen, outline = picture([shape], **PLAIN), by_hand(shape, 2)
        one, other = (Polygon(fitted(seen, o)) for o in (outline, outline[::-1]))
        self.assertGreater(likeness(one, other), 0.995)

    def test_nothing_is_fitted_to_grain(self) -> None:
        outline = by_hand(affinity.translate(SHAPES["wave"], 210, 170), 1)
        for noise in (0.5, 3.0, 8.0, 15.0):
            with self.subTest(noise), self.assertRaises(BadValue) as refused:
                fitted(picture([], **PLAIN, noise=noise), outline)
            self.assertIn("No clear edge", refused.exception.sentence)

    def test_an_edge_far_from_what_was_drawn_is_not_its(self) -> None:
        shape = affinity.translate(SHAPES["round"], 210, 170)
        far = by_hand(affinity.translate(around(40, 12.0), 210, 170), 1)
        with self.assertRaises(BadValue):
            fitted(picture([shape], **PLAIN), far)

    def test_what_is_no_outline(self) -> None:
        seen = picture([], **PLAIN)
        bow = [[100, 100], [200, 200], [200, 100], [100, 200]]
        for points in (bow, [[1, 1], [2, 2]], [[5, 5], [6, 5], [6, 6]], [[-20, 5], [60, 5], [60, 60]], [[9, float("nan")], [60, 5], [60, 60]]):  # fmt: skip
            with self.subTest(points), self.assertRaises(BadValue):
                fitted(seen, np.array(points, float))


class WayAroundTest(unittest.TestCase):
    def test_it_is_closed_and_worth_most(self) -> None:
        """Against all closed lines there are, of a few places; steps of one sideways cost, of three are none."""
        rng = np.random.default_rng(7)
        ways = np.array(np.meshgrid(*[range(4)] * 7, indexing="ij")).reshape(7, -1).T
        steps = np.abs(ways - np.roll(ways, 1, axis=1))
        best = 0
        for _ in range(40):
            worth = rng.uniform(0, 1, (7, 4))
            total = worth[np.arange(7), ways].sum(axis=1) - 0.15 * (steps**2).sum(axis=1)
            total[(steps > 2).any(axis=1)] = -np.inf
            found = total[(ways == _best_way_around(worth)).all(axis=1).argmax()]
            # of so few places the middle still knows where it began, now and then
            self.assertGreater(found, total.max() - 0.7)
            best += found == total.max()
        self.assertGreaterEqual(best, 36)
