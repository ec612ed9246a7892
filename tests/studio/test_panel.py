"""The panel over HTTP: things laid on, moved and taken off; pictures as maps and palettes; wrong values that lose nothing."""

from __future__ import annotations

import base64
import gzip
import json
from typing import Any

import numpy as np

from strata.picture.shown import panel_after
from studio.builds import history
from studio.builds.looking import outlook
from studio.builds.models import Change, Colouring, PlacedSet
from studio.sets.models import LayerSet
from tests.studio.base import StudioTest

MOON = {"kind": "mask", "name": "moon", "shape": {"kind": "round", "width": 20}, "wear": {"way": "cover"}}


def unpacked(data: bytes) -> tuple[dict[str, Any], np.ndarray | None, list[np.ndarray], list[np.ndarray]]:
    """Head, map, rows and colours of a picture as the browser gets it."""
    length = int.from_bytes(data[:4], "little")
    head = json.loads(data[4 : 4 + length])
    at = 4 + length

    def planes(count: int) -> np.ndarray:
        nonlocal at
        found = sum(
            np.frombuffer(data, np.uint8, count, at + k * count).astype(np.int64) << (8 * k) for k in range(3)
        )
        at += 3 * count
        return np.asarray(found)

    numbers = None
    if head["with_map"]:
        way = planes(head["width"] * head["height"])
        numbers = np.cumsum(np.where(way & 1, -((way + 1) >> 1), way >> 1)).reshape(head["height"], -1)
    counts = head.get("steps") or ([] if head["rows"] is None else [head["rows"]])
    rows = [np.cumsum(planes(n)) for n in counts]
    colours = []
    for n in counts or [head["count"]]:
        colours.append(np.frombuffer(data, np.uint8, 3 * n, at).reshape(-1, 3))
        at += 3 * n
    assert at == len(data)
    return head, numbers, rows, colours


class PanelTest(StudioTest):
    def painting(self, build: Colouring, **asked: Any) -> Any:
        answer = self.client.get(f"/api/colourings/{build.pk}/painting", {"width": 120, **asked})
        self.assertEqual(answer.status_code, 200)
        return unpacked(gzip.decompress(answer.content))

    def lay(self, build: Colouring, **thing: Any) -> Any:
        return self.edit(build, "add_thing", {"thing": thing})

    def test_a_picture_is_its_map_and_palette(self) -> None:
        head, numbers, _, (palette,) = self.painting(self.good)
        assert numbers is not None
        seen = outlook(self.good)
        np.testing.assert_array_equal(palette[numbers], panel_after(seen.view(120), None))
        again, none, _, _ = self.painting(self.good, map=head["map"])
        self.assertEqual((again["map"], none), (head["map"], None), "what is known is not sent again")
        half, _, _, (before,) = self.painting(self.good, map=head["map"], after=3)
        self.assertEqual(half["map"], head["map"])
        self.assertGreater(int((before != palette).any(axis=1).sum()), 0)

    def test_the_build_up_is_every_moment(self) -> None:
        answer = self.client.get(f"/api/colourings/{self.good.pk}/build-up", {"width": 120})
        head, _, rows, colours = unpacked(gzip.decompress(answer.content))
        palette = np.zeros((head["count"], 3), np.uint8)
        for own, fresh in zip(rows, colours, strict=True):
            palette[own] = fresh
        _, _, _, (finished,) = self.painting(self.good, map=head["map"])
        self.assertLessEqual(np.abs(palette.astype(int) - finished).max(), 1)

    def test_the_answer_to_a_change_brings_its_colours(self) -> None:
        head, _, _, (palette,) = self.painting(self.good)
        # nothing follows it closely: what lies on wet ink stays as it was
        key = outlook(self.good).scene.plan.passes[-1].key
        body = {
            "revision": Colouring.objects.get(pk=self.good.pk).revision,
            "kind": "set_coats",
            "values": {"pass": key, "coats": 4},
            "looked_at": {"width": 120, "map": head["map"], "picture": head["picture"]},
        }
        path = f"/api/colourings/{self.good.pk}/edits"
        answer = self.client.post(path, body, format="json").json()
        told, _, (rows,), (colours,) = unpacked(base64.b64decode(answer["painting"]))
        self.assertEqual(told["picture"], answer["picture_key"])
        patched = palette.copy()
        patched[rows] = colours
        fresh = Colouring.objects.select_related("build").get(pk=self.good.pk)
        fresh.build.owner = self.ada
        _, _, _, (whole,) = self.painting(fresh, map=head["map"])
        self.assertLessEqual(np.abs(patched.astype(int) - whole).max(), 1, "rounded in chunks of another cut")
        self.assertLess(len(rows), len(palette))

    def test_a_change_of_layout_brings_no_colours_and_is_kept(self) -> None:
        head, _, _, _ = self.painting(self.good)
        looked_at = {"width": 120, "map": head["map"], "picture": head["picture"]}
        for thing in (
            MOON,
            {"kind": "piece", "name": "strip", "shape": {"kind": "strip"}, "card": {"stock": "kraft"}},
            {"kind": "words", "words": {"text": "Well done"}},
            {"kind": "note", "note": {"text": "a gem"}},
        ):
            answer = self.edit(self.good, "add_thing", {"thing": thing}, looked_at=looked_at)
            self.assertEqual(answer.status_code, 200, answer.content)
            fresh, _, _, _ = self.painting(self.again(self.good))
            looked_at = {"width": 120, "map": fresh["map"], "picture": fresh["picture"]}
            if thing["kind"] != "note":
                self.assertIsNone(answer.json()["painting"])

    def test_what_is_tried_is_not_kept(self) -> None:
        head, _, _, _ = self.painting(self.good)
        before = Change.objects.count()
        body = {
            "edits": [{"kind": "set_stock", "values": {"stock": "black"}}],
            "width": 120,
            "map": head["map"],
        }
        answer = self.client.post(f"/api/colourings/{self.good.pk}/try", body, format="json")
        told, numbers, rows, (colours,) = unpacked(gzip.decompress(answer.content))
        self.assertIsNone(numbers)
        self.assertEqual(len(rows), 0)
        self.assertEqual(len(colours), told["count"], "another card is another colour everywhere")
        self.assertLess(int(colours[0].max()), 90)
        self.assertEqual(Change.objects.count(), before)
        body["edits"] = [{"kind": "set_ink", "values": {"pass": "p1", "ink": "nothing"}}]
        self.refused(self.client.post(f"/api/colourings/{self.good.pk}/try", body, format="json"), 404)

    def test_a_second_set_is_lent_as_it_stands_and_undone_whole(self) -> None:
        build = self.fresh()
        other = LayerSet.objects.filter(owner=self.ada).exclude(pk=self.koi.pk).first() or self.koi
        answer = self.lay(build, kind="set", set_id=other.pk, name="second")
        self.assertEqual(answer.status_code, 200, answer.content)
        head = answer.json()
        self.assertEqual(PlacedSet.objects.filter(build=build.build).count(), 2)
        state = self.client.get(f"/api/colourings/{build.pk}").json()
        self.assertTrue(any(e["name"].startswith("second: ") for e in state["elements"]))
        panel = self.client.get(f"/api/colourings/{build.pk}/panel").json()
        self.assertEqual([t["name"] for t in panel["things"]][1], "second")
        undone = self.client.post(
            f"/api/colourings/{build.pk}/undo", {"revision": head["revision"]}, format="json"
        ).json()
        self.assertEqual(undone["redo"], "Lay on second")
        self.client.post(f"/api/colourings/{build.pk}/redo", {"revision": undone["revision"]}, format="json")
        again = self.client.get(f"/api/colourings/{build.pk}/panel").json()
        self.assertEqual(len(again["things"]), 2)

    def test_wrong_values_are_refused_in_a_sentence_and_lose_nothing(self) -> None:
        build = self.fresh()
        self.lay(build, **MOON)
        self.lay(
            build, kind="piece", key="strip", name="strip", shape={"kind": "strip"}, card={"stock": "kraft"}
        )
        before = self.client.get(f"/api/colourings/{build.pk}").json()
        far = {**MOON, "name": "far", "place": {"x": 900, "y": 900}}
        for kind, values in (
            ("set_panel", {"width": 0, "height": 100}),
            ("set_panel", {"width": 100, "height": 100, "trim": 90}),
            ("set_panel", {"format": "billboard"}),
            ("add_thing", {"thing": far}),
            ("add_thing", {"thing": {"kind": "set", "set_id": 999999}}),
            ("add_thing", {"thing": {"kind": "set", "set_id": "one"}}),
            ("add_thing", {"thing": {**MOON, "shape": {"kind": "outline", "points": [[0, 0]]}}}),
            ("add_thing", {"thing": {"kind": "words", "words": {"text": "   "}}}),
            ("set_thing", {"thing": "strip", "on": "strip"}),
            ("set_thing", {"thing": "strip", "card": {"stock": "vellum"}}),
            ("move_thing", {"thing": "strip", "by": [700, 0]}),
            ("remove_thing", {"thing": "nothing"}),
            ("add_pass", {"element": "free ground", "sheet": 0, "ink": "~water"}),
        ):
            answer = self.edit(build, kind, values)
            self.assertIn(answer.status_code, (400, 404, 413), (kind, values, answer.content))
            self.assertTrue(answer.json()["sentence"].endswith("."), answer.content)
        after = self.client.get(f"/api/colourings/{build.pk}").json()
        self.assertEqual(after["revision"], before["revision"])
        self.assertEqual(after["picture_key"], before["picture_key"])

    def test_no_more_passes_than_a_card_can_take(self) -> None:
        build = self.fresh()
        edits = [
            {"kind": "add_pass", "values": {"element": "lantern", "sheet": 1, "ink": "campion"}}
            for _ in range(40)
        ]
        for count in (200, 200, 200, 413):
            answer = self.edit(build, "several", {"edits": edits if count == 200 else edits[:1]})
            self.assertIn(answer.status_code, (count, 400 if count == 413 else count), answer.content)
        self.assertEqual(len(outlook(self.again(build)).scene.plan.passes), 120)
        self.assertIn("120", answer.json()["sentence"])

    def again(self, build: Colouring) -> Colouring:
        row = Colouring.objects.select_related("build").get(pk=build.pk)
        row.build.owner = self.ada
        return row

    def test_a_cut_line_is_true_to_size(self) -> None:
        build = self.fresh()
        self.lay(build, key="m", **MOON)
        answer = self.client.get(f"/api/colourings/{build.pk}/cut/m")
        text = answer.content.decode()
        self.assertIn('width="107.95mm"', text)
        self.assertEqual(answer["Content-Type"], "image/svg+xml")
        panel = self.client.get(f"/api/colourings/{build.pk}/panel").json()
        moon = next(t for t in panel["things"] if t["key"] == "m")
        self.assertAlmostEqual(moon["cut_mm"], np.pi * 20, delta=0.1)

    def test_the_other_colourings_can_be_laid_out_alike_each_in_its_own_history(self) -> None:
        build = self.fresh()
        self.lay(build, key="m", **MOON)
        other = history.copy(self.again(build), "In blue")
        self.edit(build, "move_thing", {"thing": "m", "x": 33, "y": 44})
        path = f"/api/colourings/{build.pk}/lay-out-others"
        self.assertEqual(len(self.client.post(path, format="json").json()), 1)
        moved = outlook(self.again(other)).scene.plan.thing("m").place
        assert moved is not None
        self.assertEqual((moved.x, moved.y), (33, 44))
        head = self.client.get(f"/api/colourings/{other.pk}").json()
        self.assertEqual(head["undo"], "Lay it out as in the other colouring")

    def test_a_build_may_begin_with_an_empty_panel(self) -> None:
        body = {"name": "Bare", "stock": "kraft", "panel": {"format": "a6"}}
        made = self.client.post("/api/builds", body, format="json")
        self.assertEqual(made.status_code, 201, made.content)
        build = self.again(Colouring.objects.get(pk=made.json()["id"]))
        self.edit(build, "add_pass", {"element": "free ground", "sheet": 0, "ink": "sloe"})
        self.assertEqual(self.client.get(f"/api/colourings/{build.pk}").status_code, 200)
        home = {b["name"]: b for b in self.client.get("/api/builds").json()}
        self.assertEqual(home["Bare"]["set_name"], "An empty panel")
        self.assertAlmostEqual(home["Bare"]["aspect"], (148 - 6.35) / (105 - 6.35), places=3)
        self.refused(self.client.post("/api/builds", {"name": "x", "stock": "kraft"}, format="json"), 400)

    def test_the_file_of_a_whole_card_starts_the_same_card(self) -> None:
        from strata.formats.build_file import read_plan

        build = self.fresh()
        self.edit(build, "set_panel", {"format": "5x7"})
        self.lay(build, key="m", **MOON)
        values = self.client.get(f"/api/colourings/{build.pk}/file").json()
        self.assertEqual(values["sets"], {"image": "koi-and-lantern"})
        again = history.start(self.ada, "Again", {"image": self.koi}, read_plan(values))
        self.assertEqual(outlook(again).scene.plan, outlook(self.again(build)).scene.plan)
