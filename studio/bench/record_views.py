"""The log over HTTP."""

from __future__ import annotations

from typing import Any

from django.db.models import prefetch_related_objects
from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.errors import BadFile
from strata.optics.colour import hex_of
from studio.asked import asked, maker, whole_parameter
from studio.bench import records
from studio.bench.models import Record
from studio.bench.serializers import TablePhotographSerializer
from studio.bench.table_photographs import photographs_json
from studio.builds.pictures import narrower
from studio.errors import refusals
from studio.owned import BringBackView, PutAwayView, my

JPEG = {(200, "image/jpeg"): OpenApiTypes.BINARY}
AS_WIDE = OpenApiParameter("width", int, description="pixels, 40 to 1600 (as it is kept)")


def photograph_answer(request: Request, content: bytes) -> HttpResponse:
    """A photograph as it is kept, or no wider than is asked for; raises BadFile where it is not taken yet."""
    if not content:
        raise BadFile("That photograph is not taken yet.", "photograph")
    width = whole_parameter(request, "width", 40, 1600)
    return jpeg_answer(narrower(content, width) if width else content)


def jpeg_answer(data: bytes) -> HttpResponse:
    """A picture that a browser may keep for a while."""
    answer = HttpResponse(data, content_type="image/jpeg")
    answer["Cache-Control"] = "private, max-age=600"
    return answer


class RecordSummarySerializer(serializers.Serializer[Any]):
    """A made card in the log."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    person = serializers.CharField(allow_blank=True, help_text="whom it was for")
    made = serializers.DateTimeField()
    cards = serializers.IntegerField()
    sets = serializers.CharField(allow_blank=True)
    stock = serializers.CharField()
    colours = serializers.ListField(child=serializers.CharField(), help_text="of its inks, hex")
    photographs = serializers.ListField(child=serializers.IntegerField())


class LaidInkSerializer(serializers.Serializer[Any]):
    """An ink as it was laid."""

    element = serializers.CharField()
    sheet = serializers.IntegerField()
    ink = serializers.CharField()
    name = serializers.CharField()
    hex = serializers.CharField()
    coats = serializers.IntegerField()
    hand = serializers.CharField()


class SaidAtSerializer(serializers.Serializer[Any]):
    """Something that happened, in words."""

    at = serializers.FloatField(help_text="seconds since 1970")
    card = serializers.IntegerField()
    sentence = serializers.CharField(allow_blank=True)


class RecordSerializer(RecordSummarySerializer):
    """A made card opened."""

    note = serializers.CharField(allow_blank=True)
    spoilt = serializers.IntegerField()
    minutes = serializers.FloatField(help_text="from the first thing done to the last")
    used = LaidInkSerializer(many=True)
    steps = SaidAtSerializer(many=True)
    told = SaidAtSerializer(many=True, help_text="what went otherwise than planned")
    notes = SaidAtSerializer(many=True)
    taken = serializers.ListField(child=serializers.CharField(), help_text="sheets that the house has fewer")
    again = serializers.BooleanField(help_text="whether it can be made again")
    at_table = TablePhotographSerializer(many=True)
    aspect = serializers.FloatField(help_text="of its picture, height over width")


class TellSerializer(serializers.Serializer[Any]):
    """What is written beside a made card."""

    name = serializers.CharField(max_length=200, required=False)
    person = serializers.CharField(max_length=120, required=False, allow_blank=True)
    note = serializers.CharField(max_length=4000, required=False, allow_blank=True)


class MadeAgainSerializer(serializers.Serializer[Any]):
    """The build that begins with a made card, and its colouring."""

    build = serializers.IntegerField()
    colouring = serializers.IntegerField()


def summary_json(row: Record) -> dict[str, Any]:
    """A record in the log."""
    prefetch_related_objects([row], records.PHOTOGRAPHS)
    return {
        "id": row.pk,
        "name": row.name,
        "person": row.person,
        "made": row.made.isoformat(),
        "sets": row.sets,
        **records.summary(row),
        "photographs": [p.pk for p in row.photographs.all()],
    }


def record_json(row: Record) -> dict[str, Any]:
    """A record opened."""
    body = row.body
    return {
        **summary_json(row),
        "note": row.note,
        "spoilt": body["spoilt"],
        "minutes": round((body["ended"] - body["began"]) / 60, 1),
        "used": [
            {
                **{k: u[k] for k in ("element", "sheet", "ink", "name", "coats", "hand")},
                "hex": hex_of(tuple(u["colour"]))[0],
            }
            for u in body["used"]
        ],
        **{name: body[name] for name in ("steps", "told", "notes")},
        "taken": records.taken_words(row),
        "again": row.build_id is not None,
        "at_table": photographs_json(row.making),
        "aspect": records.aspect(row),
    }


class RecordsView(APIView):
    """The log."""

    @extend_schema(
        parameters=[OpenApiParameter("q", str, description="words that it must hold")],
        responses=RecordSummarySerializer(many=True),
    )
    def get(self, request: Request) -> Response:
        """All made cards, the latest first."""
        words = request.query_params.get("q", "")[:200]
        return Response([summary_json(r) for r in records.found(maker(request), words)])


class RecordView(PutAwayView):
    """One made card."""

    model = Record

    @extend_schema(responses={200: RecordSerializer, **refusals(404)})
    def get(self, request: Request, pk: int) -> Response:
        """As it was done."""
        return Response(record_json(my(Record, request, pk)))

    @extend_schema(request=TellSerializer, responses={200: RecordSerializer, **refusals(400, 404)})
    def patch(self, request: Request, pk: int) -> Response:
        """Whom it was for, its name, a note."""
        values = asked(TellSerializer, request, partial=True)
        row = records.told(my(Record, request, pk), *(values.get(k) for k in ("name", "person", "note")))
        return Response(record_json(row))

    @extend_schema(responses={204: None, **refusals(404)})
    def delete(self, request: Request, pk: int) -> Response:
        """Put it away; it can be brought back."""
        return super().delete(request, pk)


class RecordBackView(BringBackView):
    """A made card back in the log."""

    model = Record

    @extend_schema(request=None, responses={204: None, **refusals(404)})
    def post(self, request: Request, pk: int) -> Response:
        """Bring it back."""
        return super().post(request, pk)


class RecordPictureView(APIView):
    """The card as it was laid."""

    @extend_schema(responses={**JPEG, **refusals(404)})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """As predicted from what was done."""
        return jpeg_answer(bytes(my(Record, request, pk).picture))


class MakeAgainView(APIView):
    """A made card made again."""

    @extend_schema(request=None, responses={201: MadeAgainSerializer, **refusals(400, 404)})
    def post(self, request: Request, pk: int) -> Response:
        """A build that begins with it."""
        first = records.make_again(my(Record, request, pk))
        return Response({"build": first.build_id, "colouring": first.pk}, status=201)
