"""A run of a colouring at the table."""

from __future__ import annotations

from django.db import models

from studio.builds.models import Colouring
from studio.history.models import Versioned


class Run(Versioned):
    """Where a maker is: the step, what is ticked, when a wait began.

    ``signature`` tells which sequence the step number belongs to, ``step_key``
    which step that was and ``done`` the passes finished, so that a changed
    order can be resumed at the right place. None of them depends on words.
    """

    colouring = models.OneToOneField(Colouring, on_delete=models.CASCADE)
    signature = models.CharField(max_length=40)
    step = models.PositiveIntegerField(default=0)
    step_key = models.CharField(max_length=200, blank=True)
    ticks = models.JSONField(default=list)
    done = models.JSONField(default=list)
    wait_started = models.DateTimeField(null=True, blank=True)
    updated = models.DateTimeField(auto_now=True)
