"""An evening of several builds over HTTP."""

from __future__ import annotations

import hashlib
from typing import Any

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.errors import BadValue
from strata.kept import Kept
from strata.order.evening import MOST_MAKES
from strata.order.together import Together
from strata.order.told import told_visits
from studio.builds.finding import my_colouring
from studio.builds.looking import order_key
from studio.builds.models import Colouring
from studio.builds.ordering import ordering
from studio.builds.serializers import StepSerializer, TotalsSerializer
from studio.builds.state import step_json, totals_json
from studio.errors import refusals
from studio.inks.services import house


class EveningVisitSerializer(serializers.Serializer[Any]):
    """What is done while one sheet is seated, on cards of one build."""

    colouring = serializers.IntegerField(allow_null=True)
    cards = serializers.ListField(child=serializers.IntegerField(), help_text="of that build, from 1")
    minutes = serializers.FloatField()
    steps = StepSerializer(many=True)


class EveningBuildSerializer(serializers.Serializer[Any]):
    """A build that is made in the evening."""

    id = serializers.IntegerField()
    colouring = serializers.IntegerField()
    name = serializers.CharField()
    cards = serializers.IntegerField()


class EveningSerializer(TotalsSerializer):
    """The order of work of an evening."""

    apart = serializers.FloatField(
        help_text="minutes if they were made one after another, by the orders that they have now"
    )
    builds = EveningBuildSerializer(many=True)
    visits = EveningVisitSerializer(many=True)


_EVENINGS: Kept[str, Together] = Kept(30_000_000, lambda t: 300_000 + 4000 * t.work.count)


def together(rows: list[Colouring]) -> Together:
    """The evening of these colourings, each on as many cards as it says."""
    apart = [ordering(row) for row in rows]
    stamp = str(house(rows[0].build.owner).stamp)
    known = [f"{order_key(row)} {o.found.minutes}" for row, o in zip(rows, apart, strict=True)]
    key = hashlib.sha256("|".join([stamp, *known]).encode()).hexdigest()
    return _EVENINGS.get(key, lambda: Together(apart))


class EveningView(APIView):
    """Several builds in one evening."""

    @extend_schema(
        parameters=[OpenApiParameter("colouring", int, many=True, description="two to eight colourings")],
        responses={200: EveningSerializer, **refusals(400, 404)},
    )
    def get(self, request: Request) -> Response:
        """Their order of work: sheets that they share are seated for all of them."""
        asked = request.query_params.getlist("colouring")
        if not 2 <= len(asked) <= MOST_MAKES or len(set(asked)) != len(asked):
            raise BadValue(f"An evening is of two to {MOST_MAKES} different colourings.", "colouring")
        if not all(a.isascii() and a.isdigit() and len(a) <= 18 for a in asked):
            raise BadValue("A colouring goes by its number.", "colouring")
        rows = [my_colouring(request, int(a)) for a in asked]
        return Response(_evening_json(rows, together(rows)))


def _evening_json(rows: list[Colouring], made: Together) -> dict[str, Any]:
    visits = []
    for visit in told_visits(made.sequence):
        of = [made.build_of(card) for card in visit.cards]
        visits.append(
            {
                "colouring": rows[of[0][0]].pk if of else None,
                "cards": [number for _, number in of],
                "minutes": round(visit.minutes, 1),
                "steps": [step_json(s, 0) for s in visit.steps],
            }
        )
    return {
        **totals_json(made.sequence),
        "apart": round(made.apart, 1),
        "builds": [
            {"id": r.build_id, "colouring": r.pk, "name": r.build.name, "cards": o.cards}
            for r, o in zip(rows, made.orderings, strict=True)
        ],
        "visits": visits,
    }
