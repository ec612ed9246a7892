"""A set laid otherwise (turned, turned over, larger) is the same set: whatever is measured on it goes along; and every pair
of openings is looked at, which is checked by asking all of them."""

from __future__ import annotations

import unittest
from collections.abc import Callable
from dataclasses import replace
from functools import lru_cache
from itertools import combinations

import numpy as np
import shapely
import shapely.affinity
from shapely import Polygon

from strata.measuring import measure_openings
from strata.measuring.bridges import LOOKED_AT, bridges, islands, nearest_gaps
from strata.measuring.slip import slips
from strata.sheets import LayerSet, Opening, Sheet
from strata.sheets.overlaps import LEAST_OVERLAP, group_overlaps, overlaps
from tests import world

Lay = Callable[[Polygon], Polygon]
NAMES = ("hedgehog", "luna")
MIDDLE = (60.0, 60.0)


def turned(angle: float) -> Lay:
    return lambda shape: shapely.affinity.rotate(shape, angle, origin=MIDDLE)


def over(shape: Polygon) -> Polygon:
    return shapely.affinity.scale(shape, -1, 1, origin=MIDDLE)


def larger(shape: Polygon) -> Polygon:
    return shapely.affinity.scale(shape, 1.5, 1.5, origin=(0, 0))


WAYS: dict[str, Lay] = {"a quarter": turned(90), "half": turned(180), "askew": turned(37), "over": over}


def laid(layer_set: LayerSet, lay: Lay) -> LayerSet:
    """All its openings and marks elsewhere, names and numbers kept."""
    sheets = tuple(
        replace(
            s,
            openings=tuple(replace(o, polygon=shapely.make_valid(lay(o.polygon))) for o in s.openings),
            marks=tuple(lay(m) for m in s.marks),
        )
        for s in layer_set.sheets
    )
    return replace(layer_set, sheets=sheets)


@lru_cache
def demo(part: str) -> LayerSet:
    """The demo set whose name has a word in it."""
    (found,) = (s for name, s in world.sets().items() if part in name.lower())
    return found


@lru_cache
def drawn(seed: int) -> LayerSet:
    """Stars, strips and rings at random on three sheets, many of them close together or in one another."""
    rng = np.random.default_rng(seed)
    sheets = []
    for number in (1, 2, 3):
        shapes: list[Polygon] = []
        for _ in range(60):
            x, y = rng.uniform(10, 110, 2)
            points = rng.uniform(1.5, 5, 11)
            way = np.linspace(0, 2 * np.pi, 11, endpoint=False)
            star = Polygon(np.c_[x + np.cos(way) * points, y + np.sin(way) * points])
            strip = shapely.affinity.rotate(
                shapely.box(x, y, x + rng.uniform(4, 30), y + 0.7), rng.uniform(0, 180)
            )
            ring = shapely.Point(x, y).buffer(points[0] + 1).difference(shapely.Point(x, y).buffer(points[0]))
            shape = (star, strip, ring)[int(rng.integers(3))]
            if all(shapely.distance(shape, other) > 0.05 for other in shapes):
                shapes.append(shape)
        openings = (Opening(f"{number}.{i}", number, f"part {i % 5}", p) for i, p in enumerate(shapes))
        sheets.append(Sheet(number, f"Sheet {number}", tuple(openings)))
    return LayerSet("Drawn", "stencil", 120, 120, tuple(sheets))


def every() -> list[LayerSet]:
    return [*map(demo, NAMES), drawn(3), drawn(8)]


class PairsTest(unittest.TestCase):
    """Trees leave pairs out that cannot matter; here none is left out."""

    def test_overlaps_are_those_of_all_pairs(self) -> None:
        for layer_set in every():
            openings = list(layer_set.openings.values())
            true = {}
            for one, other in combinations(openings, 2):
                if one.sheet == other.sheet:
                    continue
                shared = shapely.intersection(one.polygon, other.polygon).area
                if shared > 0.0:
                    true[one.key, other.key] = shared
            found = {(o.under.key, o.over.key): o.area for o in overlaps(layer_set)}
            self.assertEqual(set(found) - set(true), set())
            for pair, shared in true.items():
                if pair in found:
                    self.assertAlmostEqual(found[pair], shared, places=6)
                else:
                    self.assertLess(shared, LEAST_OVERLAP + 1e-9, pair)

    def test_bridges_are_those_of_all_pairs(self) -> None:
        for layer_set in every():
            true = {}
            for sheet in layer_set.sheets:
                for one, other in combinations((o for o in sheet.openings if o.role != "waste"), 2):
                    apart = float(shapely.distance(one.polygon, other.polygon))
                    if apart < LOOKED_AT - 1e-6:
                        true[one.key, other.key] = apart
            found = {(b.one.key, b.other.key): b for b in bridges(layer_set) if b.width < LOOKED_AT - 1e-6}
            self.assertEqual(set(found), set(true))
            for pair, bridge in found.items():
                self.assertAlmostEqual(bridge.width, true[pair], places=6)
                ends = map(shapely.Point, bridge.ends)
                for end, opening in zip(ends, (bridge.one, bridge.other), strict=True):
                    self.assertLess(shapely.distance(end, opening.polygon), 1e-6)
            widths = [b.width for b in bridges(layer_set)]
            self.assertEqual(widths, sorted(widths))


class LaidTest(unittest.TestCase):
    def test_overlaps_go_along(self) -> None:
        for layer_set in every():
            shared = group_overlaps(layer_set)
            for way, lay in WAYS.items():
                again = group_overlaps(laid(layer_set, lay))
                # a pair that shares hardly what counts may count on one side of a rounding only
                for key, area in shared.items():
                    self.assertAlmostEqual(
                        again.get(key, 0.0), area, delta=1e-4 * area + LEAST_OVERLAP, msg=f"{way} {key}"
                    )

    def test_bridges_and_islands_go_along(self) -> None:
        for layer_set in every():
            gaps, loose = nearest_gaps(layer_set), islands(layer_set)
            for way, lay in WAYS.items():
                elsewhere = laid(layer_set, lay)
                again = nearest_gaps(elsewhere)
                for key, bridge in gaps.items():
                    if bridge.width < LOOKED_AT - 1e-3:
                        self.assertAlmostEqual(again[key].width, bridge.width, delta=1e-5, msg=f"{way} {key}")
                self.assertEqual(len(islands(elsewhere)), len(loose), way)

    def test_what_is_measured_of_an_opening_goes_along(self) -> None:
        for layer_set in (demo("luna"), drawn(3)):
            plain = measure_openings(layer_set)
            for way in ("a quarter", "askew", "over"):
                for own in measure_openings(laid(layer_set, WAYS[way])).values():
                    was, told = plain[own.opening.key], f"{way} {own.opening.key}"
                    self.assertAlmostEqual(own.area, was.area, delta=1e-6 * was.area, msg=told)
                    self.assertAlmostEqual(own.inscribed, was.inscribed, delta=0.045, msg=told)
                    if was.neck and own.neck:
                        self.assertAlmostEqual(
                            own.neck.width, was.neck.width, delta=0.02 * was.neck.width + 0.02, msg=told
                        )

    def test_larger_by_half(self) -> None:
        for layer_set in (demo("luna"), drawn(8)):
            plain = measure_openings(layer_set)
            wide = replace(
                laid(layer_set, larger), width=layer_set.width * 1.5, height=layer_set.height * 1.5
            )
            for own in measure_openings(wide).values():
                was = plain[own.opening.key]
                self.assertAlmostEqual(own.area, 2.25 * was.area, delta=1e-6 * own.area)
                self.assertAlmostEqual(own.inscribed, 1.5 * was.inscribed, delta=0.06)

    def test_slip_goes_along_with_the_direction(self) -> None:
        """Eight directions, an eighth of a turn from one to the next, counted the way the sheet is turned in."""
        seen = {
            "a quarter": lambda rooms: np.roll(rooms, 2),
            "half": lambda rooms: np.roll(rooms, 4),
            "over": lambda rooms: np.roll(rooms[::-1], 5),
        }
        for layer_set in (world.koi(), demo("hedgehog")):
            plain = {(s.under.key, s.over.key): s for s in slips(layer_set)}
            self.assertGreater(len(plain), 8)
            for way, moved in seen.items():
                again = {(s.under.key, s.over.key): s for s in slips(laid(layer_set, WAYS[way]))}
                self.assertEqual(set(again), set(plain), way)
                for pair, was in plain.items():
                    self.assertAlmostEqual(again[pair].least, was.least, delta=0.01, msg=f"{way} {pair}")
                    off = np.abs(np.array(again[pair].by_direction) - moved(was.by_direction))
                    self.assertLess(float(off.max()), 0.01, f"{way} {pair}")
