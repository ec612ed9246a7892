"""Who comes in and how: the first account, invitations, names that look alike, passwords, guessing, what may be sent."""

from __future__ import annotations

import tempfile
import time
from datetime import timedelta
from pathlib import Path
from typing import Any
from unittest.mock import patch

from axes.models import AccessAttempt
from django.contrib.auth import get_user_model
from django.contrib.sessions.models import Session
from django.core.cache import cache
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import SimpleTestCase, TestCase, override_settings
from django.utils import timezone
from rest_framework.test import APIClient

from studio.accounts.demo import DEMO_NAME
from studio.accounts.invitations import invite
from studio.accounts.models import House, Invitation
from studio.accounts.names import called, plain
from studio.accounts.throttles import Accounts, SigningIn
from studio.bench.models import Making, TablePhotograph
from studio.bounds import kept_by, kept_by_all
from studio.serving import serving
from tests.studio.base import StudioTest

GOOD = "lock-gate-42"


def join(name: str, token: str = "", password: str = GOOD) -> Any:
    body = {"name": name, "password": password, "token": token}
    return APIClient().post("/api/accounts", body, format="json")


class Outside(TestCase):
    """A house with one maker, who runs it."""

    def setUp(self) -> None:
        cache.clear()
        self.owner = get_user_model().objects.create_user("Odile", password=GOOD)

    def refused(self, answer: Any, status: int = 400) -> str:
        self.assertEqual(answer.status_code, status, answer.content)
        sentence: str = answer.json()["sentence"]
        return sentence

    def signed_in(self, name: str, password: str = GOOD) -> APIClient:
        client = APIClient()
        answer = client.post("/api/session", {"name": name, "password": password}, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)
        return client


class ComingInTest(Outside):
    def test_the_first_account_runs_the_house_and_the_others_are_invited(self) -> None:
        get_user_model().objects.all().delete()
        self.assertEqual(APIClient().get("/api/session").json()["joining"], "first")
        first = join("Ada")
        self.assertEqual((first.status_code, first.json()["owner"]), (201, True))
        self.assertEqual(APIClient().get("/api/session").json()["joining"], "invited")
        self.assertIn("invitation", self.refused(join("Bo")))

    def test_a_folder_that_the_demo_was_played_in_is_nobodys_house_yet(self) -> None:
        get_user_model().objects.all().delete()
        get_user_model().objects.create_user(DEMO_NAME)
        self.assertEqual(APIClient().get("/api/session").json()["joining"], "first")
        self.assertTrue(join("Ada").json()["owner"])

    def test_an_invitation_lets_one_in_once_and_within_its_week(self) -> None:
        row, token = invite(self.owner, "for Bo")
        self.assertEqual(APIClient().get(f"/api/invitations/{token}").json(), {"kind": "join", "name": ""})
        self.assertEqual(join("Bo", token).status_code, 201)
        self.assertIn("used already", self.refused(join("Cy", token)))
        row, token = invite(self.owner)
        Invitation.objects.filter(pk=row.pk).update(expires=timezone.now() - timedelta(seconds=1))
        self.refused(join("Cy", token))
        self.refused(APIClient().get(f"/api/invitations/{token}"))
        # nothing in the database lets anybody in
        self.assertFalse(Invitation.objects.filter(hashed=token).exists())

    def test_a_name_that_is_refused_does_not_use_the_invitation_up(self) -> None:
        _, token = invite(self.owner)
        self.refused(join("odile", token))
        self.refused(join("Bo", token, "12345678901"))
        self.assertEqual(join("Bo", token).status_code, 201)

    def test_an_open_house_lets_anybody_in(self) -> None:
        client = self.signed_in("Odile")
        self.assertTrue(client.patch("/api/house", {"open": True}, format="json").json()["open"])
        self.assertEqual(join("Bo").status_code, 201)
        client.patch("/api/house", {"open": False}, format="json")
        self.refused(join("Cy"))

    def test_names_are_one_whatever_their_case_and_none_looks_like_another(self) -> None:
        House.objects.create(pk=1, open=True)
        # Cyrillic О and е; the whole name in Cyrillic letters that look Latin; fullwidth; another case
        for name in ("\u041edile", "Odil\u0435", "\uff2fdile", "ODILE"):
            self.refused(join(name))
        self.assertEqual(join("Zoë").status_code, 201)
        self.refused(join("ZOË"))
        self.assertEqual(plain("ZOË"), plain("zoe\u0308"))
        self.assertEqual(called("zoË"), get_user_model().objects.get(username="Zoë"))
        self.assertEqual(self.signed_in("oDILE").get("/api/session").json()["name"], "Odile")

    def test_only_who_runs_it_invites(self) -> None:
        _, token = invite(self.owner)
        join("Bo", token)
        bo = self.signed_in("Bo")
        self.refused(bo.get("/api/house"), 403)
        self.refused(bo.post("/api/house/invitations", {"said": ""}, format="json"), 403)
        self.refused(APIClient().get("/api/house"), 401)
        self.assertFalse(bo.get("/api/session").json()["owner"])

    def test_an_invitation_is_taken_back(self) -> None:
        client = self.signed_in("Odile")
        token = client.post("/api/house/invitations", {"said": " Wren "}, format="json").json()["token"]
        [out] = client.get("/api/house").json()["invitations"]
        self.assertEqual(out["said"], "Wren")
        self.assertEqual(client.delete(f"/api/house/invitations/{out['id']}").status_code, 204)
        self.refused(client.delete(f"/api/house/invitations/{out['id']}"), 404)
        self.refused(join("Wren", token))


class PasswordTest(Outside):
    def test_another_password_signs_the_others_out_and_not_this_one(self) -> None:
        here, there = self.signed_in("Odile"), self.signed_in("Odile")
        wrong = here.post("/api/session/password", {"old": "no", "new": "canal-side-9"}, format="json")
        self.assertIn("not your password", self.refused(wrong))
        weak = here.post("/api/session/password", {"old": GOOD, "new": "12345678"}, format="json")
        self.refused(weak)
        done = here.post("/api/session/password", {"old": GOOD, "new": "canal-side-9"}, format="json")
        self.assertEqual(done.status_code, 204)
        self.assertEqual(here.get("/api/session").json()["name"], "Odile")
        self.assertIsNone(there.get("/api/session").json()["name"])
        self.signed_in("Odile", "canal-side-9")

    def test_signed_out_everywhere(self) -> None:
        here, there = self.signed_in("Odile"), self.signed_in("Odile")
        self.assertEqual(here.post("/api/session/everywhere").status_code, 204)
        self.assertIsNone(here.get("/api/session").json()["name"])
        self.assertIsNone(there.get("/api/session").json()["name"])
        self.assertEqual(Session.objects.count(), 0)

    def test_a_link_gives_a_new_password_once(self) -> None:
        _, token = invite(self.owner)
        join("Bo", token)
        bo, owner = self.signed_in("Bo"), self.signed_in("Odile")
        number = get_user_model().objects.get(username="Bo").pk
        answer = owner.post("/api/house/invitations", {"reset": number}, format="json")
        link = f"/api/invitations/{answer.json()['token']}"
        self.assertEqual(APIClient().get(link).json(), {"kind": "reset", "name": "Bo"})
        # it is no invitation
        self.refused(join("Cy", answer.json()["token"]))
        self.refused(APIClient().post(link, {"password": "123"}, format="json"))
        fresh = APIClient()
        self.assertEqual(fresh.post(link, {"password": "canal-side-9"}, format="json").status_code, 204)
        self.assertEqual(fresh.get("/api/session").json()["name"], "Bo")
        self.assertIsNone(bo.get("/api/session").json()["name"])
        self.refused(APIClient().post(link, {"password": "canal-side-8"}, format="json"))
        self.refused(owner.post("/api/house/invitations", {"reset": 999}, format="json"), 404)


class GuessingTest(Outside):
    def guess(self, name: str, password: str, address: str = "192.0.2.7") -> Any:
        body = {"name": name, "password": password}
        return APIClient(REMOTE_ADDR=address).post("/api/session", body, format="json")

    def test_wrong_too_often_waits_and_nobody_else_does(self) -> None:
        codes = [self.guess("Odile", f"wrong-{n}").status_code for n in range(9)]
        self.assertEqual((codes[0], codes[-1]), (400, 429))
        # the right one does not help either now, in whatever case the name is typed
        self.assertIn("too often", self.refused(self.guess("odile", GOOD), 429))
        self.assertEqual(self.guess("Odile", GOOD, "192.0.2.8").status_code, 200)
        get_user_model().objects.create_user("Bo", password=GOOD)
        self.assertEqual(self.guess("Bo", GOOD).status_code, 200)

    def test_a_right_one_forgets_what_was_wrong(self) -> None:
        for _ in range(3):
            for n in range(5):
                self.guess("Odile", f"wrong-{n}")
            self.assertEqual(self.guess("Odile", GOOD).status_code, 200)

    def test_a_clock_that_is_set_back_locks_nobody_out(self) -> None:
        """What was wrong in a future that did not come yet is not held against anybody until it comes."""
        for n in range(9):
            self.guess("Odile", f"wrong-{n}")
        self.refused(self.guess("Odile", GOOD), 429)
        AccessAttempt.objects.update(attempt_time=timezone.now() + timedelta(days=1))
        with patch.object(SigningIn, "THROTTLE_RATES", {"signing-in": "4/hour"}):
            tomorrow = time.time() + 24 * 3600
            with patch.object(SigningIn, "timer", staticmethod(lambda: tomorrow)):
                codes = [self.guess(f"nobody{n}", GOOD).status_code for n in range(5)]
            self.assertEqual(codes[-1], 429)
            self.assertEqual(self.guess("Odile", GOOD).status_code, 200)

    def test_an_address_tries_so_many_names_and_accounts_an_hour(self) -> None:
        with patch.object(SigningIn, "THROTTLE_RATES", {"signing-in": "4/hour"}):
            codes = [self.guess(f"nobody{n}", GOOD).status_code for n in range(6)]
            self.assertEqual(codes, [400] * 4 + [429] * 2)
            self.assertEqual(self.guess("Odile", GOOD, "192.0.2.8").status_code, 200)
            # looking who is here is not counted
            self.assertEqual(APIClient(REMOTE_ADDR="192.0.2.7").get("/api/session").status_code, 200)
        with patch.object(Accounts, "THROTTLE_RATES", {"accounts": "2/hour"}):
            self.assertEqual([join(f"n{n}").status_code for n in range(3)], [400, 400, 429])


class BoundsTest(StudioTest):
    @override_settings(STRANGERS=64_000)
    def test_a_stranger_sends_no_more_than_a_name_takes(self) -> None:
        file = SimpleUploadedFile("big.bin", b"0" * 100_000)
        answer = APIClient().post("/api/session", {"name": "x", "password": "y", "file": file})
        self.refused(answer, 413)
        # nor as a form that would be written to the disk first
        small = SimpleUploadedFile("small.bin", b"0" * 100)
        self.assertIn(APIClient().post("/api/session", {"name": "x", "file": small}).status_code, (400, 415))

    def test_what_does_not_say_how_long_it_is_is_not_read(self) -> None:
        answer = self.client.post("/api/inks", {}, format="json", HTTP_TRANSFER_ENCODING="chunked")
        self.refused(answer, 411)

    def test_a_maker_has_so_much_room(self) -> None:
        cache.clear()
        self.client.force_login(self.ada)
        going = Making.objects.create(colouring=self.good, number=1)
        TablePhotograph.objects.create(making=going, key="k", at=1.0, content=b"j" * 2000)
        self.assertGreater(kept_by(self.ada), 1000)
        file = {"files": SimpleUploadedFile("a.svg", b"<svg/>")}
        with override_settings(QUOTA=kept_by(self.ada) + 50):
            said = self.refused(self.client.post("/api/imports", file), 413)
            self.assertIn("full", said)
        # a change without files is never refused for it
        with override_settings(QUOTA=0):
            self.assertEqual(self.edit(self.good, "set_cards", {"cards": 3}).status_code, 200)

    def test_a_house_has_so_much_room(self) -> None:
        self.client.force_login(self.ada)
        with tempfile.TemporaryDirectory() as place, override_settings(DATA_DIR=Path(place)):
            cache.clear()
            for name, size in (
                ("anastrata.sqlite3", 3000),
                ("backups/old.zip", 90_000),
                ("imports/7/0.bin", 2000),
            ):
                path = Path(place) / name
                path.parent.mkdir(parents=True, exist_ok=True)
                path.write_bytes(b"x" * size)
            self.assertEqual(kept_by_all(), 5000)
            file = {"files": SimpleUploadedFile("a.svg", b"<svg/>")}
            with override_settings(WHOLE=5050):
                said = self.refused(self.client.post("/api/imports", file), 413)
                self.assertIn("This house is full", said)
            with override_settings(WHOLE=0):
                self.assertNotEqual(self.client.post("/api/imports", file).status_code, 413)
        cache.clear()

    def test_nothing_runs_that_was_not_shipped(self) -> None:
        page = self.client.get("/")
        policy = page["Content-Security-Policy"]
        self.assertIn("script-src 'self'", policy)
        self.assertNotIn("unsafe-inline", policy.split("script-src")[1].split(";")[0])
        self.assertNotIn("unsafe-eval", policy)
        self.assertIn("frame-ancestors 'none'", policy)
        self.assertIn("microphone=()", page["Permissions-Policy"])
        self.assertEqual(page["Cross-Origin-Opener-Policy"], "same-origin")


class ServingTest(SimpleTestCase):
    def test_in_a_household_over_http(self) -> None:
        found = serving({"ANASTRATA_HOSTS": " cards.lan , 192.0.2.9"})
        self.assertEqual(found.hosts[:2], ("cards.lan", "192.0.2.9"))
        self.assertIn("localhost", found.hosts)
        self.assertNotIn("SESSION_COOKIE_SECURE", found.settings())

    def test_behind_a_proxy_with_a_certificate(self) -> None:
        found = serving({"ANASTRATA_HOSTS": "cards.example", "ANASTRATA_TLS": "1"})
        values = found.settings()
        self.assertEqual(values["CSRF_TRUSTED_ORIGINS"], ["https://cards.example"])
        self.assertTrue(values["SESSION_COOKIE_SECURE"] and values["CSRF_COOKIE_SECURE"])
        self.assertTrue(values["SECURE_SSL_REDIRECT"])
        self.assertGreater(values["SECURE_HSTS_SECONDS"], 30_000_000)
        self.assertNotIn("SILENCED_SYSTEM_CHECKS", values)
        other = serving({"ANASTRATA_TLS": "1", "ANASTRATA_ORIGINS": "https://a.example"})
        self.assertEqual(other.settings()["CSRF_TRUSTED_ORIGINS"], ["https://a.example"])
