"""Links to a colouring, over HTTP: made and withdrawn by its maker, opened by whoever has one."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.formats.pdf.plan_pages import plan_pdf
from studio.asked import whole_parameter
from studio.builds import sharing
from studio.builds.finding import my_colouring
from studio.builds.models import Share
from studio.builds.printing import plan_pages
from studio.errors import refusals

INCHES = OpenApiParameter("units", str, enum=["in", "mm"])


class ShareSerializer(serializers.Serializer[Any]):
    """A link that is open."""

    id = serializers.IntegerField()
    token = serializers.CharField()
    made = serializers.DateTimeField()


class SharedPadSerializer(serializers.Serializer[Any]):
    """A pad of a shared plan."""

    name = serializers.CharField()
    hex = serializers.CharField()


class SharedStepSerializer(serializers.Serializer[Any]):
    """A step of a shared plan; ``laid``: how many passes lie on the card once it is done."""

    number = serializers.IntegerField()
    sentence = serializers.CharField()
    caution = serializers.CharField(allow_blank=True)
    minutes = serializers.CharField()
    laid = serializers.IntegerField()


class SharedVisitSerializer(serializers.Serializer[Any]):
    """What is done with one sheet in its seat."""

    title = serializers.CharField()
    steps = SharedStepSerializer(many=True)


class SharedSerializer(serializers.Serializer[Any]):
    """A colouring as a link shows it."""

    name = serializers.CharField()
    said = serializers.CharField()
    aspect = serializers.FloatField(help_text="height over width")
    passes = serializers.IntegerField()
    pads = SharedPadSerializer(many=True)
    visits = SharedVisitSerializer(many=True)


def share_json(row: Share) -> dict[str, Any]:
    """A link."""
    return {"id": row.pk, "token": row.token, "made": row.made.isoformat()}


class SharesView(APIView):
    """Links to a colouring."""

    @extend_schema(responses={200: ShareSerializer(many=True), **refusals(404)})
    def get(self, request: Request, pk: int) -> Response:
        """Those that are open."""
        return Response([share_json(s) for s in sharing.links(my_colouring(request, pk))])

    @extend_schema(request=None, responses={201: ShareSerializer, **refusals(404, 413)})
    def post(self, request: Request, pk: int) -> Response:
        """Make one."""
        return Response(share_json(sharing.make_link(my_colouring(request, pk))), status=201)


class ShareView(APIView):
    """One link."""

    @extend_schema(request=None, responses={204: None, **refusals(404)})
    def delete(self, request: Request, pk: int, share: int) -> Response:
        """Withdraw it."""
        sharing.withdraw(my_colouring(request, pk), share)
        return Response(status=204)


def _unkept(answer: HttpResponse) -> HttpResponse:
    # a withdrawn link shows nothing from that moment on, out of no cache
    answer["Cache-Control"] = "no-store"
    answer["Referrer-Policy"] = "no-referrer"
    return answer


class SharedView(APIView):
    """A shared colouring."""

    permission_classes = (AllowAny,)
    authentication_classes = ()

    @extend_schema(parameters=[INCHES], responses={200: SharedSerializer, **refusals(404)})
    def get(self, request: Request, token: str) -> HttpResponse:
        """Pads and steps."""
        inches = request.query_params.get("units") == "in"
        return _unkept(Response(sharing.shared_json(sharing.opened(token), inches)))


class SharedPictureView(APIView):
    """Its picture."""

    permission_classes = (AllowAny,)
    authentication_classes = ()

    @extend_schema(
        parameters=[OpenApiParameter("after", int, description="so many passes")],
        responses={(200, "image/jpeg"): OpenApiTypes.BINARY, **refusals(400, 404)},
    )
    def get(self, request: Request, token: str) -> HttpResponse:
        """Finished, or as far as it is."""
        row, after = sharing.opened(token), whole_parameter(request, "after", 0, 10_000)
        return _unkept(HttpResponse(sharing.shared_picture(row, after), content_type="image/jpeg"))


class SharedPdfView(APIView):
    """The plan on paper."""

    permission_classes = (AllowAny,)
    authentication_classes = ()

    @extend_schema(
        parameters=[INCHES], responses={(200, "application/pdf"): OpenApiTypes.BINARY, **refusals(404)}
    )
    def get(self, request: Request, token: str) -> HttpResponse:
        """To print."""
        inches = request.query_params.get("units") == "in"
        pages = sharing.without_places(plan_pages(sharing.opened(token), inches))
        data = plan_pdf(pages, "letter" if inches else "A4")
        return _unkept(HttpResponse(data, content_type="application/pdf"))
