"""Who runs the house: the first account that was made, or whom Django calls staff."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.db.models import QuerySet
from rest_framework.permissions import BasePermission
from rest_framework.request import Request

from studio.accounts.demo import DEMO_NAME


def real_makers() -> QuerySet[User]:
    """Everybody with an account of her own: nobody can sign in as the maker of the demo."""
    return User.objects.filter(is_active=True).exclude(username=DEMO_NAME)


def runs_the_house(user: Any) -> bool:
    """Whether somebody may invite, give new passwords and see how it is."""
    if not user.is_authenticated:
        return False
    if user.get_username() == DEMO_NAME:
        # who plays the maker of the demo runs nothing once the house is served for real
        return bool(settings.DEMO_MODE)
    if user.is_staff:
        return True
    makers = real_makers()
    first = makers.order_by("pk").values_list("pk", flat=True).first()
    return not makers.filter(is_staff=True).exists() and first == user.pk


class OwnerOnly(BasePermission):
    """Only who runs the house."""

    message = "Only who runs this house can do that."

    def has_permission(self, request: Request, view: Any) -> bool:
        """Whether the one signed in does."""
        return runs_the_house(request.user)
