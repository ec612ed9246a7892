"""What a picture is asked for with, and how its bytes are answered: the same for every picture."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request

from studio.asked import whole_parameter
from studio.errors import refusals

WIDTH = OpenApiParameter("width", int, description="pixels, 40 to 1600 (800)")
KNOWN = OpenApiParameter("map", str, description="key of the map that is known already")
BINARY: Any = {(200, "application/octet-stream"): OpenApiTypes.BINARY, **refusals(400, 404)}


def binary(data: bytes) -> HttpResponse:
    """Gzipped bytes that the browser unpacks and does not keep."""
    answer = HttpResponse(data, content_type="application/octet-stream")
    answer["Content-Encoding"] = "gzip"
    answer["Cache-Control"] = "no-store"
    return answer


def width_of(request: Request) -> int:
    """Pixels across, as asked for."""
    return whole_parameter(request, "width", 40, 1600) or 800


def said(request: Request, name: str) -> bool:
    """Whether a parameter says yes."""
    return request.query_params.get(name) in ("1", "true")
