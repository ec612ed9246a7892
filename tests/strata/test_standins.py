"""Stand-ins: by what a pad does in a build, not by its nearest swatch."""

from __future__ import annotations

import unittest
from functools import cache

import numpy as np

from strata.errors import UnknownName
from strata.optics.colour import difference
from strata.optics.inks import Ink
from strata.optics.stack import Coat, predict
from strata.order import dispatch
from strata.plan import Scene
from strata.plan.model import Pass
from strata.standins import StandIn, stand_ins
from strata.standins.quick import AMOUNTS, Quick
from strata.standins.search import swapped
from strata.tones import Rung, ladders
from tests import world


def ask(scene: Scene, ink: str, candidates: list[str] | None = None, keep: int = 5) -> tuple[StandIn, ...]:
    order = dispatch(scene)
    passes = [p.key for p in scene.plan.passes if p.ink == ink]
    return stand_ins(scene, order, ladders(scene, order), passes, candidates or list(scene.inks), keep)


@cache
def roses() -> tuple[StandIn, ...]:
    return ask(world.scene(), "painted-rose")


class StandInTest(unittest.TestCase):
    def test_the_twin_first_then_two_coats_of_the_paler_pad(self) -> None:
        self.assertEqual(roses()[0].ink, "boat-fair-rose")
        kettle = next(s for s in roses() if s.ink == "coral-kettle")
        self.assertEqual({coats for coats, _ in kettle.amounts.values()}, {2})
        self.assertLess(kettle.difference, 2)
        self.assertIn("the midtone of upper koi", kettle.role)
        self.assertEqual(list(roses()), sorted(roses(), key=lambda s: s.score))

    def test_every_pass_of_the_pad_is_swapped_and_no_other(self) -> None:
        scene = world.scene()
        best = roses()[0]
        plan = swapped(scene.plan, best.ink, best.amounts)
        for old, new in zip(scene.plan.passes, plan.passes, strict=True):
            self.assertEqual(new.ink, best.ink if old.ink == "painted-rose" else old.ink)
            self.assertEqual((old.key, old.form, old.sheet), (new.key, new.form, new.sheet))

    def test_the_difference_is_what_the_ladders_say(self) -> None:
        scene = world.scene()
        found = ask(scene, "thin-ice", ["drizzle", "thin-ice"])
        self.assertEqual([s.ink for s in found], ["drizzle"])
        order = dispatch(scene)
        fresh = scene.with_plan(swapped(scene.plan, "drizzle", found[0].amounts))
        old, new = ladders(scene, order)["water"], ladders(fresh, order)["water"]
        off = [difference(a.places[0].here, b.places[0].here) for a, b in zip(old, new, strict=True)]
        self.assertTrue(min(off) <= found[0].difference <= max(off))

    def test_on_black_a_dye_is_no_stand_in_for_what_hides(self) -> None:
        plan = world.plan_of(world.a_pass("p1", "lantern", 1, "roses-red", coats=2), stock="Black")
        found = ask(
            world.scene(plan),
            "roses-red",
            ["painted-rose", "stove-door", "gate-gold", "whitewash", "castle-green"],
        )
        self.assertIn(found[0].ink, {"gate-gold", "whitewash", "castle-green"})
        dyes = [s for s in found if s.ink in ("painted-rose", "stove-door")]
        self.assertTrue(all(any("hardly show" in t for t in s.troubles) for s in dyes))

    def test_neighbours_must_stay_apart(self) -> None:
        plan = world.plan_of(
            world.a_pass("p1", "leaf", 1, "lily-leaf"), world.a_pass("p2", "disc", 1, "roses-red")
        )
        scene = world.scene(plan, close())
        found = ask(scene, "lily-leaf", ["roses-red", "painted-rose", "castle-green"])
        self.assertEqual(found[0].ink, "castle-green")
        red = next(s for s in found if s.ink == "roses-red")
        self.assertTrue(any("run together" in t for t in red.troubles), red.troubles)

    def test_all_pads_at_once_are_as_one_by_one(self) -> None:
        """Against stacks predicted one after another, where some of the passes lie on others that are swapped with them."""
        scene = world.scene()
        order = dispatch(scene)
        rungs = {r.pass_key: r for climb in ladders(scene, order).values() for r in climb}
        pads = sorted(scene.inks)
        under = {u.pass_key for r in rungs.values() for place in r.places for u in place.under}
        for ink in sorted({p.ink for p in scene.plan.passes}):
            items = [p for p in scene.plan.passes if p.ink == ink and p.key in rungs]
            amounts, offs = Quick(scene, items, rungs, pads).found()
            for i in range(0, len(pads), 5):
                one, chosen = scene.inks[pads[i]], dict[str, tuple[int, str]]()
                sums = np.zeros(2)
                for item in items:
                    each = [
                        self._off(scene, item, rungs[item.key], one, amount, chosen) for amount in AMOUNTS
                    ]
                    chosen[item.key] = AMOUNTS[int(np.argmin(each))]
                    sums += np.array([min(each), 1.0]) * scene.group(item).area
                self.assertEqual(amounts[i], chosen)
                self.assertAlmostEqual(float(offs[i]), sums[0] / sums[1], places=6)
        self.assertTrue(under & {p.key for p in scene.plan.passes}, "something lies on something")

    def _off(
        self,
        scene: Scene,
        item: Pass,
        rung: Rung,
        ink: Ink,
        amount: tuple[int, str],
        chosen: dict[str, tuple[int, str]],
    ) -> float:
        offs, shares = [], []
        for place in rung.places:
            coats = []
            for lies in place.under:
                below = scene.plan.find(lies.pass_key)
                if below.key in chosen:
                    more = lies.coats / scene.thickness(below) * scene.laid_as(below, *chosen[below.key])
                    coats.append(Coat(ink, more, lies.wet))
                else:
                    coats.append(lies.coat(scene.ink_of(below.ink)))
            got = predict(scene.ground(item), [*coats, Coat(ink, scene.laid_as(item, *amount), rung.wet)])
            offs.append(difference(place.here, got))
            shares.append(place.share)
        return float(np.average(offs, weights=shares))

    def test_a_pad_that_is_not_used(self) -> None:
        with self.assertRaises(UnknownName):
            ask(world.scene(), "sloe")


def close() -> object:
    from strata.formats.svg_set import read

    body = """
      <g id="a"><path data-element="leaf" d="M10 10h30v40h-30z"/><path data-element="disc" d="M41 10h30v40h-30z"/></g>"""
    return read(world.drawing(body), "Side by side").layer_set
