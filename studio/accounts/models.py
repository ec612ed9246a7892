"""What a maker prefers."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.db import models
from django.utils import timezone


class Preference(models.Model):
    """Units as the maker writes them."""

    class Units(models.TextChoices):
        INCHES = "in", "inches"
        MILLIMETRES = "mm", "millimetres"

    owner = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    units = models.CharField(max_length=2, choices=Units.choices, default=Units.INCHES)


def units_of(user: Any) -> Preference.Units:
    """The units of a maker; inches as long as nothing was chosen."""
    kept = Preference.objects.filter(owner=user).first() if user.is_authenticated else None
    return Preference.Units(kept.units) if kept else Preference.Units.INCHES


class House(models.Model):
    """One row: how accounts are made here. ``open``: by anybody, or by invitation only."""

    open = models.BooleanField(default=False)

    @classmethod
    def is_open(cls) -> bool:
        """Whether anybody may make an account; by invitation as long as nobody said otherwise."""
        return cls.objects.filter(pk=1, open=True).exists()


class Invitation(models.Model):
    """A link that makes an account, or (``reset``) a new password for one. Only what its token hashes to is kept."""

    hashed = models.CharField(max_length=64, unique=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="invitations"
    )
    reset = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.CASCADE, related_name="resets"
    )
    said = models.CharField(max_length=120, blank=True)
    expires = models.DateTimeField()
    used = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-pk"]

    @property
    def valid(self) -> bool:
        """Whether it can still be used."""
        return self.used is None and self.expires > timezone.now()
