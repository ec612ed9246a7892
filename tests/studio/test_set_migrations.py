"""What was kept of photographs before: what a hand may answer is not said twice of an import that was under way."""

from __future__ import annotations

from importlib import import_module

from django.apps import apps
from django.contrib.auth import get_user_model
from django.test import TestCase

from strata.tracing.trace import said_of_openings
from studio.sets.models import Import

WITHOUT = import_module("studio.sets.migrations.0005_said_of_places").without


class SaidOfPlacesTest(TestCase):
    def test_only_what_a_hand_may_answer_goes(self) -> None:
        lasting = ["It lies on a mat.", "2 openings are doubtful: neither sheet nor opening is clear there."]
        for once in (said_of_openings(0, 1, 2), said_of_openings(0, 12, 1)):
            self.assertEqual(len(once), 3)
            read = {"openings": [], "warnings": [lasting[0], *once, lasting[1]]}
            alone = {"result": {"warnings": [*once]}, "dropped": []}
            other = {"result": {"warnings": [*lasting, once[1]]}}
            sheets = [
                {"result": None, "name": "a.jpg"},
                {"result": read, "alone": alone, "together": [other, {"result": None}]},
            ]
            owner = get_user_model().objects.create_user(username=f"ada {len(once[1])}")
            row = Import.objects.create(owner=owner, options={}, sheets=sheets)
            drawing = Import.objects.create(owner=owner, options={}, sheets=[])
            WITHOUT(apps)
            WITHOUT(apps)
            kept = Import.objects.get(pk=row.pk).sheets
            self.assertEqual(kept[0], sheets[0])
            self.assertEqual(kept[1]["result"], {"openings": [], "warnings": lasting})
            self.assertEqual(kept[1]["alone"], {"result": {"warnings": []}, "dropped": []})
            self.assertEqual(kept[1]["together"], [{"result": {"warnings": lasting}}, {"result": None}])
            self.assertEqual(Import.objects.get(pk=drawing.pk).sheets, [])
