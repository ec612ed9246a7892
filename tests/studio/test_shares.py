"""Links to a colouring: what they show, what they do not, and that a withdrawn one shows nothing."""

from __future__ import annotations

from typing import Any

from rest_framework.test import APIClient

from studio.builds.models import Share
from studio.inks.editing import change_inks
from tests.studio.base import StudioTest


class SharesTest(StudioTest):
    def setUp(self) -> None:
        super().setUp()
        self.stranger = APIClient()

    def link(self) -> dict[str, Any]:
        answer = self.client.post(f"/api/colourings/{self.tried.pk}/shares")
        self.assertEqual(answer.status_code, 201)
        made: dict[str, Any] = answer.json()
        return made

    def test_a_stranger_sees_picture_pads_and_steps_and_nothing_else(self) -> None:
        change_inks(self.ada, [self.ink.pk], {"place": "behind the pump"})
        link = self.link()
        answer = self.stranger.get(f"/api/shared/{link['token']}")
        self.assertEqual((answer.status_code, answer["Cache-Control"]), (200, "no-store"))
        shown = answer.json()
        self.assertEqual(set(shown), {"name", "said", "aspect", "passes", "pads", "visits"})
        steps = [s for v in shown["visits"] for s in v["steps"]]
        self.assertEqual([s["number"] for s in steps], list(range(1, len(steps) + 1)))
        self.assertEqual(steps[-1]["laid"], shown["passes"])
        for secret in ("behind the pump", "ada", "drawer", "lockside"):
            self.assertNotIn(secret, str(shown).lower())
        for path in ("picture", "picture?after=3"):
            picture = self.stranger.get(f"/api/shared/{link['token']}/{path}")
            self.assertEqual((picture.status_code, picture["Content-Type"]), (200, "image/jpeg"))
        paper = self.stranger.get(f"/api/shared/{link['token']}/plan.pdf")
        self.assertTrue(paper.content.startswith(b"%PDF"))
        for method in ("post", "put", "patch", "delete"):
            answer = getattr(self.stranger, method)(f"/api/shared/{link['token']}")
            self.assertEqual(answer.status_code, 405)

    def test_withdrawn_it_shows_nothing_from_then_on(self) -> None:
        one, other = self.link(), self.link()
        self.assertNotEqual(one["token"], other["token"])
        self.assertGreaterEqual(len(one["token"]), 32)
        address = f"/api/colourings/{self.tried.pk}/shares"
        self.assertEqual(self.client.delete(f"{address}/{one['id']}").status_code, 204)
        for path in ("", "/picture", "/plan.pdf"):
            self.assertEqual(self.stranger.get(f"/api/shared/{one['token']}{path}").status_code, 404)
            self.assertEqual(self.stranger.get(f"/api/shared/{other['token']}{path}").status_code, 200)
        self.assertEqual([s["id"] for s in self.client.get(address).json()], [other["id"]])
        self.assertEqual(self.client.delete(f"{address}/{one['id']}").status_code, 404)

    def test_what_is_put_away_is_not_shown(self) -> None:
        link = self.link()
        self.client.delete(f"/api/builds/{self.tried.build_id}")
        self.assertEqual(self.stranger.get(f"/api/shared/{link['token']}").status_code, 404)
        self.client.post(f"/api/builds/{self.tried.build_id}/back")
        self.assertEqual(self.stranger.get(f"/api/shared/{link['token']}").status_code, 200)
        for wrong in ("", "x", link["token"][:-1], link["token"].swapcase()):
            self.assertEqual(self.stranger.get(f"/api/shared/{wrong}").status_code, 404)

    def test_a_class_is_seated_and_told_who_has_which_pad_when(self) -> None:
        address = f"/api/colourings/{self.good.pk}/class"
        found = self.client.get(address, {"people": 8}).json()
        self.assertEqual((found["people"], found["ways"][-1]["sets"]), (8, 8))
        self.assertIn("Coral Kettle", found["pads"])
        self.assertTrue(all(p["count"] == 8 for p in found["pieces"]))
        self.assertTrue(found["pieces"])
        table = self.client.get(f"{address}.csv", {"people": 8, "sets": 2}).content.decode().splitlines()
        self.assertEqual(table[0], "pad,seat,from minute,to minute")
        self.assertEqual({line.split(",")[1] for line in table[1:]}, {"1", "2", "3", "4"})
        for wrong in ({"people": 0}, {"people": 61}, {"people": "many"}):
            self.assertEqual(self.client.get(address, wrong).status_code, 400)
        self.assertEqual(self.client.get(f"{address}.csv", {"people": 8, "sets": 7}).status_code, 400)

    def test_a_dozen_at_once(self) -> None:
        Share.objects.bulk_create(Share(colouring=self.tried, token=f"t{n}") for n in range(12))
        answer = self.client.post(f"/api/colourings/{self.tried.pk}/shares")
        self.assertEqual((answer.status_code, bool(answer.json()["sentence"])), (413, True))
