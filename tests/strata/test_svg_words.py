"""The words of the standard one by one: colours, lengths, transforms, viewports, selectors, layers, files."""

from __future__ import annotations

import gzip
import math
import unittest

import numpy as np

from strata.errors import BadFile, StrataError
from strata.formats.painted import plates
from strata.formats.svg import read_drawing
from strata.formats.svg.document import parse
from strata.formats.svg.values import Frame, Matrix, colour, length, transform, viewport
from strata.formats.svg_set import Reading, read_files
from strata.guard.child import run_guarded
from tests import world
from tests.strata.test_svg import area

SVG = 'xmlns="http://www.w3.org/2000/svg"'


def keys(body: str, by: str = "colour") -> dict[str, float]:
    """Areas by sheet."""
    return {p.key: round(float(p.shape.area), 3) for p in plates(read_drawing(world.drawing(body)), by)}


class ColourTest(unittest.TestCase):
    def test_every_way_to_write_a_colour(self) -> None:
        cases = {
            "red": "#ff0000",
            "RebeccaPurple": "#663399",
            "#f0a": "#ff00aa",
            "#F0A8": "#ff00aa",
            "#12345678": "#123456",
            "rgb(1,2,3)": "#010203",
            "rgb(10% 20% 30%)": "#1a334c",
            "rgba(1, 2, 3, .5)": "#010203",
            "hsl(120, 100%, 25%)": "#008000",
        }
        for text, expected in cases.items():
            with self.subTest(text):
                found = colour(text)
                self.assertIsNotNone(found)
                one, other = (int(found[i : i + 2], 16) - int(expected[i : i + 2], 16) for i in (1, 3))
                self.assertTrue(abs(one) <= 1 and abs(other) <= 1, f"{found} for {text}")

    def test_what_is_no_colour_paints_black_or_nothing(self) -> None:
        self.assertEqual(keys('<rect width="4" height="5" fill="no-such"/>'), {"#000000": 20})
        self.assertEqual(keys('<rect width="4" height="5" fill="none"/>'), {})
        self.assertEqual(keys('<rect width="4" height="5" fill="transparent"/>'), {})
        self.assertEqual(keys('<rect width="4" height="5" fill="url(#gone) blue"/>'), {"#0000ff": 20})

    def test_fill_and_stroke_are_two_colours(self) -> None:
        found = keys('<rect x="9" y="9" width="10" height="10" fill="red" stroke="blue" stroke-width="2"/>')
        self.assertEqual(found, {"#ff0000": 100, "#0000ff": 80})

    def test_paint_order_and_covering(self) -> None:
        body = '<rect width="10" height="10" fill="red"/><rect width="5" height="10" fill="blue"/><rect width="2" height="10" fill="red"/>'
        seen = plates(read_drawing(world.drawing(body)), "colour", only_visible=True)
        self.assertEqual({p.key: round(p.shape.area, 3) for p in seen}, {"#ff0000": 70, "#0000ff": 30})


class LengthTest(unittest.TestCase):
    def test_units(self) -> None:
        frame = Frame(200, 100, 16.0)
        cases = {
            "10": 10,
            "10px": 10,
            "1in": 96,
            "2.54cm": 96,
            "25.4mm": 96,
            "72pt": 96,
            "6pc": 96,
            "101.6q": 96,
            "2em": 32,
            "50%": 100,
            "-3": -3,
            "1e1": 10,
        }
        for text, px in cases.items():
            with self.subTest(text):
                self.assertAlmostEqual(length(text, frame, "width"), px, places=6)
        self.assertAlmostEqual(length("50%", frame, "height"), 50)
        self.assertAlmostEqual(length("100%", frame, "diagonal"), math.sqrt((200**2 + 100**2) / 2))
        for text in ("", "wide", "auto", "10 20"):
            self.assertEqual(length(text, frame, "width", 7.0), 7.0, text)

    def test_sizes_of_the_page(self) -> None:
        body = '<rect width="100%" height="100%"/>'
        for size, expected in (
            ('width="50mm" height="40mm"', (50, 40)),
            ('width="50mm" viewBox="0 0 10 8"', (50, 40)),
            ('height="40mm" viewBox="0 0 10 8"', (50, 40)),
            ('viewBox="0 0 96 48"', (25.4, 12.7)),
            ('width="100%" height="100%" viewBox="0 0 96 48"', (25.4, 12.7)),
            ('style="width:96px;height:48px" viewBox="0 0 2 1"', (25.4, 12.7)),
        ):
            drawing = read_drawing(f"<svg {SVG} {size}>{body}</svg>".encode())
            with self.subTest(size):
                self.assertAlmostEqual(drawing.width, expected[0], places=4)
                self.assertAlmostEqual(drawing.height, expected[1], places=4)
                self.assertAlmostEqual(plates(drawing)[0].shape.area, expected[0] * expected[1], places=2)


class TransformTest(unittest.TestCase):
    def points(self, text: str) -> np.ndarray:
        m = transform(text, Frame(100, 100))
        assert m is not None
        return np.array([[m.a, m.c, m.e], [m.b, m.d, m.f]])

    def test_each_function(self) -> None:
        half = math.sqrt(0.5)
        cases = {
            "translate(3)": [[1, 0, 3], [0, 1, 0]],
            "translate(3,4)": [[1, 0, 3], [0, 1, 4]],
            "scale(2)": [[2, 0, 0], [0, 2, 0]],
            "scale(2 -3)": [[2, 0, 0], [0, -3, 0]],
            "rotate(45)": [[half, -half, 0], [half, half, 0]],
            "rotate(90 10 0)": [[0, -1, 10], [1, 0, -10]],
            "skewX(45)": [[1, 1, 0], [0, 1, 0]],
            "skewY(45)": [[1, 0, 0], [1, 1, 0]],
            "matrix(1 2 3 4 5 6)": [[1, 3, 5], [2, 4, 6]],
            "translate(1 0) scale(2)": [[2, 0, 1], [0, 2, 0]],
            "translate(1,0),scale(2)": [[2, 0, 1], [0, 2, 0]],
            "rotate(0.25turn)": [[0, -1, 0], [1, 0, 0]],
        }
        for text, expected in cases.items():
            with self.subTest(text):
                np.testing.assert_allclose(self.points(text), expected, atol=1e-9)

    def test_a_chain_is_a_product(self) -> None:
        one, two = Matrix(1, 2, 3, 4, 5, 6), Matrix(0.5, -1, 2, 0, 7, 1)
        product = one.then(two)
        for x, y in ((0, 0), (1, 0), (3, -2)):
            u, v = two.a * x + two.c * y + two.e, two.b * x + two.d * y + two.f
            self.assertAlmostEqual(product.a * x + product.c * y + product.e, one.a * u + one.c * v + one.e)
            self.assertAlmostEqual(product.b * x + product.d * y + product.f, one.b * u + one.d * v + one.f)

    def test_a_collapsed_shape_is_not_drawn(self) -> None:
        self.assertEqual(keys('<g transform="scale(0)"><rect width="9" height="9"/></g>'), {})

    def test_viewports_in_all_alignments(self) -> None:
        for x, at_x in (("xMin", 0), ("xMid", 50), ("xMax", 100)):
            for y in ("YMin", "YMid", "YMax"):
                m = viewport([0, 0, 10, 10], 200, 100, f"{x}{y} meet")
                self.assertAlmostEqual(m.a, 10)
                self.assertAlmostEqual(m.e, at_x)
                self.assertAlmostEqual(m.f, 0)
        m = viewport([5, 0, 10, 10], 200, 100, "none")
        self.assertAlmostEqual((m.a, m.d, m.e)[0], 20)
        self.assertAlmostEqual(m.e, -100)
        m = viewport([0, 0, 10, 10], 200, 100, "xMidYMax slice")
        self.assertAlmostEqual(m.f, -100)


class SelectorTest(unittest.TestCase):
    def test_the_cascade(self) -> None:
        box = '<g class="w"><rect id="i" class="a b" width="4" height="5"/></g>'
        cases = {
            "rect{fill:none}": 0,
            ".a.b{fill:none}": 0,
            "#i{fill:red} rect{fill:none}": 20,
            ".w rect{fill:none}": 0,
            ".w > rect{fill:none}": 0,
            "svg > rect{fill:none}": 20,
            "rect:not(.a){fill:none}": 20,
            "[class~=b]{fill:none}": 0,
            "rect{fill:none} rect{fill:red}": 20,
            "rect{fill:none !important} #i{fill:red}": 0,
            "rect,circle{fill:none}": 0,
            "@media screen{rect{fill:none}}": 0,
            "@media print{rect{fill:none}}": 20,
            "@import url(x.css); rect{fill:none}": 0,
            "rect{fill:none": 0,
            "}} rect{fill:none}": 20,
            "/* rect{fill:none} */": 20,
            "rect{FILL:none}": 0,
            "g{fill:none}": 0,
            "g{stroke-width:9} rect{fill:inherit}": 20,
            "rect{display:none}": 0,
            "g{visibility:hidden} rect{visibility:visible}": 20,
        }
        for style, expected in cases.items():
            with self.subTest(style):
                self.assertAlmostEqual(area(f"<style>{style}</style>{box}"), expected, places=3)

    def test_attributes_are_weaker_than_any_rule_and_style_is_stronger(self) -> None:
        self.assertAlmostEqual(area('<style>*{fill:none}</style><rect width="4" height="5" fill="red"/>'), 0)
        self.assertAlmostEqual(
            area('<style>#x{fill:none}</style><rect id="x" width="4" height="5" style="fill:red"/>'), 20
        )


class LayerTest(unittest.TestCase):
    def test_what_makes_a_layer(self) -> None:
        square = '<rect width="2" height="2"/>'
        cases = {
            f'<g id="a">{square}</g><g id="b">{square}</g>': ["a", "b"],
            f'<g id="a">{square}</g><g id="a">{square}</g>': ["a", "a (2)"],
            f'<g id="wrap"><g id="a">{square}</g><g id="b">{square}</g></g>': ["a", "b"],
            f'<g><g id="a">{square}</g><g id="b">{square}</g></g>': ["a", "b"],
            f'<g id="only">{square}</g>': ["only"],
            f'<g data-name="Leaf">{square}</g><g id="b">{square}</g>': ["Leaf", "b"],
            f'<g id="a">{square}</g>{square}': ["a", "rest"],
            square: ["#000000"],
        }
        for body, names in cases.items():
            with self.subTest(body):
                self.assertEqual(list(keys(body, "layer")), names)

    def test_markers_belong_to_their_line(self) -> None:
        body = '<marker id="m" markerWidth="4" markerHeight="4" refX="2" refY="2" markerUnits="userSpaceOnUse"><rect width="4" height="4"/></marker><path d="M20 20H60" stroke="red" fill="none" stroke-width="1" marker-end="url(#m)"/>'
        found = keys(body)
        self.assertAlmostEqual(found["#ff0000"], 40, places=2)
        self.assertAlmostEqual(found["#000000"], 16, places=2)


class FileTest(unittest.TestCase):
    TEXT = f'<svg {SVG} width="10mm" height="10mm" viewBox="0 0 10 10"><rect width="5" height="4"/></svg>'

    def test_encodings_and_compression(self) -> None:
        for data in (
            self.TEXT.encode(),
            b"\xef\xbb\xbf" + self.TEXT.encode(),
            self.TEXT.encode("utf-16"),
            f'<?xml version="1.0" encoding="ISO-8859-1"?>{self.TEXT}'.encode("latin-1"),
            gzip.compress(self.TEXT.encode()),
            f'<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "x.dtd">{self.TEXT}'.encode(),
        ):
            with self.subTest(data[:30]):
                self.assertAlmostEqual(plates(read_drawing(data))[0].shape.area, 20, places=3)

    def test_short_flat_entities_are_read(self) -> None:
        data = f'<!DOCTYPE svg [<!ENTITY c "fill:red">]><svg {SVG} width="10" height="10"><rect width="5" height="4" style="&c;"/></svg>'
        self.assertEqual(plates(read_drawing(data.encode()))[0].key, "#ff0000")

    def test_what_is_no_drawing(self) -> None:
        for data in (
            b"",
            b"\x1f\x8b\x00",
            gzip.compress(b"x")[:10],
            b"<svg/>",
            b"<?xml version='1.0'?>",
            f"<html><svg {SVG}/></html>".encode(),
            b"\x00" * 100,
        ):
            with self.subTest(data[:20]), self.assertRaises(StrataError):
                drawing = read_drawing(data)
                if not drawing.painted:
                    raise BadFile("Nothing is painted.")

    def test_other_namespaces_paint_nothing(self) -> None:
        body = f'<svg {SVG} xmlns:x="http://example.invalid/x" width="9" height="9"><x:rect width="9" height="9"/><metadata><rect width="9" height="9"/></metadata></svg>'
        self.assertEqual(read_drawing(body.encode()).painted, ())

    def test_what_is_left_out_is_said_once(self) -> None:
        found = read_drawing(
            world.drawing(
                '<text>a</text><text>b</text><text> </text><image href="a.png" width="9" height="9"/>'
            )
        ).left_out
        self.assertEqual(len(found), 2)

    def test_an_outside_reference_is_never_followed(self) -> None:
        for body in (
            '<image href="file:///etc/passwd" width="9" height="9"/><rect width="1" height="1"/>',
            '<use href="http://example.invalid/a.svg#x"/><rect width="1" height="1"/>',
            '<style>@import "http://example.invalid/a.css";</style><rect width="1" height="1"/>',
            '<rect width="1" height="1" fill="red" clip-path="url(http://example.invalid/a.svg#c)"/>',
        ):
            self.assertAlmostEqual(area(body), 1, places=3)
        self.assertEqual(parse(world.drawing("")).tag.rsplit("}", 1)[-1], "svg")


def sheet_areas(found: Reading) -> dict[str, float]:
    return {s.name: round(sum(o.polygon.area for o in s.openings), 2) for s in found.layer_set.sheets}


class SaidTest(unittest.TestCase):
    """What does not come in is said."""

    def read(self, *bodies: str) -> Reading:
        return read_files([world.drawing(b) for b in bodies], "x")

    def test_layers_of_which_no_sheet_comes_are_named(self) -> None:
        hidden = (
            'opacity="0"', 'style="opacity: 0%"', 'display="none"', 'visibility="hidden"', 'fill-opacity="0"',
        )  # fmt: skip
        for how in hidden:
            found = self.read(
                f'<g id="Moon" {how}><rect width="9" height="9"/></g><g id="Sun"><rect x="20" width="5" height="5"/></g>'
            )
            self.assertEqual(sheet_areas(found), {"Sun": 25.0}, how)
            self.assertTrue(any("“Moon” shows nothing" in said for said in found.left_out), how)
        empty = self.read('<g id="Moon"/><g id="Sun"><rect width="5" height="5"/></g>')
        self.assertTrue(any("“Moon” shows nothing" in said for said in empty.left_out))
        half = self.read(
            '<g id="A" opacity=".4"><rect width="5" height="5"/></g><g id="B"><rect x="9" width="5" height="5"/></g>'
        )
        self.assertEqual((len(half.layer_set.sheets), half.left_out), (2, ()))

    def test_a_clip_shape_that_copies_a_copy_is_said(self) -> None:
        """As a browser has it (SVG 2, clipPath): it shows nothing, and so nothing is left of what it clips."""
        found = self.read(
            '<defs><rect id="r" width="30" height="30"/><use id="u" href="#r"/>'
            '<clipPath id="c"><use href="#u"/></clipPath></defs>'
            '<g id="A"><rect width="50" height="50" clip-path="url(#c)"/></g><g id="B"><rect x="60" width="9" height="9"/></g>'
        )
        self.assertEqual(sheet_areas(found), {"B": 81.0})
        self.assertTrue(any("copies a copy" in said for said in found.left_out))

    def test_sizes_of_several_files(self) -> None:
        whole = f'<svg {SVG} width="100mm" height="80mm" viewBox="0 0 100 80"><rect width="50" height="50"/></svg>'.encode()
        half = f'<svg {SVG} width="50mm" height="40mm" viewBox="0 0 50 40"><rect width="25" height="25"/></svg>'.encode()
        bare = f'<svg {SVG} viewBox="0 0 100 80"><rect width="50" height="50"/></svg>'.encode()
        cases = (
            ((whole, half), None, (2500.0, 625.0), "differ in size"),
            ((whole, half), 200.0, (10000.0, 2500.0), "differ in size"),
            ((whole, bare), None, (2500.0, 2500.0), "Sheet 2 does not say"),
            ((bare, whole), None, (2500.0, 2500.0), "Sheet 1 does not say"),
            ((bare, bare), 50.0, (625.0, 625.0), "Sheet 2 does not say"),
        )
        for files, width, areas, said in cases:
            found = read_files(files, "x", width_mm=width)
            self.assertEqual(tuple(sheet_areas(found).values()), areas)
            self.assertTrue(any(said in s for s in found.left_out), said)
        with self.assertRaises(BadFile):
            read_files((bare, bare), "x")

    def test_sheets_of_colours_are_called_by_words(self) -> None:
        paints = ("#00d26a", "#0b3d91", "#6b3f1d", "#f4f4f4", "#222222", "#fbd5e2")
        body = "".join(f'<rect x="{12 * n}" width="9" height="9" fill="{c}"/>' for n, c in enumerate(paints))
        names = [s.name for s in read_files([world.drawing(body)], "x", by="colour").layer_set.sheets]
        words = ("Green", "Dark blue", "Brown", "White", "Black", "Light pink")
        self.assertEqual(names, [f"{w} {c}" for w, c in zip(words, paints, strict=True)])

    def test_a_part_written_two_ways_is_one(self) -> None:
        found = self.read(
            '<g id="A"><rect data-element="LANTERN" width="9" height="9"/></g>'
            '<g id="B"><rect data-element="lantern" x="20" width="9" height="9"/></g>'
        )
        self.assertEqual(list(found.layer_set.elements), ["LANTERN"])

    def test_more_openings_than_a_set_can_have_are_counted(self) -> None:
        dots = "".join(
            f'<circle cx="{n % 125 * 0.8 + 0.3}" cy="{n // 125 * 0.9 + 0.3}" r=".2"/>' for n in range(10_000)
        )
        with self.assertRaises(StrataError) as caught:
            run_guarded("set", [world.drawing(dots)], {"name": "dots"})
        self.assertIn("10000 openings are more than", str(caught.exception))
