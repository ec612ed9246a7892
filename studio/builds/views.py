"""Builds over HTTP."""

from __future__ import annotations

import io
import json
from collections.abc import Callable

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from PIL import Image
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.errors import BadValue, finite
from strata.formats.build_file import FORMAT, write_plan
from strata.plan import Plan
from studio.builds import services
from studio.builds.models import Build
from studio.builds.serializers import (
    BuildSummarySerializer,
    EditSerializer,
    HeadSerializer,
    NameSerializer,
    NewBuildSerializer,
    RevisionSerializer,
    StandInSerializer,
    StateSerializer,
    TryoutSerializer,
)
from studio.builds.state import stand_in_json, state_json, summary_json
from studio.colours import colour
from studio.errors import ErrorSerializer
from studio.owned import BringBackView, PutAwayView, mine, my
from studio.sets.models import LayerSet

QUALITY = 95
# JPEG without chroma subsampling: 9 ms for 800 x 1040 where PNG takes 45, and its error is under 1 CIEDE2000
_STALE = {200: HeadSerializer, 409: ErrorSerializer}


class BuildsView(APIView):
    """All builds; a new one."""

    @extend_schema(responses=BuildSummarySerializer(many=True))
    def get(self, request: Request) -> Response:
        """The builds, latest first."""
        rows = mine(Build, request.user)
        return Response([summary_json(row) for row in rows])

    @extend_schema(request=NewBuildSerializer, responses={201: HeadSerializer})
    def post(self, request: Request) -> Response:
        """Start a build."""
        wanted = NewBuildSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        values = wanted.validated_data
        layer_set = my(LayerSet, request, values["set_id"])
        build = services.start(request.user, values["name"], layer_set, Plan(stock=values["stock"]))
        return Response(services.head_json(build), status=201)


class BuildView(PutAwayView):
    """One build."""

    model = Build

    @extend_schema(responses=StateSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """Its whole state: core samples, warnings, order."""
        return Response(state_json(my(Build, request, pk)))

    @extend_schema(request=NameSerializer, responses=HeadSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Give it another name."""
        row = my(Build, request, pk)
        wanted = NameSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        row.name = wanted.validated_data["name"]
        row.save(update_fields=["name", "updated"])
        return Response(services.head_json(row))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Put it away."""
        return super().delete(request, pk)


class BuildBackView(BringBackView):
    """Bring a build back."""

    model = Build

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, pk: int) -> Response:
        """Undo putting it away."""
        return super().post(request, pk)


class EditsView(APIView):
    """Changing a build."""

    @extend_schema(request=EditSerializer, responses=_STALE)
    def post(self, request: Request, pk: int) -> Response:
        """Apply one edit on top of a revision; 409 when the build has moved on."""
        row = my(Build, request, pk)
        wanted = EditSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        v = wanted.validated_data
        changed = services.edit(row, v["revision"], v["kind"], v["values"], v.get("edit_key", ""))
        head = services.head_json(changed)
        services.foresee(changed)
        return Response(head)


class UndoView(APIView):
    """Going back."""

    @extend_schema(request=RevisionSerializer, responses=_STALE)
    def post(self, request: Request, pk: int) -> Response:
        """Undo the last change."""
        return _stepped(request, pk, services.undo)


class RedoView(APIView):
    """Going forward."""

    @extend_schema(request=RevisionSerializer, responses=_STALE)
    def post(self, request: Request, pk: int) -> Response:
        """Redo what was undone."""
        return _stepped(request, pk, services.redo)


def _stepped(request: Request, pk: int, step: Callable[[Build, int], Build]) -> Response:
    row = my(Build, request, pk)
    wanted = RevisionSerializer(data=request.data)
    wanted.is_valid(raise_exception=True)
    return Response(services.head_json(step(row, wanted.validated_data["revision"])))


def _whole(request: Request, name: str, low: int, high: int) -> int | None:
    text = request.query_params.get(name)
    if text is None:
        return None
    try:
        return int(finite(int(text), name, low, high))
    except ValueError as error:
        raise BadValue(f"{name} must be a whole number.", name) from error


class PictureView(APIView):
    """The predicted panel."""

    @extend_schema(
        parameters=[
            OpenApiParameter("width", int, description="pixels, 40 to 1600 (800)"),
            OpenApiParameter("after", int, description="passes of the sequence done (all)"),
            OpenApiParameter("wet", bool, description="the last pass before it has dried back"),
            OpenApiParameter("v", str, description="picture_key; only for the browser's cache"),
        ],
        responses={(200, "image/jpeg"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The panel as a picture, as it will look when dry."""
        build = my(Build, request, pk)
        seen = services.outlook(build)
        width = _whole(request, "width", 40, 1600) or 800
        after = _whole(request, "after", 0, len(seen.sequence.passes))
        services.asked(build, width, after)
        image = services.picture(seen, width, after, request.query_params.get("wet") in ("1", "true"))
        file = io.BytesIO()
        Image.fromarray(image).save(file, "JPEG", quality=QUALITY, subsampling=0)
        answer = HttpResponse(file.getvalue(), content_type="image/jpeg")
        fresh = request.query_params.get("v") == seen.key
        answer["Cache-Control"] = "private, max-age=86400" if fresh else "no-store"
        return answer


class TryoutsView(APIView):
    """Trying inks before choosing."""

    @extend_schema(responses=TryoutSerializer(many=True))
    def get(self, request: Request, pk: int, key: str) -> Response:
        """Every ink at hand in the place of one pass."""
        found = services.tryouts(my(Build, request, pk), key)
        return Response(
            [
                {"ink": t.ink, "here": colour(t.here), "alone": colour(t.alone), "change": round(t.change, 1)}
                for t in found
            ]
        )


class StandInsView(APIView):
    """What can stand in for a pad."""

    @extend_schema(
        parameters=[
            OpenApiParameter("ink", str, required=True, description="key of the ink that is missing"),
            OpenApiParameter("pass", str, description="only in this pass"),
        ],
        responses=StandInSerializer(many=True),
    )
    def get(self, request: Request, pk: int) -> Response:
        """The best pads at hand in its place, each with the edit that swaps it in."""
        build, ink = my(Build, request, pk), request.query_params.get("ink", "")
        seen, found = services.standing_in(build, ink, request.query_params.get("pass"))
        rungs = services.judged(seen)[0]
        return Response([stand_in_json(seen.scene, rungs, s) for s in found])


class BuildFileView(APIView):
    """A build as a file."""

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The plan as JSON to keep or to hand on."""
        row = my(Build, request, pk)
        values = {"format": FORMAT, "version": 1, "name": row.name, "set": row.layer_set.key}
        text = json.dumps({**values, **write_plan(services.plan_of(row))}, indent=1)
        answer = HttpResponse(text, content_type="application/json")
        answer["Content-Disposition"] = 'attachment; filename="build.json"'
        return answer
