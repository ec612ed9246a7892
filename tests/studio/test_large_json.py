"""A column of megabytes of JSON is, to the database and to who reads it, a column of JSON."""

from __future__ import annotations

import json
import math

from django.db import connection, models
from django.test import SimpleTestCase

from studio.large_json import LargeJSON

VALUES = (
    {"rings": [[0.1, 1e-7, -0.0, 12345.678901234567]]},
    [],
    None,
    "é “x” \u2028",
    {"n": 2**70},
    {"n": 2**53 + 1},
)


class LargeJSONTest(SimpleTestCase):
    def test_it_reads_what_json_writes_and_json_reads_what_it_writes(self) -> None:
        for value in VALUES:
            with self.subTest(value):
                ours = json.dumps(value, cls=LargeJSON().encoder)
                self.assertEqual(json.loads(ours), value)
                self.assertEqual(json.loads(json.dumps(value), cls=LargeJSON().decoder), value)

    def test_what_an_older_version_wrote_is_read(self) -> None:
        (found,) = json.loads("[NaN]", cls=LargeJSON().decoder)
        self.assertTrue(math.isnan(found))

    def test_it_is_no_other_column(self) -> None:
        _, path, args, options = LargeJSON(null=True, blank=True).deconstruct()
        self.assertEqual(
            (path, args, options), ("django.db.models.JSONField", [], {"null": True, "blank": True})
        )
        plain = models.JSONField(null=True)
        self.assertEqual(LargeJSON(null=True).db_type(connection), plain.db_type(connection))
        again = LargeJSON(default=list).clone()
        self.assertIsInstance(again, LargeJSON)
