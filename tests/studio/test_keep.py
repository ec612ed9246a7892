"""Kept safe: backups that open, restores that lose nothing unsaid, an account given up, the house in one look."""

from __future__ import annotations

import json
import re
import shutil
import sqlite3
import tempfile
import zipfile
from contextlib import closing
from datetime import UTC, datetime, timedelta
from io import StringIO
from pathlib import Path
from typing import Any
from unittest import mock

import cv2
import numpy as np
from django.conf import settings
from django.contrib.auth import get_user_model
from django.contrib.sessions.models import Session
from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import connection
from django.test import SimpleTestCase, override_settings
from django.utils import timezone
from rest_framework.test import APIClient

from strata.errors import BadFile, BadValue
from studio.accounts.invitations import invite
from studio.accounts.models import Invitation
from studio.builds.models import Build
from studio.carry.rows import KINDS, rows_of
from studio.jobs.models import Job
from studio.keep import backups, served
from studio.keep.house import code_of, code_side
from studio.keep.leaving import leave_for_good
from studio.sets.models import Import
from studio.sets.reading import folder
from tests.studio.base import StudioTest

NOW = datetime(2026, 3, 12, 18, 0, tzinfo=UTC)


class BackupTest(SimpleTestCase):
    """On a data folder of its own, with a small database in the shape of ours."""

    def setUp(self) -> None:
        self.place = Path(tempfile.mkdtemp(prefix="keep-"))
        self.addCleanup(shutil.rmtree, self.place, ignore_errors=True)
        own = override_settings(DATA_DIR=self.place)
        own.enable()
        self.addCleanup(own.disable)
        # whatever the other tests run on
        self.enterContext(self.on("django.db.backends.sqlite3"))
        self.database = self.place / backups.DATABASE
        with closing(sqlite3.connect(self.database)) as one:
            one.execute("PRAGMA journal_mode=WAL")
            one.execute("CREATE TABLE builds_change (label TEXT, at TEXT)")
            one.commit()
        self.add("first", "2026-03-01 10:00:00")
        (self.place / "imports" / "7").mkdir(parents=True)
        (self.place / "imports" / "7" / "0.bin").write_bytes(b"a drawing")

    def on(self, engine: str) -> Any:
        return mock.patch.dict(settings.DATABASES["default"], {"ENGINE": engine})

    def test_a_house_on_a_server_is_not_backed_up_as_a_file(self) -> None:
        with self.on("studio.postgres"), self.assertRaises(BadValue) as refused:
            backups.make(now=NOW)
        self.assertIn("pg_dump", refused.exception.sentence)
        self.assertEqual(list(self.place.glob("**/*.zip")), [])

    def add(self, label: str, at: str) -> None:
        with closing(sqlite3.connect(self.database)) as one:
            one.execute("INSERT INTO builds_change VALUES (?, ?)", (label, at))
            one.commit()

    def labels(self) -> list[str]:
        with closing(sqlite3.connect(self.database)) as one:
            return [row[0] for row in one.execute("SELECT label FROM builds_change ORDER BY at")]

    def test_it_is_made_while_somebody_writes_and_comes_back_as_it_was(self) -> None:
        with closing(sqlite3.connect(self.database)) as busy:
            busy.execute("INSERT INTO builds_change VALUES ('not certain yet', '2026-03-02')")
            made = backups.make(now=NOW)
            busy.rollback()
        self.assertEqual(made.path.stat().st_mode & 0o077, 0, "nobody else's")
        self.add("second", "2026-03-03 10:00:00")
        (self.place / "imports" / "7" / "0.bin").write_bytes(b"another")
        aside = backups.restore(made.path, over=True)
        self.assertEqual(self.labels(), ["first"])
        self.assertEqual((self.place / "imports" / "7" / "0.bin").read_bytes(), b"a drawing")
        assert aside is not None
        with closing(sqlite3.connect(aside / backups.DATABASE)) as one:
            self.assertEqual(one.execute("SELECT count(*) FROM builds_change").fetchone()[0], 2)

    def test_what_is_newer_is_not_written_over_without_a_word(self) -> None:
        made = backups.make(now=NOW)
        self.assertIsNotNone(backups.restore(made.path), "as old as the backup: nothing is lost")
        self.add("second", "2026-03-03 10:00:00")
        with self.assertRaisesMessage(BadValue, "--over"):
            backups.restore(made.path)
        self.assertEqual(self.labels(), ["first", "second"])

    def test_a_damaged_database_gives_way_to_any_backup(self) -> None:
        made = backups.make(now=NOW)
        self.add("second", "2026-03-03 10:00:00")
        for name in (f"{backups.DATABASE}-wal", f"{backups.DATABASE}-shm"):
            (self.place / name).unlink(missing_ok=True)
        self.database.write_bytes(b"no database at all" * 400)
        self.assertTrue(backups.troubles(self.database))
        backups.restore(made.path)
        self.assertEqual(self.labels(), ["first"])

    def test_what_is_no_backup_is_refused_and_nothing_is_touched(self) -> None:
        made = backups.make(now=NOW)
        spoilt = self.place / "spoilt.zip"
        for name, change in (
            ("no zip", lambda: spoilt.write_bytes(b"hello")),
            ("another zip", lambda: self.zipped(spoilt, {"a.txt": b"a"})),
            (
                "another database",
                lambda: self.zipped(spoilt, self.parts(made.path) | {backups.DATABASE: b"SQLite"}),
            ),
            ("a way out", lambda: self.zipped(spoilt, self.parts(made.path) | {"../out.txt": b"out"})),
        ):
            change()
            with self.subTest(name), self.assertRaises(BadFile):
                backups.restore(spoilt, over=True)
            self.assertFalse((self.place.parent / "out.txt").exists())
            self.assertEqual(self.labels(), ["first"])
            self.assertFalse(list(self.place.glob("before-restore-*")))

    def parts(self, path: Path) -> dict[str, bytes]:
        with zipfile.ZipFile(path) as archive:
            return {n: archive.read(n) for n in archive.namelist()}

    def zipped(self, path: Path, parts: dict[str, bytes]) -> None:
        with zipfile.ZipFile(path, "w") as archive:
            for name, data in parts.items():
                archive.writestr(name, data)

    def test_old_ones_are_let_go_by_count_and_age(self) -> None:
        for days in (0, 1, 2, 40, 70, 100):
            backups.make(now=NOW - timedelta(days=days))
        gone = backups.thin_out(keep=2, days=60, now=NOW)
        self.assertEqual(len(gone), 2)
        self.assertEqual([(NOW - b.made).days for b in backups.all_of()], [0, 1, 2, 40])
        backups.thin_out(keep=3, days=0, now=NOW)
        self.assertEqual(len(backups.all_of()), 3)
        backups.thin_out(keep=0, days=0, now=NOW)
        self.assertEqual(len(backups.all_of()), 1, "the last one always stays")

    def test_by_command_and_not_while_it_is_served(self) -> None:
        said = StringIO()
        call_command("backup", stdout=said)
        self.assertIn("Backed up to", said.getvalue())
        [made] = backups.all_of()
        self.assertEqual(json.loads(self.parts(made.path)[backups.MANIFEST])["format"], backups.FORMAT)
        self.assertFalse(served.is_served())
        self.assertTrue(served.hold())
        try:
            self.assertTrue(served.is_served())
            with self.assertRaisesMessage(CommandError, "running"):
                call_command("restore", made.path)
        finally:
            served._held.pop().close()
        self.assertFalse(served.is_served())
        with self.assertRaises(CommandError):
            call_command("restore", self.place / "nothing.zip")


class SweepTest(StudioTest):
    def test_what_nobody_asks_for_again_goes_and_the_rest_stays(self) -> None:
        now = timezone.now()
        long_ago = now - timedelta(days=31)
        for name, expires in (("over", now - timedelta(seconds=1)), ("open", now + timedelta(days=1))):
            Session.objects.create(session_key=name, session_data="", expire_date=expires)
        _, used = invite(self.ada), invite(self.ada)[0]
        Invitation.objects.filter(pk=used.pk).update(used=long_ago)
        waiting = Import.objects.create(owner=self.ada, options={"source": "drawing"})
        forgotten = Import.objects.create(owner=self.ada, options={"source": "drawing"})
        folder(forgotten.pk).mkdir(parents=True, exist_ok=True)
        Import.objects.filter(pk=forgotten.pk).update(updated=long_ago)
        jobs = {
            state: Job.objects.create(owner=self.ada, kind="order", subject=1, state=state)
            for state in ("done", "failed", "running")
        }
        fresh = Job.objects.create(owner=self.ada, kind="order", subject=1, state="done")
        shown = Job.objects.create(owner=self.ada, kind="read", subject=1, state="failed")
        waiting.job = shown
        waiting.save()
        Job.objects.exclude(pk=fresh.pk).update(updated=long_ago)
        said = StringIO()
        call_command("sweep", stdout=said)
        self.assertEqual(set(Session.objects.values_list("pk", flat=True)), {"open"})
        self.assertEqual(Invitation.objects.count(), 1)
        self.assertEqual(list(Import.objects.values_list("pk", flat=True)), [waiting.pk])
        self.assertFalse(folder(forgotten.pk).exists())
        left = set(Job.objects.values_list("pk", flat=True))
        self.assertEqual(left, {fresh.pk, shown.pk, jobs["running"].pk})
        self.assertIn("2 jobs", said.getvalue())
        again = StringIO()
        call_command("sweep", stdout=again)
        self.assertIn("nothing", again.getvalue())


class LeavingTest(StudioTest):
    def test_nothing_of_her_stays_and_nothing_of_others_goes(self) -> None:
        row = Import.objects.create(owner=self.ada, options={"source": "drawing"})
        folder(row.pk).mkdir(parents=True, exist_ok=True)
        bo = self.makers["bo"]
        before = {k.name: rows_of(k, bo).count() for k in KINDS}
        number = self.ada.pk
        leave_for_good(self.ada)
        self.assertFalse(get_user_model().objects.filter(pk=number).exists())
        for kind in KINDS:
            self.assertFalse(
                kind.model._default_manager.filter(**{f"{kind.owner}_id": number}).exists(), kind.name
            )
        self.assertFalse(folder(row.pk).exists())
        self.assertEqual({k.name: rows_of(k, bo).count() for k in KINDS}, before)
        self.assertTrue(Build.objects.filter(owner=bo).exists())

    def test_over_http_with_the_password_and_not_by_who_runs_the_house_for_others(self) -> None:
        bo = APIClient()
        bo.post("/api/session", {"name": "bo", "password": "thursday-table-9"}, format="json")
        self.refused(bo.post("/api/accounts/gone", {"password": "wrong"}, format="json"))
        ada = APIClient()
        ada.post("/api/session", {"name": "ada", "password": "thursday-table-9"}, format="json")
        said = self.refused(ada.post("/api/accounts/gone", {"password": "thursday-table-9"}, format="json"))
        self.assertIn("run this house", said)
        gone = bo.post("/api/accounts/gone", {"password": "thursday-table-9"}, format="json")
        self.assertEqual(gone.status_code, 204)
        self.assertIsNone(bo.get("/api/session").json()["name"])
        self.assertFalse(get_user_model().objects.filter(username="bo").exists())


class HouseTest(StudioTest):
    def test_what_tells_when_something_changed_is_there(self) -> None:
        with connection.cursor() as cursor:
            for table, column in backups.CHANGED:
                names = {c.name for c in connection.introspection.get_table_description(cursor, table)}
                self.assertIn(column, names, table)

    def house(self) -> Any:
        return self.client.get("/api/house").json()

    def test_in_one_look(self) -> None:
        found = self.house()
        self.assertEqual([m["name"] for m in found["makers"]], ["ada", "bo"])
        self.assertGreater(found["free_mb"], 0)
        self.assertEqual(found["version"], settings.SPECTACULAR_SETTINGS["VERSION"])
        self.assertEqual((found["open"], found["addresses"]), (False, []))

    def test_it_works_is_told_to_whoever_watches(self) -> None:
        answer = APIClient().get("/api/health")
        self.assertEqual((answer.status_code, answer.json()), (200, {"ok": True}))

    def test_an_address_as_a_code(self) -> None:
        address = "http://192.0.2.9:8000"
        side = code_side(address)
        path = code_of(address)
        self.assertIn("M4,4h1v1h-1z", path, "its finder begins after the quiet zone")
        drawn = np.full((side, side), 255, np.uint8)
        for x, y in re.findall(r"M(\d+),(\d+)h1", path):
            drawn[int(y), int(x)] = 0
        read, *_ = cv2.QRCodeDetector().detectAndDecode(np.kron(drawn, np.ones((8, 8), np.uint8)))
        self.assertEqual(read, address)
        inside = [int(part.split(",")[0]) for part in path.split("M")[1:]]
        self.assertTrue(all(4 <= x < side - 4 for x in inside))
