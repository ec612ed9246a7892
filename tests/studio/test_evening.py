"""An evening of several builds over HTTP: planned together, sound, told by build, never longer than apart."""

from __future__ import annotations

from typing import Any

from strata.order.check import check
from strata.order.facts import facts_of, plan_json
from strata.order.scheduled import scheduled
from strata.order.wishes import rules_of
from studio.builds.evening_views import together
from studio.builds.models import Colouring
from tests.studio.base import StudioTest


class EveningTest(StudioTest):
    def evening(self, *rows: Colouring) -> Any:
        return self.client.get("/api/evening", {"colouring": [r.pk for r in rows]})

    def named(self, name: str) -> Colouring:
        return Colouring.objects.get(build__owner=self.ada, build__name__startswith=name)

    def test_two_builds_of_one_set_share_their_sheets(self) -> None:
        one, other = self.good, self.named("Koi on black")
        found = self.evening(one, other).json()
        self.assertLess(found["minutes"], found["apart"])
        self.assertEqual([b["name"] for b in found["builds"]], [one.build.name, other.build.name])
        told = {v["colouring"] for v in found["visits"]}
        self.assertLessEqual({one.pk, other.pk}, told)
        made = together([one, other])
        schedule = scheduled(made.work, made.found)
        facts = facts_of(made.evening, rules_of(made.orderings[0].scene), made.work.instance.jobs)
        self.assertEqual(check(facts, plan_json(schedule, made.work.instance.by_hand)), [])

    def test_unlike_builds_are_told_each_in_its_own_words(self) -> None:
        found = self.evening(self.named("Luna"), self.tried).json()
        said = {
            v["colouring"]: " ".join(s["sentence"] for s in v["steps"])
            for v in found["visits"]
            if v["colouring"]
        }
        self.assertEqual(len(said), 2)
        self.assertIn("sheet", said[self.tried.pk].lower())

    def test_what_is_no_evening_is_refused(self) -> None:
        self.refused(self.evening(self.good))
        self.refused(self.evening(self.good, self.good))
        self.refused(self.client.get("/api/evening", {"colouring": ["x", "y"]}))
        bo = Colouring.objects.filter(build__owner=self.makers["bo"]).first()
        assert bo is not None
        self.refused(self.evening(self.good, bo), 404)
