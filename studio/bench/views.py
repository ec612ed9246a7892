"""The table over HTTP."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from studio.bench import services
from studio.builds.models import Build
from studio.owned import my


class TableSerializer(serializers.Serializer[Any]):
    """Where a maker is at the table."""

    signature = serializers.CharField(max_length=40)
    step = serializers.IntegerField(min_value=0)
    ticks = serializers.ListField(child=serializers.CharField(max_length=200), max_length=services.MOST_TICKS)
    wait_started = serializers.DateTimeField(allow_null=True, required=False)
    changed = serializers.BooleanField(read_only=True)


class TableView(APIView):
    """The run of a build."""

    @extend_schema(responses=TableSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Where it was left."""
        return Response(services.table_json(my(Build, request, pk)))

    @extend_schema(request=TableSerializer, responses=TableSerializer)
    def put(self, request: Request, pk: int) -> Response:
        """Keep where it is."""
        row = my(Build, request, pk)
        wanted = TableSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        return Response(services.keep(row, wanted.validated_data))
