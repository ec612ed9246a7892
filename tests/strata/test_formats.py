"""Files and the command line: round trips, and one clear line for bad input."""

import json
import subprocess
import sys
import unittest

from strata.answers import prediction
from strata.errors import StrataError
from strata.formats.drawer import read_drawer, write_drawer
from strata.units import inches_text, mm_from_inches
from tests.world import DEMO, ROOT, WHITE

SWATCH = {"on": {"lab": list(WHITE)}, "coats": 1, "lab": [60, 40, 20]}
ASK = {
    "card": {"lab": list(WHITE)},
    "inks": {"a": {"chemistry": "dye", "swatches": [SWATCH]}},
    "stacks": [{"passes": [{"ink": "a", "coats": 1, "over": "wet"}]}, {"passes": []}],
}


def changed(path: str, value: object) -> dict:
    """The request with one value changed, by a dotted path."""
    ask = json.loads(json.dumps(ASK))
    *way, last = path.split(".")
    spot = ask
    for name in way:
        spot = spot[int(name)] if name.isdigit() else spot[name]
    spot[int(last) if last.isdigit() else last] = value
    return ask


class PredictTest(unittest.TestCase):
    def run_core(self, text: str) -> subprocess.CompletedProcess:
        command = [sys.executable, "-m", "strata", "predict", "-"]
        return subprocess.run(command, input=text, capture_output=True, text=True, cwd=ROOT, check=False)

    def test_a_request_is_answered(self) -> None:
        done = self.run_core(json.dumps(ASK))
        self.assertEqual((done.returncode, done.stderr), (0, ""))
        first, bare = json.loads(done.stdout)["stacks"]
        for value, expected in zip(first["lab"], SWATCH["lab"], strict=True):
            self.assertAlmostEqual(value, expected, places=1)
        self.assertEqual(bare["lab"], list(WHITE))
        self.assertRegex(first["srgb"], "^#[0-9a-f]{6}$")
        self.assertIs(first["in_gamut"], True)

    def test_bad_input_is_one_line_and_exit_two(self) -> None:
        for text in (
            "",
            "{",
            "[]",
            "null",
            json.dumps(changed("stacks.0.passes.0.ink", "z")),
            '{"card": NaN}',
        ):
            done = self.run_core(text)
            self.assertEqual((done.returncode, done.stdout), (2, ""), text)
            self.assertEqual(len(done.stderr.strip().splitlines()), 1, done.stderr)
        missing = subprocess.run(
            [sys.executable, "-m", "strata", "predict", "no-such.json"],
            capture_output=True,
            text=True,
            cwd=ROOT,
            check=False,
        )
        self.assertEqual(missing.returncode, 2)

    def test_every_wrong_value_is_named(self) -> None:
        for path, value in (
            ("card", []),
            ("card.lab", [1, 2]),
            ("card.lab", [1, 2, "x"]),
            ("inks", []),
            ("inks.a", 3),
            ("inks.a.chemistry", "mud"),
            ("inks.a.swatches", []),
            ("inks.a.swatches", 3),
            ("inks.a.swatches.0.coats", 0),
            ("inks.a.swatches.0.lab", [500, 0, 0]),
            ("inks.a.swatches.0.on", None),
            ("stacks", {}),
            ("stacks.0", []),
            ("stacks.0.passes", 1),
            ("stacks.0.passes.0", "a"),
            ("stacks.0.passes.0.coats", -1),
            ("stacks.0.passes.0.coats", 1e9),
            ("stacks.0.passes.0.over", "damp"),
            ("stacks.0.passes.0.ink", 7),
            ("stacks.0.passes", [{"ink": "a"}] * 65),
        ):
            with self.assertRaises(StrataError, msg=path) as caught:
                prediction.answer(json.dumps(changed(path, value)))
            self.assertTrue(caught.exception.sentence.endswith("."), caught.exception.sentence)

    def test_deep_or_huge_files_are_refused(self) -> None:
        for text in ("[" * 100_000, '"' + "x" * 9_000_000 + '"', b"\xff\xfe\xfa"):
            with self.assertRaises(StrataError):
                prediction.answer(text)


class DrawerFileTest(unittest.TestCase):
    def test_the_demo_drawer_reads_back_identical(self) -> None:
        text = (DEMO / "drawer" / "lockside-drawer.json").read_text()
        drawer = read_drawer(text)
        self.assertEqual(write_drawer(drawer), json.loads(text))
        self.assertEqual((len(drawer.inks), len(drawer.tools)), (41, 8))
        self.assertEqual(len({i.line for i in drawer.inks if i.chemistry.key == "dye"}), 3)
        self.assertEqual(sum(i.chemistry.needs_seal for i in drawer.inks), 2)
        self.assertTrue(all({s.coats for s in i.swatches} == {1, 2, 3} for i in drawer.inks))

    def test_wrong_drawers(self) -> None:
        for text in (
            "{}",
            '{"format": "other"}',
            '{"format": "anastrata-drawer", "inks": 3}',
            '{"format": "anastrata-drawer", "inks": {"a": {"chemistry": "dye", "swatches": []}}}',
        ):
            with self.assertRaises(StrataError):
                read_drawer(text)


class UnitsTest(unittest.TestCase):
    def test_fractions_as_people_write_them(self) -> None:
        for text, mm in (("4 1/4", 107.95), ("5 1/2", 139.7), ("1/8", 3.175), ("12", 304.8), ("5.5", 139.7)):
            self.assertAlmostEqual(mm_from_inches(text), mm)
        for mm, text in ((107.95, "4 1/4"), (3.175, "1/8"), (304.8, "12"), (0, "0"), (38.1, "1 1/2")):
            self.assertEqual(inches_text(mm), text)
        for wrong in ("", "four", "1/0", "in"):
            with self.assertRaises(StrataError):
                mm_from_inches(wrong)
