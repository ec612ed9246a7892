"""The log: a making brought to its end is kept as it was done, found by its words, photographed, made again."""

from __future__ import annotations

import io
from typing import Any
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext
from PIL import Image

from studio.bench import records
from studio.bench.models import Photograph, Record
from studio.builds.history import edit
from studio.builds.models import Build, Colouring
from studio.inks.editing import take_sheets
from studio.inks.models import Ink, Stock
from tests.studio.base import StudioTest
from tests.studio.table import BEGIN, event, left, tell, walk


def picture(width: int = 900, height: int = 700, kind: str = "PNG") -> SimpleUploadedFile:
    file = io.BytesIO()
    Image.new("RGB", (width, height), (180, 60, 40)).save(file, kind)
    return SimpleUploadedFile("card.png", file.getvalue(), "image/png")


class RecordsTest(StudioTest):
    def log(self, words: str = "") -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = self.client.get("/api/records", {"q": words} if words else {}).json()
        return found

    def made(self) -> dict[str, Any]:
        """The build on kraft, made to its end."""
        walk(self.client, self.tried, 10_000)
        return self.log()[0]

    def opened(self, pk: int) -> dict[str, Any]:
        found: dict[str, Any] = self.client.get(f"/api/records/{pk}").json()
        return found

    def test_nothing_is_written_down_before_the_end_and_once_after_it(self) -> None:
        steps = len(self.client.get(f"/api/colourings/{self.tried.pk}/table").json()["steps"])
        walk(self.client, self.tried, steps - 1)
        self.assertEqual(self.log(), [])
        walk(self.client, self.tried, 10)
        found = self.log()
        self.assertEqual(len(found), 1)
        tell(self.client, self.tried, event("note", BEGIN + 1e6, "n1", text="The lantern came out well."))
        self.assertEqual(len(self.log()), 1)
        opened = self.opened(found[0]["id"])
        self.assertEqual([n["sentence"] for n in opened["notes"]], ["The lantern came out well."])
        self.assertEqual(
            len(opened["used"]), len([s for s in self.steps() if s["kind"] == "ink" and s["card"] == 1])
        )
        self.assertTrue(all(s["sentence"] for s in opened["steps"]))

    def test_the_list_reads_no_body_and_is_told_anew_when_more_is_done(self) -> None:
        """Five hundred bodies took a second and a half, at every letter that was looked for."""
        first = self.made()
        with CaptureQueriesContext(connection) as asked:
            self.assertEqual(self.log(), [first])
        self.assertEqual([q for q in asked.captured_queries if '"body"' in q["sql"]], [])
        record = Record.objects.get()
        cards = {**record.body, "cards": 7}
        with patch.object(records, "write_record", return_value=cards):
            tell(self.client, self.tried, event("note", BEGIN + 1e6, "n1", text="Once more."))
        self.assertEqual(self.log(), [{**first, "cards": 7}])

    def test_counted_card_goes_down_once_when_a_card_is_made_and_can_be_taken_back(self) -> None:
        """The good build has a finish: it is cut from kraft and others; only what is counted goes down."""
        finish = self.client.get(f"/api/colourings/{self.good.pk}/finish").json()
        (needed, *others) = [s for s in finish["sheets"] if s["take"]]
        stock = Stock.objects.get(owner=self.ada, key=needed["stock"])
        address = f"/api/stocks/{stock.pk}"
        for wrong in (-1, 10_000, 1.5):
            self.assertEqual(self.client.patch(address, {"sheets": wrong}, format="json").status_code, 400)
        self.assertEqual(self.client.patch(address, {"sheets": 0}, format="json").status_code, 200)
        supplies = self.client.get(f"/api/colourings/{self.good.pk}/finish").json()["supplies"]
        self.assertIn("is short: none in the house", [s["wanting"] for s in supplies if s["kind"] == "stock"])
        self.client.patch(address, {"sheets": needed["take"] + 2}, format="json")
        walk(self.client, self.good, 10_000)
        stock.refresh_from_db()
        self.assertEqual(stock.sheets, 2)
        table = tell(self.client, self.good, event("note", BEGIN + 1e6, "n1", text="Good.")).json()
        self.assertEqual(len(table["taken"]), 1)
        self.assertIn(stock.name, table["taken"][0])
        stock.refresh_from_db()
        self.assertEqual(stock.sheets, 2, "taken once")
        self.assertFalse(Stock.objects.filter(key__in=[s["stock"] for s in others], sheets__isnull=False))
        self.assertEqual(self.opened(self.log()[0]["id"])["taken"], table["taken"])
        self.client.post("/api/drawer/undo", {}, format="json")
        stock.refresh_from_db()
        self.assertEqual(stock.sheets, needed["take"] + 2)

    def test_the_last_sheets_are_used_up(self) -> None:
        stock = Stock.objects.filter(owner=self.ada).first()
        assert stock is not None
        Stock.objects.filter(pk=stock.pk).update(sheets=2)
        self.assertEqual(take_sheets(self.ada, {stock.key: 3, "nothing": 1}, "Cut"), {stock.key: 2})
        stock.refresh_from_db()
        self.assertEqual((stock.sheets, stock.state), (0, "used up"))

    def steps(self) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = self.client.get(f"/api/colourings/{self.tried.pk}/table").json()[
            "steps"
        ]
        return found

    def test_a_log_that_cannot_be_written_does_not_hold_up_the_table(self) -> None:
        with (
            patch.object(records, "keep", side_effect=RuntimeError("the machine went down")),
            self.assertLogs("studio.bench", "ERROR"),
        ):
            table = walk(self.client, self.tried, 10_000)
        self.assertEqual((left(table), self.log()), ([], []))
        # told again, it is written down after all
        tell(self.client, self.tried, event("note", BEGIN + 1e6, "n2", text="Done."))
        self.assertEqual(len(self.log()), 1)

    def test_nothing_is_written_of_cards_that_were_all_spoilt(self) -> None:
        walk(self.client, self.tried, 4)
        for card in range(
            1, len(self.client.get(f"/api/colourings/{self.tried.pk}/table").json()["cards"]) + 1
        ):
            tell(
                self.client,
                self.tried,
                event("spoilt", BEGIN + 1e5 + card, f"s{card}", card=card, fresh=False),
            )
        self.assertEqual(self.log(), [])

    def test_it_is_what_was_done_whatever_changes_later(self) -> None:
        table = walk(self.client, self.tried, 6)
        inked = next(s for s in table["steps"] if s["kind"] == "ink" and s["done"])
        tell(
            self.client,
            self.tried,
            event("otherwise", BEGIN + 1e4, "o1", card=1, **{"pass": inked["pass_key"]}, coats=3),
        )
        while left(self.client.get(f"/api/colourings/{self.tried.pk}/table").json()):
            walk(self.client, self.tried, 10_000)
        (row,) = self.log()
        before = self.opened(row["id"])
        self.assertIn(3, [u["coats"] for u in before["used"]])
        self.assertTrue(any("3 coats" in t["sentence"] for t in before["told"]))
        shown = self.client.get(f"/api/records/{row['id']}/picture").content
        # a pad renamed and measured anew, the build put away: the record stands
        Ink.objects.filter(owner=self.ada).update(name="Another name")
        edit(self.tried, self.tried.revision, "set_stock", {"stock": "black"}, "k")
        self.client.delete(f"/api/builds/{self.tried.build_id}")
        self.assertEqual(self.opened(row["id"]), before)
        self.assertEqual(self.client.get(f"/api/records/{row['id']}/picture").content, shown)

    def test_it_is_found_by_name_pad_stock_set_month_and_person(self) -> None:
        row = self.made()
        address = f"/api/records/{row['id']}"
        told = self.client.patch(
            address, {"person": "Odile at the lock", "note": "Post by Friday"}, format="json"
        )
        self.assertEqual(told.status_code, 200)
        pad = self.opened(row["id"])["used"][0]["name"]
        for words in ("kraft", pad.upper(), "odile", "koi", "november 2023", "friday", f"odile {pad}"):
            self.assertEqual([r["id"] for r in self.log(words)], [row["id"]], words)
        self.assertEqual(self.log("odile zebra"), [])
        self.assertEqual(self.client.patch(address, {"name": " "}, format="json").status_code, 400)
        self.client.delete(address)
        self.assertEqual(self.log(), [])
        self.client.post(f"{address}/back")
        self.assertEqual(len(self.log()), 1)

    def test_photographs_are_drawn_anew_and_refused_in_words(self) -> None:
        row = self.made()
        address = f"/api/records/{row['id']}/photographs"
        kept = self.client.post(address, {"file": picture(3000, 2400)}, format="multipart")
        self.assertEqual(kept.status_code, 201)
        (number,) = kept.json()["photographs"]
        shown = self.client.get(f"{address}/{number}")
        with Image.open(io.BytesIO(shown.content)) as found:
            self.assertEqual((found.format, max(found.size) <= 2000), ("JPEG", True))
        wrong = self.client.post(
            address, {"file": SimpleUploadedFile("x.png", b"no picture")}, format="multipart"
        )
        self.assertEqual((wrong.status_code, bool(wrong.json()["sentence"])), (400, True))
        self.assertEqual(self.client.post(address, {}, format="multipart").status_code, 400)
        self.assertEqual(self.client.delete(f"{address}/{number}").status_code, 204)
        self.assertEqual(Photograph.objects.count(), 0)

    def test_make_again_begins_with_the_card_as_it_was_made(self) -> None:
        row = self.made()
        builds = Build.objects.count()
        again = self.client.post(f"/api/records/{row['id']}/again")
        self.assertEqual((again.status_code, Build.objects.count()), (201, builds + 1))
        made = Colouring.objects.get(pk=again.json()["colouring"])
        state = self.client.get(f"/api/colourings/{made.pk}").json()
        self.assertTrue(state["name"].endswith(", again"))
        self.assertEqual(state["stock"], self.client.get(f"/api/colourings/{self.tried.pk}").json()["stock"])
        self.assertEqual(self.client.get(f"/api/colourings/{made.pk}/table").json()["making"], 1)
        self.tried.build.delete()
        self.assertFalse(self.opened(row["id"])["again"])
        self.assertEqual(self.client.post(f"/api/records/{row['id']}/again").status_code, 400)

    def test_another_making_is_another_record_and_nobody_elses(self) -> None:
        self.made()
        walk(self.client, self.tried, 0, making=2)
        walk(self.client, self.tried, 10_000, making=2)
        self.assertEqual(len(self.log()), 2)
        self.assertEqual(Record.objects.filter(owner=self.ada).count(), 2)
