"""Finishing over HTTP: proposed, decided, undone, held against the maker's own rates, without moving the picture."""

from __future__ import annotations

import csv
import io
from typing import Any

from pypdfium2 import PdfDocument

from studio.builds.history import edit
from studio.builds.looking import key_of, order_key, outlook
from studio.inks.models import Stock
from tests.studio.base import StudioTest
from tests.studio.table import walk


class FinishTest(StudioTest):
    def finish(self, row: Any = None) -> Any:
        answer = self.client.get(f"/api/colourings/{(row or self.tried).pk}/finish")
        self.assertEqual(answer.status_code, 200)
        return answer.json()

    def test_it_is_proposed_and_decided_with_undo_and_the_picture_and_order_stay(self) -> None:
        found = self.finish()
        self.assertFalse(found["decided"])
        self.assertEqual(found["problems"], [])
        before = key_of(self.tried), order_key(self.tried)
        mat = {"stock": "black", "margin": 3.175, "foot": 3.175, "rim": 0.0}
        wanted = {**found["finish"], "way": "card", "mats": [mat]}
        change = edit(self.tried, self.tried.revision, "set_finish", {"finish": wanted}, "k1")
        self.assertTrue(change)
        self.tried.refresh_from_db()
        self.tried.__dict__.pop("_stored", None)
        self.assertEqual((key_of(self.tried), order_key(self.tried)), before)
        after = self.finish()
        self.assertTrue(after["decided"])
        mats = [p for p in after["pieces"] if p["key"] == "mat 1"]
        self.assertAlmostEqual(mats[0]["width"], found["finish"]["width"] - 2 * 3.175, places=3)
        self.assertEqual({p["count"] for p in after["pieces"]}, {after["cards"]})
        # what is said of its thickness knows the mat at once
        self.assertEqual(outlook(self.tried).scene.plan.finish.mats[0].margin, 3.175)  # type: ignore[union-attr]
        self.client.post(
            f"/api/colourings/{self.tried.pk}/undo", {"revision": self.tried.revision}, format="json"
        )
        self.assertFalse(self.finish()["decided"])

    def test_what_cannot_be_is_refused_in_a_sentence_and_changes_nothing(self) -> None:
        found = self.finish()["finish"]
        for wrong in (
            {"fold": "twice"},
            {"base": "no such card"},
            {"width": 3},
            {"mats": [{}]},
            {"alone": True, "foam": 1},
        ):
            answer = self.client.post(
                f"/api/colourings/{self.tried.pk}/edits",
                {
                    "revision": self.tried.revision,
                    "kind": "set_finish",
                    "values": {"finish": {**found, **wrong}},
                },
                format="json",
            )
            self.assertIn(answer.status_code, (400, 404), wrong)
            self.assertTrue(answer.json()["error"]["sentence"] if "error" in answer.json() else answer.json())
        self.assertFalse(self.finish()["decided"])

    def test_a_piece_larger_than_its_sheet_is_said_and_the_rest_shown(self) -> None:
        found = self.finish()["finish"]
        wanted = {**found, "sheets": [[found["base"], "a5", ""]]}
        edit(self.tried, self.tried.revision, "set_finish", {"finish": wanted}, "k2")
        after = self.finish()
        self.assertTrue(any("larger than the sheet" in p for p in after["problems"]))
        self.assertTrue(after["pieces"] and after["thickness"]["total"] > 0)

    def test_own_rates_take_the_place_of_the_invented_ones(self) -> None:
        self.assertTrue(self.finish()["sample_rates"])
        sample = self.client.get("/api/postal-rates").json()
        self.assertTrue(sample["sample"] and all("ample" in r["name"] for r in sample["rates"]))
        rate = {"name": "Thin", "thick": 0.2, "weight": 900, "long": 400, "wide": 300, "price": ""}
        wide = {**rate, "name": "Wide", "thick": 30}
        put = self.client.put("/api/postal-rates", {"rates": [rate, wide]}, format="json")
        self.assertEqual((put.status_code, put.json()["sample"]), (200, False))
        found = self.finish()["rates"]
        self.assertEqual([(r["name"], r["cheapest"]) for r in found], [("Thin", False), ("Wide", True)])
        self.assertIn("mm thick", found[0]["against"][0])
        wrong = self.client.put("/api/postal-rates", {"rates": [{**rate, "weight": -1}]}, format="json")
        self.assertEqual(wrong.status_code, 400)
        self.assertEqual(len(self.client.get("/api/postal-rates").json()["rates"]), 2)
        self.client.put("/api/postal-rates", {"rates": []}, format="json")
        self.assertTrue(self.client.get("/api/postal-rates").json()["sample"])

    def test_the_demo_has_a_finished_card(self) -> None:
        found = self.finish(self.good)
        self.assertTrue(found["decided"])
        self.assertEqual(found["problems"], [])
        self.assertEqual(len([p for p in found["pieces"] if p["key"].startswith("mat")]), 2)
        self.assertEqual(found["shows"]["left"], found["shows"]["below"])

    def test_a_card_that_is_put_away_breaks_nothing(self) -> None:
        mats = {m["stock"] for m in self.finish(self.good)["finish"]["mats"]}
        for stock in Stock.objects.filter(owner=self.ada, key__in=mats):
            self.assertEqual(self.client.delete(f"/api/stocks/{stock.pk}").status_code, 204)
        self.assertEqual({m["stock"] for m in self.finish(self.good)["finish"]["mats"]}, mats)
        self.assertEqual(self.client.get(f"/api/colourings/{self.good.pk}").status_code, 200)

    def test_supplies_say_what_is_wanting_first(self) -> None:
        found = self.finish(self.good)["supplies"]
        self.assertEqual((found[0]["name"], found[0]["wanting"]), ("Under the Bridge", "has run dry"))
        pads = {s["name"] for s in found if s["kind"] == "pad"}
        self.assertEqual(len(pads), len({p["ink"] for p in self.good.changes.get(number=0).plan["passes"]}))
        self.assertIn("x letter", next(s["amount"] for s in found if s["kind"] == "stock"))
        text = self.client.get(f"/api/colourings/{self.good.pk}/supplies.csv").content.decode("utf-8-sig")
        self.assertEqual(len(list(csv.reader(io.StringIO(text)))), 1 + len(found))

    def test_the_plan_prints_in_the_makers_units_and_says_all_steps(self) -> None:
        address = f"/api/colourings/{self.good.pk}/plan.pdf"
        self.client.patch("/api/preferences", {"units": "mm"}, format="json")
        answer = self.client.get(address, {"type": "large", "colour": "no"})
        self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "application/pdf"))
        said = " ".join(
            " ".join(p.get_textpage().get_text_range() for p in PdfDocument(answer.content)).split()
        )
        for wanted in (
            "254 × 158.75 mm",
            "117.475 × 149.225 mm",
            "Pale grey-blue",
            "top tray",
            self.good.build.name,
        ):
            self.assertIn(wanted, said)
        inked = [s for s in outlook(self.good).sequence.steps if s.kind == "ink"]
        missing = [s.sentence for s in inked if s.sentence not in said]
        self.assertEqual(missing, [])
        self.assertEqual(self.client.get(address, {"part": "half"}).status_code, 400)
        self.assertEqual(self.client.get(address, {"part": "true size", "paper": "letter"}).status_code, 200)

    def test_putting_it_together_is_part_of_the_work_if_she_likes(self) -> None:
        where = f"/api/colourings/{self.good.pk}"
        before = self.client.get(f"{where}/order").json()
        self.assertFalse(self.finish(self.good)["at_table"])
        answer = self.client.post(
            f"{where}/edits",
            {
                "revision": self.client.get(where).json()["revision"],
                "kind": "wish_order",
                "values": {"assembly": True},
            },
            format="json",
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertTrue(self.finish(self.good)["at_table"])
        order = self.client.get(f"{where}/order").json()
        self.assertTrue(order["wishes"]["assembly"])
        self.assertGreater(order["minutes"], before["minutes"])
        steps = [s for v in order["visits"] for s in v["steps"]]
        jobs = [s["job"] for s in steps if s["kind"] == "prep"]
        self.assertEqual(jobs[-1].split(":")[0], "finish")
        self.assertIn("finish:cut", jobs)
        table = walk(self.client, self.good, 10_000)
        self.assertFalse([s for s in table["steps"] if not s["done"]], "to the last of it, at the table")
