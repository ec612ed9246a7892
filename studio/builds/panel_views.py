"""The panel over HTTP: what lies on it, its cut lines, its formats, and one layout for all colourings."""

from __future__ import annotations

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.formats.svg_out import mask_svg
from strata.panel.laid import cut_of
from studio.builds import history
from studio.builds.finding import my_colouring
from studio.builds.looking import outlook
from studio.builds.panel import formats_json, laid_json
from studio.builds.panel_serializers import FormatSerializer, LaidSerializer
from studio.builds.serializers import ColouringRefSerializer
from studio.errors import refusals


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
        answer = HttpResponse(mask_svg(laid, shape, scene.called(thing)), content_type="image/svg+xml")
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
