"""What a maker prefers."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.db import models


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
