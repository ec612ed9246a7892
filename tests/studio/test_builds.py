"""Builds: edits, undo, two tabs, pictures, and everything that can be wrong with them."""

from __future__ import annotations

import io
import itertools
from typing import Any

import numpy as np
from PIL import Image

from studio.builds.models import Change
from tests.studio.base import StudioTest

ADD = {"pass": "one", "element": "lantern", "sheet": 1, "ink": "lamp-haze"}


class EditTest(StudioTest):
    def passes(self, build: Any) -> list[str]:
        state = self.client.get(f"/api/colourings/{build.pk}").json()
        return [r["ink"] for e in state["elements"] for r in e["rungs"]]

    def test_give_deepen_undo_redo(self) -> None:
        build = self.fresh()
        first = self.edit(build, "add_pass", ADD).json()
        self.assertEqual(
            (first["revision"], first["undo"], first["redo"]), (2, "Give Lamp Haze to lantern", None)
        )
        self.edit(build, "deepen", {"pass": "one"})
        self.assertEqual(self.passes(build), ["cabin-lamp"])
        undone = self.client.post(f"/api/colourings/{build.pk}/undo", {"revision": 3}, format="json").json()
        self.assertEqual(self.passes(build), ["lamp-haze"])
        self.assertIn("Deepen", undone["redo"])
        self.client.post(f"/api/colourings/{build.pk}/redo", {"revision": 4}, format="json")
        self.assertEqual(self.passes(build), ["cabin-lamp"])
        for revision in (5, 6):
            self.client.post(f"/api/colourings/{build.pk}/undo", {"revision": revision}, format="json")
        self.assertEqual(self.passes(build), [])
        nothing = self.client.post(f"/api/colourings/{build.pk}/undo", {"revision": 7}, format="json")
        self.assertIn("nothing to undo", self.refused(nothing))

    def test_an_edit_after_undo_forgets_what_was_undone(self) -> None:
        build = self.fresh()
        self.edit(build, "add_pass", ADD)
        self.client.post(f"/api/colourings/{build.pk}/undo", {"revision": 2}, format="json")
        head = self.edit(build, "set_cards", {"cards": 3}).json()
        self.assertIsNone(head["redo"])
        self.assertEqual(Change.objects.filter(colouring=build).count(), 2)

    def test_the_second_tab_is_told_and_nothing_is_overwritten(self) -> None:
        build = self.fresh()
        self.edit(build, "add_pass", ADD)
        late = self.edit(build, "set_cards", {"cards": 9}, revision=1)
        sentence = self.refused(late, 409)
        self.assertIn("Give Lamp Haze to lantern", sentence)
        self.assertEqual(late.json()["revision"], 2)
        self.assertEqual(self.client.get(f"/api/colourings/{build.pk}").json()["cards"], 1)
        undo = self.client.post(f"/api/colourings/{build.pk}/undo", {"revision": 1}, format="json")
        self.refused(undo, 409)

    def test_the_same_edit_sent_twice_is_made_once(self) -> None:
        build = self.fresh()
        for _ in range(2):
            answer = self.edit(build, "add_pass", ADD, revision=1, edit_key="abc")
            self.assertEqual((answer.status_code, answer.json()["revision"]), (200, 2))
        self.assertEqual(self.passes(build), ["lamp-haze"])

    def test_wrong_edits_are_sentences_and_change_nothing(self) -> None:
        build = self.fresh()
        for kind, values, status in (
            ("add_pass", {**ADD, "ink": "no-such"}, 404),
            ("add_pass", {**ADD, "element": "heron"}, 404),
            ("add_pass", {**ADD, "sheet": 99}, 404),
            ("add_pass", {**ADD, "coats": 70}, 400),
            ("add_pass", {**ADD, "form": {"kind": "spiral"}}, 400),
            ("add_pass", {**ADD, "form": {"x": 1}}, 400),
            ("set_ink", {"pass": "gone", "ink": "campion"}, 404),
            ("set_stock", {"stock": "marble"}, 404),
            ("set_cards", {"cards": 1e300}, 400),
            ("set_cards", {"cards": "many"}, 400),
            ("nonsense", {}, 400),
        ):
            self.refused(self.edit(build, kind, values), status)
        for body in (
            {},
            [],
            "x",
            {"revision": "x", "kind": "set_cards", "values": {}},
            {"revision": 1, "kind": "set_cards", "values": 3},
        ):
            self.refused(self.client.post(f"/api/colourings/{build.pk}/edits", body, format="json"))
        raw = self.client.post(
            f"/api/colourings/{build.pk}/edits", "{not json", content_type="application/json"
        )
        self.refused(raw)
        build.refresh_from_db()
        self.assertEqual((build.revision, build.changes.count()), (1, 1))

    def test_every_mend_of_the_mistaken_build_is_an_edit_it_takes(self) -> None:
        state = self.client.get(f"/api/colourings/{self.tried.pk}").json()
        mend = next(m for f in state["findings"] for m in f["mends"] if m["kind"] == "add_pass")
        before = len(self.passes(self.tried))
        self.assertEqual(self.edit(self.tried, mend["kind"], mend["values"]).status_code, 200)
        self.assertEqual(len(self.passes(self.tried)), before + 1)

    def test_new_builds(self) -> None:
        body = {"name": "For the paddle gear crew", "set_id": self.koi.pk, "stock": "kraft"}
        made = self.client.post("/api/builds", body, format="json")
        self.assertEqual(made.status_code, 201)
        for wrong in ({**body, "stock": "marble"}, {**body, "set_id": 10**9}):
            self.refused(self.client.post("/api/builds", wrong, format="json"), 404)
        for wrong in ({**body, "name": ""}, {**body, "name": "x" * 300}, {**body, "set_id": "koi"}, {}):
            self.refused(self.client.post("/api/builds", wrong, format="json"))

    def test_putting_away_can_be_undone(self) -> None:
        path = f"/api/builds/{self.good.build_id}"
        self.assertEqual(self.client.delete(path).status_code, 204)
        self.refused(self.client.get(path), 404)
        self.refused(self.client.get(f"/api/colourings/{self.good.pk}"), 404)
        self.assertEqual(self.client.post(path + "/back").status_code, 204)
        self.assertEqual(self.client.get(path).status_code, 200)

    def test_the_state_is_complete_and_consistent(self) -> None:
        state = self.client.get(f"/api/colourings/{self.good.pk}").json()
        rungs = [r for e in state["elements"] for r in e["rungs"]]
        self.assertEqual(sorted(r["key"] for r in rungs), sorted(state["sequence"]["passes"]))
        self.assertEqual(state["sequence"]["steps"][-1]["done_before"], len(rungs))
        self.assertAlmostEqual(
            state["sequence"]["minutes"], sum(s["minutes"] for s in state["sequence"]["steps"]), delta=0.1
        )
        self.assertTrue(all(r["deeper"] != r["ink_name"] for r in rungs))

    def test_a_pad_put_away_still_serves_the_builds_that_use_it(self) -> None:
        self.client.delete(f"/api/inks/{self.ink.pk}")
        self.assertEqual(self.client.get(f"/api/colourings/{self.good.pk}").status_code, 200)
        tried = self.client.get(f"/api/colourings/{self.good.pk}/passes/p1/tryouts").json()
        self.assertEqual(len(tried), 42, "45, without this one, a dry one and one wished for")


class PictureTest(StudioTest):
    def image(self, query: str = "") -> np.ndarray:
        answer = self.client.get(f"/api/colourings/{self.good.pk}/picture{query}")
        self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "image/jpeg"))
        return np.asarray(Image.open(io.BytesIO(answer.content)), dtype=int)

    def test_from_bare_card_to_finished(self) -> None:
        bare = self.image("?width=200&after=0")
        self.assertEqual(bare.shape, (259, 200, 3))
        self.assertLess(np.ptp(bare[5:-5, 5:-5], axis=(0, 1)).max(), 3)
        seen = [self.image(f"?width=200&after={n}") for n in (0, 3, 12, 31)]
        changed = [np.abs(b - a).mean() for a, b in itertools.pairwise(seen)]
        self.assertTrue(all(c > 0.3 for c in changed), changed)
        self.assertLess(np.abs(seen[-1] - self.image("?width=200")).max(), 3)

    def test_wet_is_deeper_than_dry(self) -> None:
        dry, wet = self.image("?width=200&after=1"), self.image("?width=200&after=1&wet=1")
        self.assertLess(wet.mean(), dry.mean())

    def test_the_browser_may_keep_only_what_is_current(self) -> None:
        key = self.client.get(f"/api/colourings/{self.good.pk}").json()["picture_key"]
        path = f"/api/colourings/{self.good.pk}/picture?width=60"
        self.assertIn("max-age", self.client.get(f"{path}&v={key}")["Cache-Control"])
        self.assertEqual(self.client.get(f"{path}&v=old")["Cache-Control"], "no-store")

    def test_wrong_sizes_are_refused(self) -> None:
        for query in (
            "?width=0",
            "?width=99999",
            "?width=wide",
            "?after=-1",
            "?after=99",
            "?after=1.5",
            "?width=nan",
        ):
            self.refused(self.client.get(f"/api/colourings/{self.good.pk}/picture{query}"))
