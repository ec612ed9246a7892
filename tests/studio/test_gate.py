"""What stands before every request: what cannot be kept is refused in one shape, a full disk is said, answers are small."""

from __future__ import annotations

import errno
import gzip
import json
import re
import unittest
from typing import Any
from unittest.mock import patch

import brotli
from django.conf import settings
from django.contrib.sessions.models import Session
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError
from django.http import HttpResponse
from django.test import Client, RequestFactory, override_settings

from strata.errors import Broken
from studio import gate
from studio.builds import history
from studio.numbered import number
from studio.sets.models import LayerSet
from tests import world
from tests.studio.base import StudioTest

HALF = "\ud800"
SHAPE = {"code", "sentence", "field"}


class UnkeepableTest(StudioTest):
    """Nothing that SQLite or UTF-8 cannot hold gets in, by any door."""

    def setUp(self) -> None:
        super().setUp()
        self.browser = Client(raise_request_exception=False)
        self.browser.force_login(self.ada)

    def raw(self, method: str, path: str, text: str) -> Any:
        return getattr(self.browser, method)(f"/api/{path}", text, content_type="application/json")

    def in_shape(self, answer: Any, *codes: int) -> dict[str, Any]:
        self.assertIn(answer.status_code, codes, answer.content[:300])
        body: dict[str, Any] = json.loads(answer.content)
        self.assertLessEqual(SHAPE, set(body))
        self.assertTrue(body["sentence"])
        return body

    def test_half_a_character_in_any_name(self) -> None:
        half = json.dumps({"name": f"Moth{HALF}", "set_id": self.koi.pk, "stock": "kraft"})
        self.in_shape(self.raw("post", "builds", half), 400)
        self.in_shape(self.raw("patch", f"inks/{self.ink.pk}", json.dumps({"notes": HALF})), 400)
        edit = {"revision": 1, "kind": "add_pass", "values": {"element": HALF, "sheet": 1, "ink": "sloe"}}
        self.in_shape(self.raw("post", f"colourings/{self.good.pk}/edits", json.dumps(edit)), 400)
        deep = {**edit, "values": {HALF: [{"x": HALF}]}}
        self.in_shape(self.raw("post", f"colourings/{self.good.pk}/edits", json.dumps(deep)), 400)
        for path in ("builds", "inks", "sets", "imports", f"colourings/{self.good.pk}"):
            self.assertEqual(self.browser.get(f"/api/{path}").status_code, 200, path)

    def test_half_a_character_in_a_file(self) -> None:
        drawer = (
            (world.DEMO / "drawer" / "lockside-drawer.json").read_text().replace("Campion", "Camp\\ud800")
        )
        sent = SimpleUploadedFile("drawer.json", drawer.encode())
        answer = self.browser.post("/api/ink-imports", {"file": sent})
        job = answer.json()
        self.assertEqual(job["state"], "failed", answer.content)
        self.assertIn("half of a character", job["sentence"])
        own = self.browser.get(f"/api/ink-imports/{job['id']}")
        self.assertEqual((own.status_code, own.json()["state"]), (200, "failed"))
        build = json.dumps({"plan": {"stock": HALF}})
        self.assertGreaterEqual(self.raw("post", "builds", build).status_code, 400)

    def test_numbers_that_no_database_holds(self) -> None:
        for path in (f"builds/{10**22}", f"colourings/{10**22}", f"inks/{2**63}/opened", f"sets/{10**30}"):
            self.in_shape(self.browser.get(f"/api/{path}"), 404)
        for text in ("1e999", "-1e999", "NaN", "Infinity", str(10**22), "1" + "0" * 5000):
            body = f'{{"revision": {text}, "kind": "set_cards", "values": {{"cards": 2}}}}'
            self.in_shape(self.raw("post", f"colourings/{self.good.pk}/edits", body), 400)
            inner = f'{{"revision": 1, "kind": "set_cards", "values": {{"cards": {text}}}}}'
            self.in_shape(self.raw("post", f"colourings/{self.good.pk}/edits", inner), 400)

    def test_digits_that_are_none(self) -> None:
        for query in ("width=²", "width=٣٠٠", "after=²", "width=1e3", f"width={10**22}", "width="):
            answer = self.browser.get(f"/api/colourings/{self.good.pk}/picture?{query}")
            self.in_shape(answer, 400)
        self.in_shape(self.browser.get(f"/api/sets/{self.koi.pk}?change=²"), 400, 404)

    def test_depths_that_nobody_means(self) -> None:
        for text in ("[" * 100_000, '{"a":' * 100_000, "[" * 100_000 + "]" * 100_000):
            self.in_shape(self.raw("post", "builds", text), 400)
            anonymous = Client(raise_request_exception=False)
            answer = anonymous.post("/api/session", text, content_type="application/json")
            self.in_shape(answer, 400, 403)

    def test_every_refusal_has_one_shape(self) -> None:
        self.in_shape(self.browser.get("/api/nowhere"), 404)
        self.in_shape(self.browser.delete("/api/builds"), 405)
        self.in_shape(self.raw("post", "builds", "{"), 400)
        self.in_shape(self.raw("post", "builds", ""), 400)
        self.in_shape(self.browser.get("/api/builds/x"), 404)
        strict = Client(enforce_csrf_checks=True, raise_request_exception=False)
        strict.force_login(self.ada)
        forged = strict.post("/api/builds", "{}", content_type="application/json")
        self.in_shape(forged, 403)
        with override_settings(DATA_UPLOAD_MAX_MEMORY_SIZE=100):
            self.in_shape(self.raw("post", "builds", json.dumps({"name": "x" * 500})), 413)
        with override_settings(DATA_UPLOAD_MAX_NUMBER_FIELDS=20):
            form = {f"field {n}": "x" for n in range(30)}
            self.in_shape(self.browser.post("/api/imports", form), 413)

    def test_asked_for_by_its_head_alone(self) -> None:
        """A watcher who asks so every minute gets no body, and nothing to complain of in the log."""
        whole = HttpResponse(b"all of it", content_type="text/plain")
        answer = gate.Bodiless(lambda _: whole)(RequestFactory().head("/api/health"))
        self.assertEqual((answer.content, answer["Content-Length"]), (b"", "9"))
        asked = gate.Bodiless(lambda _: HttpResponse(b"all of it"))(RequestFactory().get("/api/health"))
        self.assertEqual(asked.content, b"all of it")

    def test_what_nobody_expected_is_one_sentence_and_in_the_log(self) -> None:
        with (
            patch.object(history, "edit", side_effect=ZeroDivisionError("so many inks")),
            self.assertLogs("studio.errors", "ERROR") as logged,
        ):
            body = json.dumps({"revision": 1, "kind": "set_cards", "values": {"cards": 2}})
            answer = self.in_shape(self.raw("post", f"colourings/{self.good.pk}/edits", body), 500)
        self.assertIn("on our side", answer["sentence"])
        # what she reads out finds it in the log
        told = re.search(r"number (\w{6})\.", answer["sentence"])
        assert told is not None
        self.assertEqual(number(), told.group(1))
        self.assertIn("so many inks", " ".join(logged.output))
        with (
            patch.object(history, "edit", side_effect=Broken("It broke.", trace="Traceback: here")),
            self.assertLogs("studio.errors", "ERROR") as logged,
        ):
            self.in_shape(self.raw("post", f"colourings/{self.good.pk}/edits", body), 500)
        self.assertIn("Traceback: here", " ".join(logged.output))


class FullDiskTest(StudioTest):
    def setUp(self) -> None:
        super().setUp()
        self.browser = Client(raise_request_exception=False)
        self.browser.force_login(self.ada)

    def cards(self, count: int) -> Any:
        body = {"revision": 1, "kind": "set_cards", "values": {"cards": count}}
        path = f"/api/colourings/{self.good.pk}/edits"
        return self.browser.post(path, body, content_type="application/json")

    def test_little_room_is_said_before_anything_is_begun(self) -> None:
        with patch.object(gate, "free_bytes", return_value=gate.LEAST_FREE - 1):
            answer = self.cards(3)
            self.assertEqual(answer.status_code, 507)
            self.assertIn("disk", answer.json()["sentence"])
            # looking goes on
            self.assertEqual(self.browser.get("/api/builds").status_code, 200)
        self.assertEqual(self.cards(3).status_code, 200)

    def test_a_disk_that_fills_up_meanwhile(self) -> None:
        for error in (
            OperationalError("database or disk is full"),
            OperationalError("disk I/O error"),
            OSError(errno.ENOSPC, "No space left on device"),
        ):
            with (
                patch("studio.builds.models.Change.objects.create", side_effect=error),
                self.assertLogs("studio.errors", "ERROR"),
            ):
                answer = self.cards(3)
            self.assertEqual(answer.status_code, 507, answer.content)
            self.assertEqual(answer.json()["code"], "disk_full")
        self.good.refresh_from_db()
        self.assertEqual(self.good.revision, 1)


class SmallTest(StudioTest):
    def test_answers_are_compressed_and_pictures_are_not(self) -> None:
        browser = Client(headers={"accept-encoding": "gzip"})
        browser.force_login(self.ada)
        state = browser.get(f"/api/colourings/{self.good.pk}")
        self.assertEqual(state["Content-Encoding"], "gzip")
        plain = self.client.get(f"/api/colourings/{self.good.pk}")
        self.assertLess(len(state.content), len(plain.content) / 4)
        picture = browser.get(f"/api/colourings/{self.good.pk}/picture?width=100")
        self.assertNotIn("Content-Encoding", picture)

    def test_a_large_answer_is_packed_as_the_browser_takes_it(self) -> None:
        address = f"/api/sets/{LayerSet.objects.get(owner=self.ada, name__startswith='Koi').pk}"
        plain = self.client.get(address)
        self.assertGreater(len(plain.content), 64_000)
        self.assertNotIn("Content-Encoding", plain)
        for taken, packing, unpacked in (
            ("gzip, deflate, br", "br", brotli.decompress),
            ("gzip, deflate", "gzip", gzip.decompress),
            ("gzip, br;q=0", "gzip", gzip.decompress),
        ):
            answer = self.client.get(address, headers={"accept-encoding": taken})
            self.assertEqual(
                (answer["Content-Encoding"], answer["Vary"].count("Accept-Encoding")), (packing, 1)
            )
            self.assertEqual(int(answer["Content-Length"]), len(answer.content))
            self.assertEqual(unpacked(answer.content), plain.content)
            self.assertLess(len(answer.content), len(plain.content) / 2)

    @override_settings(DEMO=True)
    def test_a_visitor_without_cookies_leaves_no_session_behind(self) -> None:
        before = Session.objects.count()
        for _ in range(5):
            Client().get("/api/session")
            Client().get("/api/builds")
        self.assertEqual(Session.objects.count(), before)

    def test_connections_are_kept(self) -> None:
        self.assertIn("CONN_MAX_AGE", settings.DATABASES["default"])
        self.assertNotIn("CONN_MAX_AGE", settings.DATABASES["default"]["OPTIONS"])


class LicenceTest(unittest.TestCase):
    def test_every_font_that_ships_has_its_licence_beside_it(self) -> None:
        """The Open Font License lets a font go only with its text."""
        web = settings.BASE_DIR / "web"
        packages = json.loads((web / "package.json").read_text())["dependencies"]
        fonts = [name.split("/")[1] for name in packages if name.startswith("@fontsource")]
        self.assertGreater(len(fonts), 1)
        for font in fonts:
            text = (web / "public" / "licences" / f"{font}-LICENSE.txt").read_text()
            self.assertIn("SIL OPEN FONT LICENSE", text.upper(), font)
        for file in (settings.BASE_DIR / "strata").rglob("*-latin-*.woff"):
            licence = file.with_name(f"{file.name.split('-')[0]}-LICENSE.txt")
            self.assertTrue(licence.exists(), file.name)
