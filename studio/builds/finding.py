"""A maker's own colourings, by number."""

from __future__ import annotations

from django.shortcuts import get_object_or_404
from rest_framework.request import Request

from studio.asked import maker
from studio.builds.models import Colouring


def my_colouring(request: Request, pk: int, away: bool = False) -> Colouring:
    """A colouring of a build of the signed-in maker, or 404."""
    rows = Colouring.objects.select_related("build").filter(build__owner=maker(request), build__gone=None)
    row = get_object_or_404(rows if away else rows.filter(gone=None), pk=pk)
    row.build.owner = maker(request)
    return row
