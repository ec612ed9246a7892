"""A whole account out and in, over HTTP."""

from __future__ import annotations

from typing import Any

from django.http import FileResponse, Http404
from django.http.response import HttpResponseBase
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from studio.asked import ONE_FILE, maker, sent_file
from studio.carry import carrying
from studio.carry.archive import is_empty
from studio.carry.models import Carry
from studio.errors import refusals
from studio.jobs.queue import job_json
from studio.jobs.serializers import JobSerializer


class CarrySerializer(serializers.Serializer[Any]):
    """An archive on its way."""

    job = JobSerializer(allow_null=True)
    told = serializers.DictField(child=serializers.IntegerField(), allow_null=True, help_text="rows by kind")
    ready = serializers.BooleanField(help_text="whether it can be fetched")


class AccountCarrySerializer(serializers.Serializer[Any]):
    """What can be carried, and what is on its way."""

    empty = serializers.BooleanField(help_text="an archive can be brought in")
    out = CarrySerializer(allow_null=True)
    into = CarrySerializer(allow_null=True)


def _json(row: Carry | None) -> dict[str, Any] | None:
    if row is None:
        return None
    return {
        "job": job_json(row.job) if row.job is not None else None,
        "told": row.told,
        "ready": row.told is not None and carrying.place_of(row).exists(),
    }


def account_json(owner: Any) -> dict[str, Any]:
    """Both ways."""
    return {
        "empty": is_empty(owner),
        "out": _json(carrying.carry_of(owner, Carry.OUT)),
        "into": _json(carrying.carry_of(owner, Carry.IN)),
    }


class CarryView(APIView):
    """A whole account."""

    @extend_schema(responses=AccountCarrySerializer)
    def get(self, request: Request) -> Response:
        """What is on its way."""
        return Response(account_json(maker(request)))


class CarryOutView(APIView):
    """Everything out."""

    @extend_schema(request=None, responses=AccountCarrySerializer)
    def post(self, request: Request) -> Response:
        """Pack it."""
        carrying.out(maker(request))
        return Response(account_json(maker(request)))


class CarryInView(APIView):
    """Everything in."""

    @extend_schema(request=ONE_FILE, responses={200: AccountCarrySerializer, **refusals(400)})
    def post(self, request: Request) -> Response:
        """Read an archive into this account, which must be empty."""
        file = sent_file(request, "archive", carrying.MOST_ARCHIVE)
        carrying.into(maker(request), file.read())
        return Response(account_json(maker(request)))


class ArchiveView(APIView):
    """The archive."""

    @extend_schema(responses={(200, "application/zip"): OpenApiTypes.BINARY, **refusals(404)})
    def get(self, request: Request) -> HttpResponseBase:
        """Fetch it."""
        row = carrying.carry_of(maker(request), Carry.OUT)
        if row is None or row.told is None or not carrying.place_of(row).exists():
            raise Http404
        return FileResponse(carrying.place_of(row).open("rb"), as_attachment=True, filename="anastrata.zip")
