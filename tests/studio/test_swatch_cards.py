"""Swatch cards over HTTP: laid out, printed, photographed, read, kept, undone."""

from __future__ import annotations

from typing import Any
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile

from studio.inks.cards import card_json
from studio.inks.models import Ink, SwatchCard
from studio.jobs.models import Job
from tests.studio.base import StudioTest


class SwatchCardTest(StudioTest):
    def make(self, fields: list[list[tuple[str, int]]], **values: Any) -> Any:
        self.ada.__dict__.pop("_house", None)
        body = {
            "stock": "white-smooth",
            "fields": [{"passes": [{"ink": k, "coats": c} for k, c in f]} for f in fields],
            **values,
        }
        return self.client.post("/api/swatch-cards", body, format="json")

    def photograph(self, pk: int, data: bytes, **more: Any) -> Any:
        self.ada.__dict__.pop("_house", None)
        return self.client.post(
            f"/api/swatch-cards/{pk}/photograph", {"file": SimpleUploadedFile("p.jpg", data), **more}
        )

    def test_from_print_to_swatch(self) -> None:
        keys = ["campion", "thin-ice", "lily-leaf", "cabin-lamp", "stove-door", "sloe"]
        card = self.make(
            [*[[(k, 1)] for k in keys], [("lamp-haze", 1), ("weir-water", 2)]], paper="letter"
        ).json()
        self.assertEqual((card["number"], len(card["fields"])), (1, 7))
        self.assertTrue(all(f["known"] for f in card["fields"][:6]))
        self.assertFalse(card["fields"][6]["known"])
        pdf = self.client.get(f"/api/swatch-cards/{card['id']}/pdf")
        self.assertTrue(pdf.content.startswith(b"%PDF"))
        photo = self.client.get(f"/api/swatch-cards/{card['id']}/sample?seed=5").content
        read = self.photograph(card["id"], photo, trusted="0,1,2,3").json()
        self.assertEqual(read["light"]["known"], 4)
        for field in read["fields"]:
            self.assertLess(field["read"]["de00"], 5, field["label"])
        self.assertEqual(Ink.objects.get(pk=self.ink.pk).swatches, self.ink.swatches, "nothing is kept yet")
        kept = self.client.post(
            f"/api/swatch-cards/{card['id']}/keep", {"keep": [0, 5]}, format="json"
        ).json()
        self.assertEqual([f["kept"] for f in kept["fields"]], [True, False, False, False, False, True, False])
        swatch = next(s for s in Ink.objects.get(pk=self.ink.pk).swatches if s.get("how") == "swatch card")
        self.assertEqual(swatch["lab"], read["fields"][0]["read"]["colour"]["lab"])
        self.assertEqual(len(Ink.objects.get(pk=self.ink.pk).swatches), len(self.ink.swatches))
        self.client.post("/api/drawer/undo")
        self.assertEqual(Ink.objects.get(pk=self.ink.pk).swatches, self.ink.swatches)
        self.refused(self.client.post(f"/api/swatch-cards/{card['id']}/keep", {"keep": [6]}, format="json"))
        self.refused(self.client.post(f"/api/swatch-cards/{card['id']}/keep", {"keep": [99]}, format="json"))

    def test_a_reading_that_ends_while_the_answer_is_made_is_not_told_as_ended_without_what_it_read(
        self,
    ) -> None:
        """Else nobody would ask again."""
        card = self.make([[("campion", 1)]]).json()["id"]
        owner = SwatchCard.objects.get(pk=card).owner
        begun = Job.objects.create(owner=owner, kind="card", subject=card, state="running")
        SwatchCard.objects.filter(pk=card).update(job=begun)

        def ends(row: SwatchCard) -> Any:
            Job.objects.filter(pk=begun.pk).update(state="done")
            return card_json(row)

        with patch("studio.inks.card_views.cards.card_json", ends):
            told = self.client.get(f"/api/swatch-cards/{card}").json()
        self.assertEqual(told["job"]["state"], "running")

    def test_another_card_is_said_to_be_another(self) -> None:
        first = self.make([[("campion", 1)], [("sloe", 2)]]).json()
        second = self.make([[("campion", 1)]]).json()
        self.assertEqual(second["number"], 2)
        photo = self.client.get(f"/api/swatch-cards/{first['id']}/sample").content
        job = self.photograph(second["id"], photo).json()["job"]
        self.assertEqual((job["state"], job["field"]), ("failed", "wrong_card"))
        self.assertIn("This is card 1, not card 2", job["sentence"])
        self.assertIsNone(SwatchCard.objects.get(pk=second["id"]).reading)

    def test_refusals(self) -> None:
        self.refused(self.make([]))
        self.refused(self.make([[]]))
        self.refused(self.make([[("campion", 9)]]))
        self.refused(self.make([[("no-such", 1)]]), 404)
        self.refused(self.make([[("campion", 1)]], stock="slate"), 404)
        self.refused(self.make([[("campion", 1)]], paper="A3"))
        self.refused(self.make([[("campion", 1)]] * 49), 413)
        card = self.make([[("campion", 1)]]).json()
        self.refused(self.client.post(f"/api/swatch-cards/{card['id']}/keep", {"keep": [0]}, format="json"))
        job = self.photograph(card["id"], b"not a picture").json()["job"]
        self.assertEqual(job["state"], "failed")
        self.assertIn("not a picture", job["sentence"])
        self.refused(self.client.post(f"/api/swatch-cards/{card['id']}/photograph"))
        self.refused(self.photograph(card["id"], b"x", trusted="one"))
        self.refused(self.client.get(f"/api/swatch-cards/{card['id']}/sample?seed=x"))

    def test_cards_are_put_away_and_their_numbers_free_again(self) -> None:
        card = self.make([[("campion", 1)]]).json()
        self.client.delete(f"/api/swatch-cards/{card['id']}")
        self.assertEqual(self.client.get("/api/swatch-cards").json(), [])
        self.assertEqual(self.make([[("campion", 1)]]).json()["number"], 1)
