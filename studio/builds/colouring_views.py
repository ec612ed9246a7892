"""Colourings over HTTP: seen, changed, undone, copied."""

from __future__ import annotations

import io
import logging
from collections.abc import Callable
from typing import Any

from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from PIL import Image
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.errors import UnknownName
from strata.formats.svg_out import mask_svg
from strata.panel.laid import cut_of
from strata.plan.edit_things import called
from studio.asked import asked, maker, whole_parameter
from studio.builds import history, pictures
from studio.builds.finding import my_colouring
from studio.builds.looking import outlook, standing_in, tryouts
from studio.builds.models import Build, Colouring
from studio.builds.panel import formats_json, laid_json
from studio.builds.panel_serializers import FormatSerializer, LaidSerializer, TrySerializer
from studio.builds.serializers import (
    ColouringNameSerializer,
    ColouringRefSerializer,
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
QUALITY = 95
# JPEG without chroma subsampling: 9 ms for 800 x 1040 where PNG takes 45, and its error is under 1 CIEDE2000
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
        return Response(state_json(my_colouring(request, pk)))

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


class PictureView(APIView):
    """The predicted panel."""

    @extend_schema(
        parameters=[
            OpenApiParameter("width", int, description="pixels, 40 to 1600 (800)"),
            OpenApiParameter("after", int, description="passes of the sequence done (all)"),
            OpenApiParameter("wet", bool, description="the last pass before it has dried back"),
            OpenApiParameter("v", str, description="picture_key; only for the browser's cache"),
        ],
        responses={(200, "image/jpeg"): OpenApiTypes.BINARY, **refusals(400, 404)},
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The panel as a picture, as it will look when dry."""
        row = my_colouring(request, pk)
        seen = outlook(row)
        width = whole_parameter(request, "width", 40, 1600) or 800
        after = whole_parameter(request, "after", 0, len(seen.sequence.passes))
        image = pictures.picture(seen, width, after, request.query_params.get("wet") in ("1", "true"))
        file = io.BytesIO()
        Image.fromarray(image).save(file, "JPEG", quality=QUALITY, subsampling=0)
        answer = HttpResponse(file.getvalue(), content_type="image/jpeg")
        fresh = request.query_params.get("v") == seen.key
        answer["Cache-Control"] = "private, max-age=86400" if fresh else "no-store"
        return answer


_WIDTH = OpenApiParameter("width", int, description="pixels, 40 to 1600 (800)")
_KNOWN = OpenApiParameter("map", str, description="key of the map that is known already")
_BINARY: Any = {(200, "application/octet-stream"): OpenApiTypes.BINARY, **refusals(400, 404)}


def _packed(data: bytes) -> HttpResponse:
    answer = HttpResponse(data, content_type="application/octet-stream")
    answer["Content-Encoding"] = "gzip"
    answer["Cache-Control"] = "no-store"
    return answer


def _width(request: Request) -> int:
    return whole_parameter(request, "width", 40, 1600) or 800


class PaintingView(APIView):
    """The panel as a map of stacks and a palette of their colours (docs/formats/painting.md)."""

    @extend_schema(
        parameters=[
            _WIDTH,
            _KNOWN,
            OpenApiParameter("after", int, description="passes of the sequence done (all)"),
            OpenApiParameter("wet", bool, description="the last pass before it has dried back"),
            OpenApiParameter("sketch", bool, description="the finished panel before the order is found"),
        ],
        responses=_BINARY,
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The palette of a moment; the map with it unless it is known."""
        row = my_colouring(request, pk)
        if request.query_params.get("sketch") in ("1", "true"):
            return _packed(pictures.sketch(row, _width(request)))
        seen = outlook(row)
        after = whole_parameter(request, "after", 0, len(seen.sequence.passes))
        wet = request.query_params.get("wet") in ("1", "true")
        known = request.query_params.get("map", "")
        return _packed(pictures.painting(seen, _width(request), known, after, wet))


class BuildUpView(APIView):
    """The palettes of all moments."""

    @extend_schema(parameters=[_WIDTH], responses=_BINARY)
    def get(self, request: Request, pk: int) -> HttpResponse:
        """From bare card to finished, each as what changes from the one before."""
        return _packed(pictures.rebuilt(outlook(my_colouring(request, pk)), _width(request)))


class TryView(APIView):
    """A change looked at before it is made."""

    @extend_schema(request=TrySerializer, responses=_BINARY)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """The colours that edits would make different; nothing is kept."""
        row, v = my_colouring(request, pk), asked(TrySerializer, request)
        edits = [(e["kind"], e["values"]) for e in v["edits"]]
        return _packed(pictures.tried(outlook(row), edits, v["width"], v.get("map", "")))


class LaidView(APIView):
    """What lies on the panel."""

    @extend_schema(responses={200: LaidSerializer, **refusals(404)})
    def get(self, request: Request, pk: int) -> Response:
        """Outlines of everything, as it lies."""
        return Response(laid_json(outlook(my_colouring(request, pk)).scene))


class CutLineView(APIView):
    """A mask or a piece to be cut."""

    @extend_schema(responses={(200, "image/svg+xml"): OpenApiTypes.BINARY, **refusals(404)})
    def get(self, request: Request, pk: int, key: str) -> HttpResponse:
        """Its cut line as SVG in mm, on the panel's own page."""
        scene = outlook(my_colouring(request, pk)).scene
        thing, laid = scene.plan.thing(key), scene.layer_set
        shape = laid.masks.get(key) or cut_of(laid, key)
        answer = HttpResponse(mask_svg(laid, shape, called(thing)), content_type="image/svg+xml")
        answer["Content-Disposition"] = f'attachment; filename="cut-{thing.number}.svg"'
        return answer


class LayOutOthersView(APIView):
    """The same layout for all colourings of a build."""

    @extend_schema(request=None, responses={200: ColouringRefSerializer(many=True), **refusals(404, 409)})
    def post(self, request: Request, pk: int) -> Response:
        """Lay the others out as this one; each can undo it for itself."""
        changed = history.lay_out_others(my_colouring(request, pk))
        return Response([{"id": c.pk, "name": c.name} for c in changed])


class FormatsView(APIView):
    """Formats of cards."""

    @extend_schema(responses=FormatSerializer(many=True))
    def get(self, request: Request) -> Response:
        """The formats that cards are made in."""
        return Response(formats_json())


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
        return Response([stand_in_json(seen.scene, seen.judged[0], s) for s in found])


class BuildFileView(APIView):
    """A build as a file."""

    @extend_schema(responses=FILE)
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The plan as JSON to keep or to hand on."""
        return file_of(my_colouring(request, pk))
