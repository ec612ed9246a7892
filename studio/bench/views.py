"""The table over HTTP, and Home, which says where every build is."""

from __future__ import annotations

import logging
from dataclasses import replace

from django.http import HttpResponse
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.making import Making as CoreMaking
from strata.panel.things import IMAGE, Place, the_image
from strata.panel.values import read_size
from strata.plan import Materials, Plan
from studio.asked import asked, whole_parameter
from studio.bench import records, services
from studio.bench.serializers import HappenedSerializer, TableSerializer, WentWrongSerializer, WrongSerializer
from studio.bench.table_json import table_json, wrong_json
from studio.builds import history, pictures
from studio.builds.finding import my_colouring
from studio.builds.models import Colouring
from studio.builds.outlook import Outlook
from studio.builds.painted import BINARY, KNOWN, WIDTH, binary, said, width_of
from studio.builds.serializers import BuildSummarySerializer, HeadSerializer, NewBuildSerializer
from studio.builds.summaries import builds_of, summary_json
from studio.errors import refusals
from studio.owned import my
from studio.sets.models import LayerSet

log = logging.getLogger("studio.bench")
_CARD = OpenApiParameter("card", int, description="which card, from 1 (1)")


class TableView(APIView):
    """The making of a colouring that is under way."""

    @extend_schema(responses={200: TableSerializer, **refusals(404)})
    def get(self, request: Request, pk: int) -> Response:
        """What is done, what is really there, what is left."""
        row = my_colouring(request, pk)
        return Response(table_json(row, services.latest(row)))

    @extend_schema(request=HappenedSerializer, responses={200: TableSerializer, **refusals(400, 404)})
    def post(self, request: Request, pk: int) -> Response:
        """Add what happened; what was sent before is passed over."""
        row, values = my_colouring(request, pk), asked(HappenedSerializer, request)
        making = services.happened(row, values["making"], values["events"])
        try:
            records.written_down(making)
        except Exception:
            # what happened is kept; a log that cannot be written must not hold up the table
            log.exception("making %s could not be written down", making.pk)
        return Response(table_json(row, services.latest(row)))


class WrongView(APIView):
    """What went wrong at the table."""

    @extend_schema(request=WentWrongSerializer, responses={200: WrongSerializer, **refusals(400, 404)})
    def post(self, request: Request, pk: int) -> Response:
        """What it looks like now, and the ways on; nothing is kept."""
        values = asked(WentWrongSerializer, request)
        what = values.pop("what")
        return Response(wrong_json(services.wrong(my_colouring(request, pk), what, dict(values))))


def _seen(request: Request, row: Colouring) -> tuple[CoreMaking, Outlook]:
    making = services.making_of(row, services.events_of(services.latest(row)))
    card = whole_parameter(request, "card", 1, len(making.cards)) or 1
    return making, services.seen_on(row, making, card)


class CardPaintingView(APIView):
    """A card as it really is, as a map of stacks and a palette (docs/formats/painting.md)."""

    @extend_schema(
        parameters=[
            WIDTH,
            KNOWN,
            _CARD,
            OpenApiParameter("after", int, description="layers laid (all)"),
            OpenApiParameter("wet", bool, description="the last one before it has dried back"),
        ],
        responses=BINARY,
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The palette of a moment; the map with it unless it is known."""
        _, seen = _seen(request, my_colouring(request, pk))
        after = whole_parameter(request, "after", 0, 1000)
        known = request.query_params.get("map", "")
        return binary(pictures.painting(seen, width_of(request), known, after, said(request, "wet")))


class CardBuildUpView(APIView):
    """The palettes of all moments of a card."""

    @extend_schema(parameters=[WIDTH, _CARD], responses=BINARY)
    def get(self, request: Request, pk: int) -> HttpResponse:
        """From bare card to finished, each as what changes from the one before."""
        return binary(pictures.rebuilt(_seen(request, my_colouring(request, pk))[1], width_of(request)))


class HomeView(APIView):
    """All builds, each with where it is; a new one."""

    @extend_schema(responses=BuildSummarySerializer(many=True))
    def get(self, request: Request) -> Response:
        """The builds, latest first."""
        shown = [build.colourings.all()[0] for build in builds_of(request.user)]
        tables = services.at_table(shown)
        return Response([summary_json(c, tables.get(c.pk)) for c in shown])

    @extend_schema(request=NewBuildSerializer, responses={201: HeadSerializer, **refusals(400, 404)})
    def post(self, request: Request) -> Response:
        """Start a build."""
        values = asked(NewBuildSerializer, request)
        panel = read_size(values.get("panel"))
        materials = Materials(values["stock"], panel=panel)
        if values.get("set_id") is None:
            first = history.start(request.user, values["name"], {}, Plan(materials, things=()))
        else:
            layer_set = my(LayerSet, request, values["set_id"])
            image = the_image()
            if panel is not None:
                image = replace(image, place=Place(panel.width / 2, panel.height / 2))
            plan = Plan(materials, things=(image,))
            first = history.start(request.user, values["name"], {IMAGE: layer_set}, plan)
        return Response(history.head_json(first), status=201)
