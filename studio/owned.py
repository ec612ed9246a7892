"""Rows that belong to one maker, and can be put away and brought back."""

from __future__ import annotations

from typing import Any, ClassVar, TypeVar

from django.conf import settings
from django.contrib.auth.models import AnonymousUser
from django.db import models
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from django.utils import timezone
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from studio.asked import maker


class Owned(models.Model):
    """Every row has an owner; ``gone`` rows are put away, not deleted, so that it can be undone."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)
    gone = models.DateTimeField(null=True, blank=True)

    LARGE: ClassVar[tuple[str, ...]] = ()
    # columns that are larger than all others, and seldom asked for: they are read when they are

    class Meta:
        abstract = True


M = TypeVar("M", bound=Owned)


def mine(model: type[M], user: Any) -> QuerySet[M]:
    """The rows of one maker that are not put away; nobody's for a stranger."""
    manager: QuerySet[M] = model._default_manager.defer(*model.LARGE)
    if isinstance(user, AnonymousUser):
        return manager.none()
    return manager.filter(owner=user, gone__isnull=True)


def my(model: type[M], request: Request, pk: int, along: str = "") -> M:
    """One row of the signed-in maker, or 404; ``along``: the row it points to that is looked up at the same moment."""
    rows = mine(model, request.user)
    row: M = get_object_or_404(rows.select_related(along) if along else rows, pk=pk)
    # what was looked up for this request is shared by everything that asks its owner
    row.owner = maker(request)
    return row


class PutAwayView(APIView):
    """DELETE puts a row away; subclasses name the model."""

    model: ClassVar[type[Owned]]

    def delete(self, request: Request, pk: int) -> Response:
        """Put it away; it can be brought back."""
        row = my(self.model, request, pk)
        row.gone = timezone.now()
        row.save(update_fields=["gone", "updated"])
        return Response(status=204)


class BringBackView(APIView):
    """POST brings a put-away row back; subclasses name the model."""

    model: ClassVar[type[Owned]]

    def post(self, request: Request, pk: int) -> Response:
        """Bring it back."""
        rows = self.model._default_manager.filter(owner=maker(request))
        row = get_object_or_404(rows, pk=pk)
        row.gone = None
        row.save(update_fields=["gone", "updated"])
        return Response(status=204)
