"""Several requests at once, as a household and a browser make them."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any
from unittest.mock import patch

from django.contrib.auth import get_user_model
from django.db import connections
from django.test import TransactionTestCase
from rest_framework.test import APIClient

from strata.picture import fields, stacks
from strata.picture.shown import view
from studio.builds import looking
from studio.builds.management.commands.seed_demo import seed
from studio.builds.models import Build, Colouring


class ThreadTest(TransactionTestCase):
    def setUp(self) -> None:
        self.maker = get_user_model().objects.create_user(username="ada")
        seed(self.maker)
        self.build = Colouring.objects.get(build__name__startswith="Thank-you")

    def at_once(self, work: Callable[[int], Any], count: int, hands: int = 6) -> list[Any]:
        def alone(number: int) -> Any:
            try:
                return work(number)
            finally:
                connections.close_all()

        with ThreadPoolExecutor(hands) as pool:
            return list(pool.map(alone, range(count)))

    def api(self) -> APIClient:
        client = APIClient()
        client.force_authenticate(self.maker)
        return client

    def test_many_tabs_lose_no_edit_and_never_fail(self) -> None:
        """Each tab retries on the answer "moved on", as the page does; every edit ends up made once."""

        def tab(number: int) -> int:
            client, tries = self.api(), 0
            while True:
                tries += 1
                revision = Colouring.objects.get(pk=self.build.pk).revision
                values = {"pass": f"tab{number}", "element": "bud", "sheet": 5, "ink": "sloe"}
                body = {"revision": revision, "kind": "add_pass", "values": values, "edit_key": f"k{number}"}
                answer = client.post(f"/api/colourings/{self.build.pk}/edits", body, format="json")
                self.assertIn(answer.status_code, (200, 409), answer.content)
                if answer.status_code == 200:
                    return tries

        self.at_once(tab, 12)
        self.build.refresh_from_db()
        passes = self.build.changes.get(number=self.build.head).plan["passes"]
        self.assertEqual(
            {p["key"] for p in passes if p["key"].startswith("tab")}, {f"tab{i}" for i in range(12)}
        )
        self.assertEqual(self.build.revision, 13)

    def test_one_key_from_many_tabs_is_one_edit(self) -> None:
        def tab(_: int) -> int:
            body = {"revision": 1, "kind": "set_cards", "values": {"cards": 7}, "edit_key": "same"}
            return self.api().post(f"/api/colourings/{self.build.pk}/edits", body, format="json").status_code

        self.assertEqual(set(self.at_once(tab, 8)), {200})
        self.build.refresh_from_db()
        self.assertEqual(self.build.revision, 2)

    def test_a_cold_server_answers_everything_at_once(self) -> None:
        """State, table, pictures and sets asked for together, with nothing kept from before."""
        looking._OUTLOOKS.clear()
        stacks._STACKS.clear()
        fields._FIELDS.clear()
        base = f"/api/colourings/{self.build.pk}"
        paths = [base, f"{base}/table", f"{base}/picture?width=300", f"{base}/picture?width=300&after=9",
                 "/api/builds", "/api/sets", f"/api/sets/{self.build.build.placed_sets.get().layer_set_id}", "/api/inks"]  # fmt: skip

        def ask(number: int) -> int:
            return self.api().get(paths[number % len(paths)]).status_code

        self.assertEqual(set(self.at_once(ask, 32, hands=8)), {200})

    def test_the_same_map_is_found_once(self) -> None:
        seen = looking.outlook(self.build)
        found_anew: list[int] = []
        real = stacks._found

        def counted(*args: Any) -> Any:
            found_anew.append(1)
            return real(*args)

        stacks._STACKS.clear()
        with patch.object(stacks, "_found", counted):
            found = self.at_once(lambda _: view(seen.scene, seen.sequence.wet, 210).stacks, 6)
        self.assertEqual(len(found_anew), 1)
        self.assertTrue(all(one is found[0] for one in found))

    def test_a_build_that_is_wiped_meanwhile_is_gone_not_broken(self) -> None:
        build = Colouring.objects.get(pk=self.build.pk)
        Build.objects.all().delete()
        from strata.errors import UnknownName

        with self.assertRaises(UnknownName):
            looking.plan_of(build)
        self.assertEqual(self.api().get(f"/api/colourings/{build.pk}").status_code, 404)
