"""Swatch cards over HTTP."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.errors import BadValue
from strata.formats.limits import MOST_PHOTOGRAPH
from strata.swatchcard import PAPERS
from studio.asked import sent_file, whole_parameter
from studio.colours import ColourSerializer
from studio.inks import cards
from studio.inks.models import SwatchCard
from studio.jobs.serializers import JobSerializer
from studio.owned import PutAwayView, my


class CardPassSerializer(serializers.Serializer[Any]):
    """One pad of a field, in so many coats."""

    ink = serializers.CharField()
    ink_id = serializers.IntegerField(read_only=True, allow_null=True)
    coats = serializers.IntegerField(min_value=1, max_value=6)


class NewFieldSerializer(serializers.Serializer[Any]):
    """What is to be inked in a field, bottom first."""

    passes = CardPassSerializer(many=True)


class NewCardSerializer(serializers.Serializer[Any]):
    """A card to be made."""

    stock = serializers.CharField()
    paper = serializers.ChoiceField(choices=list(PAPERS), default="A4")
    title = serializers.CharField(max_length=120, required=False, allow_blank=True)
    fields = NewFieldSerializer(many=True)  # type: ignore[assignment]


class FieldReadSerializer(serializers.Serializer[Any]):
    """What a field read, and how far that is from what was expected."""

    colour = ColourSerializer()
    spread = serializers.FloatField()
    state = serializers.ChoiceField(choices=list(cards.SENTENCES))
    sentence = serializers.CharField()
    de00 = serializers.FloatField()


class CardFieldSerializer(serializers.Serializer[Any]):
    """A field of a card."""

    label = serializers.CharField()  # type: ignore[assignment]
    passes = CardPassSerializer(many=True)
    box = serializers.ListField(child=serializers.FloatField(), help_text="left, top, width, height in mm")
    known = serializers.BooleanField()
    expected = ColourSerializer()
    kept = serializers.BooleanField()
    read = FieldReadSerializer(allow_null=True)


class LightSerializer(serializers.Serializer[Any]):
    """The light on the card, and how well the known inks were met."""

    uneven = serializers.FloatField()
    known = serializers.IntegerField()
    error = serializers.FloatField(allow_null=True)
    at = serializers.CharField()
    trusted = serializers.ListField(child=serializers.IntegerField())


class SwatchCardSerializer(serializers.Serializer[Any]):
    """A swatch card."""

    id = serializers.IntegerField()
    number = serializers.IntegerField()
    title = serializers.CharField()
    stock = serializers.CharField()
    stock_name = serializers.CharField()
    card = serializers.CharField()
    paper = serializers.CharField()
    size = serializers.ListField(child=serializers.FloatField())
    fields = CardFieldSerializer(many=True)  # type: ignore[assignment]
    light = LightSerializer(allow_null=True)
    job = JobSerializer(allow_null=True, help_text="the reading of its photograph")
    created = serializers.CharField()


class KeepFieldsSerializer(serializers.Serializer[Any]):
    """The fields to keep, counted from 0."""

    keep = serializers.ListField(child=serializers.IntegerField(), min_length=1, max_length=48)


class SwatchCardsView(APIView):
    """All cards; a new one."""

    @extend_schema(responses=SwatchCardSerializer(many=True))
    def get(self, request: Request) -> Response:
        """The cards, latest first."""
        return Response(cards.cards_json(request.user))

    @extend_schema(request=NewCardSerializer, responses={201: SwatchCardSerializer})
    def post(self, request: Request) -> Response:
        """Lay out a card."""
        wanted = NewCardSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        row = cards.make_card(request.user, wanted.validated_data)
        return Response(cards.card_json(row), status=201)


def _with_job(request: Request, pk: int) -> SwatchCard:
    """One card and its job as both stood at one moment: an ended job beside a card from before would have read nothing."""
    return my(SwatchCard, request, pk, along="job")


class SwatchCardView(PutAwayView):
    """One card."""

    model = SwatchCard

    @extend_schema(responses=SwatchCardSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Its fields, and what they read."""
        return Response(cards.card_json(_with_job(request, pk)))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Put it away."""
        return super().delete(request, pk)


def _file(data: bytes, kind: str, name: str) -> HttpResponse:
    answer = HttpResponse(data, content_type=kind)
    answer["Content-Disposition"] = f'inline; filename="{name}"'
    return answer


class SwatchCardPdfView(APIView):
    """The card to print."""

    @extend_schema(responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """One page of PDF."""
        row = my(SwatchCard, request, pk)
        return _file(cards.pdf_of(row), "application/pdf", f"swatch-card-{row.code + 1}.pdf")


class SwatchCardSampleView(APIView):
    """A photograph to try things with."""

    @extend_schema(
        parameters=[OpenApiParameter("seed", int)],
        responses={(200, "image/jpeg"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """What a camera would take of the card, inked with the drawer's own pads."""
        row = my(SwatchCard, request, pk)
        seed = whole_parameter(request, "seed", 0, 9_999) or 1
        return _file(cards.sample_photograph(row, seed), "image/jpeg", "swatch-card.jpg")


class SwatchCardPhotographView(APIView):
    """Reading a photograph."""

    @extend_schema(
        request={
            "multipart/form-data": {
                "type": "object",
                "properties": {
                    "file": {"type": "string", "format": "binary"},
                    "trusted": {
                        "type": "string",
                        "description": "fields to go by, counted from 0, with commas",
                    },
                },
            }
        },
        responses=SwatchCardSerializer,
    )
    def post(self, request: Request, pk: int) -> Response:
        """Find the marks, straighten, read, in the background: follow its job. Nothing is kept yet."""
        row = my(SwatchCard, request, pk)
        file = sent_file(request, "photograph", MOST_PHOTOGRAPH)
        said = request.data.get("trusted") if isinstance(request.data, dict) else None
        listed = None if said is None else [t.strip() for t in str(said).split(",") if t.strip()]
        if listed is not None and not all(t.isascii() and t.isdigit() and len(t) < 4 for t in listed):
            raise BadValue("trusted lists fields by number.", "trusted")
        trusted = None if listed is None else [int(t) for t in listed]
        return Response(cards.card_json(cards.begin_reading(row, file.read(), trusted)))


class SwatchCardKeepView(APIView):
    """Keeping what was read."""

    @extend_schema(request=KeepFieldsSerializer, responses=SwatchCardSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Make swatches of some fields; the drawer's undo takes it back."""
        row = my(SwatchCard, request, pk)
        wanted = KeepFieldsSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        cards.keep(row, wanted.validated_data["keep"])
        return Response(cards.card_json(_with_job(request, pk)))
