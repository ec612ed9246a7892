"""Files that mean harm, read where no child process is in between: each gives a set, a drawer, or one sentence."""

from __future__ import annotations

import json
import unittest
from collections.abc import Callable
from typing import Any

from strata.errors import BadFile, StrataError
from strata.formats.brought import read_brought
from strata.formats.build_file import read_plan, write_plan
from strata.formats.bundle import Bundle, read_bundle, write_bundle
from strata.formats.drawer import read_drawer_values
from strata.formats.set_file import read_set, write_set
from strata.formats.svg_set import read_files
from strata.tracing.photo import open_photo
from tests import world
from tools import hostile_files

SLOW = {
    "uses of uses", "a million points", "everything crosses everything", "ten thousand dots", "wide stroke of many turns",
    "styles without end", "markers on every point", "a bomb", "a bomb of pictures", "a hundred thousand sheets", "a million lines.csv",
}  # fmt: skip
# the guard ends these, or only its limits bound them (`make hostile`)


class HostileTest(unittest.TestCase):
    def each(self, files: Any, read: Callable[[bytes], Any]) -> tuple[int, int]:
        read_, refused = 0, 0
        for name, data in files:
            if name in SLOW:
                continue
            with self.subTest(name):
                try:
                    read(data)
                    read_ += 1
                except StrataError as why:
                    refused += 1
                    self.assertRegex(why.sentence, r"^.*[ ].*[.]$")
                    self.assertLess(len(why.sentence), 400)
                except (RecursionError, MemoryError):
                    # the guard has a sentence for these
                    refused += 1
        return read_, refused

    def test_drawings(self) -> None:
        read, refused = self.each(
            hostile_files.drawings(), lambda d: read_files([d], "Sent", "stencil", titles=["a"])
        )
        self.assertGreater(read, 10, "what only looks strange is read")
        self.assertGreater(refused, 20)

    def test_bundles(self) -> None:
        good = write_bundle(Bundle(world.koi(), {"a.png": b"x"}))
        read, refused = self.each(hostile_files.bundles(good), read_bundle)
        self.assertLess(read, 7)
        self.assertGreater(refused, 15)

    def test_tables(self) -> None:
        _, refused = self.each(hostile_files.tables(), read_brought)
        self.assertGreater(refused, 5)

    def test_pictures(self) -> None:
        _, refused = self.each(hostile_files.pictures(), lambda d: open_photo(d, heif=True))
        self.assertGreater(refused, 8)

    def test_what_a_newer_one_wrote_is_not_guessed_at(self) -> None:
        drawer = {"format": "anastrata-drawer", "version": 3, "inks": {}}
        for read, value in (
            (read_set, {**write_set(world.koi()), "version": 2}),
            (read_drawer_values, drawer),
            (lambda v: read_brought(json.dumps(v).encode()), drawer),
            (read_plan, {**write_plan(world.plan_of()), "version": 4}),
        ):
            with self.assertRaisesRegex(BadFile, "newer Anastrata"):
                read(value)  # type: ignore[operator]


if __name__ == "__main__":
    unittest.main()
