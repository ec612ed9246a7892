"""Inks in and out over HTTP: any of the four formats, mapping, problems, updates, undo, a thousand rows."""

from __future__ import annotations

import csv
import io
import json
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile

from strata.formats.drawer import ink_json
from studio.inks import imports
from studio.inks.models import Drawer, Ink, InkImport, Stock, Tool
from studio.inks.services import house
from tests.studio.base import StudioTest


class BringInTest(StudioTest):
    def setUp(self) -> None:
        super().setUp()
        self.cy = type(self.ada).objects.create_user(username="cy", password="thursday-table-9")

    def as_(self, who: Any) -> None:
        who.__dict__.pop("_house", None)
        self.client.force_authenticate(who)
        self.who = who

    def send(self, data: bytes, name: str = "inks.csv", status: int = 201) -> dict[str, Any]:
        answer = self.client.post("/api/ink-imports", {"file": SimpleUploadedFile(name, data)})
        self.assertEqual(answer.status_code, status, answer.content[:300])
        found: dict[str, Any] = answer.json()
        return found

    def patch(self, pk: int, **values: Any) -> Any:
        return self.client.patch(f"/api/ink-imports/{pk}", values, format="json")

    def keep(self, pk: int) -> dict[str, Any]:
        for _ in range(60):
            self.who.__dict__.pop("_house", None)
            answer = self.client.post(f"/api/ink-imports/{pk}/keep")
            self.assertEqual(answer.status_code, 200, answer.content[:300])
            state: dict[str, Any] = answer.json()
            if state["state"] == "kept":
                return state
        raise AssertionError("it never ends")

    def inks(self, who: Any) -> dict[str, Any]:
        who.__dict__.pop("_house", None)
        own = house(who)
        return {k: ink_json(own.inks[k]) for k in own.in_drawer}

    def out(self, file: str) -> bytes:
        self.who.__dict__.pop("_house", None)
        answer = self.client.get(f"/api/drawer/out/{file}")
        self.assertEqual(answer.status_code, 200)
        return bytes(answer.content)

    def test_the_drawer_moves_to_another_maker_identical_in_every_format(self) -> None:
        wanted = self.inks(self.ada)
        for file in ("drawer.json", "drawer.csv", "drawer.csv?decimal=comma", "drawer.txt", "drawer.gpl"):
            self.as_(self.ada)
            data = self.out(file)
            self.as_(self.cy)
            Ink.objects.filter(owner=self.cy).delete()
            Drawer.objects.filter(owner=self.cy).delete()
            found = self.send(data, file)
            self.assertEqual((found["new"], found["problem_count"]), (45, 0), file)
            self.keep(found["id"])
            self.assertEqual(self.inks(self.cy), wanted, file)
            self.assertEqual(self.out(file), data, f"{file} written again")
        self.assertEqual(Stock.objects.filter(owner=self.cy).count(), 5)
        self.assertEqual(Tool.objects.filter(owner=self.cy).count(), 8)

    def test_again_updates_and_doubles_nothing_and_undo_takes_it_back(self) -> None:
        self.as_(self.ada)
        found = self.send(self.out("drawer.csv"))
        self.assertEqual((found["new"], found["changed"], found["same"]), (0, 0, 45))
        rows = "name,line,L,a,b,place\nCampion,Sluice,50,50,0,attic\nNewcomer,Sluice,40,0,0,\n"
        found = self.send(rows.encode())
        self.assertEqual((found["new"], found["changed"], found["same"]), (1, 1, 0))
        self.assertEqual([p["what"] for p in found["preview"]], ["changed", "new"])
        before = self.inks(self.ada)
        state = self.keep(found["id"])
        self.assertEqual(len(self.inks(self.ada)), 46)
        self.assertEqual(self.inks(self.ada)["campion"]["place"], "attic")
        self.assertEqual(state["done"], 2)
        self.client.post("/api/drawer/undo")
        self.assertEqual(self.inks(self.ada), before)
        self.assertTrue(self.client.get(f"/api/ink-imports/{found['id']}").json()["undone"])
        self.client.post("/api/drawer/redo")
        self.assertEqual(len(self.inks(self.ada)), 46)
        self.refused(self.patch(found["id"], line="x"))

    def test_mapping_defaults_and_reading_it_again(self) -> None:
        self.as_(self.cy)
        found = self.send("Was;Wie;l;a;b\nMäher;7,5;50;1;2\n".encode("cp1252"))
        self.assertEqual([c["meaning"] for c in found["columns"]], ["note", "note", "L", "a", "b"])
        self.assertEqual(found["problem_count"], 1)
        answer = self.patch(
            found["id"], mapping=["name", "note", "L", "a", "b"], chemistry="hybrid", line="Feld"
        ).json()
        self.assertEqual((answer["new"], answer["problem_count"]), (1, 0))
        shown = answer["preview"][0]
        self.assertEqual((shown["name"], shown["line"], shown["chemistry"]), ("Mäher", "Feld", "hybrid"))
        again = self.patch(found["id"], head=False).json()
        self.assertEqual(len(again["columns"][0]["samples"]), 2)
        greek = self.patch(found["id"], head=None, encoding="cp1253").json()
        self.assertIn("Mδher", str(greek["columns"][0]["samples"]))
        for wrong in (
            {"mapping": ["name"]},
            {"mapping": ["name", "name", "L", "a", "b"]},
            {"encoding": "klingon"},
            {"chemistry": "tea"},
            {"stock": "slate"},
        ):
            self.refused(self.patch(found["id"], **wrong))

    def test_rows_that_cannot_be_taken_come_back_to_be_mended(self) -> None:
        self.as_(self.cy)
        found = self.send(b"name,L,a,b\nGood,50,1,2\n=BAD(),x,1,2\nWorse,500,0,0\n")
        self.assertEqual((found["new"], found["problem_count"]), (1, 2))
        self.keep(found["id"])
        self.assertEqual(len(self.inks(self.cy)), 1)
        table = self.client.get(f"/api/ink-imports/{found['id']}/problems").content.decode("utf-8-sig")
        rows = list(csv.reader(io.StringIO(table)))
        self.assertEqual(rows[0][-2:], ["line in the file", "what is wrong"])
        self.assertEqual([r[-2] for r in rows[1:]], ["3", "4"])
        self.assertEqual(rows[1][0], "'=BAD()")

    def test_a_thousand_rows_with_bad_ones_among_them(self) -> None:
        self.as_(self.cy)
        lines = ["name,line,chemistry,coats,L,a,b"]
        lines += [
            f"Ink {i // 3},Quay,dye,{i % 3 + 1},{60 - i % 3 * 9},{i % 90 - 45},{i % 70 - 35}"
            for i in range(1000)
        ]
        lines[500] = "Broken,Quay,dye,one,50,1,2"
        found = self.send("\n".join(lines).encode())
        self.assertEqual((found["new"], found["problem_count"], found["rows"]), (334, 1, 1000))
        first = self.client.post(f"/api/ink-imports/{found['id']}/keep").json()
        self.assertEqual((first["state"], first["done"]), ("keeping", imports.A_TIME))
        self.assertEqual(self.keep(found["id"])["done"], 334)
        self.assertEqual(len(self.inks(self.cy)), 334)
        self.client.post("/api/drawer/undo")
        self.assertEqual(self.inks(self.cy), {})

    def test_files_that_are_none_leave_nothing_behind(self) -> None:
        self.as_(self.cy)
        self.send(b"   ", status=400)
        for data in (b"\x00\xff\x00", b"{}", b"[1]", b"GIMP Palette\n"):
            found = self.send(data)
            self.assertEqual(found["state"], "failed")
            self.assertTrue(found["sentence"].endswith("."))
            self.assertIn(
                found["sentence"], self.refused(self.client.post(f"/api/ink-imports/{found['id']}/keep"))
            )
            self.client.delete(f"/api/ink-imports/{found['id']}")
        self.refused(self.client.post("/api/ink-imports"))
        one_bad = json.dumps({"format": "anastrata-drawer", "inks": {"x": {"chemistry": "dye"}}}).encode()
        found = self.send(one_bad, "d.json")
        self.assertEqual((found["inks"], found["problem_count"]), (0, 1))
        self.refused(self.client.post(f"/api/ink-imports/{found['id']}/keep"))
        self.client.delete(f"/api/ink-imports/{found['id']}")
        self.assertFalse(InkImport.objects.filter(owner=self.cy).exists())

    def test_only_so_many_are_under_way(self) -> None:
        self.as_(self.cy)
        for i in range(imports.MOST_UNDER_WAY + 3):
            self.send(f"name,L,a,b\nInk {i},50,1,2\n".encode())
        self.assertLessEqual(InkImport.objects.filter(owner=self.cy).count(), imports.MOST_UNDER_WAY)

    def test_the_chart_and_what_is_not_there(self) -> None:
        self.as_(self.ada)
        self.assertTrue(self.out("chart.pdf?paper=letter&stock=kraft").startswith(b"%PDF"))
        self.assertTrue(self.out("labels.pdf?paper=letter").startswith(b"%PDF"))
        self.refused(self.client.get("/api/drawer/out/chart.pdf?paper=A0"))
        self.refused(self.client.get("/api/drawer/out/drawer.exe"), 404)
