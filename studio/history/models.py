"""What has a version, and what was sent: the tables of the one history contract (``studio.history.contract``)."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class Versioned(models.Model):
    """A row that is changed step by step; ``revision`` grows by one with every edit, undo and redo."""

    revision = models.PositiveIntegerField(default=1)

    class Meta:
        abstract = True


class Receipt(models.Model):
    """An edit, undo, redo or import that has arrived: sent again with the same key it is not made again.

    ``scope`` names what was changed (``colouring:5``, ``set:2``, ``drawer``);
    ``made`` is what it made, where the sender has to know (a row's number).
    """

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    scope = models.CharField(max_length=60)
    edit_key = models.CharField(max_length=64)
    made = models.CharField(max_length=60, blank=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["owner", "scope", "edit_key"], name="one_receipt_a_key")
        ]
