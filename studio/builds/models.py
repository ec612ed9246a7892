"""Builds, what lies on their panel, their colourings, and the changes made to these."""

from __future__ import annotations

from django.db import models

from strata.panel.things import IMAGE
from studio.history.models import Versioned
from studio.owned import Owned
from studio.sets.models import LayerSet, SetChange


class Build(Owned, Versioned):
    """One project: a panel with what lies on it, and one or more colourings of it.

    ``materials`` (JSON: stock, register, cards) hold for every colouring that
    does not say otherwise. ``revision`` grows when its name or materials do
    change; each colouring has a history of its own.
    """

    name = models.CharField(max_length=200)
    materials = models.JSONField(default=dict)

    class Meta:
        ordering = ["-updated"]


class PlacedSet(models.Model):
    """A layer set on the panel of a build: what passes lie on, by its ``key``.

    ``set_change`` is the change the set stood at when it was placed: naming
    its parts anew later does not take them from under the plans. Where and how
    often it lies is said by the things of each colouring's plan, which ask for
    it by ``key``; the row stays although they let it go, since undo may want
    it again.
    """

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="placed_sets")
    key = models.CharField(max_length=60, default=IMAGE)
    layer_set = models.ForeignKey(LayerSet, on_delete=models.PROTECT)
    set_change = models.ForeignKey(SetChange, null=True, blank=True, on_delete=models.PROTECT)

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["build", "key"], name="one_thing_a_key")]


class Colouring(Versioned):
    """One choice of inks for a build. ``head`` is the number of the change it stands at.

    ``better`` (JSON): an order of work that was searched for, with the key of
    the work that it is for, and whether it was taken; None where there is none.
    ``figures`` (JSON): what Home says of it, with the key of what it is of.
    """

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="colourings")
    name = models.CharField(max_length=200)
    head = models.PositiveIntegerField(default=0)
    created = models.DateTimeField(auto_now_add=True)
    gone = models.DateTimeField(null=True, blank=True)
    better = models.JSONField(null=True, blank=True)
    figures = models.JSONField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]


class Change(models.Model):
    """One step of a colouring's history: what it has of its own after it. Number 0 is the beginning.

    ``plan`` is as strata.formats.build_file writes passes, with ``materials``
    holding only what differs from the build's.
    """

    colouring = models.ForeignKey(Colouring, on_delete=models.CASCADE, related_name="changes")
    number = models.PositiveIntegerField()
    label = models.CharField(max_length=300)
    plan = models.JSONField()
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["colouring", "number"], name="one_change_a_number")]


class Share(models.Model):
    """A link by which anybody who has it sees a colouring, until it is ``withdrawn``."""

    colouring = models.ForeignKey(Colouring, on_delete=models.CASCADE, related_name="shares")
    token = models.CharField(max_length=43, unique=True)
    made = models.DateTimeField(auto_now_add=True)
    withdrawn = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["pk"]


class PostalRate(Owned):
    """A rate of the maker's postal service: the most that goes at it (mm, g), in the order in which they are tried."""

    place = models.PositiveIntegerField(default=0)
    name = models.CharField(max_length=60)
    thick = models.FloatField()
    weight = models.FloatField()
    long = models.FloatField()
    wide = models.FloatField()
    price = models.CharField(max_length=20, blank=True)

    class Meta:
        ordering = ["place", "pk"]
