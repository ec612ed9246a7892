"""Work that takes longer than an answer may: a queue in the database, followed by the browser."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from strata.guard.child import WAITING


class Job(models.Model):
    """One piece of work. The row is the truth: whatever runs it only asks the row.

    ``run`` grows each time it is begun, so that a run that was stopped or
    superseded can write nothing more. ``boot`` is the process that runs it.
    ``fault`` is the whole trace of an error nobody expected, for the log and
    for whoever mends it; the maker reads ``sentence``.
    """

    STATES = ("queued", "running", "done", "failed", "stopped")
    OPEN = ("queued", "running")

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    kind = models.CharField(max_length=40)
    subject = models.PositiveBigIntegerField()
    options = models.JSONField(default=dict)
    state = models.CharField(max_length=12, default="queued", choices=[(s, s) for s in STATES])
    share = models.FloatField(default=0.0)
    doing = models.CharField(max_length=200, default=WAITING)
    sentence = models.CharField(max_length=500, blank=True)
    field = models.CharField(max_length=60, blank=True)
    fault = models.TextField(blank=True)
    run = models.PositiveIntegerField(default=1)
    restarts = models.PositiveSmallIntegerField(default=0)
    boot = models.CharField(max_length=40, blank=True)
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["state"]), models.Index(fields=["kind", "subject"])]
