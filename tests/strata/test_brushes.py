"""Brushes that are owned: which are proposed, how many, and for whom they are kept; and pictures with a profile."""

from __future__ import annotations

import io
import unittest
from dataclasses import replace

import numpy as np
from PIL import Image, ImageCms

from strata.errors import BadValue
from strata.order import dispatch
from strata.order.steps import Sequence
from strata.plan import Scene
from strata.plan.tools import BRUSHES, USUAL_COUNT, Tool, Tools, brush, fitting
from strata.tracing.photo import open_photo
from tests import world


def with_tools(*owned: Tool) -> Scene:
    return replace(world.scene(), tools=Tools(owned))


def cleanings(sequence: Sequence) -> int:
    return sum(s.kind in ("clean", "wipe") for s in sequence.steps)


class OwnedTest(unittest.TestCase):
    def test_with_nothing_written_down_three_of_each(self) -> None:
        tools = Tools()
        self.assertEqual({tools.count(k) for k in BRUSHES}, {USUAL_COUNT})
        self.assertEqual(
            [tools.fitting(w).key for w in (100, 10, 5, 1)], [fitting(w).key for w in (100, 10, 5, 1)]
        )
        self.assertEqual(Tools((Tool("large", 0),)).count("small"), USUAL_COUNT)

    def test_only_what_is_there_is_proposed(self) -> None:
        tools = Tools((Tool("small", 2), Tool("extra-fine", 1), Tool("pouncer", 4), Tool("large", 0)))
        self.assertEqual(tools.fitting(100).key, "small")
        self.assertEqual(tools.fitting(1).key, "extra-fine")
        self.assertEqual(tools.count("large"), 1, "a plan that names it has it from somewhere")
        self.assertEqual(Tools((Tool("pouncer", 1),)).fitting(100).key, "pouncer")
        scene = with_tools(Tool("detail", 2))
        self.assertEqual({scene.brush(p).key for p in scene.plan.passes if p.brush is None}, {"detail"})

    def test_more_brushes_never_mean_more_cleaning(self) -> None:
        few = dispatch(with_tools(*(Tool(k, 1) for k in BRUSHES)))
        many = dispatch(with_tools(*(Tool(k, 12) for k in BRUSHES)))
        self.assertLess(cleanings(many), cleanings(few))
        self.assertLess(many.minutes, few.minutes)
        self.assertEqual(set(few.passes), {p.key for p in world.scene().plan.passes})

    def test_a_kept_brush_serves_its_family_and_leaves_the_others_alone(self) -> None:
        passes = [
            world.a_pass("p1", "leaf", 1, "peach-tin", brush="small"),
            world.a_pass("p2", "disc", 1, "thin-ice", brush="small"),
            world.a_pass("p3", "leaf", 2, "stove-door", brush="small"),
            world.a_pass("p4", "disc", 2, "long-pound", brush="small"),
        ]
        scene = replace(
            world.scene(world.plan_of(*passes), world.two_sheets()), tools=Tools((Tool("small", 1),))
        )
        one = dispatch(scene)
        kept = Tools((Tool("small", 1, "Sluice", "Ember"), Tool("small", 1, "Sluice", "Water blue")))
        two = dispatch(replace(scene, tools=kept))
        self.assertGreater(cleanings(one), 0)
        self.assertEqual(cleanings(two), 0)
        foreign = dispatch(replace(scene, tools=Tools((Tool("small", 1, "Sluice", "Lamp"),))))
        self.assertEqual(
            set(foreign.passes), set(one.passes), "kept for another family, it serves where there is none"
        )

    def test_daubers_and_mistakes(self) -> None:
        self.assertEqual(brush("foam-dome").diameter, 30)
        for wrong in (("broom", 1), ("small", -1), ("small", 900)):
            with self.assertRaises(BadValue):
                Tool(*wrong)


class ProfileTest(unittest.TestCase):
    def photo(self, profile: bytes | None) -> np.ndarray:
        out = io.BytesIO()
        Image.new("RGB", (300, 240), (30, 160, 90)).save(
            out, "PNG", **({"icc_profile": profile} if profile else {})
        )
        return open_photo(out.getvalue())

    def test_colours_are_taken_in_the_space_that_the_file_names(self) -> None:
        plain = self.photo(None)
        srgb = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
        self.assertLessEqual(int(np.abs(self.photo(srgb).astype(int) - plain).max()), 1)
        # the same profile with its red and blue primaries exchanged: colours must follow it
        swapped = srgb.replace(b"rXYZ", b"tmpZ").replace(b"bXYZ", b"rXYZ").replace(b"tmpZ", b"bXYZ")
        seen = self.photo(swapped)[0, 0].astype(int)
        self.assertLess(int(np.abs(seen - np.array([90, 160, 30])).max()), 3)

    def test_a_damaged_profile_is_no_reason_to_refuse(self) -> None:
        np.testing.assert_array_equal(self.photo(b"not a profile"), self.photo(None))
