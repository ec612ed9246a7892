"""Layer sets that a maker owns."""

from __future__ import annotations

from django.db import models

from strata.sheets.model import KINDS
from studio.owned import Owned


class LayerSet(Owned):
    """A set; ``geometry`` is JSON as strata.formats.set_file reads it."""

    key = models.CharField(max_length=120)
    name = models.CharField(max_length=200)
    kind = models.CharField(max_length=20, choices=[(k, k) for k in KINDS])
    width_mm = models.FloatField()
    height_mm = models.FloatField()
    geometry = models.JSONField()
    left_out = models.JSONField(default=list)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="one_set_a_key")]
        ordering = ["name"]
