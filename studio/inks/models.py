"""What a maker owns that takes or gives colour, the changes made to it, and what is on its way in."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from strata.optics.inks import CHEMISTRIES, PADS, STATES
from strata.optics.layers import FINISHES
from strata.optics.stack import STOCK_STATES
from strata.swatchcard import PAPERS
from studio.history.models import Versioned
from studio.jobs.models import Job
from studio.owned import Owned


def _choices(names: tuple[str, ...]) -> list[tuple[str, str]]:
    return [(n, n) for n in names]


class Drawer(Versioned):
    """A maker's drawer as a whole: one revision for everything in it.

    ``token`` is drawn anew with every revision: a number that was given inside
    a transaction that failed is given again, and results kept for it would be
    taken for those of another drawer.
    """

    owner = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    token = models.CharField(max_length=16, default="")


class DrawerRow(Owned):
    """A row of the drawer; ``touched`` is, for each of its values, the revision of the drawer that last changed it."""

    touched = models.JSONField(default=dict)

    class Meta:
        abstract = True


class Ink(DrawerRow):
    """One pad with its measured swatches, and what made cards say of it (JSON as strata.formats.drawer reads it).

    ``dry_minutes`` and ``cleaning`` are the maker's own, where they differ
    from the chemistry's.
    """

    key = models.CharField(max_length=120)
    name = models.CharField(max_length=200)
    line = models.CharField(max_length=200, blank=True)
    family = models.CharField(max_length=200, blank=True)
    depth = models.PositiveSmallIntegerField(default=0)
    character = models.CharField(max_length=10, default="vivid", choices=_choices(("vivid", "muted")))
    chemistry = models.CharField(max_length=10, choices=[(c, c) for c in CHEMISTRIES])
    pad = models.CharField(max_length=10, default="felt", choices=_choices(PADS))
    place = models.CharField(max_length=200, blank=True)
    state = models.CharField(max_length=12, default="full", choices=_choices(STATES))
    notes = models.TextField(blank=True)
    dry_minutes = models.FloatField(null=True, blank=True)
    cleaning = models.CharField(max_length=10, blank=True)
    swatches = models.JSONField()
    learned = models.JSONField(null=True, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="one_ink_a_key")]
        ordering = ["line", "family", "depth", "name"]


class Stock(DrawerRow):
    """A card stock: its colour (CIELAB D50), weight in g/m2, thickness in mm; ``sheets`` in the house, None where nobody counts them."""

    key = models.CharField(max_length=120)
    name = models.CharField(max_length=200)
    lab = models.JSONField()
    weight_gsm = models.FloatField(default=270)
    thickness_mm = models.FloatField(default=0.33)
    finish = models.CharField(max_length=16, default="", blank=True, choices=_choices(FINISHES))
    place = models.CharField(max_length=200, blank=True)
    state = models.CharField(max_length=12, default="plenty", choices=_choices(STOCK_STATES))
    notes = models.TextField(blank=True)
    how = models.CharField(max_length=20, blank=True)
    when = models.CharField(max_length=10, blank=True)
    sheets = models.PositiveSmallIntegerField(null=True, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "key"], name="one_stock_a_key")]
        ordering = ["pk"]


class Tool(DrawerRow):
    """Brushes or daubers of one size: how many, and the family they are kept for, if any."""

    brush = models.CharField(max_length=20)
    count = models.PositiveSmallIntegerField(default=1)
    line = models.CharField(max_length=200, blank=True)
    family = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["pk"]


class Hand(DrawerRow):
    """What a hand (light, medium, heavy) lays for this maker, as a share of what is usual; ``cards`` that say so."""

    hand = models.CharField(max_length=10)
    share = models.FloatField(default=1.0)
    cards = models.PositiveSmallIntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["owner", "hand"], name="one_hand_a_name")]
        ordering = ["pk"]


class DrawerChange(models.Model):
    """One change to the drawer: the rows that it touched, as they were and as they became."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    at = models.DateTimeField(auto_now_add=True)
    label = models.CharField(max_length=300)
    before = models.JSONField()
    after = models.JSONField()
    undone = models.BooleanField(default=False)

    class Meta:
        ordering = ["pk"]


class SwatchCard(Owned):
    """A card to print, ink and photograph. ``fields`` are lists of (ink key, coats) with a label."""

    code = models.PositiveSmallIntegerField()
    title = models.CharField(max_length=120)
    stock = models.CharField(max_length=120)
    paper = models.CharField(max_length=10, default="A4", choices=[(p, p) for p in PAPERS])
    fields = models.JSONField()
    reading = models.JSONField(null=True, blank=True)
    kept = models.JSONField(default=list)
    job = models.ForeignKey(Job, null=True, blank=True, on_delete=models.SET_NULL)

    class Meta:
        ordering = ["-pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["owner", "code"], condition=models.Q(gone=None), name="one_card_a_code"
            )
        ]


class InkImport(models.Model):
    """Inks on their way in: what the file holds, what its columns are said to mean, how far keeping has got.

    ``brought`` is None until its job has read the file. ``done`` counts the
    inks kept by ``change``; when that is taken back in the drawer, nothing of
    the import is kept any more, and it begins again at the first
    (``change_number`` stays when the change itself is forgotten).
    """

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    created = models.DateTimeField(auto_now_add=True)
    name = models.CharField(max_length=200)
    content = models.BinaryField()
    options = models.JSONField(default=dict)
    brought = models.JSONField(null=True, blank=True)
    job = models.ForeignKey(Job, null=True, blank=True, on_delete=models.SET_NULL)
    mapping = models.JSONField(default=list)
    done = models.PositiveIntegerField(default=0)
    change = models.ForeignKey(DrawerChange, null=True, blank=True, on_delete=models.SET_NULL)
    change_number = models.PositiveBigIntegerField(null=True, blank=True)

    class Meta:
        ordering = ["-pk"]
