"""A pad laid in another place, a card of which something is noted: told at once, and nothing worked out anew for it."""

from __future__ import annotations

import gc
from typing import Any
from unittest.mock import patch

from strata.kept import Kept
from studio.inks.models import Ink, Stock
from studio.inks.services import changed, house
from tests.studio.test_permissions import CALLS, EveryAddress

ELSEWHERE = {"place": "behind the kettle", "notes": "shake it first"}


class MovedTest(EveryAddress):
    def everything(self) -> dict[str, Any]:
        """What every address answers in words, as often as it is asked."""
        found = {}
        for method, address, body, _ in CALLS:
            if address == "house":
                continue  # room on the disk
            if method == "get" or address.endswith(("/try", "/proposals", "recipes")):
                answer = self.call(self.client, method, address, body)
                if answer.headers.get("content-type", "").startswith(
                    ("application/json", "text/", "application/pdf")
                ):
                    found[address] = getattr(answer, "content", b"").decode("latin-1")
        return found

    def move_all(self, values: dict[str, str]) -> None:
        pads = [row.pk for row in Ink.objects.filter(owner=self.ada)]
        sent = {"ids": pads, "values": values}
        self.assertEqual(self.client.patch("/api/inks", sent, format="json").status_code, 200)
        for row in Stock.objects.filter(owner=self.ada):
            answer = self.client.patch(f"/api/stocks/{row.pk}", values, format="json")
            self.assertEqual(answer.status_code, 200, answer.content)

    def test_every_answer_after_a_move_is_as_if_nothing_were_kept(self) -> None:
        before = self.everything()
        self.move_all(ELSEWHERE)
        after = self.everything()
        for kept in [o for o in gc.get_objects() if type(o) is Kept]:
            kept.clear()
        fresh = self.everything()
        self.assertEqual(set(after), set(fresh))
        for address, said in fresh.items():
            self.assertEqual(after[address], said, address)
        told = {address for address, said in after.items() if ELSEWHERE["place"] in said}
        shown = {
            "inks",
            "colourings/{colouring}",
            "colourings/{colouring}/finish",
            "colourings/{colouring}/table",
        }
        self.assertLessEqual(shown | {"colourings/{colouring}/supplies.csv"}, told)
        self.assertFalse(any(ELSEWHERE["place"] in said for said in before.values()))

    def test_a_move_has_no_card_worked_out_anew_and_any_other_change_has(self) -> None:
        path = f"/api/colourings/{self.good.pk}"
        self.client.get(path)
        with patch("studio.builds.looking.scene_of", side_effect=AssertionError("worked out anew")):
            self.move_all(ELSEWHERE)
            self.assertIn(ELSEWHERE["place"], self.client.get(path).content.decode())
        for values in ({"state": "dry"}, {"name": "Campion, the new pad"}, {"pad": "foam"}):
            changed(self.ada)
            before = house(self.ada).stamp
            answer = self.client.patch(f"/api/inks/{self.ink.pk}", values, format="json")
            self.assertEqual(answer.status_code, 200, answer.content)
            changed(self.ada)
            self.assertNotEqual(house(self.ada).stamp, before, values)

    def test_taken_back_it_is_known_again(self) -> None:
        path = f"/api/colourings/{self.good.pk}"
        before = self.client.get(path).json()
        self.client.patch(f"/api/inks/{self.ink.pk}", {"name": "Campion, the new pad"}, format="json")
        self.assertNotEqual(self.client.get(path).json(), before)
        self.client.post("/api/drawer/undo")
        with patch("studio.builds.looking.scene_of", side_effect=AssertionError("worked out anew")):
            self.assertEqual(self.client.get(path).json(), before)

    def test_two_makers_of_the_same_drawer_have_stamps_of_their_own(self) -> None:
        self.assertNotEqual(house(self.ada).stamp, house(self.makers["bo"]).stamp)
