"""Sheets of a colour: where an edge lies between two of them, and what is left when a channel is as light as it can be."""

from __future__ import annotations

import unittest
from collections.abc import Callable
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from strata.camera import Shot, jpeg, photograph
from strata.camera.nuisance import out_of_focus, overexposed
from strata.tracing import Traced, trace
from tests import world
from tools.conditions import KRAFT

Rgb = NDArray[np.uint8]
RED, BLUE, YELLOW, GREEN = (0.45, 0.06, 0.07), (0.06, 0.22, 0.52), (0.7, 0.5, 0.05), (0.05, 0.3, 0.12)
PAPER, DARK = (0.8, 0.8, 0.79), (0.1, 0.07, 0.05)
_USUAL: dict[str, Any] = {
    "width": 1500, "height": 1900, "tilt_x": 0.1, "tilt_y": 0.06, "fills": 0.8, "noise": 0.012, "uneven": 0.3, "seed": 5,
}  # fmt: skip


def seen(values: dict[str, Any], after: Callable[[Rgb], Rgb]) -> tuple[float, Traced]:
    """Micrometres by which edges of the stencil's third sheet usually are too far out, and all that was read."""
    koi = world.koi()
    shapes = [o.polygon for o in koi.sheet(3).openings]
    picture = photograph(shapes, koi.width, koi.height, Shot(**{**_USUAL, **values}))
    found = trace(jpeg(after(picture), 85), koi.width, koi.height)
    tree, out = shapely.STRtree(found.openings), []
    for shape in shapes:
        own = tree.query(shape, "intersects")
        if len(own) == 1:
            out.append((found.openings[own[0]].area - shape.area) / shape.length)
    assert len(out) > 0.8 * len(shapes)
    return 1000 * float(np.median(out)), found


class TwoColoursTest(unittest.TestCase):
    def test_edges_of_a_coloured_sheet_lie_where_half_the_light_is(self) -> None:
        """A pixel is a hundred micrometres; by the lightness of half-way they were 5 to 16 off, always to one side."""
        for sheet, table in ((RED, PAPER), (BLUE, PAPER), (GREEN, PAPER), (YELLOW, DARK)):
            out, found = seen({"plastic": sheet, "table": table}, lambda p: out_of_focus(p, 1.8))
            self.assertLess(abs(out), 4.0, (sheet, table))
            self.assertNotIn("drawing", " ".join(found.said))


class CutOffTest(unittest.TestCase):
    def test_card_whose_red_alone_is_cut_off_is_read_by_the_rest(self) -> None:
        """It was taken for a drawing, and its openings read ten to thirty micrometres too small without a word."""
        light = {"uneven": 0.25, "warmth": 0.14, "noise": 0.02}
        out, found = seen(
            {"plastic": KRAFT, "table": DARK, **light}, lambda p: overexposed(out_of_focus(p, 1.8))
        )
        self.assertLess(abs(out), 6.0)
        self.assertLess(sum(found.doubtful), 6)

    def test_where_the_rest_does_not_tell_it_is_said(self) -> None:
        _, found = seen(
            {"plastic": YELLOW, "table": (0.03, 0.14, 0.1), "grid": 25.4},
            lambda p: overexposed(out_of_focus(p, 1.8)),
        )
        self.assertTrue(any("overexposed" in sentence for sentence in found.said))
        self.assertGreater(sum(found.doubtful), len(found.openings) // 2)
