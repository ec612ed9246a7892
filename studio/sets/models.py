"""Layer sets that a maker owns, the changes made to them, and what is being brought in."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils import timezone

from strata.sheets.model import KINDS
from studio.history.models import Versioned
from studio.jobs.models import Job
from studio.large_json import LargeJSON
from studio.owned import Owned


class LayerSet(Owned, Versioned):
    """A set; ``geometry`` is JSON as strata.formats.set_file reads it, as it was brought in.

    ``head`` is the change it stands at, None at the beginning. ``edition``
    counts how often it was brought in under the same key.
    """

    LARGE = ("geometry",)

    key = models.CharField(max_length=120)
    name = models.CharField(max_length=200)
    kind = models.CharField(max_length=20, choices=[(k, k) for k in KINDS])
    width_mm = models.FloatField()
    height_mm = models.FloatField()
    geometry = LargeJSON()
    left_out = models.JSONField(default=list)
    brought = models.DateTimeField(default=timezone.now)
    edition = models.PositiveIntegerField(default=1)
    summary = LargeJSON(null=True, blank=True)
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


class Measuring(models.Model):
    """What was measured on a large set by a ``job``; ``of`` the edition and change that it is of, and what was told then; ``found`` when it is done."""

    layer_set = models.OneToOneField(LayerSet, on_delete=models.CASCADE)
    of = models.CharField(max_length=40, blank=True)
    found = LargeJSON(null=True, blank=True)
    job = models.ForeignKey(Job, null=True, blank=True, on_delete=models.SET_NULL)


class SetPicture(models.Model):
    """A photograph that came with a set, drawn afresh without the file's metadata."""

    layer_set = models.ForeignKey(LayerSet, on_delete=models.CASCADE, related_name="pictures")
    name = models.CharField(max_length=120)
    data = models.BinaryField()

    class Meta:
        ordering = ["pk"]


class Import(models.Model):
    """A set on its way in. Its files lie in a folder of its own until it is kept or let go.

    Its ``job`` reads it; how far that is and why it ended stands there.
    """

    STATES = ("reading", "ready", "failed", "stopped")

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)
    job = models.ForeignKey(Job, null=True, blank=True, on_delete=models.SET_NULL)
    options = models.JSONField(default=dict)
    sheets = LargeJSON(default=list)
    draft = LargeJSON(null=True, blank=True)
    described = LargeJSON(null=True, blank=True)
    left_out = models.JSONField(default=list)

    class Meta:
        ordering = ["-created"]

    @property
    def state(self) -> str:
        """Where it is, one of STATES."""
        if self.job is None:
            return "ready" if self.draft is not None else "failed"
        return {"queued": "reading", "running": "reading", "done": "ready"}.get(
            self.job.state, self.job.state
        )
