"""Awkward drawings, each against an area that follows from geometry alone; and what is said of them."""

from __future__ import annotations

import math
import resource
import unittest

from shapely import Polygon

from strata.answers.report import svg_report
from strata.errors import BadFile, StrataError, TooLarge
from strata.formats.painted import plates
from strata.formats.svg import read_drawing
from strata.guard.child import run_guarded
from tests import world

DISC = math.pi * 100
HREF = 'xmlns:xlink="http://www.w3.org/1999/xlink"'
# body on a page of 100 x 80 mm whose unit is a millimetre: area in mm2 by SVG 2 and CSS
CASES: dict[str, float] = {
    # style
    '<style>.a{fill:none} .b{fill:red}</style><rect class="a" width="9" height="9"/><rect class="b" width="4" height="5"/>': 20,
    '<style>rect{fill:none} #x{fill:red}</style><rect id="x" width="4" height="5"/><rect width="50" height="5"/>': 20,
    '<style>g > rect:nth-child(2){display:none}</style><g><rect width="4" height="5"/><rect x="20" width="4" height="5"/></g>': 20,
    '<rect width="4" height="5" fill="none" style="fill:red"/>': 20,
    '<style>rect{fill:red !important}</style><rect width="4" height="5" style="fill:none"/>': 20,
    '<g fill="none"><rect width="4" height="5" fill="inherit"/></g><rect x="50" width="1" height="1"/>': 1,
    '<style>:root{--c:none}</style><rect width="4" height="5" fill="var(--c)"/><rect x="9" width="1" height="1"/>': 1,
    '<g color="red"><rect width="4" height="5" fill="currentColor"/></g>': 20,
    '<g visibility="hidden"><rect width="9" height="9"/><rect x="20" width="4" height="5" visibility="visible"/></g>': 20,
    '<rect width="4" height="5" fill="red" fill-opacity="0.1"/>': 20,
    '<style>@media print{rect{fill:none}}</style><rect width="4" height="5"/>': 20,
    # numbers that run into each other, and paths that end at their first error
    '<path d="M10 10h10v1e1h-10z"/>': 100,
    '<path d="M10,10l10-.0,0,+10-1e1.0z"/>': 100,
    '<path d="M1.5.5 11.5.5 11.5 10.5 1.5 10.5"/>': 100,
    '<path d="M10 10H20V20H10Z M30 30 H40 V40 x H30 Z"/>': 150,
    '<path d="M10 10 20 10 20 20 10 20 30 z"/>': 100,
    '<path d="M0 0 H10 V10 L5 5 C 5 5 5 5 0 0 L0 0z"/>': 50,
    '<path d="M0 0H10' + " " * 400_000 + 'V10H0' + " " * 400_000 + 'x z"/>': 100,
    # strokes
    '<path d="M10 10H30" stroke="red" stroke-width="2"/>': 40,
    '<path d="M10 10H30" stroke="red" stroke-width="2" stroke-linecap="square"/>': 44,
    '<path d="M10 10H30" stroke="red" stroke-width="2" stroke-linecap="round"/>': 40 + math.pi,
    '<path d="M10 10H30" stroke="red" stroke-width="2" stroke-dasharray="4 1"/>': 32,
    '<path d="M10 10H30" stroke="red" stroke-width="2" stroke-dasharray="5" stroke-dashoffset="5"/>': 20,
    '<path d="M10 10H30V30" fill="none" stroke="red" stroke-width="4"/>': 160,
    '<path d="M10 10H30V30" fill="none" stroke="red" stroke-width="4" stroke-linejoin="bevel"/>': 158,
    '<path d="M10 10H30V30" fill="none" stroke="red" stroke-width="4" stroke-linejoin="round"/>': 156 + math.pi,
    '<circle cx="40" cy="40" r="10" fill="none" stroke="red" stroke-width="2"/>': 2 * math.pi * 20,
    '<circle cx="40" cy="40" r="10" fill="none" stroke="red" stroke-width="1" pathLength="4" stroke-dasharray="1"/>': math.pi * 10,
    '<g transform="scale(3 1)"><path d="M3 10H6" stroke="red" stroke-width="2"/></g>': 18,
    '<rect x="10" y="10" width="10" height="10" fill="blue" stroke="red" stroke-width="2"/>': 144,
    # use, symbols, nested viewports
    '<defs><rect id="a" width="4" height="5"/></defs><use href="#a" x="10" y="10"/>': 20,
    f'<defs><rect id="a" width="4" height="5"/></defs><use {HREF} xlink:href="#a" transform="scale(2)"/>': 80,
    '<symbol id="s" viewBox="0 0 10 10"><rect width="10" height="10"/></symbol><use href="#s" width="20" height="20"/>': 400,
    '<svg x="10" y="10" width="10" height="10" viewBox="0 0 2 2"><rect width="1" height="2"/></svg>': 50,
    '<svg width="10" height="10"><rect width="50" height="5"/></svg>': 50,
    '<svg width="10" height="10" overflow="visible"><rect width="50" height="5"/></svg>': 250,
    '<svg width="20" height="10" viewBox="0 0 10 10" preserveAspectRatio="none"><rect width="10" height="10"/></svg>': 200,
    '<svg width="20" height="10" viewBox="0 0 10 10" preserveAspectRatio="xMaxYMid slice"><rect width="10" height="10"/></svg>': 200,
    '<use href="#nowhere"/><rect width="4" height="5"/>': 20,
    # clips and masks
    '<clipPath id="c"><circle cx="20" cy="20" r="10"/></clipPath><rect width="80" height="80" clip-path="url(#c)"/>': DISC,
    '<clipPath id="c" clipPathUnits="objectBoundingBox"><rect width=".5" height="1"/></clipPath><rect width="20" height="10" clip-path="url(#c)"/>': 100,
    '<clipPath id="c"><path d="M0 0h20v20h-20z M5 5h10v10h-10z" clip-rule="evenodd"/></clipPath><rect width="80" height="80" clip-path="url(#c)"/>': 300,
    '<clipPath id="c"/><rect width="80" height="80" clip-path="url(#c)"/><rect width="1" height="1"/>': 1,
    '<mask id="m" maskUnits="userSpaceOnUse" x="0" y="0" width="90" height="90"><rect width="10" height="10" fill="white"/></mask><rect width="80" height="80" mask="url(#m)"/>': 100,
    # units and numbers
    '<rect width="25%" height="50%"/>': 1000,
    '<rect width="1e1" height="0.5e+1"/>': 50,
    '<path d="M0,0h.5.5v1h-1z"/>': 1,
    '<path d="m10 10a10 10 0 1120 0 10 10 0 01-20 0"/>': DISC,
    '<path d="M0 0H20V10H0zm2 2v6h6v-6z"/>': 164,
    '<g transform="matrix(1 0 0 1 10 10) rotate(45, 5, 5) skewX(0)"><rect width="10" height="10"/></g>': 100,
    '<rect width="10" height="10" transform="rotate(45)" style="transform: none"/>': 100,
    # what is not painted
    '<defs><rect width="9" height="9"/></defs><rect width="4" height="5"/>': 20,
    '<switch><g requiredExtensions="no"><rect width="9" height="9"/></g><rect width="4" height="5"/></switch>': 20,
    '<polyline points="0,0 20,0 20,10" fill="url(#gone)"/><rect width="4" height="5"/>': 20,
    '<line x1="0" y1="10" x2="20" y2="10" stroke="red" stroke-width="2"/>': 40,
    '<path d="M10 10h10v10h-10z L"/>': 100,
}  # fmt: skip


def area(body: str) -> float:
    """Of everything painted, mm2."""
    drawing = read_drawing(world.drawing(body))
    shapes = [p.shape for p in plates(drawing, "colour")]
    whole = shapes[0] if shapes else Polygon()
    for shape in shapes[1:]:
        whole = whole.union(shape)
    return float(whole.area)


class AwkwardTest(unittest.TestCase):
    def test_every_case_is_within_a_thousandth(self) -> None:
        for body, expected in CASES.items():
            with self.subTest(body=body):
                self.assertAlmostEqual(area(body), expected, delta=0.001 * expected + 1e-6)

    def test_a_drawing_in_pixels_is_sized_before_it_is_flattened(self) -> None:
        small = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 36 36"><circle cx="18" cy="18" r="18"/></svg>'
        drawing = read_drawing(small, width_mm=360)
        self.assertAlmostEqual(plates(drawing)[0].shape.area, math.pi * 180**2, delta=4e-4 * math.pi * 180**2)


class ReportTest(unittest.TestCase):
    def report(
        self, body: str, by: str = "colour", width: float | None = None, visible: bool = False
    ) -> dict:
        return svg_report(world.drawing(body), by, width, visible, lambda: None)

    def test_colours_are_united_covered_parts_counted_or_not(self) -> None:
        body = '<rect width="20" height="20" fill="red"/><rect x="10" width="20" height="20" fill="#f00"/><circle cx="10" cy="10" r="5" fill="rgb(0,0,255)"/>'
        plain, seen = self.report(body), self.report(body, visible=True)
        self.assertEqual([s["key"] for s in plain["sheets"]], ["#ff0000", "#0000ff"])
        self.assertAlmostEqual(plain["sheets"][0]["area_mm2"], 600, places=2)
        self.assertAlmostEqual(seen["sheets"][0]["area_mm2"], 600 - math.pi * 25, delta=0.05)
        self.assertEqual([(o["under"], o["over"]) for o in plain["overlaps"]], [("#ff0000", "#0000ff")])
        self.assertAlmostEqual(plain["overlaps"][0]["area_mm2"], math.pi * 25, delta=0.05)
        self.assertEqual(seen["overlaps"], [])

    def test_gradients_are_one_sheet(self) -> None:
        body = '<linearGradient id="g"><stop stop-color="red"/><stop offset="1" stop-color="blue"/></linearGradient><pattern id="p" width="2" height="2"><rect width="1" height="1"/></pattern><rect width="10" height="10" fill="url(#g)"/><rect x="20" width="10" height="10" fill="url(#p)"/>'
        found = self.report(body)["sheets"]
        self.assertEqual([s["key"] for s in found], ["gradient"])
        self.assertAlmostEqual(found[0]["area_mm2"], 200, places=3)

    def test_layers_hidden_ones_and_what_lies_outside_them(self) -> None:
        label = 'xmlns:i="http://www.inkscape.org/namespaces/inkscape" i:groupmode="layer" i:label'
        body = f'<g {label}="Leaves"><rect width="5" height="4"/></g><g {label}="Hidden" style="display:none"><rect width="9" height="9"/></g><rect x="50" width="1" height="1"/>'
        found = self.report(body, by="layer")["sheets"]
        self.assertEqual([(s["key"], round(s["area_mm2"], 3)) for s in found], [("Leaves", 20), ("rest", 1)])

    def test_measures_of_an_opening(self) -> None:
        dumbbell = '<path d="M10 10h10v4h10v-4h10v10h-10v-4h-10v4h-10z"/>'
        opening = self.report(dumbbell)["sheets"][0]["openings"][0]
        self.assertAlmostEqual(opening["area_mm2"], 220, places=2)
        self.assertAlmostEqual(opening["neck_mm"], 2, delta=0.02)
        self.assertAlmostEqual(opening["inscribed_mm"], 10, delta=0.06)
        self.assertEqual(opening["bbox_mm"], [10, 10, 40, 20])
        self.assertIsNone(
            self.report('<circle cx="20" cy="20" r="9"/>')["sheets"][0]["openings"][0]["neck_mm"]
        )

    def test_width_scales_and_what_was_left_out_is_said(self) -> None:
        found = self.report(
            '<rect width="10" height="10"/><text y="9">Koi</text><image href="x.png" width="9" height="9"/>',
            width=200,
        )
        self.assertEqual(found["size_mm"], [200, 160])
        self.assertAlmostEqual(found["sheets"][0]["area_mm2"], 400, places=3)
        self.assertEqual(len(found["warnings"]), 2)
        self.assertTrue(all(w.endswith(".") for w in found["warnings"]))

    def test_slivers_count_to_the_area_and_are_no_openings(self) -> None:
        found = self.report('<rect width="0.05" height="0.05"/><rect x="9" width="5" height="5"/>')["sheets"][
            0
        ]
        self.assertEqual((len(found["openings"]), round(found["area_mm2"], 4)), (1, 25.0025))


class MaliceTest(unittest.TestCase):
    def refused(self, data: bytes, kind: type[StrataError] = StrataError) -> None:
        # of processor: how long that takes by the clock is for the machine's other work to say
        before = resource.getrusage(resource.RUSAGE_CHILDREN)
        with self.assertRaises(kind) as caught:
            run_guarded("measure", [data], {"by": "colour", "width_mm": None, "visible": False})
        used = resource.getrusage(resource.RUSAGE_CHILDREN)
        seconds = used.ru_utime + used.ru_stime - before.ru_utime - before.ru_stime
        self.assertLess(seconds, 20, "the child is stopped")
        self.assertTrue(caught.exception.sentence.endswith("."), caught.exception.sentence)

    def test_entities(self) -> None:
        laughs = "".join(f'<!ENTITY l{i} "{f"&l{i - 1};" * 10}">' for i in range(1, 10))
        self.refused(
            f'<!DOCTYPE s [<!ENTITY l0 "ha">{laughs}]><svg xmlns="http://www.w3.org/2000/svg">&l9;</svg>'.encode(),
            BadFile,
        )
        long = "a" * 50000
        self.refused(
            f'<!DOCTYPE s [<!ENTITY l "{long}">]><svg xmlns="http://www.w3.org/2000/svg">{"&l;" * 5000}</svg>'.encode()
        )
        self.refused(
            b'<!DOCTYPE s SYSTEM "http://example.invalid/x.dtd" [<!ENTITY x SYSTEM "file:///etc/passwd">]><svg xmlns="http://www.w3.org/2000/svg"><text>&x;</text></svg>'
        )

    def test_depth_use_bombs_and_loops(self) -> None:
        self.refused(world.drawing("<g>" * 5000 + "</g>" * 5000), TooLarge)
        bomb = '<rect id="u0" width="1" height="1"/>' + "".join(
            f'<g id="u{i}">{f"""<use href="#u{i - 1}"/>""" * 12}</g>' for i in range(1, 12)
        )
        self.refused(world.drawing(bomb), TooLarge)
        loop = '<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/><rect width="4" height="5"/></g>'
        self.assertAlmostEqual(area(loop), 20, places=3)

    def test_huge_paths_and_numbers(self) -> None:
        self.refused(world.drawing(f'<path d="M0 0{"c9 9 9 9 9 9" * 700000}"/>'))
        for d in ("M0 0h1e308v1e308h-1e308z", "M-1e30 -1e30H1e30V1e30H-1e30z"):
            try:
                area(f'<path d="{d}"/>')
            except StrataError as error:
                self.assertTrue(error.sentence)
        dashes = '<path d="M0 0H90" stroke="red" stroke-dasharray="0.0000001"/>'
        try:
            area(dashes)
        except StrataError as error:
            self.assertTrue(error.sentence)
