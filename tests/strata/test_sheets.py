"""Reading drawings: areas against exact ones, fill rules, marks, elements, and files that mean harm."""

import io
import json
import math
import unittest
import zipfile
from itertools import combinations
from typing import Any

import numpy as np
import shapely
import shapely.affinity
from numpy.typing import NDArray
from shapely import Polygon

from strata.answers.opened import described, draft_json
from strata.errors import BadFile, BadValue, StrataError, TooLarge
from strata.formats.bundle import read_bundle
from strata.formats.set_file import read_set, received_set, write_set
from strata.formats.svg_set import read
from strata.guard.child import run_guarded
from strata.plan.tools import EVERY
from strata.sheets import measures
from strata.sheets.hands import by_two
from strata.sheets.model import CIRCLE_TOLERANCE, Group, Opening
from strata.sheets.overlaps import group_overlaps, overlaps
from tests import world


def areas(body: str, **values: str) -> list[float]:
    found = read(world.drawing(body, **values), "Test").layer_set
    return [round(o.polygon.area, 3) for s in found.sheets for o in s.openings]


class ReadingTest(unittest.TestCase):
    def test_areas_are_exact(self) -> None:
        disc = math.pi * 10**2
        cases = {
            '<g><rect x="1" y="1" width="10" height="5"/></g>': 50,
            '<g><circle cx="20" cy="20" r="10"/></g>': disc,
            '<g><ellipse cx="20" cy="20" rx="5" ry="20"/></g>': disc,
            '<g transform="scale(2)"><circle cx="20" cy="20" r="5"/></g>': disc,
            '<g transform="rotate(30) skewX(10)"><rect x="30" y="1" width="10" height="5"/></g>': 50,
            '<g><path d="M10 10h20v20h-20z M15 15h10v10h-10z" fill-rule="evenodd"/></g>': 300,
            '<g><path d="M10 10h20v20h-20z M15 15h10v10h-10z" fill-rule="nonzero"/></g>': 400,
            '<g><path d="M10 10h20v20h-20z M15 15v10h10v-10z"/></g>': 300,
            '<g><path d="M10 10 C10 30 40 30 40 10 z"/></g>': 360,
            '<g><path d="M10 10 Q25 40 40 10 z"/></g>': 300,
        }
        for body, expected in cases.items():
            self.assertAlmostEqual(sum(areas(body)), expected, delta=0.001 * expected, msg=body)

    def test_the_size_is_physical(self) -> None:
        inches = read(
            world.drawing('<g><rect width="36" height="36"/></g>', "1in", "1in", "0 0 36 36"), "x"
        ).layer_set
        self.assertAlmostEqual(inches.width, 25.4)
        self.assertAlmostEqual(inches.sheets[0].openings[0].polygon.area, 25.4**2, places=2)
        nothing = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 50 50"><g><rect width="50" height="25"/></g></svg>'
        with self.assertRaises(BadFile) as caught:
            read(nothing, "x")
        self.assertEqual(caught.exception.field, "width")
        self.assertAlmostEqual(
            read(nothing, "x", width_mm=100).layer_set.sheets[0].openings[0].polygon.area, 5000, places=1
        )

    def test_overlapping_shapes_of_a_sheet_are_one_opening(self) -> None:
        found = areas(
            '<g><rect width="10" height="10"/><rect x="5" width="10" height="10"/><rect x="40" width="2" height="2"/></g>'
        )
        self.assertEqual(sorted(found), [4, 150])

    def test_marks_stay_apart_and_hidden_parts_out(self) -> None:
        body = """<g data-name="One"><rect width="10" height="10"/><rect x="50" width="3" height="3" data-role="mark"/>
        <rect x="20" width="10" height="10" display="none"/><text x="3" y="3">Koi</text></g>"""
        reading = read(world.drawing(body), "x")
        sheet = reading.layer_set.sheets[0]
        self.assertEqual((sheet.name, len(sheet.openings), len(sheet.marks)), ("One", 1, 1))
        self.assertEqual(len(reading.left_out), 2)

    def test_the_demo_stencil(self) -> None:
        koi = world.koi()
        self.assertEqual((koi.width, koi.height, len(koi.sheets)), (107.95, 139.7, 5))
        self.assertGreaterEqual(sum(len(s.openings) for s in koi.sheets), 60)
        self.assertTrue(all(len(s.marks) == 4 for s in koi.sheets))
        second_tones = {o.element for o in koi.sheets[3].openings}
        self.assertGreaterEqual(len(second_tones), 3)
        self.assertTrue(all(o.element for s in koi.sheets for o in s.openings))

    def test_a_set_reads_back_identical(self) -> None:
        koi = world.koi()
        again = read_set(write_set(koi))
        self.assertEqual(write_set(again), write_set(koi))
        self.assertTrue(
            all(
                a.polygon.equals(b.polygon)
                for x, y in zip(koi.sheets, again.sheets, strict=True)
                for a, b in zip(x.openings, y.openings, strict=True)
            )
        )


class MeasureTest(unittest.TestCase):
    def test_overlaps_and_gaps(self) -> None:
        found = world.two_sheets()
        shared = group_overlaps(found)
        self.assertAlmostEqual(shared[("leaf", 1), ("leaf", 2)], 26 * 18, places=2)
        self.assertNotIn((("leaf", 1), ("disc", 2)), shared)
        self.assertTrue(all(o.under.sheet < o.over.sheet for o in overlaps(found)))
        self.assertAlmostEqual(measures.gaps(found)[frozenset(("leaf", "disc")), 1], 2.0, places=4)

    def test_gaps_are_those_of_every_two_groups_that_a_brush_could_cross(self) -> None:
        self.assertLess(max(b.spread for b in EVERY.values()), measures.WITHIN)
        near, far = 0, 0
        for layer_set in world.sets().values():
            expected = {}
            for a, b in combinations(layer_set.groups.values(), 2):
                if a.sheet == b.sheet and (mm := a.shape.distance(b.shape)) < measures.WITHIN:
                    expected[frozenset((a.element, b.element)), a.sheet] = mm
                far += a.sheet == b.sheet
            self.assertEqual(measures.gaps(layer_set), expected)
            near += len(expected)
        self.assertTrue(0 < near < far)

    def test_the_circle_that_fits(self) -> None:
        body = '<g><rect width="30" height="6"/><circle cx="50" cy="30" r="9"/></g>'
        found = read(world.drawing(body), "x").layer_set.sheets[0].openings
        widths = sorted(round(o.inscribed, 1) for o in found)
        self.assertEqual(widths, [6.0, 18.0])

    def test_the_circle_is_the_searched_one_where_the_outline_alone_tells_it(self) -> None:
        """Dots, stripes, crescents, rings, stars: all within 0.02 mm of a fine search."""
        rng = np.random.default_rng(7)
        dot = shapely.Point(9, 9).buffer(3, quad_segs=64)
        shapes = [
            dot,
            shapely.box(0, 0, 0.15, 120),
            shapely.box(0, 0, 4, 4),
            dot.difference(shapely.Point(10, 9).buffer(3)),
            dot.difference(shapely.Point(9, 9).buffer(1)),
            shapely.box(0, 0, 30, 0.5).union(shapely.box(0, 0, 0.5, 30)),
            shapely.affinity.rotate(shapely.box(0, 0, 0.4, 25), 33),
        ]
        for points in rng.uniform(3, 9, (40, 14)):
            way = np.linspace(0, 2 * np.pi, 14, endpoint=False)
            shapes.append(Polygon(np.c_[np.cos(way) * points, np.sin(way) * points]))
        for number, shape in enumerate(shapes):
            exact = 2 * shapely.length(shapely.maximum_inscribed_circle(shape, tolerance=0.0005))
            found = Opening("1.1", 1, "", shape).inscribed
            self.assertAlmostEqual(found, exact, delta=2 * CIRCLE_TOLERANCE + 0.001, msg=str(number))

    def test_unnamed_openings_are_joined_to_what_they_lie_on(self) -> None:
        body = """<g id="a"><rect width="20" height="20" data-element="pad"/><rect x="50" width="20" height="20"/></g>
        <g id="b"><rect x="2" y="2" width="5" height="5"/><rect x="52" y="2" width="5" height="5"/></g>"""
        names = [o.element for s in read(world.drawing(body), "x").layer_set.sheets for o in s.openings]
        self.assertEqual(names[0], names[2])
        self.assertEqual(names[1], names[3])
        self.assertEqual(names[0], "pad")


class HarmTest(unittest.TestCase):
    def refused(self, data: bytes, kind: type[StrataError] = StrataError) -> str:
        with self.assertRaises(kind) as caught:
            run_guarded("set", [data], {"name": "x"})
        self.assertTrue(caught.exception.sentence.endswith("."))
        return caught.exception.sentence

    def test_what_is_not_a_drawing(self) -> None:
        for data in (b"", b"hello", b"<html></html>", b"\x89PNG\r\n\x1a\n\x00", b"<svg", b"\xff\xfe\x00"):
            self.refused(data, BadFile)
        self.refused(world.drawing(""), BadValue)

    def test_entities_and_outside_references(self) -> None:
        self.refused(
            b'<!DOCTYPE s [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><svg xmlns="http://www.w3.org/2000/svg">&b;</svg>'
        )
        self.refused(
            b'<!DOCTYPE s [<!ENTITY x SYSTEM "file:///etc/passwd">]><svg xmlns="http://www.w3.org/2000/svg">&x;</svg>'
        )

    def test_depth_and_size(self) -> None:
        self.refused(world.drawing("<g>" * 3000 + "</g>" * 3000), TooLarge)
        self.refused(world.drawing("<g>" + "<path/>" * 70000 + "</g>"), TooLarge)
        self.refused(b"<svg>" + b" " * 9_000_000, TooLarge)

    def test_damaged_shapes(self) -> None:
        for d in ("M0 0 L", "M nan nan h5 v5z", "M0 0 h1e308 v1e308 z", "Q", "M0,0 A"):
            try:
                run_guarded(
                    "set",
                    [world.drawing(f'<g><path d="{d}"/><rect width="5" height="5"/></g>')],
                    {"name": "x"},
                )
            except StrataError as error:
                self.assertTrue(error.sentence)


class ShapeTest(unittest.TestCase):
    """More ways in which a drawing says the same thing."""

    def test_units_of_length(self) -> None:
        for width, mm in (
            ("25.4mm", 25.4),
            ("2.54cm", 25.4),
            ("1in", 25.4),
            ("72pt", 25.4),
            ("6pc", 25.4),
            ("96px", 25.4),
            ("96", 25.4),
        ):
            found = read(
                world.drawing('<g><rect width="10" height="10"/></g>', width, width, "0 0 10 10"), "x"
            ).layer_set
            self.assertAlmostEqual(found.width, mm, delta=0.01, msg=width)
            self.assertAlmostEqual(found.sheets[0].openings[0].polygon.area, mm**2, delta=0.1, msg=width)

    def test_every_kind_of_shape(self) -> None:
        cases = {
            '<g><polygon points="0,0 20,0 20,10"/></g>': 100,
            '<g><polyline points="0,0 20,0 20,10"/></g>': 100,
            '<g><rect width="20" height="10" rx="2"/></g>': 200 - (4 - math.pi) * 4,
            '<g><path d="M0 0 L20 0 20 10 Z m30 0 l20 0 0 10 z"/></g>': 200,
            '<g><path d="M10 10 A10 10 0 0 1 30 10 Z"/></g>': math.pi * 50,
            '<g><path d="M0 0 H10 V10 H0 Z"/></g>': 100,
            '<g><path d="M0 20 C 0 30 10 30 10 20 S 20 10 20 20 Z"/></g>': 120,
            '<g transform="translate(5 5) matrix(1 0 .5 1 0 0)"><rect width="10" height="10"/></g>': 100,
            '<g transform="scale(-1 1) translate(-50 0)"><rect width="10" height="10"/></g>': 100,
        }
        for body, expected in cases.items():
            self.assertAlmostEqual(sum(areas(body)), expected, delta=0.002 * expected, msg=body)

    def test_a_hole_keeps_its_island(self) -> None:
        found = areas(
            '<g><path fill-rule="evenodd" d="M0 0h30v30h-30z M5 5h20v20h-20z M10 10h10v10h-10z"/></g>'
        )
        self.assertEqual([round(v, 1) for v in sorted(found)], [100, 500])

    def test_sheets_in_the_order_of_the_file_with_their_names(self) -> None:
        square = '<rect width="5" height="5"/>'
        body = (
            f'<g id="b">{square}</g><g data-name="First tones">{square}</g><g>{square}</g><g id="empty"></g>'
        )
        sheets = read(world.drawing(body), "x").layer_set.sheets
        self.assertEqual([(s.number, s.name) for s in sheets], [(1, "b"), (2, "First tones"), (3, "Sheet 3")])

    def test_a_drawing_without_groups_is_one_sheet(self) -> None:
        sheets = read(
            world.drawing('<rect width="5" height="5"/><rect x="20" width="5" height="5"/>'), "x"
        ).layer_set.sheets
        self.assertEqual([len(s.openings) for s in sheets], [2])

    def test_fills_and_strokes_are_painted_and_nothing_else(self) -> None:
        self.assertEqual(
            areas(
                '<g><rect x="9" y="9" width="5" height="5" fill="none"/><rect x="20" width="5" height="5"/></g>'
            ),
            [25],
        )
        ring = (
            '<g><rect x="10" y="10" width="10" height="10" fill="none" stroke="black" stroke-width="2"/></g>'
        )
        self.assertEqual(areas(ring), [144 - 64])

    def test_slivers_are_not_openings(self) -> None:
        self.assertEqual(
            areas('<g><rect width="0.05" height="0.05"/><rect x="9" width="5" height="5"/></g>'), [25]
        )

    def test_the_guarded_reader_gives_what_the_plain_one_gives(self) -> None:
        body = '<g id="a"><circle cx="20" cy="20" r="9" data-element="sun"/></g>'
        plain = read(world.drawing(body), "Sun").layer_set
        answer = run_guarded("set", [world.drawing(body)], {"name": "Sun"})
        self.assertEqual(json.loads(answer["set"]), write_set(plain))
        self.assertEqual(json.loads(answer["described"]), draft_json(plain))
        self.assertEqual(answer["left_out"], [])
        with self.assertRaises(BadValue):
            run_guarded("set", [world.drawing(body)], {"name": "Sun", "kind": "wallpaper"})

    def test_a_set_on_its_way_in_lies_as_it_will_when_it_is_opened(self) -> None:
        """What is shown before it is kept is what is shown afterwards, less its measures."""
        for core in (world.koi(), world.two_sheets()):
            coming, opened = draft_json(core), described(core)
            self.assertEqual(coming["elements"], opened["elements"])
            for draft, sheet in zip(coming["sheets"], opened["sheets"], strict=True):
                self.assertEqual(
                    {k: sheet[k] for k in draft if k != "groups"},
                    {k: draft[k] for k in draft if k != "groups"},
                )
                self.assertEqual(
                    [{k: g[k] for k in d} for g, d in zip(sheet["groups"], draft["groups"], strict=True)],
                    draft["groups"],
                )

    def test_wrong_set_files(self) -> None:
        good = write_set(world.two_sheets())
        for wrong in (
            {},
            [],
            {**good, "format": "x"},
            {**good, "sheets": 3},
            {**good, "kind": "wallpaper"},
            {**good, "sheets": []},
        ):
            with self.assertRaises(StrataError):
                read_set(wrong)

    def test_one_name_for_two_is_refused_in_what_comes_from_elsewhere(self) -> None:
        good = write_set(world.koi())
        received_set(good)
        first, *others = good["sheets"]
        one, two, *rest = first["openings"]
        same_key = {**first, "openings": [one, {**two, "key": one["key"]}, *rest]}
        on_another = {**others[0], "openings": [one, *others[0]["openings"]]}
        for sheets, said in (
            ([same_key, *others], f"2 openings called “{one['key']}”"),
            ([first, on_another, *others[1:]], f"2 openings called “{one['key']}”"),
            ([first, {**others[0], "number": 1}, *others[1:]], "2 sheets numbered “1”"),
        ):
            with self.assertRaisesRegex(BadFile, said):
                received_set({**good, "sheets": sheets})
            with self.assertRaisesRegex(BadFile, said):
                read_bundle(_zipped({**good, "sheets": sheets}))


def _zipped(values: dict[str, Any]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("set.json", json.dumps(values))
    return out.getvalue()


class DemoArtTest(unittest.TestCase):
    def test_the_stencil_could_be_cut(self) -> None:
        """Openings of one sheet never touch, and nothing is too small for a cutter."""
        from shapely import STRtree

        for sheet in world.koi().sheets:
            shapes = [o.polygon for o in sheet.openings]
            left, right = STRtree(shapes).query(shapes, predicate="dwithin", distance=0.15)
            touching = [(a, b) for a, b in zip(left, right, strict=True) if a < b]
            self.assertEqual(touching, [], sheet.name)
            self.assertTrue(all(s.area > 0.1 for s in shapes), sheet.name)

    def test_openings_overlap_on_purpose_and_stay_inside_the_marks(self) -> None:
        koi = world.koi()
        shared = group_overlaps(koi)
        self.assertGreater(len({over for _, over in shared}), 8)
        for sheet in koi.sheets:
            for opening in sheet.openings:
                x0, y0, x1, y1 = opening.polygon.bounds
                self.assertTrue(x0 > 3 and y0 > 3 and x1 < koi.width - 3 and y1 < koi.height - 3, opening.key)
                self.assertFalse(any(opening.polygon.intersects(m) for m in sheet.marks), opening.key)

    def test_the_drawer_is_what_its_tool_makes(self) -> None:
        from tools.make_drawer import drawer

        made, kept = drawer(), world.drawer()
        self.assertEqual([i.key for i in made.inks], [i.key for i in kept.inks])
        for one, other in zip(made.inks, kept.inks, strict=True):
            for a, b in zip(one.swatches, other.swatches, strict=True):
                # rounding to two decimals may fall either way on another processor
                self.assertTrue(all(abs(x - y) < 0.025 for x, y in zip(a.lab, b.lab, strict=True)), one.name)


class HandsTest(unittest.TestCase):
    def test_two_hands_find_what_one_finds_in_the_same_order(self) -> None:
        for count in (0, 1, 39, 40, 41, 300):
            values = np.arange(count, dtype=float)
            self.assertEqual(by_two(np.sqrt, values).tolist(), np.sqrt(values).tolist())
            self.assertEqual(by_two(np.add, values, values).tolist(), (2 * values).tolist())

    def test_what_goes_wrong_in_either_hand_is_raised(self) -> None:
        for at in (100, 101):

            def fails(values: NDArray[np.float64], at: int = at) -> NDArray[np.float64]:
                if at in values:
                    raise ValueError(at)
                return values

            with self.assertRaises(ValueError):
                by_two(fails, np.arange(200, dtype=float))

    def test_who_finds_the_other_hand_full_goes_on_alone(self) -> None:
        """Else a small set would wait for half of a large one; and a work that asks again would wait for itself."""
        values = np.arange(100, dtype=float)
        found = by_two(lambda some: by_two(np.sqrt, np.repeat(some, 2))[::2], values)
        self.assertEqual(found.tolist(), np.sqrt(values).tolist())

    def test_openings_that_lie_apart_are_one_shape_as_they_are_and_those_that_meet_are_joined(self) -> None:
        def group(*boxes: tuple[float, float, float, float]) -> Group:
            return Group(
                "x", 1, tuple(Opening(f"1.{i}", 1, "x", shapely.box(*b)) for i, b in enumerate(boxes))
            )

        apart = group((0, 0, 10, 10), (12, 0, 20, 10))
        self.assertEqual(list(apart.shape.geoms), [o.polygon for o in apart.openings])
        for meets in (group((0, 0, 10, 10), (10, 0, 20, 10)), group((0, 0, 10, 10), (8, 0, 20, 10))):
            self.assertEqual((len(meets.shape.geoms), meets.area), (1, 200))
