"""What is made at the table: a making for each going of a colouring, and the events that happened in it."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from studio.builds.models import Build, Colouring
from studio.jobs.models import Job
from studio.owned import Owned


class Making(models.Model):
    """One going of a colouring at the table, counted from 1; the last one is under way."""

    colouring = models.ForeignKey(Colouring, on_delete=models.CASCADE, related_name="makings")
    number = models.PositiveIntegerField(default=1)
    begun = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["number"]
        constraints = [models.UniqueConstraint(fields=["colouring", "number"], name="one_making_a_number")]


class Event(models.Model):
    """Something that happened (``strata.making.events``); added, never changed. ``at``: seconds since 1970."""

    making = models.ForeignKey(Making, on_delete=models.CASCADE, related_name="events")
    key = models.CharField(max_length=64)
    at = models.FloatField()
    kind = models.CharField(max_length=20)
    by = models.CharField(max_length=64, blank=True)
    body = models.JSONField(default=dict)
    arrived = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["at", "key"]
        constraints = [models.UniqueConstraint(fields=["making", "key"], name="one_event_a_key")]


class TablePhotograph(models.Model):
    """A photograph taken in the middle of the work: a JPEG, drawn anew. ``after``: what was done last, in words."""

    making = models.ForeignKey(Making, on_delete=models.CASCADE, related_name="photographs")
    key = models.CharField(max_length=64)
    at = models.FloatField()
    card = models.PositiveIntegerField(default=0)
    after = models.CharField(max_length=300, blank=True)
    content = models.BinaryField()

    class Meta:
        ordering = ["at", "key"]
        constraints = [models.UniqueConstraint(fields=["making", "key"], name="one_table_photograph_a_key")]


class Record(Owned):
    """A made card in the log: what was done (``body``, as strata.making.record writes it), and what is told beside it.

    It stands by itself: build and making are only where it came from.
    ``said`` holds the words by which it is found, in small letters; ``summary``
    what the log's list tells of the body, None until it has; ``taken`` the
    sheets of card (by its name then) that the house has fewer for it.
    """

    making = models.OneToOneField(Making, null=True, on_delete=models.SET_NULL, related_name="record")
    build = models.ForeignKey(Build, null=True, on_delete=models.SET_NULL, related_name="records")
    name = models.CharField(max_length=200)
    person = models.CharField(max_length=120, blank=True)
    note = models.TextField(blank=True)
    sets = models.CharField(max_length=1000, blank=True)
    made = models.DateTimeField()
    body = models.JSONField()
    picture = models.BinaryField()
    said = models.TextField(blank=True)
    summary = models.JSONField(null=True, blank=True)
    taken = models.JSONField(default=dict, blank=True)

    class Meta:
        ordering = ["-made", "-pk"]


class Photograph(models.Model):
    """A photograph of a made card: a JPEG, drawn anew when it came, and what it shows against what was predicted.

    ``around``: key of the card that it lies on, where it lies on one;
    ``corners``: four times (px, px) where somebody has shown them. ``reading``
    as ``studio.bench.photographs`` writes it, ``straight`` the panel put
    straight and evened (JPEG); both None until a job has read it.
    """

    record = models.ForeignKey(Record, on_delete=models.CASCADE, related_name="photographs")
    content = models.BinaryField()
    added = models.DateTimeField(auto_now_add=True)
    around = models.CharField(max_length=120, blank=True)
    corners = models.JSONField(null=True, blank=True)
    reading = models.JSONField(null=True, blank=True)
    straight = models.BinaryField(null=True, blank=True)
    job = models.ForeignKey(Job, null=True, blank=True, on_delete=models.SET_NULL)

    class Meta:
        ordering = ["pk"]


class Lesson(models.Model):
    """What all photographed cards of a maker say of pads and hands; shown first, kept in the drawer if she likes.

    ``body`` as ``studio.bench.lessons`` writes it, None until a job has found it.
    """

    owner = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    body = models.JSONField(null=True, blank=True)
    kept = models.BooleanField(default=False)
    job = models.ForeignKey(Job, null=True, blank=True, on_delete=models.SET_NULL)
