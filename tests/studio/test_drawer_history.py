"""The drawer's way back, over everything that can change it, in any order; and what may not be undone twice."""

from __future__ import annotations

import random
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile

from studio.inks import history
from studio.inks.models import DrawerChange, Ink, Stock, SwatchCard, Tool
from tests.studio.base import StudioTest


class WalkTest(StudioTest):
    def state(self) -> dict[str, Any]:
        """All that is in the drawer, as the history sees it, without what is put away."""
        found = {}
        for model in (Ink, Stock, Tool):
            for row in model.objects.filter(owner=self.ada, gone=None):
                found[f"{model.__name__}:{row.pk}"] = history.snapshot(row)
        return found

    def send(self, method: str, path: str, body: Any = None) -> Any:
        self.ada.__dict__.pop("_house", None)
        return getattr(self.client, method)(f"/api/{path}", body, format="json")

    def some_change(self, rng: random.Random, number: int) -> Any:
        inks = list(Ink.objects.filter(owner=self.ada, gone=None).order_by("pk"))
        ink, other = rng.sample(inks, 2)
        swatch = {"on": {"lab": [95, 0, 2]}, "coats": 1, "lab": [rng.uniform(20, 90), 5, 5]}
        stock = rng.choice(list(Stock.objects.filter(owner=self.ada, gone=None)))
        tool = rng.choice(list(Tool.objects.filter(owner=self.ada, gone=None)))
        changes = [
            ("post", "inks", {"name": f"New {number}", "chemistry": "dye", "swatches": [swatch]}),
            ("patch", f"inks/{ink.pk}", {"place": f"shelf {number}", "dry_minutes": rng.randint(1, 60)}),
            ("patch", "inks", {"ids": [ink.pk, other.pk], "values": {"notes": f"note {number}"}}),
            ("patch", "inks", {"ids": [ink.pk, other.pk], "values": {}, "away": True}),
            ("delete", f"inks/{ink.pk}", None),
            (
                "post",
                f"inks/{ink.pk}/swatches",
                {"stock": stock.key, "coats": 2, "lab": [40, number, 3], "how": "typed"},
            ),
            ("patch", f"stocks/{stock.pk}", {"place": f"drawer {number}"}),
            ("post", "tools", {"brush": "pouncer", "count": number + 1}),
            ("patch", f"tools/{tool.pk}", {"count": number % 9}),
        ]
        return self.send(*rng.choice(changes))

    def test_any_walk_leads_back_and_forth_again(self) -> None:
        for seed in (1, 2):
            rng = random.Random(seed)
            states = [self.state()]
            for number in range(14):
                answer = self.some_change(rng, number)
                self.assertLess(answer.status_code, 300, answer.content)
                if self.state() != states[-1]:
                    states.append(self.state())
            self.assertGreater(len(states), 8)
            for wanted in reversed(states[:-1]):
                self.assertEqual(self.send("post", "drawer/undo").status_code, 200)
                self.assertEqual(self.state(), wanted)
            for wanted in states[1:]:
                self.assertEqual(self.send("post", "drawer/redo").status_code, 200)
                self.assertEqual(self.state(), wanted)
            while DrawerChange.objects.filter(owner=self.ada, undone=False).exists():
                self.send("post", "drawer/undo")

    def test_a_refused_change_leaves_no_step_and_no_half(self) -> None:
        before = self.state()
        ids = [r.pk for r in Ink.objects.filter(owner=self.ada)[:4]]
        for method, path, body in (
            ("patch", f"inks/{self.ink.pk}", {"dry_minutes": -3}),
            ("patch", "inks", {"ids": ids, "values": {"dry_minutes": 99_999}}),
            (
                "post",
                f"inks/{self.ink.pk}/swatches",
                {"stock": "kraft", "coats": 1, "lab": [999, 0, 0], "how": "typed"},
            ),
            ("post", "tools", {"brush": "small", "count": -2}),
            ("post", "stocks", {"name": "Nothing"}),
        ):
            self.refused(self.send(method, path, body))
        self.assertEqual(self.state(), before)
        self.assertFalse(DrawerChange.objects.filter(owner=self.ada).exists())

    def test_of_a_row_only_what_changed_is_kept_and_what_came_later_stays(self) -> None:
        ids = list(Ink.objects.filter(owner=self.ada).values_list("pk", flat=True)[:2])
        self.send("patch", "inks", {"ids": ids, "values": {"place": "by the window"}})
        kept = DrawerChange.objects.filter(owner=self.ada).last()
        assert kept is not None
        self.assertEqual({tuple(sorted(v)) for v in kept.before.values()}, {("gone", "place")})
        self.assertEqual({v["place"] for v in kept.after.values()}, {"by the window"})

    def test_a_change_that_goes_on_keeps_the_oldest_before_and_the_latest_after_value_by_value(self) -> None:
        before, later = {"ink:1": {"place": "a", "gone": False}}, {"ink:1": {"place": "b", "notes": "n"}}
        self.assertEqual(history._over(later, before), {"ink:1": {"place": "a", "notes": "n", "gone": False}})
        self.assertEqual(history._over({"ink:2": {"notes": "x"}}, {"ink:2": None}), {"ink:2": None})
        self.assertEqual(history._over({"ink:3": {"notes": "x"}}, before).keys(), {"ink:1", "ink:3"})

    def test_a_step_of_an_earlier_version_kept_whole_rows_and_leads_back_too(self) -> None:
        row = Ink.objects.filter(owner=self.ada).first()
        assert row is not None
        whole = history.snapshot(row)
        self.send("patch", f"inks/{row.pk}", {"place": "by the window", "notes": "new"})
        row.refresh_from_db()
        DrawerChange.objects.filter(owner=self.ada).update(
            before={f"ink:{row.pk}": whole}, after={f"ink:{row.pk}": history.snapshot(row)}
        )
        self.assertEqual(self.send("post", "drawer/undo").status_code, 200)
        row.refresh_from_db()
        self.assertEqual(history.snapshot(row), whole)

    def test_only_so_many_steps_are_kept(self) -> None:
        most, history.MOST_CHANGES = history.MOST_CHANGES, 5
        try:
            for number in range(9):
                self.send("patch", f"inks/{self.ink.pk}", {"place": f"{number}"})
        finally:
            history.MOST_CHANGES = most
        self.assertEqual(DrawerChange.objects.filter(owner=self.ada).count(), 5)
        for _ in range(5):
            self.send("post", "drawer/undo")
        self.refused(self.send("post", "drawer/undo"))
        self.assertEqual(Ink.objects.get(pk=self.ink.pk).place, "3")

    def test_an_import_of_cards_and_brushes_is_undone_with_its_inks(self) -> None:
        drawer = self.client.get("/api/drawer/out/drawer.json").json()
        drawer["stocks"] = [{"name": "Rust", "lab": [55, 20, 30]}]
        drawer["tools"] = [{"brush": "sponge-wedge", "count": 6}]
        drawer["inks"] = {"brand-new": {**drawer["inks"]["campion"], "name": "Brand new"}}
        import json

        file = SimpleUploadedFile("d.json", json.dumps(drawer).encode())
        before = self.state()
        coming = self.client.post("/api/ink-imports", {"file": file}).json()
        self.assertEqual((coming["new"], coming["stocks"], coming["tools"]), (1, 1, 1))
        kept = self.send("post", f"ink-imports/{coming['id']}/keep").json()
        self.assertEqual((kept["state"], kept["undoable"]), ("kept", True))
        self.assertEqual(len(self.state()), len(before) + 3)
        self.send("post", "drawer/undo")
        self.assertEqual(self.state(), before)

    def test_a_swatch_card_outlives_the_pads_that_are_put_away(self) -> None:
        body = {"stock": "kraft", "fields": [{"passes": [{"ink": "campion", "coats": 1}]}]}
        card = self.send("post", "swatch-cards", body).json()
        self.send("delete", f"inks/{self.ink.pk}")
        shown = self.send("get", f"swatch-cards/{card['id']}").json()
        self.assertEqual(shown["fields"][0]["passes"][0]["ink_id"], None)
        self.assertEqual(self.send("get", f"swatch-cards/{card['id']}/pdf").status_code, 200)
        self.assertEqual(SwatchCard.objects.get(pk=card["id"]).fields[0]["label"], "Campion")
