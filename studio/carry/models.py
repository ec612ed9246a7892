"""A whole account on its way out or in."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from studio.jobs.models import Job


class Carry(models.Model):
    """One archive of a maker's: ``way`` out (written by its job, then fetched) or in (sent, then read by its job).

    ``told``: how many rows of each kind it held, once that is known.
    """

    OUT, IN = "out", "in"

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    way = models.CharField(max_length=3, choices=[(OUT, OUT), (IN, IN)])
    created = models.DateTimeField(auto_now=True)
    told = models.JSONField(null=True, blank=True)
    job = models.ForeignKey(Job, null=True, blank=True, on_delete=models.SET_NULL)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "way"], name="one_carry_a_way")]
