"""One contract for all that can be changed: whatever arrives twice is made once, and nobody overrules another unseen."""

from __future__ import annotations

import random
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from threading import Barrier
from typing import Any

from django.contrib.auth import get_user_model
from django.db import connections
from django.test import TransactionTestCase
from rest_framework.test import APIClient

from studio.builds.management.commands.seed_demo import seed
from studio.builds.models import Colouring
from studio.history.contract import MOST_RECEIPTS
from studio.history.models import Receipt
from studio.inks.models import DrawerChange, Ink, Stock, SwatchCard, Tool
from studio.sets.models import LayerSet
from tests.studio.base import StudioTest


class OnceTest(StudioTest):
    """A browser that got no answer sends the same again."""

    def post(self, path: str, **body: Any) -> Any:
        self.ada.__dict__.pop("_house", None)
        return self.client.post(f"/api/{path}", body, format="json")

    def patch(self, path: str, **body: Any) -> Any:
        self.ada.__dict__.pop("_house", None)
        return self.client.patch(f"/api/{path}", body, format="json")

    def test_undo_and_redo_of_a_build(self) -> None:
        own = f"colourings/{self.good.pk}"
        self.edit(self.good, "set_cards", {"cards": 4})
        self.edit(self.good, "set_cards", {"cards": 5})
        for way, head in (("undo", 1), ("redo", 2)):
            self.good.refresh_from_db()
            sent = {"revision": self.good.revision, "edit_key": f"k-{way}"}
            answers = [self.post(f"{own}/{way}", **sent) for _ in range(2)]
            self.assertEqual([a.status_code for a in answers], [200, 200])
            self.assertEqual(answers[0].json()["revision"], answers[1].json()["revision"])
            self.good.refresh_from_db()
            self.assertEqual(self.good.head, head)

    def test_undo_and_redo_of_a_set(self) -> None:
        own = f"sets/{self.koi.pk}"
        made = self.post(
            f"{own}/edits", revision=1, kind="place", values={"sheet": 1, "mirrored": True}, edit_key="m"
        )
        self.assertEqual(made.status_code, 200, made.content)
        again = self.post(
            f"{own}/edits", revision=1, kind="place", values={"sheet": 1, "mirrored": True}, edit_key="m"
        )
        self.assertEqual(again.json()["revision"], made.json()["revision"])
        self.assertEqual(self.koi.changes.count(), 1)
        for way in ("undo", "redo"):
            now = LayerSet.objects.get(pk=self.koi.pk).revision
            answers = [self.post(f"{own}/{way}", revision=now, edit_key=f"k-{way}") for _ in range(2)]
            self.assertEqual([a.status_code for a in answers], [200, 200])
            self.assertEqual(LayerSet.objects.get(pk=self.koi.pk).revision, now + 1)

    def test_two_presses_of_mirror_lose_none_unseen(self) -> None:
        own = f"sets/{self.koi.pk}/edits"
        first = self.post(own, revision=1, kind="place", values={"sheet": 1, "mirrored": True}, edit_key="a")
        second = self.post(own, revision=1, kind="place", values={"sheet": 2, "mirrored": True}, edit_key="b")
        self.assertEqual((first.status_code, second.status_code), (200, 409))
        self.assertIn("laid differently", self.refused(second, 409))
        third = self.post(
            own, revision=second.json()["revision"], kind="place", values={"sheet": 2, "mirrored": True}
        )
        self.assertEqual(third.status_code, 200)
        self.assertEqual(self.koi.changes.count(), 2)

    def test_the_drawer(self) -> None:
        swatch = {"on": {"lab": [95, 0, 2]}, "coats": 1, "lab": [50, 5, 5]}
        body = {"name": "Towpath Mud", "chemistry": "dye", "swatches": [swatch], "edit_key": "ink"}
        answers = [self.post("inks", **body) for _ in range(2)]
        self.assertEqual(answers[0].json()["id"], answers[1].json()["id"])
        self.assertEqual(Ink.objects.filter(owner=self.ada, name="Towpath Mud").count(), 1)
        stock = {"name": "Cream laid", "lab": [92, 1, 8], "edit_key": "card"}
        self.assertEqual(*[self.post("stocks", **stock).json()["id"] for _ in range(2)])
        tool = {"brush": "detail", "count": 2, "edit_key": "tool"}
        self.assertEqual(*[self.post("tools", **tool).json()["id"] for _ in range(2)])
        self.assertEqual(DrawerChange.objects.filter(owner=self.ada).count(), 3)
        now = self.client.get("/api/drawer/history").json()["revision"]
        for _ in range(2):
            self.assertEqual(self.post("drawer/undo", revision=now, edit_key="u").status_code, 200)
        self.assertEqual(DrawerChange.objects.filter(owner=self.ada, undone=True).count(), 1)
        self.refused(self.post("drawer/undo", revision=now, edit_key="another"), 409)

    def test_keys_are_the_makers_own_and_the_things_own(self) -> None:
        self.edit(self.good, "set_cards", {"cards": 4}, edit_key="same")
        self.edit(self.tried, "set_cards", {"cards": 6}, edit_key="same")
        self.tried.refresh_from_db()
        self.assertEqual(self.tried.revision, 2)
        self.assertEqual(Receipt.objects.filter(owner=self.ada, edit_key="same").count(), 2)

    def test_receipts_do_not_pile_up_for_ever(self) -> None:
        rows = (Receipt(owner=self.ada, scope="x", edit_key=f"old{i}") for i in range(MOST_RECEIPTS + 5))
        Receipt.objects.bulk_create(rows)
        self.edit(self.good, "set_cards", {"cards": 4}, edit_key="now")
        self.assertLessEqual(Receipt.objects.filter(owner=self.ada).count(), MOST_RECEIPTS)
        self.assertTrue(Receipt.objects.filter(edit_key="now").exists())


class StaleTest(StudioTest):
    """A dialog left open in another tab does not put older values back."""

    def revision(self) -> int:
        found: int = self.client.get("/api/drawer/history").json()["revision"]
        return found

    def patch(self, path: str, **body: Any) -> Any:
        self.ada.__dict__.pop("_house", None)
        return self.client.patch(f"/api/{path}", body, format="json")

    def test_of_a_pad(self) -> None:
        opened = self.revision()
        self.assertEqual(self.patch(f"inks/{self.ink.pk}", place="attic").status_code, 200)
        late = self.patch(f"inks/{self.ink.pk}", place="cellar", revision=opened)
        self.assertIn("attic", self.refused(late, 409))
        # what nobody else has touched goes through, and the other value stays
        other = self.patch(f"inks/{self.ink.pk}", notes="a good red", revision=opened)
        self.assertEqual(other.status_code, 200)
        self.ink.refresh_from_db()
        self.assertEqual((self.ink.place, self.ink.notes), ("attic", "a good red"))
        # the same value as the other one's is no quarrel
        self.assertEqual(self.patch(f"inks/{self.ink.pk}", place="attic", revision=opened).status_code, 200)

    def test_of_a_card_and_a_brush(self) -> None:
        opened = self.revision()
        stock, tool = Stock.objects.filter(owner=self.ada)[0], Tool.objects.filter(owner=self.ada)[0]
        self.patch(f"stocks/{stock.pk}", weight_gsm=300)
        self.patch(f"tools/{tool.pk}", count=9)
        self.refused(self.patch(f"stocks/{stock.pk}", weight_gsm=250, revision=opened), 409)
        self.refused(self.patch(f"tools/{tool.pk}", count=1, revision=opened), 409)
        stock.refresh_from_db()
        tool.refresh_from_db()
        self.assertEqual((stock.weight_gsm, tool.count), (300, 9))

    def test_an_undo_counts_as_a_change(self) -> None:
        self.patch(f"inks/{self.ink.pk}", place="attic")
        opened = self.revision()
        self.client.post("/api/drawer/undo", {}, format="json")
        self.refused(self.patch(f"inks/{self.ink.pk}", place="cellar", revision=opened), 409)


class AtOnceTest(TransactionTestCase):
    """Two sessions in the same moment."""

    def setUp(self) -> None:
        self.maker = get_user_model().objects.create_user(username="ada")
        seed(self.maker)

    def both(self, *works: Callable[[APIClient], Any]) -> list[Any]:
        gate = Barrier(len(works))

        def alone(work: Callable[[APIClient], Any]) -> Any:
            client = APIClient()
            client.force_authenticate(get_user_model().objects.get(pk=self.maker.pk))
            try:
                gate.wait()
                return work(client)
            finally:
                connections.close_all()

        with ThreadPoolExecutor(len(works)) as pool:
            return list(pool.map(alone, works))

    def test_different_values_of_one_pad_are_both_kept(self) -> None:
        path = f"/api/inks/{Ink.objects.get(key='campion').pk}"
        for turn in range(20):
            answers = self.both(
                lambda api, t=turn: api.patch(path, {"place": f"shelf {t}"}, format="json"),
                lambda api, t=turn: api.patch(path, {"notes": f"note {t}"}, format="json"),
            )
            self.assertEqual([a.status_code for a in answers], [200, 200])
            row = Ink.objects.get(key="campion")
            self.assertEqual((row.place, row.notes), (f"shelf {turn}", f"note {turn}"))

    def test_two_swatch_cards_have_two_codes(self) -> None:
        body = {"stock": "kraft", "fields": [{"passes": [{"ink": "campion", "coats": 1}]}]}
        answers = self.both(*[lambda api: api.post("/api/swatch-cards", body, format="json")] * 4)
        self.assertEqual({a.status_code for a in answers}, {201}, [a.content for a in answers])
        codes = SwatchCard.objects.values_list("code", flat=True)
        self.assertEqual(sorted(codes), [0, 1, 2, 3])

    def test_a_walk_of_two_sessions_over_the_drawer_keeps_every_acknowledged_value(self) -> None:
        rng = random.Random(4)
        inks = list(Ink.objects.filter(owner=self.maker).order_by("pk")[:3])
        wanted: dict[tuple[int, str], str] = {}
        for turn in range(8):
            chosen = rng.sample([(i.pk, f) for i in inks for f in ("place", "notes", "line")], 3)

            def change(api: APIClient, pk: int, field: str, turn: int) -> Any:
                return api.patch(f"/api/inks/{pk}", {field: f"{field} {turn}"}, format="json")

            answers = self.both(*[lambda api, pk=pk, f=f, t=turn: change(api, pk, f, t) for pk, f in chosen])
            for (pk, field), answer in zip(chosen, answers, strict=True):
                self.assertEqual(answer.status_code, 200)
                wanted[pk, field] = f"{field} {turn}"
        for (pk, field), value in wanted.items():
            self.assertEqual(getattr(Ink.objects.get(pk=pk), field), value)

    def test_two_colourings_begun_at_once_are_two(self) -> None:
        first = Colouring.objects.get(build__name__startswith="Thank-you")
        path = f"/api/builds/{first.build_id}/colourings"
        answers = self.both(
            *[lambda api: api.post(path, {"name": "On black", "copy": first.pk}, format="json")] * 2
        )
        self.assertEqual([a.status_code for a in answers], [201, 201], [a.content for a in answers])
        self.assertEqual(Colouring.objects.filter(build=first.build_id).count(), 3)
