"""Sets over HTTP."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from studio.owned import BringBackView, PutAwayView, mine, my
from studio.sets import services
from studio.sets.models import LayerSet
from studio.sets.serializers import NewSetSerializer, SetSerializer, SetSummarySerializer


class SetsView(APIView):
    """The library; a new set."""

    @extend_schema(responses=SetSummarySerializer(many=True))
    def get(self, request: Request) -> Response:
        """All sets."""
        return Response([services.summary_json(row) for row in mine(LayerSet, request.user)])

    @extend_schema(request={"multipart/form-data": NewSetSerializer}, responses={201: SetSerializer})
    def post(self, request: Request) -> Response:
        """Bring in a set from an SVG drawing with a group per sheet."""
        wanted = NewSetSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        values = wanted.validated_data
        data = values["file"].read()
        row = services.bring_in(request.user, data, values["name"], values["kind"], values.get("width_mm"))
        return Response(services.set_json(row), status=201)


class SetView(PutAwayView):
    """One set."""

    model = LayerSet

    @extend_schema(responses=SetSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """A set opened."""
        return Response(services.set_json(my(LayerSet, request, pk)))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Put it away; builds that use it keep it."""
        return super().delete(request, pk)


class SetBackView(BringBackView):
    """Bring a set back."""

    model = LayerSet

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, pk: int) -> Response:
        """Undo putting it away."""
        return super().post(request, pk)
