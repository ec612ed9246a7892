"""Tables of inks: what strangers' files look like, round trips, and cells that a spreadsheet would run."""

from __future__ import annotations

import csv
import io
import json
import unittest
from dataclasses import replace
from pathlib import Path

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

from strata.errors import BadFile, BadValue, StrataError, TooLarge
from strata.formats.brought import brought_from, brought_json, read_brought
from strata.formats.drawer import Drawer, ink_json, read_drawer, write_drawer
from strata.formats.tables import Interpreted
from strata.formats.tables.cgats import read_cgats, write_cgats
from strata.formats.tables.csv_file import delimiter_of, read_csv, write_csv
from strata.formats.tables.gpl import write_gpl
from strata.formats.tables.guess import guess
from strata.formats.tables.merge import matched
from strata.formats.tables.rows import Defaults, interpret
from strata.formats.tables.words import decoded, guarded_cell, number, plain_cell
from strata.optics import Ink, Stock, Swatch
from strata.optics.colour import difference
from strata.optics.inks import CHEMISTRIES
from strata.optics.spectrum import lab_of_spectrum, reflectance
from strata.optics.swatches import named
from tests import world

CARDS = (Stock(world.WHITE, "White smooth", key="white-smooth"), Stock(world.BLACK, "Black", key="black"))
DEFAULTS = Defaults(CARDS[0], cards=CARDS)
SCHEMA = Path(__file__).parents[2] / "docs" / "formats" / "drawer.schema.json"


def taken(data: bytes, head: bool | None = None, encoding: str | None = None) -> Interpreted:
    brought = brought_from(json.loads(json.dumps(brought_json(read_brought(data, encoding, head)))))
    found = interpret(brought.table, brought.guess, DEFAULTS)
    return Interpreted((*brought.whole, *found.drafts), (*brought.problems, *found.problems))


def back(data: bytes) -> dict[str, object]:
    """Into an empty drawer: the inks as the drawer file has them, by key."""
    found = taken(data)
    assert not found.problems, found.problems[:3]
    matches, problems = matched(found.drafts, {})
    assert not problems, problems[:3]
    return plain(tuple(m.ink for m in matches))


def plain(inks: tuple[Ink, ...]) -> dict[str, object]:
    """As the drawer file has them, each swatch on the card of the house that has its colour."""
    cards = {c.key: c.lab for c in CARDS}
    own = [replace(i, swatches=tuple(named(s, cards) for s in i.swatches)) for i in inks]
    return {i.key: ink_json(i) for i in own}


TEXT = st.text(st.characters(codec="utf-8", exclude_categories=("Cc", "Cs", "Zl", "Zp")), max_size=20)
NAME = TEXT.map(str.strip).filter(bool)
LAB = st.tuples(st.floats(0, 100), st.floats(-90, 90), st.floats(-90, 90))


@st.composite
def drawers(draw: st.DrawFn) -> tuple[Ink, ...]:
    inks = []
    for i in range(draw(st.integers(1, 4))):
        swatches = tuple(
            Swatch(
                draw(st.sampled_from([world.WHITE, (50.5, 1.25, -3.0)])), coats, draw(LAB), how, "2026-04-12"
            )
            for coats, how in ((1.0, "reader"), (2.0, ""))
        )
        inks.append(
            Ink(
                f"ink-{i}",
                CHEMISTRIES[draw(st.sampled_from(sorted(CHEMISTRIES)))],
                swatches,
                draw(NAME),
                draw(TEXT.map(str.strip)),
                draw(st.integers(0, 20)),
                draw(TEXT.map(str.strip)),
                place=draw(TEXT.map(str.strip)),
                notes=draw(
                    st.sampled_from(["", "one\ntwo", 'a "word", and\ta tab', "=1+1", "-5", "'quoted"])
                ),
            )
        )
    return tuple(inks)


class RoundTripTest(unittest.TestCase):
    def test_the_demo_drawer_comes_back_identical(self) -> None:
        inks = world.drawer().inks
        for data in (
            write_csv(inks, CARDS),
            write_csv(inks, CARDS, ","),
            write_cgats(inks, CARDS),
            write_gpl(inks, Stock(world.WHITE), "Demo"),
            json.dumps(write_drawer(Drawer(inks, ()))).encode(),
        ):
            self.assertEqual(back(data), plain(inks))

    def test_written_again_the_files_are_the_same_bytes(self) -> None:
        inks = world.drawer().inks
        for write in (lambda i: write_csv(i, CARDS), lambda i: write_cgats(i, CARDS)):
            matches, _ = matched(taken(write(inks)).drafts, {})
            self.assertEqual(write(tuple(m.ink for m in matches)), write(inks))

    @settings(max_examples=60, deadline=None)
    @given(drawers())
    def test_any_drawer_comes_back_identical(self, inks: tuple[Ink, ...]) -> None:
        wanted = plain(inks)
        for data in (write_csv(inks, ()), write_csv(inks, (), ","), write_cgats(inks, ())):
            self.assertEqual(back(data), wanted)
        self.assertEqual(plain(read_drawer(json.dumps(write_drawer(Drawer(inks, ())))).inks), wanted)
        self.assertEqual(back(write_gpl(inks, Stock(world.WHITE), "x")), wanted)

    def test_a_palette_edited_elsewhere_gives_its_own_colours(self) -> None:
        inks = world.drawer().inks[:2]
        text = write_gpl(inks, Stock(world.WHITE), "x").decode().splitlines()
        at = next(i for i, line in enumerate(text) if line.endswith(inks[0].name))
        text[at] = f"10 20 30\t{inks[0].name}"
        found = taken("\n".join(text).encode())
        edited = next(d for d in found.drafts if d.values["name"] == inks[0].name)
        self.assertEqual(edited.swatches[0].how, "screen colour")
        self.assertEqual(len(found.drafts), 2)
        foreign = taken(
            b"GIMP Palette\nName: p\nColumns: 4\n# remark\n255 0 0 Red one\n  0 128 255\n1 2 x broken\n"
        )
        self.assertEqual([d.values["name"] for d in foreign.drafts], ["Red one"])
        self.assertEqual([p.row for p in foreign.problems], [6, 7])


class StrangersTest(unittest.TestCase):
    def test_delimiters_encodings_and_decimal_commas(self) -> None:
        text = "Name;Line;L*;a*;b*\nGrün Ähre;Quai;52,5;−30,25;28\nCafé crème;Quai;80,0;3,5;12,75\n"
        for encoding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
            found = taken(text.replace("−", "-" if encoding == "cp1252" else "−").encode(encoding))
            self.assertEqual(found.problems, (), encoding)
            self.assertEqual([d.values["name"] for d in found.drafts], ["Grün Ähre", "Café crème"], encoding)
            self.assertEqual(found.drafts[0].swatches[0].lab, (52.5, -30.25, 28.0))
        tabs = text.replace(";", "\t").encode()
        self.assertEqual(len(taken(tabs).drafts), 2)
        self.assertEqual(delimiter_of("a,b;c\n1,5;2\n3,25;4\n"), ";")
        polish = "Nazwa,L,a,b\nŁódź,50,1,2\nŻółty kwiat śnieżny,60,1,2\nGęś,61,2,3\n".encode("cp1250")
        self.assertIn("Łódź", decoded(polish, "cp1250")[0])

    def test_numbers_as_people_write_them(self) -> None:
        for text, value in (
            ("12,5", 12.5),
            ("−3.25", -3.25),
            (" 1.234,5 ", 1234.5),
            ("1,234.5", 1234.5),
            ("1e-2", 0.01),
        ):
            self.assertEqual(number(text, "x"), value)
        for text in ("", "abc", "1..2", "1,2,3,x", "--1", "nan", "inf", "0x10"):
            with self.assertRaises(BadValue, msg=text):
                number(text, "x")

    def test_a_bad_row_never_stops_the_good_ones(self) -> None:
        rows = ["name,chemistry,L,a,b", "Good one,dye,50,1,2", "No number,dye,x,1,2", "Odd kind,tea,50,1,2"]
        rows += [
            ",dye,50,1,2",
            "Half a colour,dye,50,,2",
            "Too dark,dye,-5,0,0",
            "Too many,dye,50,1,2,9",
            "Good two,DYE ,60,1,2",
        ]
        found = taken("\n".join(rows).encode())
        self.assertEqual([d.values["name"] for d in found.drafts], ["Good one", "Good two"])
        self.assertEqual([p.row for p in found.problems], [3, 4, 5, 6, 7, 8])
        columns = [p.column for p in found.problems]
        self.assertEqual(columns[0], "L")
        self.assertEqual(columns[1], "chemistry")
        for problem in found.problems:
            self.assertTrue(problem.sentence.endswith("."), problem.sentence)

    def test_lines_are_counted_in_the_file_even_over_cells_of_several_lines(self) -> None:
        text = 'name,notes,L,a,b\nOne,"two\nlines",50,1,2\nBad,,x,1,2\n'
        self.assertEqual(taken(text.encode()).problems[0].row, 4)

    def test_without_a_head_and_with_columns_nobody_knows(self) -> None:
        table = read_csv(b"Dusk,50,1,2\nDawn,60,1,2\n")
        self.assertEqual(table.columns[0], "column 1")
        found = interpret(table, ["name", "L", "a", "b"], DEFAULTS)
        self.assertEqual(len(found.drafts), 2)
        extra = read_csv(b"name,price,L,a,b\nDusk,4.50,50,1,2\n")
        kept = interpret(extra, ["name", "note", "L", "a", "b"], DEFAULTS)
        self.assertEqual(kept.drafts[0].values["notes"], "price: 4.50")
        with self.assertRaises(BadValue):
            interpret(extra, ["name", "name", "L", "a", "b"], DEFAULTS)
        with self.assertRaises(BadValue):
            interpret(extra, ["name"], DEFAULTS)
        with self.assertRaises(BadValue):
            interpret(extra, ["name", "smell", "L", "a", "b"], DEFAULTS)

    def test_columns_are_guessed(self) -> None:
        self.assertEqual(guess(["Colour Name", "Hex Code", "Range"]), ["name", "hex", "line"])
        self.assertEqual(guess(["SAMPLE_NAME", "LAB_L", "LAB_A", "LAB_B"]), ["name", "L", "a", "b"])
        self.assertEqual(guess(["name", "r", "g", "b"])[1:], ["R", "G", "B"])
        self.assertEqual(guess(["SPECTRAL_NM_380", "nm390", "R_400", "410"]), ["nm"] * 4)
        self.assertEqual(guess(["L", "L"]), ["L", ""])

    def test_rows_of_one_ink_become_one_ink(self) -> None:
        rows = "name,line,coats,card,L,a,b\nDusk,Quay,1,White smooth,60,1,2\nDUSK,quay,2,White smooth,50,1,2\nDusk,Quay,1,Black,20,0,0\nDusk,Other,1,,61,1,2\nLost,Quay,1,Slate,61,1,2\n"
        found = taken(rows.encode())
        self.assertEqual([len(d.swatches) for d in found.drafts], [3, 1])
        self.assertEqual(found.drafts[0].swatches[2].on, world.BLACK)
        self.assertEqual(found.drafts[0].swatches[2].card, "black")
        self.assertIn("no card “Slate”", found.problems[0].sentence)

    def test_files_that_are_none(self) -> None:
        for data in (
            b"",
            b"   \n",
            bytes(range(256)) * 9,
            b"{}",
            b"[]",
            b"GIMP Palette\n",
            b"\xff\xfe\x00",
            b"{" * 50_000,
        ):
            with self.assertRaises(StrataError, msg=repr(data[:20])):
                taken(data)
        with self.assertRaises(TooLarge):
            read_brought(b"a,b\n" * 2_500_000)
        with self.assertRaises(TooLarge):
            read_brought(b"a,b\n" * 21_000)
        with self.assertRaises(BadFile):
            read_brought(b"BEGIN_DATA_FORMAT\nA\nEND_DATA_FORMAT\nBEGIN_DATA\nEND_DATA\n")

    def test_one_bad_ink_of_a_drawer_file_does_not_stop_the_others(self) -> None:
        values = write_drawer(world.drawer())
        values["inks"]["campion"]["swatches"][0]["lab"] = [1e9, 0, 0]
        values["stocks"][1]["lab"] = "white"
        found = read_brought(json.dumps(values).encode())
        self.assertEqual(len(found.whole), len(world.drawer().inks) - 1)
        self.assertEqual(len(found.stocks), len(world.drawer().stocks) - 1)
        self.assertEqual([p.column for p in found.problems], ["campion", "stocks"])


class CgatsTest(unittest.TestCase):
    def test_rows_over_lines_remarks_and_two_tables(self) -> None:
        text = """CGATS.17
ORIGINATOR "a ""quoted"" program" # remark
BEGIN_DATA_FORMAT
SAMPLE_ID SAMPLE_NAME
LAB_L LAB_A LAB_B
END_DATA_FORMAT
BEGIN_DATA
1 "Dusk # not a remark" 50 1
2
2 "Dawn" 60 3 4 # one
END_DATA
BEGIN_DATA_FORMAT
SAMPLE_NAME XYZ_X XYZ_Y XYZ_Z
END_DATA_FORMAT
BEGIN_DATA
White 96.42 100 82.52
END_DATA
"""
        table, header = read_cgats(text.encode())
        self.assertEqual(header["ORIGINATOR"], 'a "quoted" program')
        found = taken(text.encode())
        self.assertEqual(found.problems, ())
        self.assertEqual([d.values["name"] for d in found.drafts], ["Dusk # not a remark", "Dawn", "White"])
        self.assertLess(difference(found.drafts[2].swatches[0].lab, (100, 0, 0)), 0.05)
        self.assertEqual(table.numbers, (8, 10, 16))
        with self.assertRaises(BadFile):
            read_cgats(text.replace('"Dawn" 60 3 4', '"Dawn" 60 3').encode())

    def test_spectra_give_the_colour_that_they_are(self) -> None:
        lab = (52.0, -30.0, 28.0)
        nm = np.arange(380, 731, 10.0)
        seen = lab_of_spectrum(nm, reflectance(lab))
        self.assertLess(difference(seen, lab), 0.01)
        columns = " ".join(f"SPECTRAL_NM_{n:.0f}" for n in nm)
        cells = " ".join(f"{100 * v:.4f}" for v in reflectance(lab))
        text = f"CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_NAME {columns}\nEND_DATA_FORMAT\nBEGIN_DATA\nDusk {cells}\nEND_DATA\n"
        found = taken(text.encode())
        self.assertLess(difference(found.drafts[0].swatches[0].lab, lab), 0.02)
        for wrong in (nm[:10], nm[::4]):
            with self.assertRaises(BadValue):
                lab_of_spectrum(wrong, np.ones(len(wrong)))


class FormulaTest(unittest.TestCase):
    def test_no_cell_of_a_csv_can_run(self) -> None:
        for evil in ("=1+1", "+cmd|' /C calc'!A0", "-2+3", "@SUM(A1)", "\t=1", "\r=1", "'=1", "''=2"):
            self.assertNotIn(guarded_cell(evil)[0], "=+-@\t\r")
            self.assertEqual(plain_cell(guarded_cell(evil)), evil)
        for tame in ("Dusk", "'quoted'", "a=b", ""):
            self.assertEqual(guarded_cell(tame), tame)
        ink = replace(world.drawer().inks[0], name="=HYPERLINK(0)", notes="@x", place="+1")
        for row in csv.reader(io.StringIO(write_csv([ink], CARDS).decode("utf-8-sig"))):
            for cell in row:
                if cell and cell[0] in "=+@":
                    self.fail(cell)
                if cell.startswith("-"):
                    float(cell)


class MergeTest(unittest.TestCase):
    def test_the_same_file_again_changes_nothing(self) -> None:
        cards = {c.key: c.lab for c in CARDS}
        own = {
            i.key: replace(i, swatches=tuple(named(s, cards) for s in i.swatches))
            for i in world.drawer().inks
        }
        for data in (write_csv(own.values(), CARDS), write_cgats(own.values(), CARDS)):
            matches, problems = matched(taken(data).drafts, own)
            self.assertEqual((problems, [m for m in matches if m.changed or m.key is None]), ([], []))

    def test_what_the_file_does_not_say_stays(self) -> None:
        own = {i.key: i for i in world.drawer().inks}
        matches, _ = matched(taken(b"name,L,a,b,place\nCampion,50,50,0,attic\n").drafts, own)
        (match,) = matches
        before = own["campion"]
        self.assertEqual((match.key, match.changed), ("campion", True))
        self.assertEqual(
            (match.ink.place, match.ink.family, match.ink.line), ("attic", before.family, before.line)
        )
        self.assertEqual(len(match.ink.swatches), len(before.swatches))
        self.assertIn((50.0, 50.0, 0.0), [s.lab for s in match.ink.swatches])

    def test_a_note_of_the_makers_is_never_written_over(self) -> None:
        own = {"whitewash": next(i for i in world.drawer().inks if i.key == "whitewash")}
        matches, _ = matched(taken(b"key,name,notes\nwhitewash,Whitewash,from the shop\n").drafts, own)
        self.assertEqual(matches[0].ink.notes, f"{own['whitewash'].notes}\nfrom the shop")

    def test_no_colour_and_none_known_is_a_problem(self) -> None:
        matches, problems = matched(taken(b"name,place\nNobody,attic\n").drafts, {})
        self.assertEqual((matches, problems[0].row), ([], 2))
        self.assertIn("not in the drawer yet", problems[0].sentence)


class SchemaTest(unittest.TestCase):
    def test_the_schema_takes_what_is_written_and_refuses_what_is_refused(self) -> None:
        schema = json.loads(SCHEMA.read_text())
        Draft202012Validator.check_schema(schema)
        valid = Draft202012Validator(schema).is_valid
        good = write_drawer(world.drawer())
        self.assertTrue(valid(json.loads(json.dumps(good))))
        for path, wrong in (
            (("format",), "other"),
            (("inks", "campion", "chemistry"), "tea"),
            (("inks", "campion", "swatches"), []),
            (("inks", "campion", "state"), "half"),
            (("inks", "campion", "depth"), 99),
            (("inks", "campion", "swatches", 0, "lab"), [1, 2]),
            (("inks", "campion", "swatches", 0, "how"), "guess"),
            (("stocks", 0, "lab"), [900, 0, 0]),
            (("tools", 0, "brush"), "broom"),
        ):
            values = json.loads(json.dumps(good))
            at = values
            for step in path[:-1]:
                at = at[step]
            at[path[-1]] = wrong
            self.assertFalse(valid(values), path)
            with self.assertRaises(StrataError, msg=path):
                read_drawer(json.dumps(values))
