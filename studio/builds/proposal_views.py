"""Proposals over HTTP."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.formats.limits import MOST_PHOTOGRAPH
from strata.guard.child import run_guarded
from strata.proposals.wishes import MOOD_KEYS, MOST_COLOURS, MOST_PADS
from studio.asked import ONE_FILE, asked, sent_file
from studio.builds.finding import my_colouring
from studio.builds.proposing import proposal_json, proposed
from studio.colours import ColourSerializer, colour
from studio.errors import refusals


class WishesSerializer(serializers.Serializer[Any]):
    """What is asked for."""

    mood = serializers.ChoiceField(choices=MOOD_KEYS)
    after = serializers.ListField(
        child=serializers.ChoiceField(choices=MOOD_KEYS),
        default=list,
        max_length=len(MOOD_KEYS),
        help_text="moods that were proposed before: this one is to look unlike them",
    )
    keep = serializers.ListField(child=serializers.CharField(max_length=200), default=list, max_length=200)
    like = serializers.ListField(
        child=serializers.ListField(child=serializers.FloatField(), min_length=3, max_length=3),
        default=list,
        max_length=MOST_COLOURS,
        help_text="CIELAB colours to be found again",
    )
    most_pads = serializers.IntegerField(min_value=1, max_value=MOST_PADS, default=MOST_PADS)
    white_ground = serializers.BooleanField(allow_null=True, default=None)
    words = serializers.DictField(
        child=serializers.FloatField(min_value=0, max_value=360),
        default=dict,
        help_text="hues (CIELAB, degrees) that words or elements of the maker's own suggest",
    )


class PadSerializer(serializers.Serializer[Any]):
    """A pad by its name and its colour: where it is laid, or alone on this card."""

    key = serializers.CharField()
    name = serializers.CharField()
    colour = ColourSerializer()


class WornSerializer(serializers.Serializer[Any]):
    """What an element wears, and why."""

    element = serializers.CharField()
    ladder = serializers.CharField()
    reason = serializers.CharField()
    pads = PadSerializer(many=True)


class FigureSerializer(serializers.Serializer[Any]):
    """A figure that a proposal is judged by."""

    name = serializers.CharField()
    value = serializers.FloatField()


class ProposedEditSerializer(serializers.Serializer[Any]):
    """One of the changes that make a proposal."""

    kind = serializers.CharField()
    values = serializers.DictField()


class ProposalSerializer(serializers.Serializer[Any]):
    """A whole colouring."""

    mood = serializers.ChoiceField(choices=MOOD_KEYS)
    called = serializers.CharField()
    worn = WornSerializer(many=True)
    pads = PadSerializer(many=True)
    figures = FigureSerializer(many=True)
    cost = serializers.FloatField(help_text="the score by which it was chosen; less is better")
    exact_among = serializers.IntegerField(
        help_text="it is the best of all that can be made of so many ladders an element"
    )
    edits = ProposedEditSerializer(many=True)


class ProposalsView(APIView):
    """Whole colourings from the pads at hand."""

    @extend_schema(request=WishesSerializer, responses={200: ProposalSerializer, **refusals(400, 404)})
    def post(self, request: Request, pk: int) -> Response:
        """The best colouring for a mood; nothing is kept."""
        row, values = my_colouring(request, pk), asked(WishesSerializer, request)
        return Response(proposal_json(*proposed(row, values)))


class PictureColourSerializer(serializers.Serializer[Any]):
    """A colour of a picture and how much of it there is."""

    colour = ColourSerializer()
    share = serializers.FloatField()


class PictureColoursView(APIView):
    """The colours of a picture of one's own."""

    @extend_schema(
        request=ONE_FILE,
        responses={200: PictureColourSerializer(many=True), **refusals(400)},
    )
    def post(self, request: Request) -> Response:
        """Read it and forget it: nothing of the picture is kept."""
        file = sent_file(request, "picture", MOST_PHOTOGRAPH)
        found = run_guarded("picture_colours", [file.read()])
        return Response([{"colour": colour(tuple(f["lab"])), "share": round(f["share"], 3)} for f in found])
