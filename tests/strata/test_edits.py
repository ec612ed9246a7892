"""Naming and laying out a set: every change, its refusals, second seats, and what goes out comes back."""

from __future__ import annotations

import io
import json
import unittest
import zipfile
from pathlib import Path

import jsonschema
import numpy as np
import shapely

from strata.errors import BadFile, BadValue, StrataError, TooLarge, UnknownName
from strata.formats.bundle import Bundle, read_bundle, write_bundle
from strata.formats.set_file import read_set, write_set
from strata.formats.svg_out import mask_svg, set_svg
from strata.formats.svg_set import read
from strata.measuring.masks import mask_shape
from strata.sheets import LayerSet
from strata.sheets.edits import EDITS, apply
from strata.sheets.elements import tone_roles
from tests import world

SCHEMA = Path(__file__).resolve().parents[2] / "docs" / "formats" / "set.schema.json"


def done(layer_set: LayerSet, kind: str, **values: object) -> LayerSet:
    return apply(layer_set, kind, values).layer_set


class NamingTest(unittest.TestCase):
    def setUp(self) -> None:
        self.set = world.two_sheets()

    def test_move_and_rename(self) -> None:
        moved = done(self.set, "move", openings=["1.1", "2.1"], element="  big   leaf ")
        self.assertEqual(moved.elements, ("big leaf", "disc"))
        self.assertEqual(done(moved, "rename", element="disc", to="sun").elements, ("big leaf", "sun"))
        self.assertEqual(self.set.elements, ("leaf", "disc"), "the set before is as it was")

    def test_waste_takes_no_ink(self) -> None:
        wasted = done(self.set, "role", openings=["1.2", "2.2"], role="waste")
        self.assertEqual(wasted.elements, ("leaf",))
        self.assertEqual(len(wasted.openings), 4)

    def test_join_and_split(self) -> None:
        joined = done(self.set, "join", openings=["1.1", "1.2"])
        (whole,) = joined.sheets[0].openings
        self.assertAlmostEqual(whole.polygon.area, 62 * 40, delta=4)
        split = done(joined, "split", opening=whole.key, line=[[41, 0], [41, 80]])
        self.assertEqual(sorted(round(o.polygon.area) for o in split.sheets[0].openings), [1238, 1238])
        self.assertEqual(len({o.key for o in split.sheets[0].openings}), 2)

    def test_marks_and_back(self) -> None:
        marked = done(self.set, "to_marks", openings=["1.2"])
        self.assertEqual((len(marked.sheets[0].openings), len(marked.sheets[0].marks)), (1, 1))
        back = done(marked, "from_marks", sheet=1)
        self.assertEqual((len(back.sheets[0].openings), len(back.sheets[0].marks)), (2, 0))

    def test_order_turn_and_pieces(self) -> None:
        swapped = done(self.set, "order", sheets=[2, 1])
        self.assertEqual([(s.number, s.name) for s in swapped.sheets], [(1, "b"), (2, "a")])
        self.assertTrue(all(o.sheet == s.number for s in swapped.sheets for o in s.openings))
        turned = done(self.set, "place", sheet=1, turn=180)
        self.assertTrue(np.allclose(turned.opening("1.1").polygon.bounds, (60, 30, 90, 70)))
        mirrored = done(self.set, "place", sheet=1, mirrored=True)
        self.assertTrue(np.allclose(mirrored.opening("1.1").polygon.bounds, (60, 10, 90, 50)))
        self.assertEqual(done(self.set, "piece", sheet=2, copies=3).sheet(2).copies, 3)
        self.assertEqual([s.number for s in done(self.set, "remove_sheet", sheet=1).sheets], [2])

    def test_refusals_say_why(self) -> None:
        bad: list[tuple[str, dict[str, object], type[StrataError]]] = [
            ("move", {"openings": [], "element": "x"}, BadValue),
            ("move", {"openings": ["9.9"], "element": "x"}, UnknownName),
            ("move", {"openings": ["1.1"], "element": " "}, BadValue),
            ("rename", {"element": "moon", "to": "x"}, UnknownName),
            ("role", {"openings": ["1.1"], "role": "lid"}, BadValue),
            ("join", {"openings": ["1.1", "2.1"]}, BadValue),
            ("join", {"openings": ["1.1"]}, BadValue),
            ("split", {"opening": "1.1", "line": [[0, 0], [1, 1]]}, BadValue),
            ("split", {"opening": "1.1", "line": "x"}, BadValue),
            ("split", {"opening": "1.1", "line": [[0, float("nan")], [1, 1]]}, BadValue),
            ("order", {"sheets": [1]}, BadValue),
            ("order", {"sheets": [1, "x"]}, StrataError),
            ("place", {"sheet": 7}, UnknownName),
            ("place", {"sheet": 1, "dx": float("inf")}, BadValue),
            ("piece", {"sheet": 1, "copies": 0}, BadValue),
            ("add_seat", {"of": 9}, UnknownName),
            ("change_seat", {"sheet": 1, "dx": 1}, BadValue),
            ("dance", {}, BadValue),
        ]
        for kind, values, error in bad:
            with self.subTest(kind=kind, values=values), self.assertRaises(error) as caught:
                apply(self.set, kind, values)
            self.assertTrue(caught.exception.sentence.endswith("."))
        self.assertEqual(len(EDITS), 14)

    def test_tone_roles(self) -> None:
        roles = tone_roles(self.set)
        self.assertEqual((roles["leaf", 1], roles["leaf", 2]), ("base", "tone 1 on its base"))
        lines = done(self.set, "role", openings=["2.1"], role="line")
        self.assertEqual(tone_roles(lines)["leaf", 2], "line")


class SeatTest(unittest.TestCase):
    def setUp(self) -> None:
        self.set = done(world.two_sheets(), "add_seat", of=1, dx=5, dy=-3, name="Again")

    def test_a_seat_follows_its_sheet(self) -> None:
        seat = self.set.sheet(3)
        self.assertTrue(np.allclose(seat.openings[0].polygon.bounds, (15, 7, 45, 47)))
        self.assertEqual(seat.openings[0].element, "leaf again")
        split = done(self.set, "split", opening="1.1", line=[[0, 30], [100, 30]])
        self.assertEqual(len(split.sheet(3).openings), 3)
        named = done(self.set, "move", openings=["3~1.1"], element="bud")
        turned = done(named, "change_seat", sheet=3, turn=180)
        self.assertEqual((turned.sheet(3).openings[0].element, turned.sheet(3).seat.dx), ("bud", 5))

    def test_what_a_seat_refuses(self) -> None:
        for kind, values in (
            ("join", {"openings": ["3~1.1", "3~1.2"]}),
            ("split", {"opening": "3~1.1", "line": [[0, 30], [99, 30]]}),
            ("place", {"sheet": 3, "turn": 90}),
            ("add_seat", {"of": 3}),
            ("remove_sheet", {"sheet": 1}),
        ):
            with self.assertRaises(BadValue):
                apply(self.set, kind, values)
        self.assertEqual(len(done(self.set, "remove_sheet", sheet=3).sheets), 2)

    def test_order_keeps_the_seat_with_its_sheet(self) -> None:
        swapped = done(self.set, "order", sheets=[2, 3, 1])
        self.assertEqual(swapped.sheet(2).seat.of, 3)
        self.assertTrue(all(o.key.startswith("2~") for o in swapped.sheet(2).openings))
        again = done(swapped, "order", sheets=[3, 1, 2])
        self.assertEqual(
            {o.polygon.wkt for o in again.sheet(3).openings},
            {o.polygon.wkt for o in self.set.sheet(3).openings},
        )


class OutTest(unittest.TestCase):
    def test_json_and_bundle_come_back_identical(self) -> None:
        full = done(
            done(world.koi(), "add_seat", of=3, dx=4, turn=10, strength=0.6),
            "piece",
            sheet=2,
            copies=2,
            loose=True,
        )
        full = done(full, "role", openings=["1.1"], role="ground")
        again = read_set(json.loads(json.dumps(write_set(full))))
        self.assertEqual(write_set(again), write_set(full))
        packed = write_bundle(Bundle(full, {"sheet-1.jpg": b"\xff\xd8 photo"}))
        self.assertEqual(
            packed, write_bundle(Bundle(full, {"sheet-1.jpg": b"\xff\xd8 photo"})), "the same bytes each time"
        )
        opened = read_bundle(packed)
        self.assertEqual(
            (write_set(opened.layer_set), opened.pictures),
            (write_set(full), {"sheet-1.jpg": b"\xff\xd8 photo"}),
        )

    def test_the_schema_holds(self) -> None:
        schema = json.loads(SCHEMA.read_text())
        full = done(world.two_sheets(), "add_seat", of=1, dx=4)
        jsonschema.validate(write_set(full), schema)
        for wrong in (
            {**write_set(full), "kind": "wallpaper"},
            {**write_set(full), "sheets": []},
            {"format": "x"},
        ):
            with self.assertRaises(jsonschema.ValidationError):
                jsonschema.validate(wrong, schema)

    def test_the_drawing_reads_back(self) -> None:
        koi = world.koi()
        again = read(set_svg(koi), koi.name).layer_set
        self.assertEqual(
            [(s.name, len(s.openings), len(s.marks)) for s in again.sheets],
            [(s.name, len(s.openings), len(s.marks)) for s in koi.sheets],
        )
        self.assertEqual(set(again.elements), set(koi.elements))
        for one, other in zip(koi.sheets, again.sheets, strict=True):
            a, b = (shapely.union_all([o.polygon for o in s.openings]) for s in (one, other))
            self.assertLess(a.symmetric_difference(b).area, 0.02)

    def test_names_cannot_break_the_drawing(self) -> None:
        odd = done(world.two_sheets(), "rename", element="leaf", to='"><script>&')
        self.assertIn('"><script>&', read(set_svg(odd), "x").layer_set.elements)

    def test_a_mask_as_cut_lines(self) -> None:
        two = world.two_sheets()
        shape = mask_shape(two, "leaf", 1)
        text = mask_svg(two, shape, "Mask").decode()
        self.assertIn('id="cut"', text)
        self.assertIn('width="100mm"', text)

    def test_bundles_that_are_none(self) -> None:
        def zipped(**entries: bytes) -> bytes:
            out = io.BytesIO()
            with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
                for name, data in entries.items():
                    archive.writestr(name.replace("__", "."), data)
            return out.getvalue()

        good = write_bundle(Bundle(world.two_sheets()))
        cases: list[tuple[bytes, type[StrataError]]] = [
            (b"", BadFile),
            (good[: len(good) // 2], BadFile),
            (zipped(other__txt=b"x"), BadFile),
            (zipped(set__json=b"{"), BadFile),
            (zipped(set__json=b"[]"), StrataError),
            (zipped(set__json=b"\xff\xfe"), BadFile),
            (
                zipped(
                    set__json=json.dumps({"format": "anastrata-set", "sheets": [{"number": "x"}]}).encode()
                ),
                StrataError,
            ),
            (zipped(set__json=b" " * 70_000_000), TooLarge),
        ]
        for data, error in cases:
            with self.assertRaises(error):
                read_bundle(data)
