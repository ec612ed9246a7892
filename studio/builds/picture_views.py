"""Pictures of a colouring over HTTP: as a file, and as what the browser paints by."""

from __future__ import annotations

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.views import APIView

from studio.asked import asked, kept_under, whole_parameter
from studio.builds import pictures
from studio.builds.finding import my_colouring
from studio.builds.looking import outlook
from studio.builds.painted import BINARY, KNOWN, WIDTH, binary, said, width_of
from studio.builds.panel_serializers import TrySerializer
from studio.errors import refusals

_SMALL, _OF_SMALL, _QUALITY = 400, 85, 95
# px wide: smaller ones stand beside others to be known again, six on the first page that a telephone opens, and take a little over
# half the bytes; colours are judged on larger ones


class PictureView(APIView):
    """The predicted panel."""

    @extend_schema(
        parameters=[
            WIDTH,
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
        after = whole_parameter(request, "after", 0, len(seen.sequence.passes))
        image = pictures.picture(seen, width_of(request), after, said(request, "wet"))
        quality = _QUALITY if image.shape[1] > _SMALL else _OF_SMALL
        answer = HttpResponse(pictures.jpeg(image, quality), content_type="image/jpeg")
        return kept_under(answer, request, seen.key)


class PaintingView(APIView):
    """The panel as a map of stacks and a palette of their colours (docs/formats/painting.md)."""

    @extend_schema(
        parameters=[
            WIDTH,
            KNOWN,
            OpenApiParameter("after", int, description="passes of the sequence done (all)"),
            OpenApiParameter("wet", bool, description="the last pass before it has dried back"),
            OpenApiParameter("sketch", bool, description="the finished panel before the order is found"),
        ],
        responses=BINARY,
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """The palette of a moment; the map with it unless it is known."""
        row = my_colouring(request, pk)
        if said(request, "sketch"):
            return binary(pictures.sketch(row, width_of(request)))
        seen = outlook(row)
        after = whole_parameter(request, "after", 0, len(seen.sequence.passes))
        known = request.query_params.get("map", "")
        return binary(pictures.painting(seen, width_of(request), known, after, said(request, "wet")))


class BuildUpView(APIView):
    """The palettes of all moments."""

    @extend_schema(parameters=[WIDTH], responses=BINARY)
    def get(self, request: Request, pk: int) -> HttpResponse:
        """From bare card to finished, each as what changes from the one before."""
        return binary(pictures.rebuilt(outlook(my_colouring(request, pk)), width_of(request)))


class TryView(APIView):
    """A change looked at before it is made."""

    @extend_schema(request=TrySerializer, responses=BINARY)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """The colours that edits would make different; nothing is kept."""
        row, v = my_colouring(request, pk), asked(TrySerializer, request)
        edits = [(e["kind"], e["values"]) for e in v["edits"]]
        return binary(pictures.tried(outlook(row), edits, v["width"], v.get("map", "")))
