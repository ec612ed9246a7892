"""Random walks: whatever is done to a set, it stays a set, comes back from its files, and can be undone."""

from __future__ import annotations

import json
import random
import unittest
from typing import Any

import shapely

from strata.errors import StrataError
from strata.formats.set_file import received_set, write_set
from strata.formats.svg_out import set_svg
from strata.formats.svg_set import read
from strata.measuring import measure_openings, trim
from strata.measuring.bridges import bridges, islands
from strata.measuring.masks import mask_fits, mask_shape
from strata.measuring.slip import slips
from strata.sheets import LayerSet
from strata.sheets.edits import apply
from strata.sheets.elements import tone_roles
from tests import world


def a_change(layer_set: LayerSet, rng: random.Random) -> tuple[str, dict[str, Any]]:
    """Something that a maker, or a mistaken program, might ask for."""
    openings = list(layer_set.openings)
    sheets = [s.number for s in layer_set.sheets]
    some = rng.sample(openings, min(len(openings), rng.randint(1, 4)))
    x, y = rng.uniform(0, layer_set.width), rng.uniform(0, layer_set.height)
    place = {
        "dx": rng.uniform(-4, 4),
        "dy": rng.uniform(-4, 4),
        "turn": rng.choice([0, 90, 180, 7.5]),
        "mirrored": rng.random() < 0.3,
    }
    kinds: dict[str, dict[str, Any]] = {
        "move": {"openings": some, "element": rng.choice(["leaf", "disc", "bud", "ground water"])},
        "rename": {
            "element": rng.choice(layer_set.elements or ("none",)),
            "to": rng.choice(["leaf", "sun", "stem"]),
        },
        "role": {"openings": some, "role": rng.choice(["tone", "line", "ground", "background", "waste"])},
        "join": {"openings": some},
        "split": {
            "opening": some[0],
            "line": [[x, -5], [x + rng.uniform(-9, 9), 95]] if rng.random() < 0.5 else [[-5, y], [105, y]],
        },
        "to_marks": {"openings": some[:1]},
        "from_marks": {"sheet": rng.choice(sheets)},
        "call_sheet": {"sheet": rng.choice(sheets), "to": rng.choice(["One", "Ü & <b>", "x" * 200])},
        "order": {"sheets": rng.sample(sheets, len(sheets))},
        "place": {"sheet": rng.choice(sheets), **place},
        "add_seat": {"of": rng.choice(sheets), **place, "strength": rng.uniform(0.2, 1)},
        "change_seat": {"sheet": rng.choice(sheets), **place},
        "remove_sheet": {"sheet": rng.choice(sheets)},
        "piece": {"sheet": rng.choice(sheets), "copies": rng.randint(1, 4), "loose": rng.random() < 0.5},
    }
    kind = rng.choice(list(kinds))
    return kind, kinds[kind]


class WalkTest(unittest.TestCase):
    def sound(self, layer_set: LayerSet) -> None:
        """What holds of every set."""
        keys = [o.key for s in layer_set.sheets for o in s.openings]
        self.assertEqual(len(keys), len(set(keys)), "keys are unique")
        self.assertEqual(len({s.number for s in layer_set.sheets}), len(layer_set.sheets))
        for sheet in layer_set.sheets:
            self.assertTrue(all(o.sheet == sheet.number for o in sheet.openings))
            self.assertTrue(all(o.polygon.is_valid and o.polygon.area > 0 for o in sheet.openings))
            self.assertTrue(all(m.is_valid for m in sheet.marks))
            if sheet.seat:
                base = layer_set.sheet(sheet.seat.of)
                self.assertIsNone(base.seat, "a seat is of a sheet, not of a seat")
                self.assertEqual(len(base.openings), len(sheet.openings))
                self.assertAlmostEqual(
                    sum(o.polygon.area for o in base.openings),
                    sum(o.polygon.area for o in sheet.openings),
                    places=6,
                )
        self.assertEqual(set(tone_roles(layer_set)), set(layer_set.groups))

    def test_fifty_walks_of_thirty_changes(self) -> None:
        made = refused = 0
        for seed in range(50):
            rng = random.Random(seed)
            layer_set = world.two_sheets()
            for _ in range(30):
                kind, values = a_change(layer_set, rng)
                before = write_set(layer_set)
                try:
                    after = apply(layer_set, kind, json.loads(json.dumps(values))).layer_set
                except StrataError as error:
                    refused += 1
                    self.assertTrue(error.sentence.endswith("."), f"{kind}: {error.sentence}")
                    continue
                self.assertEqual(write_set(layer_set), before, f"{kind} changed the set before it")
                self.sound(after)
                layer_set, made = after, made + 1
            again = received_set(json.loads(json.dumps(write_set(layer_set))))
            self.assertEqual(write_set(again), write_set(layer_set))
        self.assertGreater(made, 600)
        self.assertGreater(refused, 100)

    def test_ends_of_walks_can_be_measured_and_carried_out(self) -> None:
        for seed in range(12):
            rng = random.Random(1000 + seed)
            layer_set = world.two_sheets()
            for _ in range(25):
                kind, values = a_change(layer_set, rng)
                try:
                    layer_set = apply(layer_set, kind, values).layer_set
                except StrataError:
                    continue
            self.measured(layer_set)
            if any(s.openings for s in layer_set.sheets):
                drawn = read(set_svg(layer_set), "again").layer_set
                inside = shapely.box(0, 0, layer_set.width, layer_set.height)
                ours = sum(o.polygon.intersection(inside).area for o in self.united(layer_set))
                self.assertAlmostEqual(
                    sum(o.polygon.area for s in drawn.sheets for o in s.openings),
                    ours,
                    delta=0.002 * ours + 0.5,
                )

    def united(self, layer_set: LayerSet) -> list[Any]:
        """What a cutter would cut: openings of one sheet that overlap are one."""
        from types import SimpleNamespace

        return [
            SimpleNamespace(polygon=shapely.union_all([o.polygon for o in s.openings]))
            for s in layer_set.sheets
        ]

    def measured(self, layer_set: LayerSet) -> None:
        for found in measure_openings(layer_set).values():
            self.assertLessEqual(found.inscribed, 2 * (found.area / 3.14159) ** 0.5 + 0.05)
            self.assertTrue(found.opening.polygon.buffer(0.05).contains(shapely.Point(found.circle)))
            if found.neck:
                self.assertLessEqual(found.neck.width, found.inscribed + 0.05)
        widths = [b.width for b in bridges(layer_set)]
        self.assertEqual(widths, sorted(widths))
        islands(layer_set)
        for slip in slips(layer_set):
            self.assertAlmostEqual(slip.least, min(slip.by_direction))
        for fit in mask_fits(layer_set):
            try:
                mask = mask_shape(layer_set, fit.inked.element, fit.inked.sheet)
            except StrataError:
                continue
            self.assertLess(mask.intersection(fit.inked.shape).area, 1e-6)
        if layer_set.groups:
            self.assertTrue(0 <= trim(layer_set, 60, 50).kept <= 1 + 1e-9)
