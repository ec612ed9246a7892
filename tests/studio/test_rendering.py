"""Answers are written quickly, and read as those of REST framework do."""

from __future__ import annotations

import json
from datetime import UTC, datetime
from decimal import Decimal
from uuid import UUID

import numpy as np
from django.test import SimpleTestCase
from django.utils.translation import gettext_lazy
from rest_framework.renderers import JSONRenderer

from studio.rendering import QuickJSON

ODD = {
    "dates": datetime(2026, 3, 4, 5, 6, 7, 891234, tzinfo=UTC),
    "money": Decimal("1.20"),
    "name": UUID(int=7),
    "lazy": gettext_lazy("late"),
    "measured": np.float64(0.1),
    "many": np.array([[1.5, 2.0]]),
    "pair": (1, "2"),
    "set": {3},
    4: "a number for a name",
    "words": "ä “é” \U0001f98b \u2028",
    "figures": [0.1, 1e-7, 1e22, -0.0, 2**60, True, None],
}


class RenderingTest(SimpleTestCase):
    def test_odd_values_read_as_those_of_rest_framework(self) -> None:
        for value in (ODD, [], {}, "word", 0, [ODD, ODD]):
            self.assertEqual(json.loads(QuickJSON().render(value)), json.loads(JSONRenderer().render(value)))

    def test_what_it_cannot_write_is_written_as_before(self) -> None:
        self.assertEqual(QuickJSON().render({"n": 2**70}), JSONRenderer().render({"n": 2**70}))
        self.assertEqual(QuickJSON().render(None), b"")
        with self.assertRaises(TypeError):
            QuickJSON().render({"what": object()})

    def test_indents_are_for_whoever_asks(self) -> None:
        asked = "application/json; indent=2"
        self.assertEqual(QuickJSON().render(ODD, asked), JSONRenderer().render(ODD, asked))
        self.assertNotIn(b"\n", QuickJSON().render({"a": 1}, "application/json"))
