"""Photographs of the second generator, which the readings were not made with: what the first one left out."""

from __future__ import annotations

import unittest

import numpy as np
import shapely

from strata.camera import jpeg
from strata.tracing import Traced, trace
from strata.tracing.apart import rim_of, told_apart
from strata.tracing.corners import find_corners
from strata.tracing.doubt import lettering
from strata.tracing.light import OFFSETS, _mean_edge
from strata.tracing.mat import find_printed
from strata.tracing.straighten import refine
from tools.conditions import Row, judged
from tools.other_pictures import pictured
from tools.other_sheets import other_sheet


def read(name: str, sheet: str = "coarse", number: int = 1) -> tuple[Traced, Row]:
    shapes, *size = other_sheet(sheet, number)
    seen, quality = pictured(name, shapes, (size[0], size[1]), number)
    found = trace(jpeg(seen, quality), *size)
    places = [*found.places, *found.blinded]
    row = judged(name, sheet, shapes, list(found.openings), found.doubtful, places, found.said)
    return found, row


class WholeTest(unittest.TestCase):
    def whole(self, name: str, sheet: str = "coarse", number: int = 1, in_vain: int = 3) -> Traced:
        found, row = read(name, sheet, number)
        self.assertTrue(row.whole, row)
        self.assertEqual(row.silent, 0, row)
        self.assertLessEqual(row.in_vain, in_vain, row)
        return found

    def test_a_soft_shadow_over_half_of_it(self) -> None:
        """The shadow was taken for what is open, and no opening was found."""
        self.whole("soft shadow")

    def test_inks_on_a_dark_sheet(self) -> None:
        """Stains lighter than the sheet were taken for it, and all openings were missed."""
        self.whole("stained, dark")

    def test_inks_on_a_frosted_sheet(self) -> None:
        """What is dark in one channel alone is ink, and no opening."""
        self.whole("stained, frosted")

    def test_a_smoothed_picture_of_the_dusk(self) -> None:
        self.whole("dusk")

    def test_a_white_sheet_sharpened_by_the_telephone(self) -> None:
        """What a telephone adds to an edge makes it lighter: table, where the sheet is dark, and sheet where it is white."""
        for name, sheet in (
            ("sharpened, white on oak", "fine"),
            ("by telephone, white on dark", "coarse"),
            ("by telephone, green mat", "coarse"),
        ):
            with self.subTest(name=name):
                shapes, *_ = other_sheet(sheet, 1)
                found = self.whole(name, sheet, in_vain=13)
                near = shapely.STRtree(found.openings).nearest([s.representative_point() for s in shapes])
                off = [
                    (found.openings[i].area - s.area) / s.length for s, i in zip(shapes, near, strict=True)
                ]
                self.assertLess(abs(float(np.median(off))), 0.009)

    def test_another_sheet_along_a_whole_side(self) -> None:
        """Both were taken for one sheet; a line of the table between them parts them, and tells where the edge lies."""
        found = self.whole("second sheet along a side")
        self.assertEqual(found.warnings, ())

    def test_a_mat_with_figures_by_the_sheet_and_lines_aslant(self) -> None:
        """Figures beside a side had moved its corners by 3 mm, lines aslant had cut openings in two."""
        found, row = read("grey mat in inches", number=2)
        self.assertGreater(row.iou, 0.98)
        self.assertEqual((row.missed, row.split, row.invented, row.silent), (0, 0, 0, 0), row)
        self.assertNotIn("corners", " ".join(found.warnings))


class DoubtfulTest(unittest.TestCase):
    def test_letters_of_a_newspaper_cut_openings_short(self) -> None:
        """They are as dark as the sheet, so that no edge tells one from the other; the table around it does."""
        found, row = read("newspaper", "fine")
        self.assertGreater(row.off, 20)
        self.assertTrue(all(found.doubtful))
        self.assertIn("printed in a tone like the sheet's", " ".join(found.warnings))
        for name in ("oak", "gingham", "ruler"):
            self.assertNotIn("printed in a tone", " ".join(read(name)[0].warnings), name)

    def test_two_large_panes_of_a_window(self) -> None:
        """As large as a third of all that is open: they were taken for openings, hid others, and nothing was said."""
        for sheet in ("coarse", "fine"):
            _, row = read("window mirrored", sheet, 3)
            self.assertGreater(row.off, 1)
            self.assertEqual(row.silent, 0, row)
            self.assertLess(row.in_vain, 4, row)

    def test_a_name_in_small_letters(self) -> None:
        for number in (1, 4):
            _, row = read("maker's name", number=number)
            self.assertGreater(row.invented, 5)
            self.assertEqual((row.silent, row.in_vain), (0, 0), row)

    def test_small_letters_of_which_some_run_together(self) -> None:
        feet = [shapely.box(20 + 3 * n, 136 + (n % 2), 21.2 + 3 * n + 0.2 * (n % 3), 138) for n in range(7)]
        run = shapely.box(41.0, 136.0, 46.5, 138.0)
        dot = shapely.box(23.2, 136.1, 23.7, 136.6)
        self.assertEqual(lettering([*feet, run, dot], 107.95, 139.7), list(range(9)))
        grass = [shapely.box(20 + 3 * n, 130 + (n % 3), 21 + 3 * n, 138) for n in range(9)]
        self.assertEqual(lettering(grass, 107.95, 139.7), [])

    def test_a_seam_of_the_table_along_a_side(self) -> None:
        """Half of the side's points lay on the seam; the corners were 0.4 mm off, and nothing was said."""
        page = np.full((1500, 1200, 3), 150, np.uint8)
        page[300:1200, 300:900] = 45
        clear = refine(page, np.array([[300, 300], [900, 300], [900, 1200], [300, 1200]], float), 2.0)
        self.assertTrue(clear.sure)
        for y in range(300, 750):
            gap = (750 - y) // 150
            page[y, 292 - gap : 300 - gap] = 50
        seam = refine(page, np.array([[300, 300], [900, 300], [900, 1200], [300, 1200]], float), 2.0)
        self.assertFalse(seam.sure)


class PartsTest(unittest.TestCase):
    def test_what_is_open_under_a_shadow_and_noise(self) -> None:
        """Openings lighter than a dark sheet, half of it in a shadow, noise all over: never the shadow, never the noise."""
        y, x = np.mgrid[:300, :240].astype(np.float32)
        open_ = (np.hypot((x % 60) - 30, (y % 60) - 30) < 9) & (x > 20) & (x < 220) & (y > 20) & (y < 280)
        light = np.where(open_, 0.6, 0.05) * (1 - 0.8 / (1 + np.exp(-(x + y - 330) / 6)))
        light = light * (1 + np.random.default_rng(3).normal(0, 0.08, light.shape))
        picture = np.rint(255 * np.clip(light, 0, 1) ** (1 / 2.2)).astype(np.uint8)
        apart = told_apart(np.dstack([picture] * 3), rim_of(picture.shape, 4.0))
        assert apart is not None
        bare, seen = apart
        self.assertGreater(seen[open_].mean(), 0.6)
        self.assertLess((seen & ~open_).mean(), 0.002)
        self.assertLess(bare[open_].mean(), 0.01)

    def test_lines_aslant_on_a_mat(self) -> None:
        shapes, *size = other_sheet("coarse", 1)
        seen, _ = pictured("green mat", shapes, (size[0], size[1]), 1)
        found = find_corners(seen, size[0] / size[1])
        printed = find_printed(seen, refine(seen, found.corners, found.scale, lines=True).corners, *size)
        assert printed is not None
        self.assertEqual(len(printed.slanted), 1)
        ruling = printed.slanted[0]
        self.assertAlmostEqual(np.degrees(ruling.angle - printed.grid[0].angle) % 90, 45, delta=0.4)
        self.assertTrue(np.allclose(np.diff(ruling.places), 100, atol=1.0))

    def test_a_line_beside_some_edges_does_not_tell_how_they_were_mixed(self) -> None:
        """A tenth of profiles with a bright line beside their edge: the mean of the rest is what it was."""
        edge = 1 / (1 + np.exp(-OFFSETS / 0.8))
        across = (
            50 + 100 * np.tile(edge, (400, 1)) + np.random.default_rng(1).normal(0, 1, (400, len(OFFSETS)))
        )
        clean = _mean_edge(across)
        across[:30, (OFFSETS > 1.5) & (OFFSETS < 3.5)] += 80
        self.assertLess(float(np.abs(_mean_edge(across) - clean).max()), 0.006)
