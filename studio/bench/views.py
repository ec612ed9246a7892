"""The table over HTTP, and Home, which says where every build is."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.panel.things import IMAGE, Place, the_image
from strata.panel.values import read_size
from strata.plan import Materials, Plan
from studio.asked import asked
from studio.bench import services
from studio.builds import history
from studio.builds.finding import my_colouring
from studio.builds.serializers import BuildSummarySerializer, HeadSerializer, NewBuildSerializer
from studio.builds.state import builds_of, summary_json
from studio.errors import refusals
from studio.owned import my
from studio.sets.models import LayerSet


class TableSerializer(serializers.Serializer[Any]):
    """Where a maker is at the table. The same ``edit_key`` twice is one step."""

    signature = serializers.CharField(max_length=40)
    revision = serializers.IntegerField(min_value=0, required=False)
    step = serializers.IntegerField(min_value=0)
    ticks = serializers.ListField(child=serializers.CharField(max_length=200), max_length=services.MOST_TICKS)
    wait_started = serializers.DateTimeField(allow_null=True, required=False)
    edit_key = serializers.CharField(max_length=64, required=False, allow_blank=True, write_only=True)
    changed = serializers.BooleanField(read_only=True)


class TableView(APIView):
    """The run of a colouring."""

    @extend_schema(responses={200: TableSerializer, **refusals(404)})
    def get(self, request: Request, pk: int) -> Response:
        """Where it was left."""
        return Response(services.table_json(my_colouring(request, pk)))

    @extend_schema(request=TableSerializer, responses={200: TableSerializer, **refusals(400, 404, 409)})
    def put(self, request: Request, pk: int) -> Response:
        """Keep where it is; 409 when it was moved on elsewhere."""
        row, values = my_colouring(request, pk), asked(TableSerializer, request)
        return Response(services.keep(row, values))


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
