"""The drawer over HTTP: inks, stocks, tools, and the way back."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.errors import BadValue
from studio.inks import editing, history
from studio.inks.models import Ink, Stock, Tool
from studio.inks.serializers import (
    DrawerHistorySerializer,
    InkSerializer,
    ManyInksSerializer,
    NewInkSerializer,
    StockSerializer,
    ToolSerializer,
    ink_json,
    inks_json,
    stock_json,
    tool_json,
)
from studio.inks.services import house
from studio.inks.shown_on import STOCK, shown_on
from studio.owned import Owned, mine, my


class InksView(APIView):
    """All inks; a new one; the same change for many."""

    @extend_schema(parameters=[STOCK], responses=InkSerializer(many=True))
    def get(self, request: Request) -> Response:
        """The drawer, each ink with its dabs on a stock."""
        cores = house(request.user).inks
        return Response(inks_json(mine(Ink, request.user), shown_on(request), cores))

    @extend_schema(request=NewInkSerializer, responses={201: InkSerializer})
    def post(self, request: Request) -> Response:
        """Add a pad."""
        wanted = NewInkSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        row = editing.add_ink(request.user, wanted.validated_data)
        return Response(ink_json(row, shown_on(request)), status=201)

    @extend_schema(
        operation_id="inks_change_many",
        parameters=[STOCK],
        request=ManyInksSerializer,
        responses=InkSerializer(many=True),
    )
    def patch(self, request: Request) -> Response:
        """Change many pads alike, or put them away."""
        asked = ManyInksSerializer(data=request.data)
        asked.is_valid(raise_exception=True)
        ids, values = set(asked.validated_data["ids"]), asked.validated_data["values"]
        rows = list(mine(Ink, request.user).filter(pk__in=ids))
        if len(rows) != len(ids):
            raise BadValue("Some of those pads are not in the drawer any more; look again.", "ids")
        if asked.validated_data["away"]:
            editing.put_away(request.user, rows, f"{len(rows)} pads")
        else:
            checked = NewInkSerializer(data=values, partial=True)
            checked.is_valid(raise_exception=True)
            editing.change_inks(request.user, rows, checked.validated_data)
        cores = house(request.user).inks
        return Response(inks_json(mine(Ink, request.user), shown_on(request), cores))


class InkView(APIView):
    """One ink."""

    @extend_schema(parameters=[STOCK], responses=InkSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """An ink with its dabs on a stock."""
        return Response(ink_json(my(Ink, request, pk), shown_on(request)))

    @extend_schema(request=NewInkSerializer, responses=InkSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change some of its values."""
        row = my(Ink, request, pk)
        wanted = NewInkSerializer(data=request.data, partial=True)
        wanted.is_valid(raise_exception=True)
        (row,) = editing.change_inks(request.user, [row], wanted.validated_data)
        return Response(ink_json(row, shown_on(request)))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Put it away; builds that use it keep it."""
        row = my(Ink, request, pk)
        editing.put_away(request.user, [row], row.name)
        return Response(status=204)


def _back(request: Request, model: type[Owned], pk: int, name: str) -> Response:
    row = get_object_or_404(model._default_manager.filter(owner=request.user), pk=pk)  # type: ignore[attr-defined, misc]
    editing.bring_back(request.user, row, str(getattr(row, name)))
    return Response(status=204)


class InkBackView(APIView):
    """Bring an ink back."""

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, pk: int) -> Response:
        """Undo putting it away."""
        return _back(request, Ink, pk, "name")


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
        return Response(stock_json(editing.add_stock(request.user, wanted.validated_data)), status=201)


class StockView(APIView):
    """One card stock."""

    @extend_schema(request=StockSerializer, responses=StockSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change some of its values."""
        row = my(Stock, request, pk)
        wanted = StockSerializer(data=request.data, partial=True)
        wanted.is_valid(raise_exception=True)
        return Response(stock_json(editing.change_stock(request.user, row, wanted.validated_data)))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Put it away; builds on it keep it."""
        row = my(Stock, request, pk)
        editing.put_away(request.user, [row], row.name)
        return Response(status=204)


class ToolsView(APIView):
    """All brushes and daubers; new ones."""

    @extend_schema(responses=ToolSerializer(many=True))
    def get(self, request: Request) -> Response:
        """The brushes in the cup."""
        return Response([tool_json(row) for row in mine(Tool, request.user)])

    @extend_schema(request=ToolSerializer, responses={201: ToolSerializer})
    def post(self, request: Request) -> Response:
        """Add brushes of a size."""
        wanted = ToolSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        return Response(tool_json(editing.save_tool(request.user, wanted.validated_data)), status=201)


class ToolView(APIView):
    """Brushes of one size."""

    @extend_schema(request=ToolSerializer, responses=ToolSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Change how many there are, or the family they are kept for."""
        row = my(Tool, request, pk)
        wanted = ToolSerializer(data=request.data, partial=True)
        wanted.is_valid(raise_exception=True)
        return Response(tool_json(editing.save_tool(request.user, wanted.validated_data, row)))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Take them off the list."""
        row = my(Tool, request, pk)
        editing.put_away(request.user, [row], f"{row.brush} brushes")
        return Response(status=204)


class DrawerHistoryView(APIView):
    """What can be undone in the drawer."""

    @extend_schema(responses=DrawerHistorySerializer)
    def get(self, request: Request) -> Response:
        """The last change, and the one that was taken back last."""
        return Response(history.history_json(request.user))


def _stepped(request: Request, step: Callable[[Any], str]) -> Response:
    step(request.user)
    return Response(history.history_json(request.user))


class DrawerUndoView(APIView):
    """Going back."""

    @extend_schema(request=None, responses=DrawerHistorySerializer)
    def post(self, request: Request) -> Response:
        """Undo the last change to the drawer."""
        return _stepped(request, history.undo)


class DrawerRedoView(APIView):
    """Going forward."""

    @extend_schema(request=None, responses=DrawerHistorySerializer)
    def post(self, request: Request) -> Response:
        """Redo what was undone."""
        return _stepped(request, history.redo)
