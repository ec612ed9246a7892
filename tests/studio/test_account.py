"""A whole account out and in again: identical, with its undo, its orders and its pictures; refused in words otherwise."""

from __future__ import annotations

import io
import json
import zipfile
from datetime import UTC, datetime
from typing import Any
from unittest.mock import patch

from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image
from rest_framework.test import APIClient

from strata.errors import BadFile, StrataError
from studio.bench.management.commands.seed_log import Made, write
from studio.bench.models import Making, Photograph, Record, TablePhotograph
from studio.builds.models import Build, Colouring
from studio.carry import archive
from studio.carry.archive import plain_jpeg, read_account, write_account
from studio.carry.rows import KINDS, rows_of, values_of
from studio.inks.editing import change_inks
from tests.studio.base import StudioTest

Rows = dict[str, list[dict[str, Any]]]


def still(share: float, doing: str) -> None:
    del share, doing


class AccountTest(StudioTest):
    def setUp(self) -> None:
        super().setUp()
        self.cai = get_user_model().objects.create_user(username="cai", password="thursday-table-9")
        self.cais = APIClient()
        self.cais.force_authenticate(self.cai)

    def lived_in(self) -> None:
        """An account with history: an edit and an undo, a pad changed, a card made and photographed, a build put away."""
        self.edit(self.good, "set_coats", {"pass": "p1", "coats": 2})
        change_inks(self.ada, [self.ink.pk], {"place": "second drawer"})
        record = write(
            self.ada, Made("First try on kraft", datetime(2026, 3, 12, tzinfo=UTC), "Odile", "", 2)
        )
        assert record is not None
        file = io.BytesIO()
        Image.new("RGB", (400, 300), (200, 30, 30)).save(file, "JPEG")
        Photograph.objects.create(record=record, content=file.getvalue(), reading=None)
        at_table = {"at": 5.0, "card": 1, "after": "After Campion on koi", "content": file.getvalue()}
        going = Making.objects.create(colouring=self.good, number=1)
        TablePhotograph.objects.create(making=going, key="k", **at_table)
        self.client.post(
            f"/api/sets/{self.koi.pk}/edits", {"kind": "rename", "values": {"name": "Koi"}}, "json"
        )
        away = Build.objects.filter(owner=self.ada).exclude(pk=self.good.build_id).first()
        assert away is not None
        self.client.delete(f"/api/builds/{away.pk}")
        self.client.post(f"/api/colourings/{self.good.pk}/order/search")

    def rows(self, owner: Any) -> Rows:
        """All of an account by its own numbers, counted from 1 in each table: two accounts that are alike are equal."""
        numbers: dict[str, dict[int, int]] = {}
        found: Rows = {}
        for kind in KINDS:
            listed = []
            for row in rows_of(kind, owner):
                values, files = values_of(kind, row)
                own = numbers.setdefault(kind.name, {})
                own[values.pop("id")] = len(own) + 1
                for name, data in zip([k for k in kind.files if values[k]], files.values(), strict=True):
                    values[name] = hash(data)
                listed.append(values)
            found[kind.name] = listed
        for kind in KINDS:
            for values in found[kind.name]:
                for column in kind.fields:
                    if column.is_relation and values[column.name] is not None:
                        table = next(k.name for k in KINDS if k.model is column.related_model)
                        values[column.name] = numbers[table][values[column.name]]
                for part in ("before", "after") if kind.name == "drawer-changes" else ():
                    values[part] = sorted(json.dumps(v, sort_keys=True) for v in values[part].values())
                if values.get("better"):
                    values["better"] = {k: v for k, v in values["better"].items() if k != "key"}
        return found

    def test_out_and_in_is_the_same_account(self) -> None:
        self.lived_in()
        data, counts = write_account(self.ada, still)
        self.assertGreater(counts["changes"], counts["colourings"])
        self.assertEqual(data, write_account(self.ada, still)[0])
        self.assertEqual(read_account(self.cai, data, still), counts)
        self.assertEqual(self.rows(self.cai), self.rows(self.ada))
        good = Colouring.objects.get(build__owner=self.cai, build__name__startswith="Thank-you")
        one = self.cais.get(f"/api/colourings/{good.pk}/picture?width=200").content
        self.assertEqual(one, self.client.get(f"/api/colourings/{self.good.pk}/picture?width=200").content)
        for path in ("builds", "inks", "sets", "records", "drawer/history"):
            self.assertEqual(self.cais.get(f"/api/{path}").status_code, 200)
        # what could be undone there can be undone here, and an order that was searched for is still of its plan
        self.good.refresh_from_db()
        mine, hers = (
            c.get(f"/api/colourings/{pk}/order").json()
            for c, pk in ((self.cais, good.pk), (self.client, self.good.pk))
        )
        self.assertEqual(mine.get("better"), hers.get("better"))
        undone = self.cais.post(f"/api/colourings/{good.pk}/undo", {"revision": good.revision}, "json")
        self.assertEqual(undone.status_code, 200)
        self.assertEqual(self.cais.post("/api/drawer/undo", {}, format="json").status_code, 200)
        self.assertEqual(Record.objects.filter(owner=self.cai).count(), 1)

    def test_it_can_be_read_without_us(self) -> None:
        data, _ = write_account(self.ada, still)
        with zipfile.ZipFile(io.BytesIO(data)) as found:
            names = found.namelist()
            self.assertEqual(json.loads(found.read("account.json"))["format"], "anastrata-account")
            self.assertIn(b"Coral Kettle", found.read("to read/drawer.csv"))
            pictures = [n for n in names if n.startswith("to read/builds/") and n.endswith(".png")]
            self.assertEqual(len(pictures), Colouring.objects.filter(build__owner=self.ada).count())
            with Image.open(io.BytesIO(found.read(pictures[0]))) as picture:
                self.assertEqual(picture.format, "PNG")
            drawn = next(n for n in names if n.endswith(".svg"))
            self.assertIn(b"<svg", found.read(drawn))

    def test_over_http_into_an_empty_account_only(self) -> None:
        self.assertEqual(self.client.get("/api/account").json()["empty"], False)
        self.assertEqual(self.client.get("/api/account/archive.zip").status_code, 404)
        out = self.client.post("/api/account/out").json()
        self.assertEqual((out["out"]["job"]["state"], out["out"]["ready"]), ("done", True))
        answer: Any = self.client.get("/api/account/archive.zip")
        data = b"".join(answer.streaming_content)
        refused = self.client.post(
            "/api/account/in", {"file": SimpleUploadedFile("a.zip", data)}, format="multipart"
        )
        self.assertEqual((refused.status_code, "empty" in refused.json()["sentence"]), (400, True))
        self.assertTrue(self.cais.get("/api/account").json()["empty"])
        into = self.cais.post(
            "/api/account/in", {"file": SimpleUploadedFile("a.zip", data)}, format="multipart"
        )
        self.assertEqual((into.status_code, into.json()["into"]["job"]["state"]), (200, "done"), into.json())
        self.assertEqual(len(self.cais.get("/api/builds").json()), len(self.client.get("/api/builds").json()))
        self.assertEqual(self.cais.get("/api/account/archive.zip").status_code, 404)

    def changed_archive(self, name: str, change: Any) -> bytes:
        data, _ = write_account(self.ada, still)
        out = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w") as new:
            for entry in old.namelist():
                body = old.read(entry)
                new.writestr(entry, json.dumps(change(json.loads(body))).encode() if entry == name else body)
        return out.getvalue()

    def test_what_makes_no_sense_is_refused_and_leaves_nothing(self) -> None:
        def first(**values: Any) -> Any:
            return lambda rows: [{**rows[0], **values}, *rows[1:]]

        bad = [
            b"no zip",
            self.changed_archive("account.json", lambda v: {**v, "version": 9}),
            self.changed_archive("account.json", lambda v: {"format": "other"}),
            self.changed_archive("rows/inks.json", first(swatches=[])),
            self.changed_archive("rows/inks.json", first(chemistry="gold leaf")),
            self.changed_archive("rows/inks.json", lambda rows: [rows[0], rows[0]]),
            self.changed_archive("rows/inks.json", lambda rows: {"a": 1}),
            self.changed_archive("rows/builds.json", first(created="yesterday")),
            self.changed_archive("rows/colourings.json", first(build=999_999)),
            self.changed_archive("rows/changes.json", first(plan={"passes": "all"})),
            self.changed_archive("rows/sets.json", first(geometry={"format": "x"})),
            self.changed_archive("rows/hands.json", lambda rows: [{"id": 1, "hand": "third", "share": 1.0}]),
            self.changed_archive("rows/swatch-cards.json", lambda rows: [{"id": 1, "fields": "many"}]),
            self.changed_archive("rows/records.json", lambda rows: [{"id": 1, "name": "x", "body": {}}]),
            self.changed_archive("rows/photographs.json", lambda rows: [{"id": 1, "reading": {"told": 1}}]),
            self.changed_archive("rows/lessons.json", lambda rows: [{"id": 1, "body": {"pads": 2}}]),
            self.changed_archive("rows/events.json", lambda rows: [{"id": 1, "kind": "danced"}]),
            self.changed_archive(
                "rows/set-pictures.json",
                lambda rows: [{"id": 1, "layer_set": 1, "name": "x", "data": "../../etc/passwd"}],
            ),
        ]
        for data in bad:
            with self.assertRaises(StrataError):
                read_account(self.cai, data, still)
            self.assertFalse(any(rows_of(kind, self.cai).exists() for kind in KINDS))
        with patch.object(archive, "MOST_UNPACKED", 1000), self.assertRaises(Exception) as caught:
            read_account(self.cai, write_account(self.ada, still)[0], still)
        self.assertIn("larger", str(caught.exception))

    def test_a_made_card_without_a_picture_is_refused_and_what_is_worked_out_is_not_believed(self) -> None:
        self.lived_in()
        without = self.changed_archive("rows/records.json", lambda rows: [{**r, "picture": ""} for r in rows])
        with self.assertRaises(StrataError):
            read_account(self.cai, without, still)
        for table in ("sets", "records"):
            told = self.changed_archive(
                f"rows/{table}.json", lambda rows: [{**r, "summary": {"preview": 3}} for r in rows]
            )
            account = get_user_model().objects.create_user(username=f"reads {table}")
            read_account(account, told, still)
            theirs = APIClient()
            theirs.force_authenticate(account)
            self.assertEqual(theirs.get("/api/sets").json()[0]["sheet_count"], 6)
            hers = self.client.get("/api/records").json()[0]
            self.assertEqual(theirs.get("/api/records").json()[0]["cards"], hers["cards"])

    def test_a_picture_with_more_in_it_is_drawn_anew(self) -> None:
        file, told = io.BytesIO(), Image.Exif()
        told[0x010E] = "at home, number 12"
        Image.new("RGB", (300, 200), (1, 90, 30)).save(file, "JPEG", exif=told)
        plain = plain_jpeg(file.getvalue())
        self.assertNotIn(b"number 12", plain)
        self.assertEqual(plain_jpeg(plain), plain)
        self.assertNotIn(b"<script>", plain_jpeg(plain + b"<script>"))
        with self.assertRaises(BadFile):
            plain_jpeg(b"\xff\xd8<svg onload=1>")
