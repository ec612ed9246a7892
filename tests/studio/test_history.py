"""A long history, schools, forms and brushes over HTTP; answers that must agree with one another."""

from __future__ import annotations

from unittest.mock import patch

from studio.builds import history
from tests.studio.base import StudioTest


class HistoryTest(StudioTest):
    def test_a_long_history_is_cut_at_its_beginning_only(self) -> None:
        build = self.fresh()
        with patch.object(history, "MOST_CHANGES", 10):
            for n in range(2, 30):
                self.assertEqual(self.edit(build, "set_cards", {"cards": n}).status_code, 200)
        build.refresh_from_db()
        self.assertLessEqual(build.changes.count(), 11)
        undone = 0
        while True:
            build.refresh_from_db()
            answer = self.client.post(
                f"/api/colourings/{build.pk}/undo", {"revision": build.revision}, format="json"
            )
            if answer.status_code != 200:
                break
            undone += 1
        self.assertIn("nothing to undo", self.refused(answer))
        self.assertTrue(8 <= undone <= 10)

    def test_undo_says_what_it_would_undo(self) -> None:
        build = self.fresh()
        for kind, values, label in (
            (
                "add_pass",
                {"pass": "a", "element": "water", "sheet": 1, "ink": "thin-ice"},
                "Give Thin Ice to water",
            ),
            ("set_form", {"pass": "a", "form": {"kind": "side"}}, "Shade water"),
            ("set_brush", {"pass": "a", "brush": "small"}, "Brush for water"),
            ("set_hand", {"pass": "a", "hand": "heavy"}, "A heavy hand on water"),
            ("set_register", {"register": "eye"}, "Change how sheets are aligned"),
            ("set_stock", {"stock": "black"}, "On Black"),
            ("set_cards", {"cards": 12}, "12 cards"),
            ("remove_pass", {"pass": "a"}, "Take Thin Ice off water"),
        ):
            head = self.edit(build, kind, values).json()
            self.assertEqual(head["undo"], label)

    def test_quick_changes_of_a_form_add_up(self) -> None:
        build = self.fresh()
        self.edit(build, "add_pass", {"pass": "a", "element": "lantern", "sheet": 1, "ink": "lamp-haze"})
        for part in ({"kind": "side"}, {"angle": 200}, {"extent": 0.3}, {"span": "opening"}):
            self.edit(build, "set_form", {"pass": "a", "form": part})
        state = self.client.get(f"/api/colourings/{build.pk}").json()
        rung = next(r for e in state["elements"] for r in e["rungs"])
        self.assertEqual(
            rung["form"],
            {
                "kind": "side",
                "angle": 200,
                "extent": 0.3,
                "place": 0.5,
                "span": "opening",
                "soft": None,
                "join": False,
            },
        )

    def test_a_school_arranges_an_element(self) -> None:
        self.edit(self.good, "set_school", {"element": "water", "school": "deep first"})
        state = self.client.get(f"/api/colourings/{self.good.pk}").json()
        water = next(e for e in state["elements"] if e["name"] == "water")
        self.assertEqual(water["school"], "deep first")
        self.assertEqual([r["ink"] for r in water["rungs"]][:2], ["weir-water", "thin-ice"])

    def test_home_state_and_table_agree(self) -> None:
        cards = {b["id"]: b for b in self.client.get("/api/builds").json()}
        for build in (self.good, self.tried):
            state = self.client.get(f"/api/colourings/{build.pk}").json()
            card = cards[build.build_id]
            self.assertEqual(card["pass_count"], len(state["sequence"]["passes"]))
            self.assertEqual(card["step_count"], len(state["sequence"]["steps"]))
            # what she left as it is counts no more
            left = [f for f in state["findings"] if f["severity"] != "note" and not f["left"]]
            self.assertEqual(card["warnings"], len(left))
            self.assertEqual(card["picture_key"], state["picture_key"])
            self.assertAlmostEqual(card["minutes"], state["sequence"]["minutes"], places=1)

    def test_lighter_and_deeper_are_the_neighbours_in_the_family(self) -> None:
        state = self.client.get(f"/api/colourings/{self.good.pk}").json()
        rungs = {r["ink"]: r for e in state["elements"] for r in e["rungs"]}
        self.assertEqual(
            (rungs["weir-water"]["lighter"], rungs["weir-water"]["deeper"]), ("Thin Ice", "Long Pound")
        )
        self.assertEqual((rungs["thin-ice"]["lighter"], rungs["gate-gold"]["deeper"]), (None, None))

    def test_a_set_tells_where_everything_is(self) -> None:
        found = self.client.get(f"/api/sets/{self.koi.pk}").json()
        self.assertEqual([s["number"] for s in found["sheets"]], [1, 2, 3, 4, 5])
        for sheet in found["sheets"]:
            self.assertEqual(sheet["openings"], sum(g["openings"] for g in sheet["groups"]))
            for group in sheet["groups"]:
                x0, y0, x1, y1 = group["box"]
                self.assertTrue(0 < x0 < x1 < found["width_mm"] and 0 < y0 < y1 < found["height_mm"])
                self.assertTrue(group["outline"].startswith("M") and group["area_mm2"] > 0)
        over = self.client.get(f"/api/sets/{self.koi.pk}/measures").json()["overlaps"]
        self.assertTrue(over)
        self.assertTrue(all(o["under"]["sheet"] < o["over"]["sheet"] for o in over))

    def test_a_kept_build_file_starts_the_same_build(self) -> None:
        from strata.formats.build_file import read_plan

        values = self.client.get(f"/api/colourings/{self.good.pk}/file").json()
        self.assertEqual((values["format"], values["set"]), ("anastrata-build", "koi-and-lantern"))
        again = history.start(self.ada, "Again", {"image": self.koi}, read_plan(values))
        states = [self.client.get(f"/api/colourings/{b.pk}").json() for b in (self.good, again)]
        self.assertEqual(states[0]["sequence"], states[1]["sequence"])
        self.assertEqual(states[0]["elements"], states[1]["elements"])
