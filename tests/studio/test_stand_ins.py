"""Stand-ins and recipes in a build, over HTTP."""

from __future__ import annotations

from typing import Any

from studio.builds.looking import plan_of
from studio.inks.models import Ink
from tests.studio.base import StudioTest


class StandInTest(StudioTest):
    def ask(self, **query: str) -> Any:
        self.ada.__dict__.pop("_house", None)
        return self.client.get(f"/api/colourings/{self.good.pk}/stand-ins", query)

    def test_one_button_swaps_it_in_everywhere_and_undo_takes_it_back(self) -> None:
        found = self.ask(ink="painted-rose").json()
        best = found[0]
        self.assertEqual(best["ink"], "boat-fair-rose", "its twin")
        self.assertIn("the midtone of upper koi", best["role"])
        self.assertLess(best["de00"], 1)
        before = [p for p in plan_of(self.good).passes if p.ink == "painted-rose"]
        answer = self.edit(self.good, "replace_ink", best["values"])
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(answer.json()["undo"], "Boat Fair Rose for Painted Rose")
        self.good.refresh_from_db()
        inks = [p.ink for p in plan_of(self.good).passes]
        self.assertEqual((inks.count("painted-rose"), inks.count("boat-fair-rose")), (0, len(before)))
        self.client.post(
            f"/api/colourings/{self.good.pk}/undo", {"revision": answer.json()["revision"]}, format="json"
        )
        self.good.refresh_from_db()
        self.assertEqual([p for p in plan_of(self.good).passes if p.ink == "painted-rose"], before)

    def test_in_one_pass_only(self) -> None:
        one = next(p for p in plan_of(self.good).passes if p.ink == "coral-kettle")
        found = self.ask(ink="coral-kettle", **{"pass": one.key}).json()
        self.assertEqual(list(found[0]["values"]["amounts"]), [one.key])

    def test_dry_pads_are_not_offered_and_unused_ones_have_none(self) -> None:
        Ink.objects.filter(owner=self.ada, key="boat-fair-rose").delete()
        self.assertNotIn("under-the-bridge", [s["ink"] for s in self.ask(ink="lily-leaf").json()])
        self.refused(self.ask(ink="sloe"), 404)
        self.refused(self.ask(ink="no-such"), 404)

    def test_a_dry_pad_shows_in_the_build(self) -> None:
        state = self.client.get(f"/api/colourings/{self.good.pk}").json()
        states = {r["ink"]: r["state"] for e in state["elements"] for r in e["rungs"]}
        self.assertEqual((states["under-the-bridge"], states["willow-tip"]), ("dry", "full"))


class RecipeInBuildTest(StudioTest):
    def test_a_recipe_is_laid_in_the_place_of_a_pass(self) -> None:
        old = next(p for p in plan_of(self.good).passes if p.element == "lantern")
        passes = [{"ink": "lamp-haze", "coats": 2}, {"ink": "campion", "coats": 1}]
        values = {"element": "lantern", "sheet": old.sheet, "passes": passes, "instead": old.key}
        answer = self.edit(self.good, "lay_recipe", values)
        self.assertEqual(answer.status_code, 200, answer.content)
        self.good.refresh_from_db()
        own = plan_of(self.good).of_element("lantern")
        self.assertEqual(
            [(p.ink, p.coats, p.form) for p in own[:2]],
            [("lamp-haze", 2, old.form), ("campion", 1, old.form)],
        )
        self.assertNotIn(old.key, [p.key for p in own])

    def test_on_bare_openings_of_a_fresh_build(self) -> None:
        fresh = self.fresh()
        values = {"element": "lantern", "sheet": 1, "passes": [{"ink": "sloe", "coats": 1}]}
        self.assertEqual(self.edit(fresh, "lay_recipe", values).status_code, 200)
        fresh.refresh_from_db()
        self.assertEqual([p.ink for p in plan_of(fresh).passes], ["sloe"])
        for wrong in (
            {"passes": []},
            {"passes": [{"ink": "no-such"}]},
            {"passes": [{"coats": 1}]},
            {"instead": "p1"},
            {"sheet": 99},
            {"passes": "sloe"},
        ):
            self.assertGreaterEqual(self.edit(fresh, "lay_recipe", {**values, **wrong}).status_code, 400)
