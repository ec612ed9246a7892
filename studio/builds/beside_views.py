"""Colourings beside one another, and as palettes, over HTTP."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.formats import palette
from strata.formats.pdf.palette_strip import palette_strip_pdf
from strata.plan.compare import differences
from studio.asked import ONE_FILE, sent_file
from studio.builds.finding import my_colouring
from studio.builds.looking import outlook
from studio.builds.proposal_views import ProposedEditSerializer
from studio.errors import refusals
from studio.inks.services import house
from studio.schema import files

MOST_BYTES = 1_000_000
KINDS = {"gpl": "text/plain", "csv": "text/csv", "json": "application/json", "pdf": "application/pdf"}


class AgainstSerializer(serializers.Serializer[Any]):
    """What another colouring does differently."""

    sentences = serializers.ListField(child=serializers.CharField())


class AgainstView(APIView):
    """One colouring against another of the same maker."""

    @extend_schema(responses={200: AgainstSerializer, **refusals(404)})
    def get(self, request: Request, pk: int, other: int) -> Response:
        """The differences in words: the card, then element by element."""
        here, there = my_colouring(request, pk), my_colouring(request, other)
        return Response({"sentences": differences(outlook(here).scene, outlook(there).scene)})


class PaletteSerializer(serializers.Serializer[Any]):
    """A palette that came in: the changes that put it on, and what had to be done otherwise."""

    edits = ProposedEditSerializer(many=True)
    remarks = serializers.ListField(child=serializers.CharField())


class PaletteOutView(APIView):
    """A colouring as a palette."""

    @extend_schema(responses={**files(KINDS.values()), **refusals(404)})
    def get(self, request: Request, pk: int, kind: str) -> HttpResponse:
        """GPL, CSV, JSON, or a strip to print (PDF)."""
        if kind not in KINDS:
            raise Http404
        row = my_colouring(request, pk)
        scene = outlook(row).scene
        found, title = palette.entries(scene), f"{row.build.name}, {row.name}"
        data = {
            "gpl": lambda: palette.write_gpl(found, title),
            "csv": lambda: palette.write_csv(found),
            "json": lambda: palette.write_json(found, title),
            "pdf": lambda: palette_strip_pdf(found, title, scene.stock.name),
        }[kind]()
        answer = HttpResponse(data, content_type=KINDS[kind])
        answer["Content-Disposition"] = f'attachment; filename="palette.{kind}"'
        return answer


class PaletteInView(APIView):
    """A palette on its way in."""

    @extend_schema(
        request=ONE_FILE,
        responses={200: PaletteSerializer, **refusals(400, 404)},
    )
    def post(self, request: Request, pk: int) -> Response:
        """Read it against this panel and the pads at hand; nothing is kept."""
        row, data = my_colouring(request, pk), sent_file(request, "palette", MOST_BYTES).read()
        pads = house(row.build.owner).at_hand
        edits, remarks = palette.worn_again(outlook(row).scene, palette.read(data), pads)
        return Response({"edits": [{"kind": k, "values": v} for k, v in edits], "remarks": remarks})
