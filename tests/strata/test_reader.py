"""The colour reader: averaging, what goes astray, CGATS text, and the stand-in as a process."""

from __future__ import annotations

import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

import numpy as np

from strata.errors import BadFile, BadValue, StrataError
from strata.formats.reader_text import read_readings, write_readings
from strata.optics.averaging import averaged
from strata.optics.colour import difference
from strata.reader import Device
from strata.reader.device import DRIFT

TRUE = (52.0, -30.0, 28.0)


class AveragingTest(unittest.TestCase):
    def test_noise_is_averaged_out(self) -> None:
        rng = np.random.default_rng(4)
        labs = [tuple(float(v) for v in np.array(TRUE) + rng.normal(0, 0.3, 3)) for _ in range(40)]
        found = averaged(labs)  # type: ignore[arg-type]
        self.assertLess(difference(found.lab, TRUE), 0.15)
        self.assertEqual(found.left_out, ())
        self.assertEqual(len(found.off), 40)

    def test_what_goes_astray_is_named_and_left_out(self) -> None:
        labs = [
            (52.1, -30.0, 28.0),
            (51.9, -30.2, 28.1),
            (70.0, -10.0, 9.0),
            (52.0, -29.9, 27.9),
            (60.0, -22.0, 20.0),
        ]
        found = averaged(labs)
        self.assertEqual(found.left_out, (2, 4))
        self.assertLess(difference(found.lab, TRUE), 0.2)
        self.assertIn("Reading 3", found.remarks[0])

    def test_few_readings_say_so(self) -> None:
        self.assertIn("One reading only", averaged([TRUE]).remarks[0])
        apart = averaged([TRUE, (58.0, -30.0, 28.0)])
        self.assertIn("take a third", apart.remarks[0])
        self.assertEqual(averaged([TRUE, TRUE]).remarks, ())
        blotchy = averaged([(48.0, -30, 28), (52.0, -24, 20), (56.0, -34, 33), (50, -38, 20), (54, -24, 34)])
        self.assertIn("blotchy", blotchy.remarks[-1])
        with self.assertRaises(BadValue):
            averaged([])
        with self.assertRaises(BadValue):
            averaged([TRUE] * 500)


class DeviceTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)
        self.device = Device(Path(self.folder.name) / "deep" / "memory.json")

    def test_it_drifts_until_it_sees_its_tile(self) -> None:
        self.device.calibrate(now=0.0)
        fresh = averaged([r.lab for r in read_readings(self.device.read(TRUE, 20, 1, now=60.0)).readings])
        late = averaged(
            [r.lab for r in read_readings(self.device.read(TRUE, 20, 1, now=6 * 3600.0)).readings]
        )
        self.assertLess(difference(fresh.lab, TRUE), 0.2)
        self.assertAlmostEqual(late.lab[0] - fresh.lab[0], 6 * DRIFT[0], delta=0.3)
        self.assertEqual(Device(Path("/nowhere/at/all.json")).minutes(), 24 * 60)
        self.device.memory.write_text("{")
        with self.assertRaises(BadFile):
            self.device.minutes()

    def test_now_and_then_it_slips_and_the_mean_does_not(self) -> None:
        self.device.calibrate()
        slips = 0
        for seed in range(12):
            found = averaged([r.lab for r in read_readings(self.device.read(TRUE, 7, seed)).readings])
            slips += len(found.left_out)
            self.assertLess(difference(found.lab, TRUE), 0.6)
        self.assertGreater(slips, 1)

    def test_the_process_speaks_cgats(self) -> None:
        command = [sys.executable, "-m", "strata.reader", "--memory", str(self.device.memory)]
        subprocess.run([*command, "tile"], check=True)
        read = [*command, "read", "--times", "3", "--seed", "5", "--", *map(str, TRUE)]
        first, again = (subprocess.run(read, capture_output=True, check=True).stdout for _ in range(2))
        self.assertEqual(first, again)
        found = read_readings(first)
        self.assertEqual(len(found.readings), 3)
        self.assertEqual(found.header["MINUTES_SINCE_TILE"], "0")
        wrong = subprocess.run([*command, "read", "--", "900", "0", "0"], capture_output=True, check=False)
        self.assertEqual(wrong.returncode, 1)
        self.assertIn(b"must lie between", wrong.stderr)


class TextTest(unittest.TestCase):
    def test_readings_come_back(self) -> None:
        text = write_readings([TRUE, (10, 0, 0)], {"INSTRUMENTATION": "x", "OBSERVER": "2"})
        found = read_readings(text)
        self.assertEqual([r.lab for r in found.readings], [TRUE, (10.0, 0.0, 0.0)])

    def test_another_light_and_rows_without_colour_are_refused(self) -> None:
        for header in ({"OBSERVER": "10"}, {"ILLUMINATION_NAME": "D65"}):
            with self.assertRaises(BadFile):
                read_readings(write_readings([TRUE], header))
        for text in (
            b"",
            b"CGATS.17\n",
            b"BEGIN_DATA_FORMAT\nSAMPLE_ID\nEND_DATA_FORMAT\nBEGIN_DATA\n1\nEND_DATA\n",
        ):
            with self.assertRaises(StrataError):
                read_readings(text)
