"""Sets over HTTP: changed, undone, measured, carried out; builds keep the set they were begun with."""

from __future__ import annotations

from typing import Any
from unittest.mock import patch

from django.core.management import call_command

from strata.errors import TooLarge
from strata.formats.bundle import read_bundle
from strata.formats.set_file import write_set
from strata.formats.svg_set import read
from studio.builds.looking import scene_of
from studio.builds.models import Colouring
from studio.jobs import queue
from studio.jobs.models import Job
from studio.sets import history, measures
from studio.sets.history import core_set
from studio.sets.models import LayerSet, Measuring
from tests.studio.base import StudioTest


class SetEditTest(StudioTest):
    def edit(self, kind: str, revision: int = 1, **values: Any) -> Any:
        body = {"revision": revision, "kind": kind, "values": values}
        return self.client.post(f"/api/sets/{self.koi.pk}/edits", body, format="json")

    def step(self, which: str, revision: int) -> Any:
        return self.client.post(f"/api/sets/{self.koi.pk}/{which}", {"revision": revision}, format="json")

    def test_a_set_in_small_is_kept_by_the_browser_until_it_is_changed(self) -> None:
        def small(version: str) -> Any:
            return self.client.get(f"/api/sets/{self.koi.pk}/preview?v={version}")

        def listed() -> dict[str, Any]:
            found: dict[str, Any] = next(
                s for s in self.client.get("/api/sets").json() if s["id"] == self.koi.pk
            )
            return found

        first = listed()
        self.assertNotIn("preview", first)
        drawn = small(first["version"])
        self.assertEqual(len(drawn.json()["paths"]), first["sheet_count"])
        self.assertIn("max-age", drawn["Cache-Control"])
        opening = core_set(self.koi).sheet(2).openings[0].key
        self.edit("role", openings=[opening], role="waste")
        second = listed()
        self.assertNotEqual(second["version"], first["version"])
        again = small(second["version"]).json()["paths"]
        self.assertLess(len(again[1]), len(drawn.json()["paths"][1]))
        self.assertEqual(again[0], drawn.json()["paths"][0])
        # an address of before shows what is, and is not kept
        old = small(first["version"])
        self.assertEqual((old.json()["paths"], old["Cache-Control"]), (again, "no-store"))

    def test_changes_are_made_undone_and_redone(self) -> None:
        first = self.edit("rename", element="bud", to="flower").json()
        self.assertIn("flower", first["elements"])
        self.assertEqual((first["undo"], first["redo"]), ("bud is flower", None))
        second = self.edit("rename", first["revision"], element="flower", to="lily").json()
        back = self.step("undo", second["revision"]).json()
        self.assertIn("flower", back["elements"])
        self.assertEqual(back["redo"], "flower is lily")
        forth = self.step("redo", back["revision"]).json()
        self.assertIn("lily", forth["elements"])
        start = self.step("undo", self.step("undo", forth["revision"]).json()["revision"]).json()
        self.assertEqual((start["head"], start["undo"]), (None, None))
        self.refused(self.step("undo", start["revision"]))

    def test_a_change_after_undo_begins_a_branch_and_the_old_one_is_kept_for_builds(self) -> None:
        named = self.edit("rename", element="bud", to="flower").json()
        build = self.fresh_build("Flowers")
        back = self.step("undo", named["revision"]).json()
        other = self.edit("rename", back["revision"], element="bud", to="water lily").json()
        self.assertIn("water lily", other["elements"])
        self.assertIsNone(other["redo"])
        self.assertIn("flower", scene_of(build).layer_set.elements)

    def test_a_part_has_one_name_however_it_is_written(self) -> None:
        key = self.client.get(f"/api/sets/{self.koi.pk}").json()["sheets"][0]["shapes"][0]["key"]
        moved = self.edit("move", openings=[key], element=" LANTERN ").json()
        self.assertNotIn("LANTERN", moved["elements"])
        shape = next(o for s in moved["sheets"] for o in s["shapes"] if o["key"] == key)
        self.assertEqual(shape["element"], "lantern")
        written = self.edit("rename", moved["revision"], element="lantern", to="Lantern").json()
        self.assertIn("Lantern", written["elements"], "her own part she may write as she likes")
        self.assertNotIn("lantern", written["elements"])

    def test_no_sheet_is_seated_off_the_panel(self) -> None:
        seated = self.edit("add_seat", of=1, dx=5).json()
        number = seated["sheets"][-1]["number"]
        for values in ({"dx": 999}, {"dy": -400}):
            self.refused(self.edit("change_seat", seated["revision"], sheet=number, **values))
        self.refused(self.edit("place", seated["revision"], sheet=2, dx=300))
        good = self.edit("change_seat", seated["revision"], sheet=number, dx=30)
        self.assertEqual(good.status_code, 200, good.content)

    def fresh_build(self, name: str) -> Any:
        body = {"name": name, "set_id": self.koi.pk, "stock": "kraft"}
        made = self.client.post("/api/builds", body, format="json")
        self.assertEqual(made.status_code, 201, made.content)
        return Colouring.objects.get(build__name=name, build__owner=self.ada)

    def test_builds_keep_the_set_they_were_begun_with(self) -> None:
        before = self.client.get(f"/api/colourings/{self.good.pk}").json()
        named = self.edit("rename", element="upper koi", to="old carp").json()
        after = self.client.get(f"/api/colourings/{self.good.pk}").json()
        self.assertEqual(after["picture_key"], before["picture_key"])
        self.assertIn("upper koi", [e["name"] for e in after["elements"]])
        self.assertEqual(after["set_change"], 0)
        pinned = self.client.get(f"/api/sets/{self.koi.pk}?change=0").json()
        self.assertIn("upper koi", pinned["elements"])
        build = self.client.get(f"/api/colourings/{self.fresh_build('New names').pk}").json()
        self.assertEqual(build["set_change"], named["head"])
        self.assertIn("old carp", [e["name"] for e in build["elements"]])

    def test_stale_and_wrong_changes_leave_everything_as_it_was(self) -> None:
        first = self.edit("rename", element="bud", to="flower").json()
        stale = self.edit("rename", 1, element="flower", to="x")
        self.assertIn("set was changed elsewhere", self.refused(stale, 409))
        self.refused(self.edit("dance", first["revision"]))
        self.refused(self.edit("rename", first["revision"], element="nobody", to="x"), 404)
        self.refused(self.edit("split", first["revision"], opening="1.1", line="across"))
        self.refused(self.client.get(f"/api/sets/{self.koi.pk}?change=99999"), 404)
        self.refused(self.client.get(f"/api/sets/{self.koi.pk}?change=x"))
        self.assertEqual(self.client.get(f"/api/sets/{self.koi.pk}").json()["head"], first["head"])

    def test_replayed_from_the_database_it_is_the_same_set(self) -> None:
        revision = 1
        for kind, values in (
            ("add_seat", {"of": 3, "dx": 4, "turn": 180}),
            ("move", {"openings": ["6~3.1"], "element": "far reeds"}),
            ("order", {"sheets": [1, 2, 3, 6, 4, 5]}),
            ("role", {"openings": ["1.1"], "role": "ground"}),
        ):
            answer = self.edit(kind, revision, **values)
            self.assertEqual(answer.status_code, 200, answer.content)
            revision = answer.json()["revision"]
        row = LayerSet.objects.get(pk=self.koi.pk)
        kept = write_set(core_set(row))
        history._KEPT.clear()
        self.assertEqual(write_set(core_set(LayerSet.objects.get(pk=row.pk))), kept)


class SetOutTest(StudioTest):
    def get(self, what: str, **query: Any) -> Any:
        return self.client.get(f"/api/sets/{self.koi.pk}/{what}", query)

    def test_measures_are_those_of_the_set_as_it_stands(self) -> None:
        """Kept, and never those of another change: an edit and its undo are both seen."""
        before = self.get("measures").json()
        self.assertEqual(self.get("measures").json(), before)
        row = LayerSet.objects.get(pk=self.koi.pk)
        done = self.client.post(
            f"/api/sets/{row.pk}/edits",
            {"revision": row.revision, "kind": "remove_sheet", "values": {"sheet": 2}},
            format="json",
        )
        self.assertEqual(done.status_code, 200, done.content)
        less = self.get("measures").json()
        self.assertEqual(
            {o["sheet"] for o in before["openings"]} - {o["sheet"] for o in less["openings"]}, {2}
        )
        self.assertLess(len(less["openings"]), len(before["openings"]))
        row.refresh_from_db()
        self.client.post(f"/api/sets/{row.pk}/undo", {"revision": row.revision}, format="json")
        self.assertEqual(self.get("measures").json(), before)

    def test_a_large_set_is_measured_by_a_job_and_not_again_after_a_start(self) -> None:
        small = self.get("measures").json()
        measures._MADE.clear()
        with patch.object(measures, "AT_ONCE", 5):
            found = self.get("measures")
            self.assertEqual((found.status_code, found.json()), (200, small), "done while it was begun")
            self.assertEqual(Job.objects.get(kind="measures").state, "done")
            measures._MADE.clear()
            with patch.object(queue.Running, "child", side_effect=AssertionError("measured twice")):
                self.assertEqual(self.get("measures").json(), small)
            # what an older version told of it is not what is told now
            measures._MADE.clear()
            Measuring.objects.update(found={"openings": [], "slips": []})
            with patch.object(measures, "TOLD", measures.TOLD + 1):
                self.assertEqual(self.get("measures").json(), small)
            # another state of the set is measured anew
            body = {"revision": 1, "kind": "rename", "values": {"element": "bud", "to": "flower"}}
            self.client.post(f"/api/sets/{self.koi.pk}/edits", body, format="json")
            named = self.get("measures").json()
            self.assertIn("flower", {o["element"] for o in named["openings"]})

    def test_a_large_set_that_could_not_be_measured_says_so_and_is_measured_again(self) -> None:
        with patch.object(measures, "AT_ONCE", 5):
            with patch.object(queue.Running, "child", side_effect=TooLarge("Too much to measure.", "file")):
                found = self.get("measures")
                self.assertEqual((found.status_code, found.json()["state"]), (202, "failed"))
                self.assertEqual(found.json()["sentence"], "Too much to measure.")
                self.assertEqual(self.get("measures").json()["state"], "failed", "not begun by looking")
            again = self.client.post(f"/api/sets/{self.koi.pk}/measures")
            self.assertEqual((again.status_code, again.json()["state"]), (202, "done"))
            self.assertEqual(self.get("measures").status_code, 200)

    def test_measures_of_a_set_that_moved_on_are_not_kept(self) -> None:
        with patch.object(measures, "AT_ONCE", 5):
            self.get("measures")
            Measuring.objects.update(of="another", found=None)
            made = Measuring.objects.get()
            assert made.job is not None
            queue.again(made.job, {"of": "1:0", "change": None})
            made.refresh_from_db()
            self.assertIsNone(made.found)

    def test_measures_say_how_they_came(self) -> None:
        found = self.get("measures").json()
        self.assertEqual(len(found["openings"]), 323)
        self.assertTrue(all(o["how"]["brush"].endswith(".") for o in found["openings"]))
        self.assertTrue(found["bridges"] and found["slips"] and found["masks"])
        self.assertTrue(all(s["least_mm"] <= min(d["mm"] for d in s["by_direction"]) for s in found["slips"]))

    def test_trim(self) -> None:
        found = self.get("trim", width=90, height=120).json()
        self.assertTrue(0.5 < found["kept"] < 1)
        self.assertEqual(found["marks"], [])
        self.refused(self.get("trim", width="wide", height=3))

    def test_files_out_read_back(self) -> None:
        drawing = self.get("drawing.svg")
        self.assertIn("koi-and-lantern.svg", drawing["Content-Disposition"])
        self.assertEqual(len(read(drawing.content, "x").layer_set.sheets), 5)
        bundle = read_bundle(self.get("bundle.zip").content)
        self.assertEqual(write_set(bundle.layer_set), write_set(core_set(self.koi)))
        mask = self.get("mask.svg", element="upper koi", sheet=1)
        self.assertIn(b'id="cut"', mask.content)
        self.refused(self.get("mask.svg", element="nobody", sheet=1), 404)
        self.refused(self.get("mask.svg", element="upper koi"))

    def test_the_demo_sets(self) -> None:
        kinds = {s["name"]: s["kind"] for s in self.client.get("/api/sets").json()}
        self.assertEqual(
            kinds,
            {
                "Hedgehog in ferns": "stamp set",
                "Koi and lantern": "stencil",
                "Lockside greetings": "stamp set",
                "Luna moth": "die-cut",
            },
        )
        hedgehog = core_set(LayerSet.objects.get(owner=self.ada, key="hedgehog-in-ferns"))
        self.assertEqual({o.role for o in hedgehog.sheet(1).openings}, {"line"})
        self.assertEqual([s.number for s in hedgehog.sheets if s.loose], [6])
        moth = core_set(LayerSet.objects.get(owner=self.ada, key="luna-moth"))
        self.assertEqual((len(moth.sheets), moth.sheet(1).copies), (6, 2))

    def test_the_demo_maker_can_start_afresh(self) -> None:
        call_command("seed_demo", verbosity=0)
        call_command("seed_demo", "--reset", verbosity=0)
