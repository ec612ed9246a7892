"""Photographs from the table over HTTP."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.formats.limits import MOST_PHOTOGRAPH
from strata.making.events import LATEST
from strata.plan.model import MOST_CARDS
from studio.asked import asked, maker, sent_file
from studio.bench.models import TablePhotograph
from studio.bench.record_views import AS_WIDE, JPEG, photograph_answer
from studio.bench.serializers import TablePhotographSerializer
from studio.bench.services import latest
from studio.bench.table_photographs import keep_at_table, photographs_json
from studio.builds.finding import my_colouring
from studio.errors import refusals


class TakenSerializer(serializers.Serializer[Any]):
    """When a photograph was taken, of what."""

    key = serializers.CharField(max_length=64, help_text="made by the device, so that it is kept once")
    making = serializers.IntegerField(min_value=1, max_value=100_000)
    at = serializers.FloatField(min_value=0, max_value=LATEST, help_text="seconds since 1970")
    card = serializers.IntegerField(min_value=0, max_value=MOST_CARDS, default=0)
    after = serializers.CharField(max_length=300, allow_blank=True, default="")


class TakenWithFileSerializer(TakenSerializer):
    """The same as it is sent, with the picture."""

    file = serializers.FileField()


class TablePhotographsView(APIView):
    """Photographs of the making that is under way."""

    @extend_schema(
        request={"multipart/form-data": TakenWithFileSerializer},
        responses={201: TablePhotographSerializer(many=True), **refusals(400, 404)},
    )
    def post(self, request: Request, pk: int) -> Response:
        """Keep one; what was sent before is passed over."""
        row = my_colouring(request, pk)
        data = sent_file(request, "photograph", MOST_PHOTOGRAPH).read()
        keep_at_table(row, data, **asked(TakenSerializer, request))
        return Response(photographs_json(latest(row)), status=201)


class TablePhotographView(APIView):
    """One photograph from the table."""

    @extend_schema(parameters=[AS_WIDE], responses={**JPEG, **refusals(400, 404)})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """As it is kept, or narrower."""
        return photograph_answer(request, bytes(_mine(request, pk).content))

    @extend_schema(responses={204: None, **refusals(404)})
    def delete(self, request: Request, pk: int) -> Response:
        """Take it away."""
        _mine(request, pk).delete()
        return Response(status=204)


def _mine(request: Request, pk: int) -> TablePhotograph:
    found: TablePhotograph = get_object_or_404(
        TablePhotograph, pk=pk, making__colouring__build__owner=maker(request)
    )
    return found
