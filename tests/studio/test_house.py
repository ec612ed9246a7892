"""Inks, stocks, sets, accounts and the table over HTTP."""

from __future__ import annotations

from django.test import override_settings
from rest_framework.test import APIClient

from studio.accounts.demo import DEMO_NAME, STAY_OUT
from studio.accounts.models import House
from studio.inks.models import Ink
from tests.studio.base import StudioTest

SWATCH = {"on": {"lab": [95, 0, 2]}, "coats": 1, "lab": [60, 20, 10]}


class InkTest(StudioTest):
    def test_an_ink_is_added_changed_and_told_apart(self) -> None:
        body = {"name": "Towpath Rust", "chemistry": "dye", "swatches": [SWATCH]}
        first = self.client.post("/api/inks", body, format="json").json()
        second = self.client.post("/api/inks", body, format="json").json()
        self.assertNotEqual(first["key"], second["key"])
        renamed = self.client.patch(f"/api/inks/{first['id']}", {"name": "Rust"}, format="json").json()
        self.assertEqual((renamed["name"], renamed["key"]), ("Rust", first["key"]))

    def test_impossible_inks_are_sentences(self) -> None:
        body = {"name": "x", "chemistry": "dye", "swatches": [SWATCH]}
        for wrong in (
            {**body, "chemistry": "tar"},
            {**body, "swatches": []},
            {**body, "swatches": [{**SWATCH, "coats": 0}]},
            {**body, "swatches": [{**SWATCH, "lab": [1, 2]}]},
            {**body, "swatches": [{**SWATCH, "lab": [900, 0, 0]}]},
            {**body, "name": ""},
            {**body, "depth": 99},
            {**body, "character": "loud"},
            {},
        ):
            self.refused(self.client.post("/api/inks", wrong, format="json"))
        self.assertEqual(Ink.objects.filter(owner=self.ada).count(), 45)
        self.refused(self.client.get("/api/inks?stock=marble"), 404)

    def test_changing_a_swatch_changes_the_picture(self) -> None:
        key = self.client.get(f"/api/colourings/{self.good.pk}").json()["picture_key"]
        self.client.patch(f"/api/inks/{self.ink.pk}", {"swatches": [SWATCH]}, format="json")
        self.assertNotEqual(self.client.get(f"/api/colourings/{self.good.pk}").json()["picture_key"], key)

    def test_stocks(self) -> None:
        made = self.client.post("/api/stocks", {"name": "Cream", "lab": [92, 1, 10]}, format="json")
        self.assertEqual((made.status_code, made.json()["key"]), (201, "cream"))
        for wrong in (
            {"name": "x", "lab": [1]},
            {"name": "x", "lab": [200, 0, 0]},
            {"lab": [50, 0, 0]},
            {"name": "x", "lab": [50, 0, 0], "weight_gsm": -4},
        ):
            self.refused(self.client.post("/api/stocks", wrong, format="json"))


class SetTest(StudioTest):
    def test_a_set_put_away_still_serves_its_builds(self) -> None:
        self.client.delete(f"/api/sets/{self.koi.pk}")
        self.refused(self.client.get(f"/api/sets/{self.koi.pk}"), 404)
        self.assertEqual(self.client.get(f"/api/colourings/{self.good.pk}").status_code, 200)


class AccountTest(StudioTest):
    def test_making_an_account_and_coming_back(self) -> None:
        House.objects.update_or_create(pk=1, defaults={"open": True})
        client = APIClient()
        made = client.post("/api/accounts", {"name": "cy", "password": "lock-gate-42"}, format="json")
        self.assertEqual((made.status_code, made.json()["name"]), (201, "cy"))
        self.assertIsNone(client.delete("/api/session").json()["name"])
        self.assertIsNone(client.get("/api/session").json()["name"])
        back = client.post("/api/session", {"name": "cy", "password": "lock-gate-42"}, format="json")
        self.assertEqual(back.json()["name"], "cy")
        self.assertEqual(client.get("/api/builds").json(), [])

    def test_refusals(self) -> None:
        House.objects.update_or_create(pk=1, defaults={"open": True})
        client = APIClient()
        for path, body in (
            ("/api/accounts", {"name": "ada", "password": "lock-gate-42"}),
            ("/api/accounts", {"name": "dee", "password": "123"}),
            ("/api/accounts", {"name": "", "password": "lock-gate-42"}),
            ("/api/accounts", {"name": "a b/c", "password": "lock-gate-42"}),
            ("/api/session", {"name": "ada", "password": "wrong"}),
            ("/api/session", {}),
        ):
            self.refused(client.post(path, body, format="json"))

    @override_settings(DEMO_MODE=True)
    def test_the_demo_signs_in_from_this_machine_only(self) -> None:
        from django.contrib.auth import get_user_model

        get_user_model().objects.create_user(username=DEMO_NAME)
        self.assertEqual(APIClient().get("/api/session").json()["name"], DEMO_NAME)
        self.assertEqual(APIClient(REMOTE_ADDR="::1").get("/api/session").json()["name"], DEMO_NAME)
        # the door of the demo is open, whoever else is there or not
        self.assertEqual(APIClient().get("/api/session").json()["joining"], "open")
        for elsewhere in (
            {"REMOTE_ADDR": "192.0.2.7"},
            {"HTTP_X_FORWARDED_FOR": "127.0.0.1"},
            {"REMOTE_ADDR": ""},
            {"HTTP_FORWARDED": "for=127.0.0.1"},
            *(
                {f"HTTP_{name}": "1"}
                for name in ("VIA", "CF_CONNECTING_IP", "TRUE_CLIENT_IP", "X_CLIENT_IP", "X_FORWARDED_HOST")
            ),
        ):
            found = APIClient(**elsewhere).get("/api/session").json()
            self.assertEqual((found["name"], found["demo"]), (None, False), elsewhere)
        out = APIClient()
        out.delete("/api/session")
        self.assertIn(STAY_OUT, out.cookies)
        self.assertIsNone(out.get("/api/session").json()["name"])

    def test_without_demo_mode_nobody_is_signed_in(self) -> None:
        from django.contrib.auth import get_user_model

        get_user_model().objects.create_user(username=DEMO_NAME)
        self.assertIsNone(APIClient().get("/api/session").json()["name"])
        self.refused(APIClient().post("/api/session/demo"))

    def test_units_are_kept(self) -> None:
        self.client.force_login(self.ada)
        self.client.patch("/api/preferences", {"units": "mm"}, format="json")
        self.assertEqual(self.client.get("/api/session").json()["units"], "mm")
        self.refused(self.client.patch("/api/preferences", {"units": "furlongs"}, format="json"))

    def test_addresses_that_are_not_there(self) -> None:
        self.assertEqual(self.client.get("/api/no-such-thing").status_code, 404)
        page = self.client.get("/builds/12/strata")
        self.assertEqual((page.status_code, page["Content-Type"]), (200, "text/html; charset=utf-8"))


class SeedTest(StudioTest):
    def test_seeding_again_never_destroys_what_was_made(self) -> None:
        from io import StringIO

        from django.core.management import call_command

        from studio.builds.models import Build

        call_command("seed_demo", stdout=StringIO())
        maker = Build.objects.get(owner__username=DEMO_NAME, name__startswith="First")
        maker.name = "Mine now"
        maker.save()
        call_command("seed_demo", stdout=StringIO())
        self.assertTrue(Build.objects.filter(name="Mine now").exists())
        call_command("seed_demo", reset=True, stdout=StringIO())
        self.assertFalse(Build.objects.filter(name="Mine now").exists())
        self.assertEqual(Build.objects.filter(owner__username=DEMO_NAME).count(), 6)
        self.assertEqual(Build.objects.filter(owner=self.ada).count(), 6)
