"""Path data: however it is written it says the same; what is written is read back; what is broken ends where it breaks."""

from __future__ import annotations

import math
import random
import unittest
from unittest import mock

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely import Polygon

from strata.formats.svg import path_data
from strata.formats.svg.flattening import Command, flattened, flattened_each
from strata.formats.svg.geometry import filled, filled_each
from strata.formats.svg.path_data import path_commands
from strata.formats.svg.values import Matrix
from strata.sheets.outline import outline, path_of

COUNTS = {"L": 2, "H": 1, "V": 1, "C": 6, "S": 4, "Q": 4, "T": 2, "A": 7}
VALUES = st.floats(-99, 99).map(lambda v: round(v, 3))


@st.composite
def segments(draw: st.DrawFn) -> list[tuple[str, list[float]]]:
    """Commands with their numbers, absolute or relative; the flags of arcs are nought or one, their radii positive."""
    found = [("M", [draw(VALUES), draw(VALUES)])]
    for _ in range(draw(st.integers(1, 7))):
        name = draw(st.sampled_from(list(COUNTS)))
        values = [draw(VALUES) for _ in range(COUNTS[name])]
        if name == "A":
            values[0], values[1] = abs(values[0]) + 1, abs(values[1]) + 1
            values[3], values[4] = (float(draw(st.booleans())) for _ in range(2))
        found.append((name.lower() if draw(st.booleans()) else name, values))
    return found


def plainly(path: list[tuple[str, list[float]]]) -> str:
    """One command, one space, one number after the other; a flag is one digit."""
    flags = {(name, i) for name in "Aa" for i in (3, 4)}
    words = (
        " ".join([name, *(f"{v:.0f}" if (name, i) in flags else f"{v:.3f}" for i, v in enumerate(values))])
        for name, values in path
    )
    return " ".join(words)


def tersely(path: list[tuple[str, list[float]]], chance: random.Random) -> str:
    """As programs shorten it: no needless space, nought before the point or name, flags in one; now and then a comma,
    a line's end, a plus, an exponent."""
    said, last = "", ""
    for name, values in path:
        # a name that is said again may be left out; after a moveto what follows unnamed is a lineto
        said += "" if name == last and chance.random() < 0.6 else name
        for i, value in enumerate(values):
            if name in "Aa" and i in (3, 4):
                word = str(int(value))
            else:
                word = f"{value:.3f}".rstrip("0").rstrip(".")
                word = word.replace("0.", ".", 1) if word.lstrip("-").startswith("0.") else word
                word = "0" if word in ("", "-", "-0") else word
                if chance.random() < 0.1:
                    word = f"{value * 1000:.0f}e-3"
                elif not word.startswith("-") and chance.random() < 0.1:
                    word = f"+{word}"
            # a sign parts two numbers, and so does a point where one stands already
            before = said[-1:]
            apart = before.isalpha() or word[0] in "+-" or (name in "Aa" and i in (4, 5) and word[0] != ".")
            said += ("" if apart else chance.choice((" ", ",", " ,\n\t", "\r\n"))) + word
        last = name
    return said


def same(one: list[Command], other: list[Command]) -> bool:
    return [n for n, _ in one] == [n for n, _ in other] and all(
        np.allclose(a, b, atol=1e-6) for (_, a), (_, b) in zip(one, other, strict=True) if len(a)
    )


class WritingTest(unittest.TestCase):
    @given(path=segments(), seed=st.integers(0, 10_000))
    def test_terse_and_plain_are_the_same_path(self, path: list[tuple[str, list[float]]], seed: int) -> None:
        terse = tersely(path, random.Random(seed))
        one, other = path_commands(plainly(path)), path_commands(terse)
        self.assertTrue(same(one, other), f"{plainly(path)}\n{terse}\n{one}\n{other}")
        self.assertGreater(len(one), 1)

    @given(path=segments())
    def test_relative_is_absolute_less_where_it_begins(self, path: list[tuple[str, list[float]]]) -> None:
        """Lines only, walked by hand."""
        lines = [(n, v) for n, v in path if n in "MLlHhVv"]
        x = y = 0.0
        walked = []
        for name, values in lines:
            from_x, from_y = (x, y) if name.islower() else (0.0, 0.0)
            if name in "Hh":
                x = from_x + values[0]
            elif name in "Vv":
                y = from_y + values[0]
            else:
                x, y = from_x + values[0], from_y + values[1]
            walked.append((x, y))
        found = [p[-1] for name, p in path_commands(plainly(lines)) if name in ("moveTo", "lineTo")]
        np.testing.assert_allclose(found, walked, atol=1e-6)

    @given(path=segments(), at=st.integers(1, 200))
    def test_what_breaks_keeps_what_stood_before_it(
        self, path: list[tuple[str, list[float]]], at: int
    ) -> None:
        whole = plainly(path)
        cut = min(at, len(whole))
        broken = path_commands(f"{whole[:cut]} # {whole[cut:]}")
        kept = [c for c in path_commands(whole[:cut]) if c[0] != "endPath"]
        self.assertTrue(same([c for c in broken if c[0] != "endPath"], kept), whole[:cut])


class LinesTest(unittest.TestCase):
    """Paths of lines alone are put together without the parser: the same comes of it."""

    def same_parsed(self, data: str) -> None:
        found = path_commands(data)
        with mock.patch.object(path_data, "_is_of_lines", return_value=False):
            self.assertEqual(found, path_commands(data), data)

    @given(
        figures=st.lists(st.tuples(st.lists(st.tuples(VALUES, VALUES), min_size=1, max_size=6), st.booleans()), min_size=1, max_size=3),
        seed=st.integers(0, 10_000),
    )  # fmt: skip
    def test_however_they_are_spaced(
        self, figures: list[tuple[list[tuple[float, float]], bool]], seed: int
    ) -> None:
        chance, said = random.Random(seed), ""
        for points, closed in figures:
            said += chance.choice(["M", " M ", "\nM"])
            said += chance.choice([" ", "L", " L ", "\tL"]).join(
                f"{x}{chance.choice([',', ' ', ' , '])}{y:e}" for x, y in points
            )
            said += chance.choice(["Z", " z "]) if closed else " "
        with mock.patch("fontTools.svgLib.path.parse_path", side_effect=AssertionError("it is of lines")):
            self.assertTrue(path_commands(said))
        self.same_parsed(said)

    @given(st.text("MLZz0123456789.,-+eE \n", max_size=24).map("M".__add__))
    def test_whatever_is_written(self, data: str) -> None:
        self.same_parsed(data)

    def test_what_goes_on_where_it_was_closed(self) -> None:
        for data in (
            "M1 2L3 4ZL5 6",
            "M1 2 3 4ZZ",
            "M1 2L3 4Zl5 6",
            "M1 2 3 4ZM5 6 7 8Z L1 1",
            "M1 2C1 2 3 4 5 6",
        ):
            self.assertFalse(path_data._is_of_lines(path_data._sound(data)), data)
            self.same_parsed(data)


class ArcTest(unittest.TestCase):
    @given(
        radius=st.floats(2, 40),
        start=st.floats(0, 2 * math.pi),
        sweep=st.floats(0.2, 2 * math.pi - 0.2),
        way=st.booleans(),
    )
    def test_an_arc_lies_on_its_circle_and_goes_the_way_its_flags_say(
        self, radius: float, start: float, sweep: float, way: bool
    ) -> None:
        """Around (50, 50): to 0.01 mm, and as long as the angle says."""
        end = start + (sweep if way else -sweep)
        (x0, y0), (x1, y1) = ((50 + radius * math.cos(a), 50 + radius * math.sin(a)) for a in (start, end))
        d = f"M{x0:.9f} {y0:.9f}A{radius:.9f} {radius:.9f} 0 {int(sweep > math.pi)}{int(way)}{x1:.9f} {y1:.9f}"
        ((points, closed),) = flattened(path_commands(d))
        self.assertFalse(closed)
        away = np.hypot(points[:, 0] - 50, points[:, 1] - 50)
        self.assertLess(float(np.abs(away - radius).max()), 0.01 + 3e-4 * radius)
        long = float(np.hypot(*np.diff(points, axis=0).T).sum())
        self.assertAlmostEqual(long, radius * sweep, delta=0.002 * radius * sweep + 0.01)


class TogetherTest(unittest.TestCase):
    """Shapes are worked out many at once: none of them may show whose company it was in."""

    OUTLINES = (
        "M1 1L9 1L9 9",
        "M0 0C9 0 9 9 0 9Z M2 2Q4 2 4 4T2 6z L1 1",
        "",
        "M5 5",
        "M1 1L2 1e9L3 3Z",
        "M0 0A3 3 0 1 1 .1 .1M7 7L8 7L8 8ZM0 0L10 10L10 0L0 10Z",
        "M0 0.02C.01 0 .02 .01 .02 .02C.02 .03 .01 .04 0 .04Z",
    )
    MATRICES = (
        Matrix(),
        Matrix(a=2, d=0.5, e=3),
        Matrix(),
        Matrix(b=1),
        Matrix(),
        Matrix(a=-1),
        Matrix(a=3, d=3),
    )

    def test_each_is_as_it_is_alone(self) -> None:
        outlines = [path_commands(d) for d in self.OUTLINES]
        for order in (range(7), (6, 4, 4, 1, 0, 5, 2, 3), (2, 3), (2,)):
            together = flattened_each([outlines[i] for i in order], [self.MATRICES[i] for i in order])
            for i, rings in zip(order, together, strict=True):
                alone = flattened(outlines[i], self.MATRICES[i])
                self.assertEqual([closed for _, closed in rings], [closed for _, closed in alone])
                for (points, _), (own, _) in zip(rings, alone, strict=True):
                    np.testing.assert_array_equal(points, own)
        self.assertEqual(flattened_each([], []), [])

    def test_what_lies_too_far_out_or_has_too_many_points_is_nowhere_and_nothing_beside_it(self) -> None:
        curls = path_commands("M0 0" + "C9e5 0 0 9e5 9e5 9e5" * 1600)
        inside = path_commands("M1 1L9 1L9 9Z")
        far, nan = [("moveTo", ((2e6, 0.0),))], [("moveTo", ((math.nan, 0.0),)), ("lineTo", ((1.0, 1.0),))]
        found = flattened_each([curls, inside, far, nan, inside], [Matrix()] * 5)
        self.assertEqual([len(rings) for rings in found], [0, 1, 0, 0, 1])

    def test_areas_by_their_own_rules(self) -> None:
        star = [
            np.array(
                [
                    (50 + 40 * math.sin(k * 4 * math.pi / 5), 50 - 40 * math.cos(k * 4 * math.pi / 5))
                    for k in range(5)
                ]
            )
        ]
        square = [np.array([(0.0, 0.0), (4, 0), (4, 4), (0, 4)])]
        within = [square[0], square[0] / 2 + 1]
        whole, odd, one, none, ring = filled_each(
            [star, star, square, [square[0][:2]], within], [False, True, False, True, True]
        )
        self.assertAlmostEqual(whole.area - odd.area, filled(star, False).area - filled(star, True).area)
        self.assertGreater(whole.area, odd.area)
        self.assertEqual((one.area, none.is_empty, ring.area), (16.0, True, 12.0))


class BackTest(unittest.TestCase):
    """What is written to the screen and to files says the shape it was made of."""

    def read_back(self, d: str) -> shapely.Geometry:
        return filled([ring for ring, _ in flattened(path_commands(d))], even_odd=True)

    @given(
        points=st.lists(st.floats(1, 9), min_size=5, max_size=24),
        holes=st.lists(st.tuples(st.floats(-0.4, 0.4), st.floats(-0.4, 0.4)), max_size=2),
        decimals=st.integers(2, 5),
    )
    def test_rings_with_holes(
        self, points: list[float], holes: list[tuple[float, float]], decimals: int
    ) -> None:
        way = np.linspace(0, 2 * np.pi, len(points), endpoint=False)
        shape = Polygon(np.c_[50 + np.cos(way) * points, 50 + np.sin(way) * points])
        for n, (x, y) in enumerate(holes):
            shape = shape.difference(shapely.Point(50 + x + 0.3 * n, 50 + y).buffer(0.2))
        parts = [p for p in shapely.get_parts(shape) if isinstance(p, Polygon)]
        rings = [shapely.get_coordinates(r) for p in parts for r in (p.exterior, *p.interiors)]
        found = self.read_back(path_of(rings, decimals))
        off = found.symmetric_difference(shape).area
        self.assertLess(off, shape.length * 10.0**-decimals + 1e-9)

    def test_the_shapes_of_a_drawing_on_the_screen(self) -> None:
        """Simplified and rounded to a hundredth: within a fiftieth of a millimetre along the edge."""
        rng = np.random.default_rng(4)
        for _ in range(40):
            points, way = rng.uniform(4, 9, 40), np.linspace(0, 2 * np.pi, 40, endpoint=False)
            shape = Polygon(np.c_[50 + np.cos(way) * points, 50 + np.sin(way) * points]).buffer(
                0.4, quad_segs=32
            )
            found = self.read_back(outline(shape))
            self.assertLess(found.symmetric_difference(shape).area, 0.02 * shape.length)
            self.assertEqual(len(shapely.get_parts(found)), 1)

    def test_nothing_is_nothing(self) -> None:
        self.assertEqual(path_of([], 2), "")
        self.assertEqual(path_commands(""), [])
        self.assertTrue(self.read_back("M0 0").is_empty)
