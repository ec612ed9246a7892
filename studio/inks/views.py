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
from studio.asked import asked, maker
from studio.errors import refusals
from studio.inks import editing, history
from studio.inks.models import Ink, Stock, Tool
from studio.inks.serializers import (
    DecidedSerializer,
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
from studio.owned import mine, my


def _split(values: dict[str, Any]) -> tuple[dict[str, Any], int | None, str]:
    """What is to be changed, the revision it was decided on, and the key by which it is made once."""
    rest = {k: v for k, v in values.items() if k not in ("revision", "edit_key")}
    return rest, values.get("revision"), values.get("edit_key", "")


def _all_inks(request: Request) -> Response:
    cores = house(request.user).inks
    return Response(inks_json(mine(Ink, request.user), shown_on(request), cores))


class InksView(APIView):
    """All inks; a new one; the same change for many."""

    @extend_schema(parameters=[STOCK], responses={200: InkSerializer(many=True), **refusals(404)})
    def get(self, request: Request) -> Response:
        """The drawer, each ink with its dabs on a stock."""
        return _all_inks(request)

    @extend_schema(request=NewInkSerializer, responses={201: InkSerializer, **refusals(400)})
    def post(self, request: Request) -> Response:
        """Add a pad."""
        values, _, key = _split(asked(NewInkSerializer, request))
        row = editing.add_ink(request.user, values, key)
        return Response(ink_json(row, shown_on(request)), status=201)

    @extend_schema(
        operation_id="inks_change_many",
        parameters=[STOCK],
        request=ManyInksSerializer,
        responses={200: InkSerializer(many=True), **refusals(400, 404, 409)},
    )
    def patch(self, request: Request) -> Response:
        """Change many pads alike, or put them away."""
        wanted, seen, key = _split(asked(ManyInksSerializer, request))
        ids, values = list(dict.fromkeys(wanted["ids"])), wanted["values"]
        rows = list(mine(Ink, request.user).filter(pk__in=ids))
        if len(rows) != len(ids):
            raise BadValue("Some of those pads are not in the drawer any more; look again.", "ids")
        if wanted["away"]:
            editing.put_away(request.user, rows, f"{len(rows)} pads", key)
        else:
            checked = NewInkSerializer(data=values, partial=True)
            checked.is_valid(raise_exception=True)
            editing.change_inks(request.user, ids, _split(checked.validated_data)[0], seen, key)
        return _all_inks(request)


class InkView(APIView):
    """One ink."""

    @extend_schema(parameters=[STOCK], responses={200: InkSerializer, **refusals(404)})
    def get(self, request: Request, pk: int) -> Response:
        """An ink with its dabs on a stock."""
        return Response(ink_json(my(Ink, request, pk), shown_on(request)))

    @extend_schema(request=NewInkSerializer, responses={200: InkSerializer, **refusals(400, 404, 409)})
    def patch(self, request: Request, pk: int) -> Response:
        """Change some of its values; what is not sent stays as it is."""
        row = my(Ink, request, pk)
        values, seen, key = _split(asked(NewInkSerializer, request, partial=True))
        editing.change_inks(request.user, [row.pk], values, seen, key)
        row.refresh_from_db()
        return Response(ink_json(row, shown_on(request)))

    @extend_schema(responses={204: None, **refusals(404)})
    def delete(self, request: Request, pk: int) -> Response:
        """Put it away; builds that use it keep it."""
        row = my(Ink, request, pk)
        editing.put_away(request.user, [row], row.name)
        return Response(status=204)


class InkBackView(APIView):
    """Bring an ink back."""

    @extend_schema(request=None, responses={204: None, **refusals(404)})
    def post(self, request: Request, pk: int) -> Response:
        """Undo putting it away."""
        row = get_object_or_404(Ink.objects.filter(owner=maker(request)), pk=pk)
        editing.bring_back(request.user, row, row.name)
        return Response(status=204)


class StocksView(APIView):
    """All stocks; a new one."""

    @extend_schema(responses=StockSerializer(many=True))
    def get(self, request: Request) -> Response:
        """The cards in the house."""
        return Response([stock_json(row) for row in mine(Stock, request.user)])

    @extend_schema(request=StockSerializer, responses={201: StockSerializer, **refusals(400)})
    def post(self, request: Request) -> Response:
        """Add a card stock."""
        values, _, key = _split(asked(StockSerializer, request))
        return Response(stock_json(editing.add_stock(request.user, values, key)), status=201)


class StockView(APIView):
    """One card stock."""

    @extend_schema(request=StockSerializer, responses={200: StockSerializer, **refusals(400, 404, 409)})
    def patch(self, request: Request, pk: int) -> Response:
        """Change some of its values; what is not sent stays as it is."""
        row = my(Stock, request, pk)
        values, seen, key = _split(asked(StockSerializer, request, partial=True))
        return Response(stock_json(editing.change_stock(request.user, row.pk, values, seen, key)))

    @extend_schema(responses={204: None, **refusals(404)})
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

    @extend_schema(request=ToolSerializer, responses={201: ToolSerializer, **refusals(400)})
    def post(self, request: Request) -> Response:
        """Add brushes of a size."""
        values, _, key = _split(asked(ToolSerializer, request))
        return Response(tool_json(editing.save_tool(request.user, values, edit_key=key)), status=201)


class ToolView(APIView):
    """Brushes of one size."""

    @extend_schema(request=ToolSerializer, responses={200: ToolSerializer, **refusals(400, 404, 409)})
    def patch(self, request: Request, pk: int) -> Response:
        """Change how many there are, or the family they are kept for."""
        row = my(Tool, request, pk)
        values, seen, key = _split(asked(ToolSerializer, request, partial=True))
        return Response(tool_json(editing.save_tool(request.user, values, row.pk, seen, key)))

    @extend_schema(responses={204: None, **refusals(404)})
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


def _stepped(request: Request, step: Callable[[Any, int | None, str], str]) -> Response:
    values = asked(DecidedSerializer, request)
    step(request.user, values.get("revision"), values.get("edit_key", ""))
    return Response(history.history_json(request.user))


class DrawerUndoView(APIView):
    """Going back."""

    @extend_schema(request=DecidedSerializer, responses={200: DrawerHistorySerializer, **refusals(400, 409)})
    def post(self, request: Request) -> Response:
        """Undo the last change to the drawer."""
        return _stepped(request, history.undo)


class DrawerRedoView(APIView):
    """Going forward."""

    @extend_schema(request=DecidedSerializer, responses={200: DrawerHistorySerializer, **refusals(400, 409)})
    def post(self, request: Request) -> Response:
        """Redo what was undone."""
        return _stepped(request, history.redo)
