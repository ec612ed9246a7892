"""What things are called says nothing of them: other names for parts, passes and pads leave picture, warnings, order and time
as they are; and turned over they are the same from the other side."""

from __future__ import annotations

import unittest
from collections import Counter
from collections.abc import Iterator
from dataclasses import replace

import numpy as np
import shapely
import shapely.affinity
from shapely import Polygon

from strata.order import dispatch
from strata.panel import IMAGE
from strata.picture.shown import panel_after, view
from strata.plan import Form, Plan, Scene
from strata.sheets import LayerSet
from tests import world
from tests.cards import MISTAKES
from tests.strata.test_advice import found
from tests.strata.test_turned import laid


def called(layer_set: LayerSet, names: dict[str, str]) -> LayerSet:
    sheets = tuple(
        replace(
            s,
            name=f"Leaf of plastic {s.number}",
            openings=tuple(replace(o, element=names.get(o.element, o.element)) for o in s.openings),
        )
        for s in layer_set.sheets
    )
    return replace(layer_set, name="Nothing much", sheets=sheets)


def renamed(scene: Scene) -> Scene:
    """The same with other names; those of parts sort as they did, for of two equal ways the first by name is taken."""
    plan = scene.plan
    elements = sorted({o.element for o in scene.sets[IMAGE].openings.values()})
    names = {own: f"q{n:03d}" for n, own in enumerate(elements)}
    passes = tuple(replace(p, key=f"z{p.key}", element=names.get(p.element, p.element)) for p in plan.passes)
    other = replace(
        plan,
        passes=passes,
        schools={names.get(own, own): school for own, school in plan.schools.items()},
        bare=tuple((names.get(own, own), sheet) for own, sheet in plan.bare),
    )
    inks = {key: replace(ink, name=f"Pad {n}") for n, (key, ink) in enumerate(scene.inks.items())}
    sets = {**scene.sets, IMAGE: called(scene.sets[IMAGE], names)}
    return replace(scene, sets=sets, plan=other, inks=inks)


def of_one_image() -> Iterator[tuple[str, Scene]]:
    """Cards with nothing but the picture on them: two of the demo, and every mistake that there is a rule for."""
    for name in ("thank-you-by-lantern-light", "first-try-on-kraft"):
        yield name, world.scene(world.demo_plan(name))
    for code, plans in MISTAKES.items():
        for name, made in plans:
            scene = made()
            if len(scene.plan.things) == 1:
                yield f"{code}, {name}", scene


class NamesTest(unittest.TestCase):
    def test_warnings_order_and_time_are_the_same(self) -> None:
        seen = 0
        for name, scene in of_one_image():
            with self.subTest(name):
                other = renamed(scene)
                before, after = dispatch(scene), dispatch(other)
                self.assertEqual([f"z{p}" for p in before.passes], list(after.passes))
                self.assertAlmostEqual(before.minutes, after.minutes, places=6)
                self.assertEqual([s.kind for s in before.steps], [s.kind for s in after.steps])
                self.assertEqual(
                    Counter((f.code, f.severity) for f in found(scene)),
                    Counter((f.code, f.severity) for f in found(other)),
                )
                seen += 1
        self.assertGreater(seen, 20)

    def test_the_picture_is_the_same(self) -> None:
        for name in ("thank-you-by-lantern-light", "first-try-on-kraft"):
            scene = world.scene(world.demo_plan(name))
            pictures = [
                panel_after(view(own, dispatch(own).wet, 240), None) for own in (scene, renamed(scene))
            ]
            np.testing.assert_array_equal(*pictures)


class OverTest(unittest.TestCase):
    """A stencil turned over, its light coming from the other side, gives the picture turned over."""

    FORMS = (Form(), Form("side", 120, 0.4), Form("edges", extent=0.4), Form("centre", extent=0.5))

    def plan(self, way: int) -> Plan:
        """Every group of the stencil in its turn, ``way`` -1 from the other side."""
        inks = sorted(world.inks())
        passes = []
        for n, (element, sheet) in enumerate(world.koi().groups):
            form = self.FORMS[n % len(self.FORMS)]
            if form.kind == "side" and way < 0:
                form = replace(form, angle=180 - form.angle)
            passes.append(world.a_pass(f"p{n:02d}", element, sheet, inks[(5 * n) % len(inks)], form=form))
        return world.plan_of(*passes)

    def test_the_picture_is_turned_over(self) -> None:
        koi = world.koi()

        def flipped(shape: Polygon) -> Polygon:
            return shapely.affinity.scale(shape, -1, 1, origin=(koi.width / 2, 0))

        pictures = []
        for layer_set, way in ((koi, 1), (laid(koi, flipped), -1)):
            scene = world.scene(self.plan(way), layer_set)
            pictures.append(panel_after(view(scene, dispatch(scene).wet, 260), None).astype(float))
        off = np.abs(pictures[0] - pictures[1][:, ::-1]).max(axis=2)
        # edges fall otherwise on the grid; nothing else may differ
        self.assertLess(float(np.median(off)), 1.0)
        self.assertLess(float((off > 12).mean()), 0.01)
        self.assertGreater(float(pictures[0].std()), 20)
