"""Layer sets that a maker owns, the changes made to them, and what is being brought in."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils import timezone

from strata.sheets.model import KINDS
from studio.owned import Owned


class LayerSet(Owned):
    """A set; ``geometry`` is JSON as strata.formats.set_file reads it, as it was brought in.

    ``head`` is the change it stands at, None at the beginning.
    """

    key = models.CharField(max_length=120)
    name = models.CharField(max_length=200)
    kind = models.CharField(max_length=20, choices=[(k, k) for k in KINDS])
    width_mm = models.FloatField()
    height_mm = models.FloatField()
    geometry = models.JSONField()
    left_out = models.JSONField(default=list)
    brought = models.DateTimeField(default=timezone.now)
    head = models.ForeignKey("SetChange", null=True, blank=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="one_set_a_key")]
        ordering = ["name"]


class SetChange(models.Model):
    """One change to a set, as data. Changes form a tree: builds keep the one they were begun with."""

    layer_set = models.ForeignKey(LayerSet, on_delete=models.CASCADE, related_name="changes")
    parent = models.ForeignKey(
        "self", null=True, blank=True, on_delete=models.CASCADE, related_name="children"
    )
    kind = models.CharField(max_length=40)
    values = models.JSONField()
    label = models.CharField(max_length=300)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["pk"]


class SetPicture(models.Model):
    """A photograph that came with a set, drawn afresh without the file's metadata."""

    layer_set = models.ForeignKey(LayerSet, on_delete=models.CASCADE, related_name="pictures")
    name = models.CharField(max_length=120)
    data = models.BinaryField()

    class Meta:
        ordering = ["pk"]


class Import(models.Model):
    """A set on its way in. Its files lie in a folder of its own until it is kept or let go.

    ``boot`` names the run of the server that is reading it: another run's
    reading has ended with it.
    """

    STATES = ("reading", "ready", "failed", "stopped")

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)
    state = models.CharField(max_length=12, default="reading")
    share = models.FloatField(default=0.0)
    doing = models.CharField(max_length=200, default="Waiting its turn")
    sentence = models.CharField(max_length=500, blank=True)
    boot = models.CharField(max_length=40)
    run = models.PositiveIntegerField(default=1)
    options = models.JSONField(default=dict)
    sheets = models.JSONField(default=list)
    draft = models.JSONField(null=True, blank=True)
    left_out = models.JSONField(default=list)

    class Meta:
        ordering = ["-created"]
