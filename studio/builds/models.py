"""Builds and the changes made to them."""

from __future__ import annotations

from django.db import models

from studio.owned import Owned
from studio.sets.models import LayerSet, SetChange


class BuildManager(models.Manager["Build"]):
    """Builds with their set and owner, but without the set's geometry: parsing it costs 13 ms a time."""

    def get_queryset(self) -> models.QuerySet[Build]:
        return super().get_queryset().select_related("layer_set", "owner").defer("layer_set__geometry")


class Build(Owned):
    """One project. ``head`` is the change it stands at; ``revision`` grows with every change, undo and redo.

    ``set_change`` is the change its set stood at when it was begun: naming
    the set's parts anew later does not take them from under the plan.
    """

    name = models.CharField(max_length=200)
    layer_set = models.ForeignKey(LayerSet, on_delete=models.PROTECT)
    set_change = models.ForeignKey(SetChange, null=True, blank=True, on_delete=models.PROTECT)
    head = models.PositiveIntegerField(default=0)
    revision = models.PositiveIntegerField(default=1)

    objects = BuildManager()

    class Meta:
        ordering = ["-updated"]


class Change(models.Model):
    """One step of a build's history: the plan after it. Number 0 is the beginning."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="changes")
    number = models.PositiveIntegerField()
    label = models.CharField(max_length=300)
    plan = models.JSONField()
    edit_key = models.CharField(max_length=64, blank=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["number"]
        constraints = [
            models.UniqueConstraint(fields=["build", "number"], name="one_change_a_number"),
            models.UniqueConstraint(
                fields=["build", "edit_key"], condition=~models.Q(edit_key=""), name="one_edit_once"
            ),
        ]
