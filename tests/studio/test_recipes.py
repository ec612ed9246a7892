"""Recipes over HTTP: from the maker's own pads, with filters, in words."""

from __future__ import annotations

from typing import Any

from studio.inks.models import Ink
from tests.studio.base import StudioTest


class RecipeTest(StudioTest):
    def ask(self, **values: Any) -> Any:
        # the house is looked up once a request; here one maker makes many
        self.ada.__dict__.pop("_house", None)
        return self.client.post("/api/recipes", {"stock": "white-smooth", **values}, format="json")

    def found(self, **values: Any) -> list[dict[str, Any]]:
        answer = self.ask(**values)
        self.assertEqual(answer.status_code, 200, answer.content)
        recipes: list[dict[str, Any]] = answer.json()["recipes"]
        return recipes

    def test_one_two_and_three_pads_each_with_distinct_ones(self) -> None:
        recipes = self.found(lab=[52, -30, 28])
        self.assertEqual({len(r["passes"]) for r in recipes}, {1, 2, 3})
        self.assertEqual(recipes, sorted(recipes, key=lambda r: r["de00"]))
        self.assertEqual(
            len({frozenset((p["ink"], p["coats"]) for p in r["passes"]) for r in recipes}), len(recipes)
        )
        for item in recipes:
            self.assertEqual(len({p["ink"] for p in item["passes"]}), item["pads"])
            self.assertEqual(item["passes"][-1]["after"]["hex"], item["colour"]["hex"])
            self.assertTrue(item["words"])

    def test_an_ink_of_ones_own_is_its_own_recipe(self) -> None:
        from studio.inks.services import house

        self.ada.__dict__.pop("_house", None)
        lab = next(s.lab for s in house(self.ada).inks["campion"].swatches if s.coats == 1)
        best = self.found(lab=list(lab))[0]
        self.assertLess(best["de00"], 1)

    def test_filters(self) -> None:
        only = self.found(hex="#3060a0", chemistry="dye", max_pads=2)
        kinds = dict(Ink.objects.filter(owner=self.ada).values_list("key", "chemistry"))
        self.assertEqual({kinds[p["ink"]] for r in only for p in r["passes"]}, {"dye"})
        best = only[0]["passes"][0]["ink"]
        without = self.found(hex="#3060a0", without=[best])
        self.assertNotIn(best, {p["ink"] for r in without for p in r["passes"]})
        self.assertEqual(
            {p["coats"] for r in self.found(hex="#3060a0", max_coats=1) for p in r["passes"]}, {1}
        )

    def test_a_pad_put_away_is_not_offered(self) -> None:
        self.client.delete(f"/api/inks/{self.ink.pk}")
        self.assertNotIn("campion", {p["ink"] for r in self.found(hex="#c03060") for p in r["passes"]})

    def test_refusals(self) -> None:
        self.refused(self.ask())
        self.refused(self.ask(hex="red"))
        self.refused(self.ask(lab=[1, 2]))
        self.refused(self.ask(hex="#102030", stock="slate"), 404)
        self.refused(self.ask(hex="#102030", line="No such line"))
        self.refused(self.ask(hex="#102030", max_pads=4))
