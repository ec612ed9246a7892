"""What photographed cards say of pads and hands, over HTTP."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from studio.asked import maker
from studio.bench import lessons
from studio.bench.models import Lesson
from studio.errors import refusals
from studio.jobs.queue import job_json
from studio.jobs.serializers import JobSerializer


class MovedSerializer(serializers.Serializer[Any]):
    """A colour that would be predicted otherwise: hex codes, CIEDE2000 between them, and how it is against before."""

    before = serializers.CharField()
    after = serializers.CharField()
    de00 = serializers.FloatField()
    words = serializers.CharField()


class PadMovedSerializer(MovedSerializer):
    """A pad as it comes out in these hands: one coat on white card, as measured and as learned."""

    ink = serializers.CharField()
    name = serializers.CharField()
    strength = serializers.FloatField()
    cards = serializers.IntegerField()


class ElementMovedSerializer(MovedSerializer):
    """An element that would be predicted otherwise."""

    element = serializers.CharField()


class BuildMovedSerializer(serializers.Serializer[Any]):
    """A build with what would move in it."""

    build = serializers.IntegerField()
    colouring = serializers.IntegerField()
    name = serializers.CharField()
    elements = ElementMovedSerializer(many=True)


class SaidByCardsSerializer(serializers.Serializer[Any]):
    """What photographed cards say: differences from their photographs before and after, and what moves."""

    cards = serializers.IntegerField()
    before = serializers.FloatField()
    after = serializers.FloatField()
    hands = serializers.DictField(child=serializers.FloatField())
    pads = PadMovedSerializer(many=True)
    builds = BuildMovedSerializer(many=True)
    passed_over = serializers.ListField(child=serializers.CharField())


class LessonSerializer(serializers.Serializer[Any]):
    """How far learning is, and what it found."""

    readable = serializers.IntegerField(help_text="made cards whose photograph was read")
    in_force = serializers.IntegerField(help_text="pads with something learned over their readings")
    kept = serializers.BooleanField()
    job = JobSerializer(allow_null=True)
    said = SaidByCardsSerializer(allow_null=True)


def lesson_json(row: Lesson) -> dict[str, Any]:
    """What is learned."""
    body = row.body
    names = ("cards", "before", "after", "hands", "pads", "builds", "passed_over")
    return {
        "readable": len(lessons.readable(row.owner)),
        "in_force": lessons.in_force(row.owner),
        "kept": row.kept,
        "job": job_json(row.job) if row.job is not None else None,
        "said": body and {k: body[k] for k in names},
    }


class LessonView(APIView):
    """What all photographed cards say of pads and hands."""

    @extend_schema(responses=LessonSerializer)
    def get(self, request: Request) -> Response:
        """How far it is, and what was found."""
        return Response(lesson_json(lessons.lesson_of(maker(request))))

    @extend_schema(request=None, responses={200: LessonSerializer, **refusals(400)})
    def post(self, request: Request) -> Response:
        """Find out."""
        return Response(lesson_json(lessons.begin(maker(request))))


class KeepLessonView(APIView):
    """What was found, kept."""

    @extend_schema(request=None, responses={200: LessonSerializer, **refusals(400)})
    def post(self, request: Request) -> Response:
        """Put it over the readings of the drawer; undo there takes it off."""
        return Response(lesson_json(lessons.keep(maker(request))))


class ForgetLessonView(APIView):
    """What was learned, taken off."""

    @extend_schema(request=None, responses={200: LessonSerializer})
    def post(self, request: Request) -> Response:
        """The drawer as it was measured."""
        return Response(lesson_json(lessons.forget(maker(request))))
