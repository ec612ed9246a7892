"""The core on the command line: what it prints, and how it refuses."""

from __future__ import annotations

import contextlib
import io
import json
import tempfile
import unittest
from pathlib import Path
from typing import Any

from strata.__main__ import main
from tests import world
from tests.strata.test_tracing import taken

BODY = '<g id="Base"><rect width="40" height="30" fill="red"/></g><g id="Tone"><rect x="5" y="5" width="10" height="10" fill="blue"/></g>'


class CommandTest(unittest.TestCase):
    def setUp(self) -> None:
        place = tempfile.TemporaryDirectory()
        self.addCleanup(place.cleanup)
        self.folder = Path(place.name)

    def run_it(self, *arguments: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(list(arguments))
        return code, out.getvalue(), err.getvalue()

    def measured(self, data: bytes, *more: str) -> dict[str, Any]:
        path = self.folder / "a.svg"
        path.write_bytes(data)
        code, out, err = self.run_it("measure", str(path), *more)
        self.assertEqual((code, err), (0, ""))
        found: dict[str, Any] = json.loads(out)
        return found

    def test_measure_by_layer_and_by_colour(self) -> None:
        by_layer = self.measured(world.drawing(BODY))
        self.assertEqual(by_layer["size_mm"], [100, 80])
        self.assertEqual([s["key"] for s in by_layer["sheets"]], ["Base", "Tone"])
        self.assertEqual(by_layer["overlaps"], [{"under": "Base", "over": "Tone", "area_mm2": 100.0}])
        self.assertEqual(set(by_layer), {"size_mm", "sheets", "overlaps", "warnings"})
        opening = by_layer["sheets"][0]["openings"][0]
        self.assertEqual(set(opening), {"area_mm2", "inscribed_mm", "neck_mm", "bbox_mm"})
        by_colour = self.measured(world.drawing(BODY), "--by", "colour", "--width-mm", "200", "--visible")
        self.assertEqual(
            [(s["key"], round(s["area_mm2"], 2)) for s in by_colour["sheets"]],
            [("#ff0000", 4400), ("#0000ff", 400)],
        )

    def test_trace(self) -> None:
        path = self.folder / "a.jpg"
        path.write_bytes(taken(1, tilt_x=0.1))
        code, out, _ = self.run_it("trace", str(path), "--width-mm", "107.95", "--height-mm", "139.7")
        self.assertEqual(code, 0)
        found = json.loads(out)
        self.assertEqual((found["size_mm"], len(found["sheets"])), ([107.95, 139.7], 1))
        self.assertEqual(len(found["sheets"][0]["openings"]), len(world.koi().sheet(1).openings) + 4)

    def test_refusals_are_one_line_and_exit_two(self) -> None:
        bad = self.folder / "bad.svg"
        bad.write_bytes(b"<svg")
        for arguments in (
            ("measure", str(bad)),
            ("trace", str(bad)),
            ("measure", str(self.folder / "none.svg")),
            ("measure", str(bad), "--width-mm", "-3"),
            ("trace", str(bad), "--height-mm", "nan"),
        ):
            code, out, err = self.run_it(*arguments)
            self.assertEqual((code, out, err.count("\n")), (2, "", 1), arguments)
            self.assertTrue(err.strip().endswith("."), err)
