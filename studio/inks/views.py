"""The drawer over HTTP."""

from __future__ import annotations

import json

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.errors import BadFile, UnknownName
from strata.formats.drawer import Drawer, read_drawer, write_drawer
from strata.optics.stack import Stock as CoreStock
from studio.inks import services
from studio.inks.models import Ink, Stock
from studio.inks.serializers import (
    InkSerializer,
    NewInkSerializer,
    StockSerializer,
    TakenInSerializer,
    ink_json,
    stock_json,
)
from studio.owned import BringBackView, PutAwayView, mine, my

_PLAIN = CoreStock((95.8, 0.2, 0.9), "plain white")
_STOCK = OpenApiParameter("stock", str, description="key of the stock the dabs are shown on")


def _shown_on(request: Request) -> CoreStock:
    """The stock asked for, else the first in the house, else a plain white."""
    stocks = services.house(request.user).stocks
    key = request.query_params.get("stock")
    if key is None:
        return next(iter(stocks.values()), _PLAIN)
    if key not in stocks:
        raise UnknownName("That card is not in the house.", "stock")
    return stocks[key]


class InksView(APIView):
    """All inks; a new one."""

    @extend_schema(parameters=[_STOCK], responses=InkSerializer(many=True))
    def get(self, request: Request) -> Response:
        """The drawer, each ink with its dabs on a stock."""
        stock = _shown_on(request)
        cores = services.house(request.user).inks
        return Response([ink_json(row, stock, cores[row.key]) for row in mine(Ink, request.user)])

    @extend_schema(request=NewInkSerializer, responses={201: InkSerializer})
    def post(self, request: Request) -> Response:
        """Add a pad."""
        wanted = NewInkSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        row = services.add_ink(request.user, wanted.validated_data)
        return Response(ink_json(row, _shown_on(request)), status=201)


class InkView(PutAwayView):
    """One ink."""

    model = Ink

    @extend_schema(parameters=[_STOCK], responses=InkSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """An ink with its dabs on a stock."""
        return Response(ink_json(my(Ink, request, pk), _shown_on(request)))

    @extend_schema(request=NewInkSerializer, responses=InkSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change some of its values."""
        row = my(Ink, request, pk)
        wanted = NewInkSerializer(data=request.data, partial=True)
        wanted.is_valid(raise_exception=True)
        return Response(ink_json(services.change_ink(row, wanted.validated_data), _shown_on(request)))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Put it away; builds that use it keep it."""
        return super().delete(request, pk)


class InkBackView(BringBackView):
    """Bring an ink back."""

    model = Ink

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, pk: int) -> Response:
        """Undo putting it away."""
        return super().post(request, pk)


class StocksView(APIView):
    """All stocks; a new one."""

    @extend_schema(responses=StockSerializer(many=True))
    def get(self, request: Request) -> Response:
        """The cards in the house."""
        return Response([stock_json(row) for row in mine(Stock, request.user)])

    @extend_schema(request=StockSerializer, responses={201: StockSerializer})
    def post(self, request: Request) -> Response:
        """Add a card stock."""
        wanted = StockSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        return Response(stock_json(services.add_stock(request.user, wanted.validated_data)), status=201)


class DrawerView(APIView):
    """The drawer as a file, out and in."""

    @extend_schema(responses={(200, "application/json"): OpenApiTypes.BINARY})
    def get(self, request: Request) -> HttpResponse:
        """The whole drawer as one JSON file."""
        house = services.house(request.user)
        inks = tuple(ink for key, ink in house.inks.items() if key in house.at_hand)
        text = json.dumps(write_drawer(Drawer(inks, tuple(house.stocks.values()))), indent=1)
        answer = HttpResponse(text, content_type="application/json")
        answer["Content-Disposition"] = 'attachment; filename="drawer.json"'
        return answer

    @extend_schema(
        request={
            "multipart/form-data": {
                "type": "object",
                "properties": {"file": {"type": "string", "format": "binary"}},
            }
        },
        responses=TakenInSerializer,
    )
    def post(self, request: Request) -> Response:
        """Bring in a drawer file; a pad with a known key is updated."""
        file = request.FILES.get("file")
        if file is None:
            raise BadFile("No file came with that.", "file")
        inks, stocks = services.take_in(request.user, read_drawer(file.read()))
        return Response({"inks": inks, "stocks": stocks})
