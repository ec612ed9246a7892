"""Colourings over HTTP: seen, changed, undone, copied."""

from __future__ import annotations

import logging
from collections.abc import Callable
from typing import Any

from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.errors import UnknownName
from studio.asked import asked, maker
from studio.builds import history, pictures
from studio.builds.figures import figures
from studio.builds.finding import my_colouring
from studio.builds.looking import standing_in, tryouts
from studio.builds.models import Build, Colouring
from studio.builds.serializers import (
    ColouringNameSerializer,
    EditSerializer,
    HeadSerializer,
    NewColouringSerializer,
    RevisionSerializer,
    StandInSerializer,
    StateSerializer,
    TryoutSerializer,
)
from studio.builds.state import stand_in_json, state_json
from studio.builds.views import FILE, file_of
from studio.colours import colour
from studio.errors import refusals
from studio.owned import my

log = logging.getLogger("studio.builds")
_HEAD = {200: HeadSerializer, **refusals(400, 404, 409)}


class ColouringsView(APIView):
    """The colourings of a build."""

    @extend_schema(request=NewColouringSerializer, responses={201: HeadSerializer, **refusals(400, 404)})
    def post(self, request: Request, pk: int) -> Response:
        """Another colouring, begun as a copy of one."""
        build, values = my(Build, request, pk), asked(NewColouringSerializer, request)
        row = my_colouring(request, values["copy"])
        if row.build_id != build.pk:
            raise UnknownName("That colouring belongs to another build.", "copy")
        made = history.copy(row, values["name"])
        made.build.owner = maker(request)
        return Response(history.head_json(made), status=201)


class ColouringView(APIView):
    """One colouring."""

    @extend_schema(responses={200: StateSerializer, **refusals(404)})
    def get(self, request: Request, pk: int) -> Response:
        """Its whole state: core samples, warnings, order."""
        row = my_colouring(request, pk)
        state = state_json(row)
        # another process may be asked for Home next, which says some of it
        figures(row)
        return Response(state)

    @extend_schema(request=ColouringNameSerializer, responses={200: HeadSerializer, **refusals(400, 404)})
    def patch(self, request: Request, pk: int) -> Response:
        """Give it another name."""
        row = my_colouring(request, pk)
        return Response(
            history.head_json(history.rename(row, asked(ColouringNameSerializer, request)["name"]))
        )

    @extend_schema(responses={204: None, **refusals(400, 404)})
    def delete(self, request: Request, pk: int) -> Response:
        """Put it away; the last one of a build stays."""
        history.let_go(my_colouring(request, pk))
        return Response(status=204)


class ColouringBackView(APIView):
    """Bring a colouring back."""

    @extend_schema(request=None, responses={204: None, **refusals(404)})
    def post(self, request: Request, pk: int) -> Response:
        """Undo putting it away."""
        row = my_colouring(request, pk, away=True)
        row.gone = None
        row.save(update_fields=["gone"])
        row.build.updated = timezone.now()
        row.build.save(update_fields=["updated"])
        return Response(status=204)


class EditsView(APIView):
    """Changing a colouring."""

    @extend_schema(request=EditSerializer, responses=_HEAD)
    def post(self, request: Request, pk: int) -> Response:
        """Apply one edit on top of a revision; 409 when the colouring has moved on."""
        row, v = my_colouring(request, pk), asked(EditSerializer, request)
        changed = history.edit(row, v["revision"], v["kind"], v["values"], v.get("edit_key", ""))
        return _headed(changed, v.get("looked_at"))


class UndoView(APIView):
    """Going back."""

    @extend_schema(request=RevisionSerializer, responses=_HEAD)
    def post(self, request: Request, pk: int) -> Response:
        """Undo the last change."""
        return _stepped(request, pk, history.undo)


class RedoView(APIView):
    """Going forward."""

    @extend_schema(request=RevisionSerializer, responses=_HEAD)
    def post(self, request: Request, pk: int) -> Response:
        """Redo what was undone."""
        return _stepped(request, pk, history.redo)


def _stepped(request: Request, pk: int, step: Callable[[Colouring, int, str], Colouring]) -> Response:
    row, v = my_colouring(request, pk), asked(RevisionSerializer, request)
    return _headed(step(row, v["revision"], v.get("edit_key", "")), v.get("looked_at"))


def _headed(changed: Colouring, looked_at: dict[str, Any] | None) -> Response:
    """Where it stands now, with the colours that changed for who looks at the picture."""
    try:
        painting = pictures.change_shown(changed, looked_at)
    except Exception:
        # the change is kept: whatever goes wrong with its picture must not look like a refusal
        log.exception("the colours of a change could not be told")
        painting = None
    return Response({**history.head_json(changed), "painting": painting})


class TryoutsView(APIView):
    """Trying inks before choosing."""

    @extend_schema(responses={200: TryoutSerializer(many=True), **refusals(404)})
    def get(self, request: Request, pk: int, key: str) -> Response:
        """Every ink at hand in the place of one pass."""
        found = tryouts(my_colouring(request, pk), key)
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
        responses={200: StandInSerializer(many=True), **refusals(404)},
    )
    def get(self, request: Request, pk: int) -> Response:
        """The best pads at hand in its place, each with the edit that swaps it in."""
        row, ink = my_colouring(request, pk), request.query_params.get("ink", "")
        seen, found = standing_in(row, ink, request.query_params.get("pass"))
        return Response([stand_in_json(seen.scene, seen.judged.ladders, s) for s in found])


class BuildFileView(APIView):
    """A build as a file."""

    @extend_schema(responses=FILE)
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The plan as JSON to keep or to hand on."""
        return file_of(my_colouring(request, pk))
