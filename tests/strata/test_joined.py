"""Several photographs of one sheet read as one: what one hides the others show."""

from __future__ import annotations

import unittest
from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray
from shapely import Polygon

from strata.camera import Shot, jpeg, photograph
from strata.camera.nuisance import finger, glare, shadow
from strata.errors import NotTheSame
from strata.tracing import trace
from strata.tracing.joined import joined, way_onto
from strata.tracing.openness import Seen
from strata.tracing.trace import Traced
from tests import world

Rgb = NDArray[np.uint8]
KOI = world.koi()
SHAPES = [*(o.polygon for o in KOI.sheet(1).openings), *KOI.sheet(1).marks]
GREEN = (0.03, 0.14, 0.10)


def taken(seed: int, after: Callable[[Rgb], Rgb] | None = None, sheet: int = 1, **values: Any) -> bytes:
    own = KOI.sheet(sheet)
    shapes = [*(o.polygon for o in own.openings), *own.marks]
    shot = Shot(width=1300, height=1650, tilt_x=0.08, fills=0.8, noise=0.01, seed=seed, **values)
    seen = photograph(shapes, KOI.width, KOI.height, shot)
    return jpeg(seen if after is None else after(seen), 85)


def read(one: bytes, *others: bytes) -> Traced:
    return trace(one, KOI.width, KOI.height, others=others)


def overlap(found: Traced, shapes: list[Polygon] = SHAPES) -> float:
    """The least overlap that any true opening has with a found one."""
    return min(
        max(
            (p.intersection(s).area / p.union(s).area for p in found.openings if p.intersects(s)), default=0.0
        )
        for s in shapes
    )


class JoinedTest(unittest.TestCase):
    def test_a_glint_a_finger_and_a_shadow_hide_nothing_from_two(self) -> None:
        spoils: list[tuple[str, Callable[[Rgb], Rgb], Callable[[Rgb], Rgb]]] = [
            ("glints", lambda p: glare(p, [(0.42, 0.59, 0.06)]), lambda p: glare(p, [(0.6, 0.75, 0.05)])),
            ("fingers", lambda p: finger(p, (0.16, 0.45)), lambda p: finger(p, (0.84, 0.55))),
            (
                "shadows",
                lambda p: shadow(p, [(0.3, 0.2), (0.68, 0.24), (0.62, 0.86), (0.26, 0.8)]),
                lambda p: shadow(p, [(0.05, 0.1), (0.25, 0.1), (0.2, 0.5), (0.04, 0.5)]),
            ),
        ]
        for name, one, two in spoils:
            with self.subTest(name):
                first, second = taken(1, one), taken(2, two, roll=0.05, shift=(0.02, -0.01))
                if name != "shadows":
                    self.assertLess(overlap(read(first)), 0.9, "alone it is spoilt")
                found = read(first, second)
                self.assertGreater(overlap(found), 0.92)
                self.assertEqual(len(found.openings), len(SHAPES), "nothing invented")
                # where a shadow's edge ran, light is less even
                self.assertLessEqual(sum(found.doubtful), 4 if name == "shadows" else 0)
                self.assertEqual(found.places, ())

    def test_however_the_sheet_lies_on_the_second(self) -> None:
        spoilt = taken(1, lambda p: glare(p, [(0.42, 0.59, 0.06)]))
        turned = taken(2, roll=3.13)
        over = np.asarray(taken_picture(3))[:, ::-1]
        for name, second in (("half round", turned), ("turned over", jpeg(np.ascontiguousarray(over), 85))):
            with self.subTest(name):
                found = read(spoilt, second)
                self.assertGreater(overlap(found), 0.95)
                self.assertEqual(len(found.openings), len(SHAPES))

    def test_lines_of_a_mat_lie_elsewhere_on_the_second(self) -> None:
        lies = {"table": GREEN, "plastic": (0.75, 0.75, 0.74), "grid": 10.0}
        one, two = taken(1, **lies), taken(2, roll=0.06, shift=(0.03, -0.02), **lies)
        alone, both = read(one), read(one, two)
        self.assertGreater(overlap(both), overlap(alone) + 0.02)
        self.assertLessEqual(sum(both.doubtful), sum(alone.doubtful))
        self.assertIn("lies on a mat", " ".join(alone.warnings))
        self.assertNotIn("lies on a mat", " ".join(both.warnings))

    def test_two_clear_ones_are_as_good_as_one(self) -> None:
        one, two = taken(1), taken(2, roll=-0.07)
        alone = [overlap(read(one)), overlap(read(two))]
        self.assertGreater(overlap(read(one, two)), sum(alone) / 2 - 0.003)

    def test_another_sheet_is_refused(self) -> None:
        with self.assertRaises(NotTheSame) as refused:
            read(taken(1), taken(2, sheet=3))
        self.assertIn("Photograph 2 of it", refused.exception.sentence)

    def test_a_contradiction_of_clear_ones_is_left_open(self) -> None:
        """On a light sheet a sharp thing that one sees and the other does not may be either: it is doubtful."""
        size = (400, 300)
        one, two = np.zeros(size, np.float32), np.zeros(size, np.float32)
        one[100:160, 100:160] = 1
        dark, light = np.full((10, 10), -1, np.float32), np.full((10, 10), 1, np.float32)
        for contrast, expected in ((dark, 0.5), (light, 1.0)):
            seen = [Seen(s.copy(), 1.0, False, False, contrast) for s in (one, two)]
            self.assertAlmostEqual(float(joined(seen, 4.0).share[130, 130]), expected, places=2)

    def test_laid_to_a_fraction_of_a_pixel(self) -> None:
        """Against a shift that is known."""
        import cv2

        plane = np.zeros((700, 540), np.float32)
        rng = np.random.default_rng(4)
        for _ in range(60):
            x, y = rng.integers(30, 500), rng.integers(30, 660)
            cv2.circle(plane, (int(x), int(y)), int(rng.integers(5, 22)), 1.0, -1, cv2.LINE_AA)
        known = np.array([[1.002, 0.001, 2.4], [-0.001, 0.999, -1.7]], np.float32)
        other = cv2.warpAffine(plane, known, plane.shape[1::-1])
        flat = np.ones((10, 10), np.float32)
        two = Seen(np.ascontiguousarray(np.rot90(other, 2)), 1.0, False, False, flat)
        way = way_onto(Seen(plane, 1.0, False, False, flat), two, 5.0)
        self.assertEqual(way.turned, (2, False))
        places = np.array([[100.0, 100], [400, 100], [400, 600], [100, 600]])
        seen = cv2.perspectiveTransform(places[None], way.fit)[0]
        self.assertLess(float(np.abs(seen - (places @ known[:, :2].T + known[:, 2])).max()), 0.15)


def taken_picture(seed: int) -> Any:
    import io

    from PIL import Image

    return Image.open(io.BytesIO(taken(seed)))


if __name__ == "__main__":
    unittest.main()
