"""Pictures of a colouring over HTTP: as a file, and as what the browser paints by."""

from __future__ import annotations

import io
from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from PIL import Image
from rest_framework.request import Request
from rest_framework.views import APIView

from studio.asked import asked, whole_parameter
from studio.builds import pictures
from studio.builds.finding import my_colouring
from studio.builds.looking import outlook
from studio.builds.panel_serializers import TrySerializer
from studio.errors import refusals

QUALITY = 95
# JPEG without chroma subsampling: 9 ms for 800 x 1040 where PNG takes 45, and its error is under 1 CIEDE2000
_WIDTH = OpenApiParameter("width", int, description="pixels, 40 to 1600 (800)")
_KNOWN = OpenApiParameter("map", str, description="key of the map that is known already")
_BINARY: Any = {(200, "application/octet-stream"): OpenApiTypes.BINARY, **refusals(400, 404)}


def _binary(data: bytes) -> HttpResponse:
    answer = HttpResponse(data, content_type="application/octet-stream")
    answer["Content-Encoding"] = "gzip"
    answer["Cache-Control"] = "no-store"
    return answer


def _width(request: Request) -> int:
    return whole_parameter(request, "width", 40, 1600) or 800


def _said(request: Request, name: str) -> bool:
    return request.query_params.get(name) in ("1", "true")


class PictureView(APIView):
    """The predicted panel."""

    @extend_schema(
        parameters=[
            _WIDTH,
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
        image = pictures.picture(seen, _width(request), after, _said(request, "wet"))
        file = io.BytesIO()
        Image.fromarray(image).save(file, "JPEG", quality=QUALITY, subsampling=0)
        answer = HttpResponse(file.getvalue(), content_type="image/jpeg")
        fresh = request.query_params.get("v") == seen.key
        answer["Cache-Control"] = "private, max-age=86400" if fresh else "no-store"
        return answer


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
        if _said(request, "sketch"):
            return _binary(pictures.sketch(row, _width(request)))
        seen = outlook(row)
        after = whole_parameter(request, "after", 0, len(seen.sequence.passes))
        known = request.query_params.get("map", "")
        return _binary(pictures.painting(seen, _width(request), known, after, _said(request, "wet")))


class BuildUpView(APIView):
    """The palettes of all moments."""

    @extend_schema(parameters=[_WIDTH], responses=_BINARY)
    def get(self, request: Request, pk: int) -> HttpResponse:
        """From bare card to finished, each as what changes from the one before."""
        return _binary(pictures.rebuilt(outlook(my_colouring(request, pk)), _width(request)))


class TryView(APIView):
    """A change looked at before it is made."""

    @extend_schema(request=TrySerializer, responses=_BINARY)
    def post(self, request: Request, pk: int) -> HttpResponse:
        """The colours that edits would make different; nothing is kept."""
        row, v = my_colouring(request, pk), asked(TrySerializer, request)
        edits = [(e["kind"], e["values"]) for e in v["edits"]]
        return _binary(pictures.tried(outlook(row), edits, v["width"], v.get("map", "")))
