"""The drawer over HTTP: changes that can be undone, many at once, swatches, gaps, an ink opened, tools."""

from __future__ import annotations

import shutil
from collections.abc import Callable
from functools import partial
from typing import Any

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext

from studio.inks import editing, history
from studio.inks.models import DrawerChange, Ink, Stock, Tool
from studio.inks.services import house
from tests.studio.base import StudioTest

SWATCH = {"on": {"lab": [95, 0, 2]}, "coats": 1, "lab": [60, 20, 10]}


class DrawerTest(StudioTest):
    def ask(self, method: str, path: str, body: Any = None, status: int = 200) -> Any:
        # the house is looked up once a request; here one maker makes many
        self.ada.__dict__.pop("_house", None)
        answer = getattr(self.client, method)(f"/api/{path}", body, format="json")
        self.assertEqual(answer.status_code, status, answer.content[:400])
        return answer.json() if answer.content else None

    def says(self, method: str, path: str, body: Any = None, status: int = 400) -> str:
        self.ada.__dict__.pop("_house", None)
        return self.refused(getattr(self.client, method)(f"/api/{path}", body, format="json"), status)


class ChangeTest(DrawerTest):
    def test_every_change_is_undone_and_redone_whole(self) -> None:
        self.assertEqual(self.ask("get", "drawer/history"), {"revision": 2, "undo": None, "redo": None})
        before = Ink.objects.get(pk=self.ink.pk)
        self.ask("patch", f"inks/{self.ink.pk}", {"name": "Red Campion", "place": "desk", "dry_minutes": 9})
        changed = self.ask("get", f"inks/{self.ink.pk}")
        self.assertEqual(
            (changed["name"], changed["place"], changed["dry_minutes"]), ("Red Campion", "desk", 9)
        )
        answer = self.ask("post", "drawer/undo")
        self.assertEqual((answer["undo"], answer["redo"]), (None, "Change Campion"))
        after = Ink.objects.get(pk=self.ink.pk)
        for name in ("name", "place", "dry_minutes", "swatches", "notes", "state"):
            self.assertEqual(getattr(after, name), getattr(before, name))
        self.ask("post", "drawer/redo")
        self.assertEqual(Ink.objects.get(pk=self.ink.pk).name, "Red Campion")

    def test_a_new_pad_undone_is_put_away_and_redone_comes_back(self) -> None:
        made = self.ask("post", "inks", {"name": "New", "chemistry": "dye", "swatches": [SWATCH]}, 201)
        self.ask("post", "drawer/undo")
        self.assertNotIn("New", [i["name"] for i in self.ask("get", "inks")])
        self.ask("post", "drawer/redo")
        self.assertIn(made["id"], [i["id"] for i in self.ask("get", "inks")])

    def test_a_change_after_an_undo_drops_what_was_undone(self) -> None:
        self.ask("patch", f"inks/{self.ink.pk}", {"place": "one"})
        self.ask("post", "drawer/undo")
        self.ask("patch", f"inks/{self.ink.pk}", {"place": "two"})
        self.says("post", "drawer/redo")
        self.ask("post", "drawer/undo")
        self.says("post", "drawer/undo")

    def test_a_change_that_changes_nothing_is_no_step(self) -> None:
        self.ask("patch", f"inks/{self.ink.pk}", {"place": self.ink.place})
        self.assertFalse(DrawerChange.objects.filter(owner=self.ada).exists())

    def test_history_is_ones_own(self) -> None:
        self.ask("patch", f"inks/{self.ink.pk}", {"place": "here"})
        self.client.force_authenticate(self.makers["bo"])
        self.says("post", "drawer/undo")
        self.assertEqual(Ink.objects.get(pk=self.ink.pk).place, "here")

    def test_many_at_once_are_one_step(self) -> None:
        ids = list(Ink.objects.filter(owner=self.ada, line="Towrope").values_list("pk", flat=True))
        self.ask("patch", "inks", {"ids": ids, "values": {"state": "low", "place": "attic"}})
        rows = Ink.objects.filter(pk__in=ids)
        self.assertEqual({(r.state, r.place) for r in rows}, {("low", "attic")})
        self.ask("patch", "inks", {"ids": ids, "values": {}, "away": True})
        self.assertEqual(Ink.objects.filter(pk__in=ids, gone=None).count(), 0)
        self.ask("post", "drawer/undo")
        self.ask("post", "drawer/undo")
        self.assertNotIn("attic", set(Ink.objects.filter(pk__in=ids).values_list("place", flat=True)))

    def test_many_take_no_more_statements_than_a_few(self) -> None:
        alike = Ink.objects.filter(owner=self.ada, chemistry="dye", dry_minutes=None, cleaning="")
        ids = list(alike.values_list("pk", flat=True))
        rows = list(Ink.objects.filter(pk__in=ids))
        asked: dict[int, list[int]] = {}
        # the first has no change before it that was undone, and that is now forgotten
        for many in (2, 3, len(ids)):
            steps: list[Callable[[], object]] = [
                partial(editing.change_inks, self.ada, ids[:many], {"place": f"shelf {many}"}),
                partial(history.undo, self.ada),
                partial(editing.put_away, self.ada, rows[:many], "some"),
                partial(history.undo, self.ada),
            ]
            for step in steps:
                with CaptureQueriesContext(connection) as told:
                    step()
                asked.setdefault(many, []).append(len(told))
        self.assertGreater(len(ids), 3)
        self.assertEqual(asked[3], asked[len(ids)])

    def test_many_at_once_refuses_what_belongs_to_one(self) -> None:
        ids = list(Ink.objects.filter(owner=self.ada).values_list("pk", flat=True)[:3])
        foreign = Ink.objects.filter(owner=self.makers["bo"]).first()
        assert foreign is not None
        for values in ({"name": "All alike"}, {"depth": 2}, {}, {"chemistry": "tea"}, {"state": "half"}):
            self.says("patch", "inks", {"ids": ids, "values": values})
        self.says("patch", "inks", {"ids": [*ids, foreign.pk], "values": {"place": "x"}})
        self.assertEqual(Ink.objects.filter(place="x").count(), 0)

    def test_a_dry_pad_is_in_the_drawer_but_not_at_hand(self) -> None:
        self.ask("patch", f"inks/{self.ink.pk}", {"state": "dry"})
        own = house(self.ada)
        self.assertIn("campion", own.in_drawer)
        self.assertNotIn("campion", own.at_hand)
        recipes = self.ask("post", "recipes", {"stock": "white-smooth", "hex": "#c03060"})["recipes"]
        self.assertNotIn("campion", {p["ink"] for r in recipes for p in r["passes"]})

    def test_minutes_and_cleaning_of_ones_own_reach_the_core(self) -> None:
        self.ask("patch", f"inks/{self.ink.pk}", {"dry_minutes": 30, "cleaning": "alcohol"})
        own = house(self.ada).inks["campion"].chemistry
        self.assertEqual((own.dry_minutes, own.cleaning), (30, "alcohol"))
        self.ask("patch", f"inks/{self.ink.pk}", {"dry_minutes": None, "cleaning": None})
        self.assertEqual(house(self.ada).inks["campion"].chemistry.dry_minutes, 2)


class SwatchTest(DrawerTest):
    def test_a_swatch_on_the_same_card_is_replaced_another_added(self) -> None:
        count = len(self.ink.swatches)
        body = {"stock": "white-smooth", "coats": 1, "lab": [50, 60, 0], "how": "typed"}
        once = self.ask("post", f"inks/{self.ink.pk}/swatches", body)
        self.assertEqual(len(once["swatches"]), count)
        more = self.ask("post", f"inks/{self.ink.pk}/swatches", {**body, "stock": "kraft"})
        self.assertEqual(len(more["swatches"]), count + 1)
        last = more["swatches"][-1]
        self.assertEqual((last["how"], last["lab"]), ("typed", [50, 60, 0]))
        self.assertRegex(last["when"], r"\d{4}-\d\d-\d\d")
        self.ask("delete", f"inks/{self.ink.pk}/swatches/{count}")
        self.says("delete", f"inks/{self.ink.pk}/swatches/99", status=404)
        self.ask("post", "drawer/undo")
        self.assertEqual(len(Ink.objects.get(pk=self.ink.pk).swatches), count + 1)

    def test_the_last_swatch_stays(self) -> None:
        made = self.ask("post", "inks", {"name": "One", "chemistry": "dye", "swatches": [SWATCH]}, 201)
        self.says("delete", f"inks/{made['id']}/swatches/0")

    def test_black_card_replaces_the_estimate(self) -> None:
        body = {"name": "Cream", "chemistry": "pigment", "swatches": [SWATCH]}
        made = self.ask("post", "inks", body, 201)
        self.assertTrue(made["estimated"])
        on_black = {"stock": "black", "coats": 1, "lab": [45, 18, 8], "how": "reader"}
        self.assertFalse(self.ask("post", f"inks/{made['id']}/swatches", on_black)["estimated"])

    def test_colours_that_cannot_be(self) -> None:
        path = f"inks/{self.ink.pk}/swatches"
        good = {"stock": "white-smooth", "coats": 1, "how": "typed"}
        for wrong in (
            {},
            {"lab": [1, 2]},
            {"lab": [50, 0, 0], "hex": "#123456"},
            {"hex": "teal"},
            {"lab": [500, 0, 0]},
        ):
            self.says("post", path, {**good, **wrong})
        self.says("post", path, {**good, "stock": "slate", "lab": [50, 0, 0]}, 404)
        self.says("post", path, {**good, "coats": 40, "lab": [50, 0, 0]})

    def test_the_stand_in_reader(self) -> None:
        shutil.rmtree(settings.READER_DIR, ignore_errors=True)
        body = {"ink": self.ink.pk, "stock": "white-smooth", "coats": 1, "times": 5}
        never = self.ask("post", "reader", body)
        self.assertEqual(len(never["readings"]), 5)
        self.assertTrue(any("white tile" in r for r in never["remarks"]))
        self.ask("post", "reader/tile", status=204)
        fresh = self.ask("post", "reader", body)
        self.assertFalse(any("white tile" in r for r in fresh["remarks"]))
        self.assertLess(fresh["spread"], 1)

    def test_readings_from_a_file_name_what_goes_astray(self) -> None:
        rows = ["50.1 20.2 9.9", "50.0 20.0 10.1", "62.0 12.0 5.0", "49.9 19.8 10.0"]
        lines = [
            "CGATS.17",
            'ORIGINATOR "x"',
            "BEGIN_DATA_FORMAT",
            "SAMPLE_ID LAB_L LAB_A LAB_B",
            "END_DATA_FORMAT",
        ]
        text = "\n".join([*lines, "BEGIN_DATA", *(f"{i} {r}" for i, r in enumerate(rows)), "END_DATA"])
        answer = self.client.post("/api/readings", {"file": SimpleUploadedFile("r.txt", text.encode())})
        found = answer.json()
        self.assertEqual([r["left_out"] for r in found["readings"]], [False, False, True, False])
        self.assertIn("Reading 3", found["remarks"][0])
        bad = self.client.post("/api/readings", {"file": SimpleUploadedFile("r.txt", b"nonsense")})
        self.refused(bad)


class OpenedTest(DrawerTest):
    def test_an_ink_opened(self) -> None:
        ink = Ink.objects.get(owner=self.ada, key="painted-rose")
        seen = self.ask("get", f"inks/{ink.pk}/opened?stock=kraft")
        self.assertEqual(len(seen["cards"]), Stock.objects.filter(owner=self.ada).count())
        white = next(c for c in seen["cards"] if c["stock"] == "white-smooth")
        kraft = next(c for c in seen["cards"] if c["stock"] == "kraft")
        self.assertEqual(white["measured"], [True, True, True])
        self.assertEqual(kraft["measured"], [False, False, False])
        self.assertEqual([k["depth"] for k in seen["family"]], [1, 2, 3, 4])
        self.assertIn("Thank-you by lantern light", [u["name"] for u in seen["used"]])
        self.assertEqual(seen["stands_in"][0]["ink"], "boat-fair-rose")
        self.assertLess(seen["stands_in"][0]["de00"], 1)
        self.assertNotIn("under-the-bridge", [s["ink"] for s in seen["stands_in"]], "it is dry")

    def test_gaps_are_of_the_pads_at_hand(self) -> None:
        found = self.ask("get", "gaps?stock=white-smooth")
        twins = [g for g in found if g["kind"] == "twins"]
        self.assertEqual(set(twins[0]["inks"]), {"painted-rose", "boat-fair-rose"})
        Ink.objects.filter(owner=self.ada, key="boat-fair-rose").update(state="dry")
        Ink.objects.filter(owner=self.ada, family="Duckweed").update(state="dry")
        self.ada.__dict__.pop("_house", None)
        house(self.ada)
        self.ask("patch", f"inks/{self.ink.pk}", {"place": "stamp moves on"})
        again = self.ask("get", "gaps?stock=white-smooth")
        self.assertFalse([g for g in again if g["kind"] == "twins"])
        self.says("get", "gaps?stock=slate", status=404)


class ToolTest(DrawerTest):
    def test_tools_are_kept_changed_and_put_away(self) -> None:
        made = self.ask("post", "tools", {"brush": "pouncer", "count": 2}, 201)
        self.assertEqual((made["label"], made["diameter"]), ("pouncer", 20))
        self.ask("patch", f"tools/{made['id']}", {"count": 4, "line": "Sluice", "family": "Ember"})
        self.assertEqual(Tool.objects.get(pk=made["id"]).count, 4)
        self.says("post", "tools", {"brush": "broom", "count": 2})
        self.says("patch", f"tools/{made['id']}", {"count": 900})
        self.ask("delete", f"tools/{made['id']}", status=204)
        self.assertNotIn(made["id"], [t["id"] for t in self.ask("get", "tools")])
        self.ask("post", "drawer/undo")
        self.assertIn(made["id"], [t["id"] for t in self.ask("get", "tools")])

    def test_the_order_knows_what_brushes_there_are(self) -> None:
        from studio.builds.looking import scene_of

        self.assertGreater(len({t.brush for t in house(self.ada).tools.owned}), 3)
        Tool.objects.filter(owner=self.ada).exclude(brush="detail").delete()
        self.ask("patch", f"inks/{self.ink.pk}", {"place": "stamp moves on"})
        scene = scene_of(self.good)
        self.assertEqual({scene.brush(p).key for p in scene.plan.passes if not p.brush}, {"detail"})

    def test_the_drawer_comes_on_the_first_card_where_none_is_named(self) -> None:
        """What the list of cards has first: who asks for both at once need not wait for it."""
        for _ in range(2):
            first = self.ask("get", "stocks")[0]
            self.assertEqual(self.ask("get", "inks"), self.ask("get", f"inks?stock={first['key']}"))
            self.ask("delete", f"stocks/{first['id']}", status=204)

    def test_stocks_change_and_are_put_away(self) -> None:
        row = Stock.objects.get(owner=self.ada, key="ivory")
        self.ask(
            "patch", f"stocks/{row.pk}", {"name": "Cream laid", "finish": "vellum-finish", "state": "low"}
        )
        self.assertEqual(Stock.objects.get(pk=row.pk).finish, "vellum-finish")
        self.says("patch", f"stocks/{row.pk}", {"weight_gsm": 5})
        self.ask("delete", f"stocks/{row.pk}", status=204)
        shown = self.ask("get", f"inks/{self.ink.pk}/opened")["cards"]
        self.assertNotIn("Cream laid", [c["name"] for c in shown], "put away, it is not in the house")
        self.ask("post", "drawer/undo")
        self.assertIn("Cream laid", [s["name"] for s in self.ask("get", "stocks")])
