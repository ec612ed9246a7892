"""Who runs the house: the first account that was made, or whom Django calls staff."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import get_user_model
from rest_framework.permissions import BasePermission
from rest_framework.request import Request


def runs_the_house(user: Any) -> bool:
    """Whether somebody may invite, give new passwords and see how it is."""
    if not user.is_authenticated:
        return False
    if user.is_staff:
        return True
    makers = get_user_model().objects.filter(is_active=True)
    first = makers.order_by("pk").values_list("pk", flat=True).first()
    return not makers.filter(is_staff=True).exists() and first == user.pk


class OwnerOnly(BasePermission):
    """Only who runs the house."""

    message = "Only who runs this house can do that."

    def has_permission(self, request: Request, view: Any) -> bool:
        """Whether the one signed in does."""
        return runs_the_house(request.user)
