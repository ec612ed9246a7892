"""A class at one card, over HTTP: sets of pads, who shares them when, what is to be cut."""

from __future__ import annotations

import csv
import io
from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.errors import BadValue
from strata.finish.lengths import mm
from strata.order.class_kit import MOST_PEOPLE, Kit, kits, pads_used, turns
from studio.accounts.models import units_of
from studio.asked import whole_parameter
from studio.builds.finding import my_colouring
from studio.builds.finishing import finished
from studio.builds.looking import outlook
from studio.builds.models import Colouring
from studio.builds.printing import Sizes
from studio.errors import refusals

PEOPLE = OpenApiParameter("people", int, description=f"who makes one card each, to {MOST_PEOPLE}")
SETS = OpenApiParameter("sets", int, description="sets of pads, one of the ways that are proposed")


class KitSerializer(serializers.Serializer[Any]):
    """A way to seat a class."""

    sets = serializers.IntegerField(help_text="of pads")
    sharing = serializers.IntegerField(help_text="at most, at each")
    apart = serializers.FloatField(help_text="minutes between their beginnings")
    minutes = serializers.FloatField(help_text="until all are done")


class CutForClassSerializer(serializers.Serializer[Any]):
    """A piece to be cut for everybody."""

    name = serializers.CharField()
    size = serializers.CharField()
    count = serializers.IntegerField()


class ClassSerializer(serializers.Serializer[Any]):
    """A class at one card."""

    people = serializers.IntegerField()
    minutes = serializers.FloatField(help_text="one card by itself")
    ways = KitSerializer(many=True)
    pads = serializers.ListField(child=serializers.CharField(), help_text="of one set")
    pieces = CutForClassSerializer(many=True)


def _people(request: Request) -> int:
    return whole_parameter(request, "people", 1, MOST_PEOPLE) or 1


def _ways(row: Colouring, people: int) -> tuple[dict[str, list[tuple[float, float]]], list[Kit]]:
    seen = outlook(row)
    used = pads_used(seen.scene.plan, seen.sequence.steps)
    return used, kits(used, seen.sequence.minutes, people)


class ClassView(APIView):
    """A class at one card."""

    @extend_schema(parameters=[PEOPLE], responses={200: ClassSerializer, **refusals(400, 404)})
    def get(self, request: Request, pk: int) -> Response:
        """How many sets of pads, and what is to be cut."""
        row, people = my_colouring(request, pk), _people(request)
        used, ways = _ways(row, people)
        scene, made = outlook(row).scene, finished(row)
        sizes = Sizes(units_of(request.user) == "in")
        pieces = made.pieces.pieces if made.decided else ()
        return Response(
            {
                "people": people,
                "minutes": round(outlook(row).sequence.minutes, 1),
                "ways": [
                    {"sets": k.sets, "sharing": k.sharing, "apart": k.apart, "minutes": round(k.minutes, 1)}
                    for k in ways
                ],
                "pads": [scene.ink_of(key).name or key for key in used],
                "pieces": [
                    {"name": p.name, "size": sizes.of(mm(p.width), mm(p.height)), "count": people}
                    for p in pieces
                ],
            }
        )


class ClassTurnsView(APIView):
    """Who has which pad when."""

    @extend_schema(
        parameters=[PEOPLE, SETS],
        responses={(200, "text/csv"): OpenApiTypes.BINARY, **refusals(400, 404)},
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """Pad by pad at one set, in minutes from the first beginning; CSV."""
        row, people = my_colouring(request, pk), _people(request)
        sets = whole_parameter(request, "sets", 1, MOST_PEOPLE)
        used, ways = _ways(row, people)
        kit = next((k for k in ways if sets in (None, k.sets)), None)
        if kit is None:
            raise BadValue("That many sets of pads are none of the ways that are proposed.", "sets")
        scene, file = outlook(row).scene, io.StringIO()
        table = csv.writer(file)
        table.writerow(["pad", "seat", "from minute", "to minute"])
        for turn in turns(used, kit):
            name = scene.ink_of(turn.ink).name or turn.ink
            table.writerow([name, turn.seat, round(turn.begins, 1), round(turn.ends, 1)])
        answer = HttpResponse(file.getvalue(), content_type="text/csv; charset=utf-8")
        answer["Content-Disposition"] = f'attachment; filename="class-{row.pk}.csv"'
        return answer
