"""The demo world in a test database, once a class."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import get_user_model
from django.test import TestCase, override_settings
from rest_framework.test import APIClient

from strata.plan import Materials, Plan
from studio.builds import looking, summaries
from studio.builds.history import start
from studio.builds.management.commands.seed_demo import seed
from studio.builds.models import Colouring
from studio.inks.models import Ink
from studio.sets import history, measures
from studio.sets.models import LayerSet


def table_of_makers() -> dict[str, Any]:
    """Two makers: Ada with the demo world, Bo with the same again."""
    User = get_user_model()
    makers = {}
    for name in ("ada", "bo"):
        makers[name] = User.objects.create_user(username=name, password="thursday-table-9")
        seed(makers[name])
    return makers


@override_settings(JOBS_AT_ONCE=True)
class StudioTest(TestCase):
    """Ada and Bo, each with a demo world; ``self.client`` is signed in as Ada."""

    @classmethod
    def setUpTestData(cls) -> None:
        cls.makers = table_of_makers()

    def setUp(self) -> None:
        # the database is rolled back between tests, and gives the same numbers again
        history._KEPT.clear()
        looking._OUTLOOKS.clear()
        summaries._TOLD.clear()
        measures._MADE.clear()
        self.ada = self.makers["ada"]
        self.client: APIClient = APIClient()
        self.client.force_authenticate(self.ada)
        self.good = Colouring.objects.get(build__owner=self.ada, build__name__startswith="Thank-you")
        self.tried = Colouring.objects.get(build__owner=self.ada, build__name__startswith="First")
        self.koi = LayerSet.objects.get(owner=self.ada, key="koi-and-lantern")
        self.ink = Ink.objects.get(owner=self.ada, key="campion")

    def fresh(self) -> Colouring:
        """The first colouring of a build of Ada's with nothing on it."""
        return start(self.ada, "A fresh card", {"image": self.koi}, Plan(Materials("white-smooth")))

    def edit(
        self, build: Colouring, kind: str, values: dict[str, Any], revision: int | None = None, **more: Any
    ) -> Any:
        build.refresh_from_db()
        body = {
            "revision": build.revision if revision is None else revision,
            "kind": kind,
            "values": values,
            **more,
        }
        return self.client.post(f"/api/colourings/{build.pk}/edits", body, format="json")

    def refused(self, answer: Any, status: int = 400) -> str:
        """The sentence of a refusal in the one shape."""
        self.assertEqual(answer.status_code, status, answer.content)
        body = answer.json()
        self.assertLessEqual({"code", "sentence", "field"}, set(body))
        self.assertTrue(body["sentence"].strip())
        return body["sentence"]
