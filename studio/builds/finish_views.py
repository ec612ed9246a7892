"""The finish of a colouring over HTTP: what its cards are cut from, how thick and heavy they get, and the maker's rates."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.finish.post import MOST_CLASSES, PostalClass
from strata.finish.stock_sheets import SHEETS, Sold
from strata.panel.size import FORMATS, Format
from studio.asked import asked, maker
from studio.builds.finding import my_colouring
from studio.builds.finish_serializers import FinishSerializer, RatesSerializer
from studio.builds.finishing import finish_json, rates_of
from studio.builds.models import PostalRate
from studio.errors import refusals


def _choices() -> dict[str, Any]:
    return {
        "formats": [_size_json(f) for f in FORMATS.values()],
        "sheet_sizes": [_size_json(s) for s in SHEETS.values()],
    }


def _size_json(size: Format | Sold) -> dict[str, Any]:
    return {
        "key": size.key,
        "label": size.label,
        "width": round(size.width, 4),
        "height": round(size.height, 4),
    }


class FinishView(APIView):
    """The finish of a colouring."""

    @extend_schema(responses={200: FinishSerializer, **refusals(404)})
    def get(self, request: Request, pk: int) -> Response:
        """Its pieces, the sheets to take, what it weighs; as it is proposed where nothing is decided."""
        row = my_colouring(request, pk)
        return Response({**finish_json(row), **_choices()})


class RatesView(APIView):
    """The maker's own postal rates."""

    @extend_schema(responses=RatesSerializer)
    def get(self, request: Request) -> Response:
        """All of them; invented ones where there are none yet."""
        rates, sample = rates_of(maker(request))
        return Response({"sample": sample, "rates": [_rate_json(r) for r in rates]})

    @extend_schema(request=RatesSerializer, responses={200: RatesSerializer, **refusals(400)})
    def put(self, request: Request) -> Response:
        """Replace them all; an empty list leaves the invented ones."""
        wanted = [PostalClass(**r) for r in asked(RatesSerializer, request)["rates"]][:MOST_CLASSES]
        with transaction.atomic():
            PostalRate.objects.filter(owner=maker(request)).delete()
            PostalRate.objects.bulk_create(
                PostalRate(owner=maker(request), place=n, **_rate_json(r)) for n, r in enumerate(wanted)
            )
        return self.get(request)


def _rate_json(rate: PostalClass) -> dict[str, Any]:
    return {name: getattr(rate, name) for name in ("name", "thick", "weight", "long", "wide", "price")}
