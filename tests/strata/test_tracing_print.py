"""What is printed on a mat: where its lines run, what is read under them, figures in openings."""

from __future__ import annotations

import unittest

import numpy as np
from numpy.typing import NDArray

from strata.tracing.mat import Printed, Ruling
from strata.tracing.printing import lines_measured, mask_of, past_print

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
SCALE = 20.0
FAR = np.array([-60.0, -50.0, 70.0, 80.0])
# lines that lie beside the sheet


def sheet(
    looks: float, at: float = 10.0, tilt: float = 0.0, wide: float = 0.4, edge: float = 8.0
) -> Floats32:
    """How open a sheet of 20 x 20 mm looks with an opening below ``edge`` mm, and one line across it that looks so."""
    from scipy.ndimage import gaussian_filter

    fine = 4
    y, x = (np.mgrid[: 20 * SCALE * fine, : 20 * SCALE * fine] + 0.5) / (SCALE * fine)
    open_ = (y > edge).astype(np.float32)
    line = np.abs(x - at - tilt * y) < wide / 2
    seen = gaussian_filter(open_ * np.where(line, looks, 1), 1.3 * fine).astype(np.float32)
    size = round(20 * SCALE)
    return np.asarray(seen.reshape(size, fine, size, fine).mean(axis=(1, 3)), np.float32)


def _grid(places: tuple[Floats, Floats], widths: tuple[Floats, Floats]) -> Printed:
    return Printed((Ruling(0.0, places[0], widths[0]), Ruling(np.pi / 2, places[1], widths[1])))


def one_line(at: float, width: float = 0.45) -> Printed:
    """Of the lines only one crosses the sheet; it was found ``at`` mm, beside it."""
    places = np.sort(np.append(FAR, at))
    return _grid((places, FAR), (np.full(5, width), np.full(4, width)))


class MeasuredTest(unittest.TestCase):
    def test_lines_lie_where_they_show(self) -> None:
        """Found a tenth of a millimetre off and askew by a quarter of a degree: measured to two hundredths."""
        for looks in (0.3, 3.0):
            share = sheet(looks, at=10.06, tilt=0.004, edge=1.0)
            (own, _) = lines_measured(share, one_line(10.0), SCALE)
            y, x = np.nonzero(own.mask)
            true = (x + 0.5) / SCALE - 10.06 - 0.004 * (y + 0.5) / SCALE
            middle = np.abs(true - own.off)
            self.assertLess(float(np.median(middle)), 0.03)

    def test_a_line_that_shows_nowhere_stays_where_it_was_found(self) -> None:
        (own, _) = lines_measured(np.zeros((400, 400), np.float32), one_line(10.0), SCALE)
        self.assertEqual(float(own.looks.max(initial=0)), 0.0)
        np.testing.assert_array_equal(own.mask, mask_of(one_line(10.0), (400, 400), SCALE))


class PastTest(unittest.TestCase):
    def off(self, share: Floats32, printed: Printed) -> float:
        """px by which the edge at 8 mm is off under the line, at most."""
        found, _ = past_print(share, printed, SCALE)
        rows = np.argmax(found[100:220] > 0.5, axis=0)
        return float(np.abs(rows[190:211] - np.median(rows[100:180])).max())

    def test_edges_go_on_under_a_line(self) -> None:
        """Darker than the table, lighter than it, as light as the sheet, lighter than that: to two pixels."""
        for looks in (3.0, 0.5, 0.3, 0.0, -0.3):
            self.assertLess(self.off(sheet(looks), one_line(10.0)), 3, looks)

    def test_what_is_read_is_not_called_hidden(self) -> None:
        _, read = past_print(sheet(3.0), one_line(10.0), SCALE)
        _, carried = past_print(sheet(0.0), one_line(10.0), SCALE)
        self.assertLess(read[200:380].mean(), 0.2 * carried[200:380].mean())

    def test_a_figure_in_an_opening_is_table_and_a_shade_on_the_sheet_is_not(self) -> None:
        share = sheet(0.25, wide=0.5)
        share[240:300, 60:110] = 0.25
        share[40:90, 240:300] = 0.25
        found, _ = past_print(share, one_line(10.0, 0.5), SCALE)
        self.assertGreater(float(found[245:295, 65:105].min()), 0.6)
        self.assertLess(float(found[45:85, 245:295].max()), 0.5)

    def test_a_wall_in_a_shadow_is_no_print(self) -> None:
        """From the sheet down between two openings, as open to look at as the line is: print where the sheet above it is
        clear of all shade, sheet where that is on the way to look so."""
        for above, print_ in ((0.0, True), (0.1, False)):
            share = sheet(0.25, wide=0.5)
            share[:150, 200:320] = above
            share[150:390, 250:262] = 0.25
            found = past_print(share, one_line(10.0, 0.5), SCALE)[0][200:380, 252:260]
            self.assertEqual(bool(found.min() > 0.6), print_, above)
            self.assertEqual(bool(found.max() < 0.5), not print_, above)

    def test_a_line_across_an_opening_is_opening_and_one_on_the_sheet_is_not(self) -> None:
        scale = 10.0
        share = np.zeros((300, 300), np.float32)
        share[50:250, 60:200] = 1
        share[:, 100:104] = 0  # a light line across: like plastic
        share[120:124, :] = 0
        places, thin = (np.array([-9.8, 10.2, 30.2]), np.array([-7.8, 12.2, 32.2])), np.full(3, 0.4)
        printed = _grid(places, (thin, thin))
        found = past_print(share, printed, scale)[0]
        self.assertGreater(found[55:245, 65:195].min(), 0.99)
        self.assertLess(found[:40].max(), 0.01)
        self.assertLess(found[:, 210:].max(), 0.01)

    def test_an_edge_goes_on_straight_under_a_line(self) -> None:
        """Under a line that looks like the sheet, from well across it to nearly along it (px along the line)."""
        scale = 10.0
        y, x = np.mgrid[:400, :400].astype(np.float32)
        places = (np.array([-60.0, -20.0, 20.05, 60.0]), np.array([-100.0, -80.0, 90.0, 110.0]))
        printed = _grid(places, (np.full(4, 0.45), np.full(4, 0.45)))
        for angle, most in ((1.2, 0.5), (0.9, 1.5), (0.52, 4.5)):
            slant = np.clip(0.5 + (x - 200) * np.cos(angle) + (y - 200) * np.sin(angle), 0, 1).astype(
                np.float32
            )
            hidden = slant.copy()
            hidden[:, 198:203] = 0
            found = past_print(hidden, printed, scale)[0]
            inner = slice(60, 340)
            off = np.abs(found[inner, 198:203].sum(axis=0) - slant[inner, 198:203].sum(axis=0))
            self.assertLess(float(off.max()), most)
            self.assertEqual(float(np.abs(found[:, :190] - slant[:, :190]).max()), 0.0)
