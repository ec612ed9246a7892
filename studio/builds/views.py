"""Builds over HTTP: begun, named, put away, carried out as a file."""

from __future__ import annotations

import json
from typing import Any

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from studio.asked import asked
from studio.builds import history
from studio.builds.looking import image_of, plan_json
from studio.builds.models import Build, Colouring
from studio.builds.serializers import BuildSerializer, NameSerializer
from studio.builds.state import colourings_json
from studio.errors import refusals
from studio.owned import BringBackView, PutAwayView, my
from studio.schema import files


def build_json(build: Build) -> dict[str, object]:
    """A build by itself: its materials and its colourings."""
    return {
        "id": build.pk,
        "name": build.name,
        "revision": build.revision,
        "set_id": getattr(image_of(build), "layer_set_id", None),
        "materials": build.materials,
        "colourings": colourings_json(build),
    }


class BuildView(PutAwayView):
    """One build."""

    model = Build

    @extend_schema(responses={200: BuildSerializer, **refusals(404)})
    def get(self, request: Request, pk: int) -> Response:
        """Its materials and its colourings."""
        return Response(build_json(my(Build, request, pk)))

    @extend_schema(request=NameSerializer, responses={200: BuildSerializer, **refusals(400, 404)})
    def patch(self, request: Request, pk: int) -> Response:
        """Give it another name."""
        row = my(Build, request, pk)
        return Response(build_json(history.rename_build(row, asked(NameSerializer, request)["name"])))

    @extend_schema(responses={204: None, **refusals(404)})
    def delete(self, request: Request, pk: int) -> Response:
        """Put it away."""
        return super().delete(request, pk)


class BuildBackView(BringBackView):
    """Bring a build back."""

    model = Build

    @extend_schema(request=None, responses={204: None, **refusals(404)})
    def post(self, request: Request, pk: int) -> Response:
        """Undo putting it away."""
        return super().post(request, pk)


def file_of(colouring: Colouring) -> HttpResponse:
    """A colouring's plan as a file."""
    answer = HttpResponse(json.dumps(plan_json(colouring), indent=1), content_type="application/json")
    answer["Content-Disposition"] = 'attachment; filename="build.json"'
    return answer


FILE: dict[Any, Any] = {**files(["application/json"]), **refusals(404)}
