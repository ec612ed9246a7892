"""A run of a build at the table."""

from __future__ import annotations

from django.db import models

from studio.builds.models import Build


class Run(models.Model):
    """Where a maker is: the step, what is ticked, when a wait began.

    ``signature`` tells which sequence the step number belongs to; ``done`` are
    the passes finished, so that a changed plan can be resumed at the right place.
    """

    build = models.OneToOneField(Build, on_delete=models.CASCADE)
    signature = models.CharField(max_length=40)
    step = models.PositiveIntegerField(default=0)
    ticks = models.JSONField(default=list)
    done = models.JSONField(default=list)
    wait_started = models.DateTimeField(null=True, blank=True)
    updated = models.DateTimeField(auto_now=True)
