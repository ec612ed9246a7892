"""Photographs of made cards over HTTP."""

from __future__ import annotations

from typing import Any

from django.db.models.functions import Length
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.errors import BadFile
from strata.formats.limits import MOST_PHOTOGRAPH
from studio.asked import asked, sent_file
from studio.bench import photographs
from studio.bench.models import Photograph, Record
from studio.bench.record_views import (
    AS_WIDE,
    JPEG,
    RecordSerializer,
    jpeg_answer,
    photograph_answer,
    record_json,
)
from studio.colours import ColourSerializer, colour
from studio.errors import refusals
from studio.jobs.queue import job_json
from studio.jobs.serializers import JobSerializer
from studio.owned import my

FILE_AND_CARD = {
    "multipart/form-data": {
        "type": "object",
        "properties": {
            "file": {"type": "string", "format": "binary"},
            "around": {"type": "string", "description": "key of the card that it lies on"},
        },
    }
}


class ElementFoundSerializer(serializers.Serializer[Any]):
    """An element as it came out."""

    element = serializers.CharField()
    predicted = ColourSerializer()
    found = ColourSerializer()
    de00 = serializers.FloatField(help_text="between the two, CIEDE2000")
    margin = serializers.FloatField(help_text="what the photograph leaves open")
    differs = serializers.BooleanField()
    words = serializers.CharField()
    guess = serializers.CharField(allow_blank=True, help_text="what may have happened")
    share = serializers.FloatField(help_text="of what is seen of it, how much could be read")


class FoundSerializer(serializers.Serializer[Any]):
    """What a photograph shows against what was predicted."""

    elements = ElementFoundSerializer(many=True)
    off_mm = serializers.FloatField(help_text="by which its parts lie off, median")
    alike = serializers.FloatField(help_text="how well the outlines agree, 0..1")
    uneven = serializers.FloatField(help_text="brightest over darkest place")
    patches = serializers.IntegerField(help_text="places of bare card that the light was told by")


class PhotographReadingSerializer(serializers.Serializer[Any]):
    """A photograph of a made card, and how far its reading is."""

    photograph = serializers.IntegerField()
    ready = serializers.BooleanField(
        help_text="whether the picture is there: the simulated camera takes a while"
    )
    around = serializers.CharField(allow_blank=True)
    corners = serializers.ListField(
        child=serializers.ListField(child=serializers.FloatField()), allow_null=True, help_text="px, as shown"
    )
    job = JobSerializer(allow_null=True)
    found = FoundSerializer(allow_null=True)


class ReadSerializer(serializers.Serializer[Any]):
    """How a photograph is to be read."""

    around = serializers.CharField(max_length=120, required=False, allow_blank=True, default="")
    corners = serializers.ListField(
        child=serializers.ListField(
            child=serializers.FloatField(min_value=-10_000, max_value=20_000), min_length=2, max_length=2
        ),
        min_length=4,
        max_length=4,
        required=False,
        allow_null=True,
        default=None,
        help_text="px of the photograph, clockwise from the panel's own top left",
    )


class SimulateSerializer(serializers.Serializer[Any]):
    """How the simulated camera is to photograph."""

    seed = serializers.IntegerField(min_value=1, max_value=1_000_000, default=1)
    around = serializers.CharField(max_length=120, required=False, allow_blank=True, default="")


def reading_json(row: Any) -> dict[str, Any]:
    """A photograph (with its ``size`` in bytes) and what it shows."""
    found = row.reading
    return {
        "photograph": row.pk,
        "ready": row.size > 0,
        "around": row.around,
        "corners": row.corners,
        "job": job_json(row.job) if row.job is not None else None,
        "found": found
        and {
            "elements": [_element(t) for t in found["told"]],
            **{k: found[k] for k in ("off_mm", "alike", "uneven", "patches")},
        },
    }


def _element(told: dict[str, Any]) -> dict[str, Any]:
    return {
        "element": told["element"],
        "predicted": colour(tuple(told["predicted"])),
        "found": colour(tuple(told["found"])),
        "de00": told["difference"],
        "margin": told["margin"],
        "differs": told["difference"] > told["margin"],
        **{k: told[k] for k in ("words", "guess", "share")},
    }


def _mine(request: Request, pk: int, photograph: int) -> Photograph:
    record = my(Record, request, pk)
    # a reading is followed twice a second: the pictures are looked up only by who shows them
    rows = Photograph.objects.select_related("job").defer("content", "straight")
    found: Photograph = get_object_or_404(rows.annotate(size=Length("content")), pk=photograph, record=record)
    found.record = record
    return found


class PhotographsView(APIView):
    """Photographs of a made card."""

    @extend_schema(request=FILE_AND_CARD, responses={201: RecordSerializer, **refusals(400, 404)})
    def post(self, request: Request, pk: int) -> Response:
        """Keep one with it, and hold it against what was predicted."""
        row = my(Record, request, pk)
        data = sent_file(request, "photograph", MOST_PHOTOGRAPH).read()
        photographs.keep_photograph(row, data, str(request.POST.get("around", ""))[:120])
        return Response(record_json(row), status=201)


class SimulatedView(APIView):
    """The simulated camera."""

    @extend_schema(request=SimulateSerializer, responses={201: RecordSerializer, **refusals(400, 404)})
    def post(self, request: Request, pk: int) -> Response:
        """Photograph the card as a hidden maker made it."""
        row = my(Record, request, pk)
        photographs.simulated(row, **asked(SimulateSerializer, request))
        return Response(record_json(row), status=201)


class PhotographView(APIView):
    """One photograph."""

    @extend_schema(parameters=[AS_WIDE], responses={**JPEG, **refusals(400, 404)})
    def get(self, request: Request, pk: int, photograph: int) -> HttpResponse:
        """As it is kept, or narrower."""
        return photograph_answer(request, bytes(_mine(request, pk, photograph).content))

    @extend_schema(responses={204: None, **refusals(404)})
    def delete(self, request: Request, pk: int, photograph: int) -> Response:
        """Take it away."""
        _mine(request, pk, photograph).delete()
        return Response(status=204)


class ReadingView(APIView):
    """What a photograph shows against what was predicted."""

    @extend_schema(responses={200: PhotographReadingSerializer, **refusals(404)})
    def get(self, request: Request, pk: int, photograph: int) -> Response:
        """How far it is, and what was found."""
        return Response(reading_json(_mine(request, pk, photograph)))

    @extend_schema(request=ReadSerializer, responses={200: PhotographReadingSerializer, **refusals(400, 404)})
    def post(self, request: Request, pk: int, photograph: int) -> Response:
        """Read it once more."""
        values = asked(ReadSerializer, request)
        row = photographs.read_again(_mine(request, pk, photograph), values["around"], values["corners"])
        return Response(reading_json(row))


class StraightView(APIView):
    """A photographed panel put straight and evened."""

    @extend_schema(responses={**JPEG, **refusals(400, 404)})
    def get(self, request: Request, pk: int, photograph: int) -> HttpResponse:
        """On the panel's own frame, to be laid over its picture."""
        row = _mine(request, pk, photograph)
        if row.straight is None:
            raise BadFile("That photograph was not read yet.", "photograph")
        return jpeg_answer(bytes(row.straight))
