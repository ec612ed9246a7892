"""What may not grow without end: results kept, rows of a picture, pixels of a photograph, JSON from anywhere."""

import io
import threading
import unittest
from concurrent.futures import ThreadPoolExecutor

import numpy as np
from PIL import Image

from strata import readings
from strata.errors import BadFile, TooLarge
from strata.kept import Kept
from strata.picture.raster import MOST_PIXELS, MOST_ROWS, Raster
from strata.tracing import photo


class KeptTest(unittest.TestCase):
    def kept(self, most: int = 100) -> Kept[str, bytes]:
        return Kept(most, len)

    def test_the_bound_is_bytes_and_the_least_used_go_first(self) -> None:
        kept = self.kept()
        for name in "abc":
            kept.get(name, lambda: b"x" * 30)
        kept.get("a", lambda: self.fail("it is kept"))
        kept.get("d", lambda: b"x" * 30)
        self.assertIsNone(kept.seen("b"))
        self.assertIsNotNone(kept.seen("a"))
        self.assertLessEqual(kept.size, 100)

    def test_what_is_larger_than_all_is_handed_out_and_lets_nothing_go(self) -> None:
        kept = self.kept()
        kept.get("small", lambda: b"x" * 60)
        self.assertEqual(len(kept.get("huge", lambda: b"x" * 1000)), 1000)
        self.assertIsNone(kept.seen("huge"))
        self.assertIsNotNone(kept.seen("small"))

    def test_any_walk_stays_within_its_bound(self) -> None:
        rng = np.random.default_rng(5)
        kept = self.kept(1000)
        for name, size in zip(rng.integers(0, 40, 500), rng.integers(1, 400, 500), strict=True):
            kept.get(str(name), lambda size=size: b"x" * int(size))
            self.assertLessEqual(kept.size, 1000)
            self.assertEqual(kept.size, sum(len(v) for v in kept.values()))

    def test_one_key_is_made_by_one(self) -> None:
        kept, made, gate = self.kept(), [], threading.Event()

        def make() -> bytes:
            made.append(1)
            gate.wait(20)
            return b"x"

        with ThreadPoolExecutor(6) as pool:
            asked = [pool.submit(kept.get, "a", make) for _ in range(6)]
            gate.set()
            self.assertEqual({a.result() for a in asked}, {b"x"})
        self.assertEqual(len(made), 1)

    def test_a_hit_does_not_wait_for_another_keys_making(self) -> None:
        kept, begun, gate = self.kept(), threading.Event(), threading.Event()
        kept.put("ready", b"y")

        def slow() -> bytes:
            begun.set()
            gate.wait(60)
            return b"x"

        with ThreadPoolExecutor(1) as pool:
            making = pool.submit(kept.get, "slow", slow)
            begun.wait(60)
            # would never come back if it waited for the making
            self.assertEqual(kept.get("ready", lambda: b""), b"y")
            self.assertEqual(kept.get("other", lambda: b"z"), b"z")
            gate.set()
            self.assertEqual(making.result(), b"x")

    def test_a_failed_making_fails_for_all_who_wait_and_is_tried_again(self) -> None:
        kept = self.kept()

        def fail() -> bytes:
            raise ZeroDivisionError

        for _ in range(2):
            with self.assertRaises(ZeroDivisionError):
                kept.get("a", fail)
        self.assertEqual(kept.get("a", lambda: b"x"), b"x")


class RasterTest(unittest.TestCase):
    def test_no_panel_asks_for_more_than_a_picture_may_be(self) -> None:
        for width, height in ((5, 2000), (2000, 5), (100, 130), (3000, 3000), (1, 3000), (0.5, 2900)):
            for wanted in (16, 160, 800, 1600, 4000):
                grid = Raster.of(width, height, wanted)
                self.assertLessEqual(grid.height, MOST_ROWS + 1)
                self.assertLessEqual(grid.width * grid.height, MOST_PIXELS * 1.01)
                self.assertLessEqual(grid.width, wanted)
                self.assertAlmostEqual(grid.width / grid.scale, width, delta=1e-6 * width)

    def test_an_ordinary_panel_is_as_wide_as_asked(self) -> None:
        self.assertEqual((Raster.of(100, 130, 1600).width, Raster.of(100, 130, 1600).height), (1600, 2080))


class PhotographTest(unittest.TestCase):
    def shot(self, width: int, height: int, kind: str, turned: bool = False) -> bytes:
        picture = np.full((height, width, 3), 235, np.uint8)
        picture[: height // 2, : width // 2] = (200, 60, 40)
        exif, out = Image.Exif(), io.BytesIO()
        if turned:
            exif[0x112] = 6
        Image.fromarray(picture).save(out, kind, exif=exif)
        return out.getvalue()

    def test_a_large_photograph_is_halved_in_every_format(self) -> None:
        for kind in ("JPEG", "PNG", "TIFF"):
            found = photo.open_photo(self.shot(6400, 4000, kind))
            self.assertEqual(found.shape, (2000, 3200, 3), kind)
            np.testing.assert_allclose(found[900, 1500], (200, 60, 40), atol=3)
            np.testing.assert_allclose(found[900, 1700], 235, atol=3)

    def test_halved_it_is_still_the_right_way_up(self) -> None:
        for kind in ("JPEG", "PNG", "TIFF"):
            found = photo.open_photo(self.shot(6400, 4000, kind, turned=True))
            self.assertEqual(found.shape, (3200, 2000, 3), kind)
            np.testing.assert_allclose(found[1500, 1100], (200, 60, 40), atol=3)

    def test_an_ordinary_one_is_left_as_it_is(self) -> None:
        self.assertEqual(photo.open_photo(self.shot(600, 400, "JPEG")).shape, (400, 600, 3))

    def test_one_that_is_too_large_is_refused_before_it_is_decoded(self) -> None:
        # the head of a file says how large it is; nothing of the rest is looked at
        with self.assertRaises(TooLarge):
            photo.open_photo(self.shot(9000, 8000, "PNG")[:4000])


class JsonTest(unittest.TestCase):
    def test_what_can_be_kept_is_read(self) -> None:
        good = (
            '{"name": "Mot\\u0068 \\ud83e\\udd8b", "big": 1e300, "small": 1e-320, "whole": 9007199254740993}'
        )
        self.assertEqual(readings.parse(good)["name"], "Moth \N{BUTTERFLY}")
        self.assertEqual(readings.parse(good.encode())["whole"], 9007199254740993)

    def test_what_cannot_be_is_one_sentence(self) -> None:
        for text in (
            '["\\ud800"]',
            '{"\\udfff": 1}',
            '{"a": {"b": ["x\\ud800y"]}}',
            '["\\ud83e and \\udd8b"]',
            "[1e999]",
            "[-1e999]",
            "[NaN]",
            "[Infinity]",
            f"[{'9' * 5000}]",
            "[" * 100_000,
            "[" * 100_000 + "]" * 100_000,
            "{",
            "",
        ):
            for given in (text, text.encode()):
                with self.subTest(text[:20]), self.assertRaises(BadFile) as refused:
                    readings.parse(given)
                self.assertTrue(refused.exception.sentence.endswith("."))
        with self.assertRaises(BadFile):
            readings.parse(b'["\xff"]')
        with self.assertRaises(BadFile):
            readings.parse("[" + " " * 200 + "]", 100)
