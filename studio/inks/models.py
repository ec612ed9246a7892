"""Inks and stocks that a maker owns."""

from __future__ import annotations

from django.db import models

from strata.optics.inks import CHEMISTRIES
from studio.owned import Owned


class Ink(Owned):
    """One pad with its measured swatches (JSON as strata.formats.drawer reads it)."""

    key = models.CharField(max_length=120)
    name = models.CharField(max_length=200)
    line = models.CharField(max_length=200, blank=True)
    family = models.CharField(max_length=200, blank=True)
    depth = models.PositiveSmallIntegerField(default=0)
    character = models.CharField(
        max_length=10, default="vivid", choices=[("vivid", "vivid"), ("muted", "muted")]
    )
    chemistry = models.CharField(max_length=10, choices=[(c, c) for c in CHEMISTRIES])
    swatches = models.JSONField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="one_ink_a_key")]
        ordering = ["line", "family", "depth", "name"]


class Stock(Owned):
    """A card stock: its colour (CIELAB D50), weight in g/m2, thickness in mm."""

    key = models.CharField(max_length=120)
    name = models.CharField(max_length=200)
    lab = models.JSONField()
    weight_gsm = models.FloatField(default=270)
    thickness_mm = models.FloatField(default=0.33)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="one_stock_a_key")]
        ordering = ["pk"]
