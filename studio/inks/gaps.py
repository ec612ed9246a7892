"""What a drawer lacks, has twice or ranks the wrong way, over HTTP."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.drawer import SECTORS, Gap, gaps
from strata.kept import Kept
from studio.colours import ColourSerializer, colour
from studio.errors import refusals
from studio.inks.services import house
from studio.inks.shown_on import STOCK, shown_on

_FOUND: Kept[tuple[str, str], tuple[Gap, ...]] = Kept(8_000_000, lambda found: 2000 + 600 * len(found))


class GapSerializer(serializers.Serializer[Any]):
    """Something that a drawer lacks, has twice or ranks the wrong way."""

    kind = serializers.ChoiceField(
        choices=["shadow", "highlight", "middle", "hue", "grey", "twins", "rank", "dark card"]
    )
    sentence = serializers.CharField()
    inks = serializers.ListField(child=serializers.CharField())
    hue = serializers.SerializerMethodField()
    lightness = serializers.SerializerMethodField()
    wanted = serializers.SerializerMethodField()

    @extend_schema_field({"type": "array", "items": {"type": "number"}, "nullable": True})
    def get_hue(self, gap: Any) -> Any:
        return gap.hue

    @extend_schema_field({"type": "array", "items": {"type": "number"}, "nullable": True})
    def get_lightness(self, gap: Any) -> Any:
        return gap.lightness

    @extend_schema_field(ColourSerializer(allow_null=True))
    def get_wanted(self, gap: Any) -> Any:
        return gap.wanted and colour(gap.wanted)


class GapsView(APIView):
    """The gaps of a drawer."""

    @extend_schema(parameters=[STOCK], responses={200: GapSerializer(many=True), **refusals(404)})
    def get(self, request: Request) -> Response:
        """What the pads at hand lack on a card."""
        own, card = house(request.user), shown_on(request)
        found = _FOUND.get((own.stamp, card.key), lambda: gaps(own.pads(), card))
        return Response(GapSerializer(found, many=True).data)


class SectorSerializer(serializers.Serializer[Any]):
    """A range of hues with a name, degrees of h_ab."""

    name = serializers.CharField()
    low = serializers.FloatField()
    high = serializers.FloatField()


class SectorsView(APIView):
    """The hues of the drawer's map."""

    @extend_schema(responses=SectorSerializer(many=True))
    def get(self, request: Request) -> Response:
        """The ranges of hues in which a drawer is looked at."""
        return Response(SectorSerializer(SECTORS, many=True).data)
