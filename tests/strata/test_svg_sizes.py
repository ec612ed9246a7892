"""The same drawing on a tag, a card and a wall; strokes, fills and transforms against geometry worked out another way."""

from __future__ import annotations

import math
import unittest
from functools import reduce

import numpy as np
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely import LineString, Polygon
from shapely.geometry.base import BaseGeometry

from strata.formats.svg import read_drawing
from strata.guard.child import run_guarded
from tests.strata.test_svg import CASES

UNITS = 80
PAGE = f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 {UNITS} {UNITS}">'
SIZES = st.sampled_from((20.0, 107.95, 300.0, 600.0, 1500.0))
# mm
PLACES = st.floats(8, 72).map(lambda v: round(v, 2))
POINTS = st.tuples(PLACES, PLACES)
CURVES = st.lists(st.tuples(POINTS, POINTS, POINTS), min_size=1, max_size=5)


def painted(body: str, width: float) -> BaseGeometry:
    """All that a square page of 80 units paints, ``width`` mm wide; in units of the drawing."""
    drawing = read_drawing(f"{PAGE}{body}</svg>".encode(), width)
    whole = shapely.union_all([p.shape for p in drawing.painted])
    return shapely.transform(whole, lambda at: at * UNITS / drawing.width)


def bezier(start: tuple[float, float], curves: list[tuple[tuple[float, float], ...]]) -> np.ndarray:
    """(n, 2) points of cubic curves one after another, by their polynomials, a thousand to each."""
    t = np.linspace(0, 1, 1000)[:, None]
    at, found = np.array(start), []
    for curve in curves:
        a, b, c = map(np.array, curve)
        found.append((1 - t) ** 3 * at + 3 * (1 - t) ** 2 * t * a + 3 * (1 - t) * t**2 * b + t**3 * c)
        at = c
    return np.concatenate(found)


def path_of(start: tuple[float, float], curves: list[tuple[tuple[float, float], ...]]) -> str:
    parts = (f"C{' '.join(f'{x} {y}' for x, y in curve)}" for curve in curves)
    return f"M{start[0]} {start[1]}{''.join(parts)}"


class SizesTest(unittest.TestCase):
    def test_every_awkward_drawing_is_as_exact_on_a_tag_and_on_a_wall(self) -> None:
        """Areas of ``test_svg`` are those of a page of 100 x 80 units; here it is 25, 400 and 1,600 mm wide."""
        head = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 100 80">'
        for body, expected in CASES.items():
            for width in (25.0, 400.0, 1600.0):
                with self.subTest(body=body[:120], width=width):
                    drawing = read_drawing(f"{head}{body}</svg>".encode(), width)
                    shapes = [p.shape for p in drawing.painted]
                    self.assertTrue(all(s.is_valid for s in shapes))
                    found = shapely.union_all(shapes).area * (100 / width) ** 2
                    self.assertAlmostEqual(found, expected, delta=0.002 * expected + 1e-4)


# a real drawing's stroke was such a one: it crosses itself in a hair's breadth again and again
TANGLED = (
    "M40 40l2.31-1.89c-2.64-2.95-1.13 1.17-1.13 1.17c-2.59 11.92 11.43 3.3 11.43 3.3c5.35-8.12 2.25 8.27 2.25 8.27l-2.48 2.59"
    "c0.28-0.42-0.17 0.06-0.17 0.06c1.12 2.55 0.66 3-1.91-2.39c-2.59-3.16-10.48 3.98-10.48 3.98z"
)


class LimitTest(unittest.TestCase):
    def test_a_tangled_stroke_is_read_within_its_seconds_on_a_wall_too(self) -> None:
        """It took 14 s of processor at 600 mm, and was refused after six."""
        drawing = (
            f'{PAGE}<path d="{TANGLED}" fill="none" stroke="#000" stroke-width="1.9493" stroke-linecap="round" '
            'stroke-linejoin="round"/></svg>'
        ).encode()
        areas = []
        for width in (60.0, 600.0, 1800.0):
            options = {"by": "colour", "width_mm": width, "visible": False}
            (sheet,) = run_guarded("measure", [drawing], options)["sheets"]
            areas.append(sheet["area_mm2"] / width**2)
        self.assertLess(max(areas) / min(areas) - 1, 2e-3)


class StrokeTest(unittest.TestCase):
    """Round strokes are what lies within half their width of the line: a buffer by another library tells that too."""

    @given(start=POINTS, curves=CURVES, wide=st.floats(0.2, 6), size=SIZES)
    def test_a_round_stroke_is_all_that_is_near_its_line(
        self,
        start: tuple[float, float],
        curves: list[tuple[tuple[float, float], ...]],
        wide: float,
        size: float,
    ) -> None:
        wide, line = round(wide, 2), bezier(start, curves)
        # a curve that turns back on itself in a point has no direction there, and renderers differ on its end
        assume(np.linalg.norm(np.diff(line, axis=0), axis=1).reshape(-1)[:-1].min() * 1000 > 3)
        found = painted(
            f'<path d="{path_of(start, curves)}" fill="none" stroke="#000" stroke-width="{wide}" '
            'stroke-linecap="round" stroke-linejoin="round"/>',
            size,
        )
        self.assertTrue(found.is_valid)
        true = shapely.buffer(LineString(line), wide / 2, quad_segs=64)
        # curves are flattened to 0.004 mm, strokes outlined in a fifty-thousandth of the drawing
        edge = (0.004 + size / 100_000) * UNITS / size
        self.assertLess(found.symmetric_difference(true).area, edge * true.length + 1e-3)

    @given(start=POINTS, curves=CURVES, size=SIZES)
    def test_a_fill_is_what_its_outline_goes_around_an_odd_number_of_times(
        self, start: tuple[float, float], curves: list[tuple[tuple[float, float], ...]], size: float
    ) -> None:
        """By casting a ray from each of 400 places across the outline's chords."""
        found = painted(f'<path d="{path_of(start, curves)}" fill-rule="evenodd"/>', size)
        ring = bezier(start, curves)
        ring = np.vstack([ring, ring[:1]])
        x, y = (v.ravel() for v in np.meshgrid(np.linspace(4.13, 76.3, 20), np.linspace(4.21, 76.7, 20)))
        (x0, y0), (x1, y1) = ring[:-1].T, ring[1:].T
        spans = (y0[None] > y[:, None]) != (y1[None] > y[:, None])
        with np.errstate(divide="ignore", invalid="ignore"):
            at = x0 + (y[:, None] - y0) / (y1 - y0) * (x1 - x0)
        odd = (spans & (at > x[:, None])).sum(axis=1) % 2 == 1
        places = shapely.points(x, y)
        sure = shapely.distance(places, LineString(ring)) > 0.02
        np.testing.assert_array_equal(shapely.contains_xy(found, x, y)[sure], odd[sure])


class FillTest(unittest.TestCase):
    @given(
        boxes=st.lists(st.tuples(PLACES, PLACES, st.floats(1, 30), st.floats(1, 30)), min_size=1, max_size=6),
        size=SIZES,
    )
    def test_boxes_under_either_rule(self, boxes: list[tuple[float, ...]], size: float) -> None:
        """Drawn one way round all of them: nonzero is their union, evenodd what an odd number of them covers."""
        sides = [(x, y, round(w, 2), round(h, 2)) for x, y, w, h in boxes]
        d = "".join(f"M{x} {y}h{w}v{h}h{-w}z" for x, y, w, h in sides)
        page = shapely.box(0, 0, UNITS, UNITS)
        shapes = [shapely.intersection(shapely.box(x, y, x + w, y + h), page) for x, y, w, h in sides]
        odd = reduce(shapely.symmetric_difference, shapes, Polygon())
        for rule, true in (("nonzero", shapely.union_all(shapes)), ("evenodd", odd)):
            found = painted(f'<path d="{d}" fill-rule="{rule}"/>', size)
            self.assertLess(found.symmetric_difference(true).area, 1e-4 * true.area + 1e-4, rule)

    @given(
        turn=st.floats(-180, 180),
        skew=st.floats(-50, 50),
        scale=st.tuples(st.floats(0.2, 1.6), st.floats(0.2, 1.6)),
        size=SIZES,
    )
    def test_a_transform_changes_areas_by_its_determinant(
        self, turn: float, skew: float, scale: tuple[float, float], size: float
    ) -> None:
        """Lists are applied from the right, nested groups from the inside; a skew keeps the area."""
        inner = '<ellipse rx="9" ry="6"/>'
        body = f'<g transform="translate(40 40) rotate({turn:.3f})"><g transform="scale({scale[0]:.4f},{scale[1]:.4f}) skewX({skew:.3f})">{inner}</g></g>'
        found = painted(body, size)
        true = math.pi * 9 * 6 * round(scale[0], 4) * round(scale[1], 4)
        self.assertAlmostEqual(found.area, true, delta=0.002 * true)
        self.assertLess(shapely.distance(found.centroid, shapely.Point(40, 40)), 0.01)
