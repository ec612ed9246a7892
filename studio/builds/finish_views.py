"""The finish of a colouring over HTTP: what its cards are cut from, how thick and heavy they get, and the maker's rates."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.finish.post import MOST_CLASSES, PostalClass
from strata.finish.stock_sheets import SHEETS
from strata.finish.told import size_json
from strata.formats.pdf.plan_pages import PARTS, TYPES, plan_pdf
from strata.formats.pdf.supplies_page import supplies_pdf
from strata.panel.size import FORMATS
from strata.swatchcard import PAPERS
from studio.accounts.models import units_of
from studio.asked import asked, maker
from studio.builds.finding import my_colouring
from studio.builds.finish_serializers import FinishSerializer, RatesSerializer
from studio.builds.finishing import finish_json, rates_of, supplies, supplies_csv
from studio.builds.models import PostalRate
from studio.builds.printing import plan_pages
from studio.errors import refusals


def _choices() -> dict[str, Any]:
    return {
        "formats": [size_json(f) for f in FORMATS.values()],
        "sheet_sizes": [size_json(s) for s in SHEETS.values()],
    }


class FinishView(APIView):
    """The finish of a colouring."""

    @extend_schema(responses={200: FinishSerializer, **refusals(404)})
    def get(self, request: Request, pk: int) -> Response:
        """Its pieces, the sheets to take, what it weighs; as it is proposed where nothing is decided."""
        row = my_colouring(request, pk)
        return Response({**finish_json(row), **_choices()})


class PlanPdfView(APIView):
    """The plan on paper."""

    @extend_schema(
        parameters=[
            OpenApiParameter("paper", str, enum=list(PAPERS)),
            OpenApiParameter("type", str, enum=list(TYPES), description="how large the letters are"),
            OpenApiParameter("colour", bool, description="false: black on white"),
            OpenApiParameter(
                "part", str, enum=PARTS, description="all, what a helper does, outlines at true size"
            ),
        ],
        responses={(200, "application/pdf"): OpenApiTypes.BINARY, **refusals(400, 404)},
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """Picture, pads, cut list; the steps with the card as it looks after each; masks at true size."""
        row, query = my_colouring(request, pk), request.query_params
        part = query.get("part", "all")
        inches = units_of(request.user) == "in"
        pages = plan_pages(row, inches, now_too=part == "all")
        coloured = query.get("colour", "true").lower() not in ("0", "false", "no")
        data = plan_pdf(
            pages,
            query.get("paper", "letter" if inches else "A4"),
            query.get("type", "normal"),
            coloured,
            part,
        )
        answer = HttpResponse(data, content_type="application/pdf")
        answer["Content-Disposition"] = f'inline; filename="plan-{row.pk}.pdf"'
        return answer


class SuppliesView(APIView):
    """What a build takes, as a list to carry along."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.BINARY, **refusals(404)})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """Pads with their places, stock by the sheet, foam, envelopes; CSV."""
        row = my_colouring(request, pk)
        answer = HttpResponse(supplies_csv(row), content_type="text/csv; charset=utf-8")
        answer["Content-Disposition"] = f'attachment; filename="supplies-{row.pk}.csv"'
        return answer


class SuppliesPdfView(APIView):
    """The same on paper."""

    @extend_schema(
        parameters=[OpenApiParameter("paper", str, enum=list(PAPERS))],
        responses={(200, "application/pdf"): OpenApiTypes.BINARY, **refusals(400, 404)},
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """A line with a box to tick for each thing; what must be got stands first."""
        row = my_colouring(request, pk)
        usual = "letter" if units_of(request.user) == "in" else "A4"
        title = f"{row.build.name}: what it takes"
        data = supplies_pdf(title, supplies(row), request.query_params.get("paper", usual))
        answer = HttpResponse(data, content_type="application/pdf")
        answer["Content-Disposition"] = f'inline; filename="supplies-{row.pk}.pdf"'
        return answer


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
