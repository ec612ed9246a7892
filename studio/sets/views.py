"""Sets over HTTP."""

from __future__ import annotations

from django.http import Http404, HttpResponse
from django.utils.text import slugify
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.errors import BadValue
from strata.formats.bundle import Bundle, write_bundle
from strata.formats.svg_out import mask_svg, set_svg
from strata.measuring.masks import mask_shape
from studio.asked import asked, kept_under, whole_parameter
from studio.errors import refusals
from studio.jobs.models import Job
from studio.jobs.queue import job_json
from studio.jobs.serializers import JobSerializer
from studio.owned import BringBackView, PutAwayView, mine, my
from studio.sets import history, measures, services
from studio.sets.history import HEAD, core_set
from studio.sets.models import LayerSet
from studio.sets.serializers import (
    MeasuresSerializer,
    PanelSerializer,
    SetEditSerializer,
    SetHeadSerializer,
    SetPreviewSerializer,
    SetSerializer,
    SetSummarySerializer,
    TrimSerializer,
)

CHANGE = OpenApiParameter(
    "change", int, description="as it stood at an earlier change; 0 as it was brought in"
)


MOST_WHOLE = 2**62


def _change(row: LayerSet, request: Request) -> int | None:
    """The change asked for: HEAD, None for the beginning, or one of this set's."""
    text = request.query_params.get("change")
    if text is None:
        return HEAD
    number = whole_parameter(request, "change", 0, MOST_WHOLE)
    if not number:
        return None
    if not row.changes.filter(pk=number).exists():
        raise Http404
    return number


def _file(data: bytes, kind: str, name: str) -> HttpResponse:
    return HttpResponse(
        data, content_type=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'}
    )


class SetsView(APIView):
    """The library."""

    @extend_schema(responses=SetSummarySerializer(many=True))
    def get(self, request: Request) -> Response:
        """All sets."""
        return Response(services.summaries(mine(LayerSet, request.user)))


class SetView(PutAwayView):
    """One set."""

    model = LayerSet

    @extend_schema(parameters=[CHANGE], responses={200: SetSerializer, **refusals(404)})
    def get(self, request: Request, pk: int) -> Response:
        """A set opened."""
        row = my(LayerSet, request, pk)
        return Response(services.set_json(row, _change(row, request)))

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


class SetPreviewView(APIView):
    """A set in small."""

    @extend_schema(
        parameters=[OpenApiParameter("v", str, description="version; only for the browser's cache")],
        responses={200: SetPreviewSerializer, **refusals(404)},
    )
    def get(self, request: Request, pk: int) -> Response:
        """Its sheets, coarse."""
        row = my(LayerSet, request, pk)
        return kept_under(Response(services.preview_json(row)), request, services.version(row))


class SetEditsView(APIView):
    """Changes to a set."""

    @extend_schema(request=SetEditSerializer, responses={200: SetSerializer, **refusals(400, 404, 409)})
    def post(self, request: Request, pk: int) -> Response:
        """Name, move, join, split, mark, turn, seat again: one change."""
        row = my(LayerSet, request, pk)
        v = asked(SetEditSerializer, request)
        edited = history.edit(row, v["revision"], v["kind"], v["values"], v.get("edit_key", ""))
        return Response(services.set_json(edited))


class SetUndoView(APIView):
    """Undo of a set."""

    @extend_schema(request=SetHeadSerializer, responses={200: SetSerializer, **refusals(400, 404, 409)})
    def post(self, request: Request, pk: int) -> Response:
        """Back one change."""
        row = my(LayerSet, request, pk)
        v = asked(SetHeadSerializer, request)
        return Response(services.set_json(history.undo(row, v["revision"], v.get("edit_key", ""))))


class SetRedoView(APIView):
    """Redo of a set."""

    @extend_schema(request=SetHeadSerializer, responses={200: SetSerializer, **refusals(400, 404, 409)})
    def post(self, request: Request, pk: int) -> Response:
        """Forward one change."""
        row = my(LayerSet, request, pk)
        v = asked(SetHeadSerializer, request)
        return Response(services.set_json(history.redo(row, v["revision"], v.get("edit_key", ""))))


class SetMeasuresView(APIView):
    """Measures of a set."""

    @extend_schema(responses={200: MeasuresSerializer, 202: JobSerializer, **refusals(404)})
    def get(self, request: Request, pk: int) -> Response:
        """Brushes, necks, bridges, islands, masks, slip, minutes, each with how it came; of a large set at first the job that measures it."""
        found = measures.measures_of(my(LayerSet, request, pk))
        return Response(job_json(found), status=202) if isinstance(found, Job) else Response(found)

    @extend_schema(request=None, responses={202: JobSerializer, **refusals(404)})
    def post(self, request: Request, pk: int) -> Response:
        """Measure a large set once more, where that failed."""
        made = measures.measure(my(LayerSet, request, pk))
        return Response(job_json(measures.job_of(made)), status=202)


class SetTrimView(APIView):
    """A trimmed panel."""

    @extend_schema(parameters=[PanelSerializer], responses=TrimSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """What a panel of that size keeps of the image, and whose marks would show."""
        row = my(LayerSet, request, pk)
        wanted = PanelSerializer(data=request.query_params)
        wanted.is_valid(raise_exception=True)
        return Response(measures.trim_json(core_set(row), **wanted.validated_data))


class SetMaskView(APIView):
    """A mask to cut."""

    @extend_schema(
        parameters=[
            OpenApiParameter("element", str, required=True),
            OpenApiParameter("sheet", int, required=True),
        ],
        responses={(200, "image/svg+xml"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        """A cover mask for the neighbours of an element on a sheet, as SVG cut lines in mm."""
        row = my(LayerSet, request, pk)
        element, sheet = request.query_params.get("element", ""), whole_parameter(request, "sheet", 0, 10_000)
        if sheet is None:
            raise BadValue("sheet is a number.", "sheet")
        core = core_set(row)
        shape = mask_shape(core, element, sheet)
        data = mask_svg(core, shape, f"Mask for {element} on sheet {sheet}")
        return _file(data, "image/svg+xml", f"{row.key}-mask-{slugify(element) or 'element'}-{sheet}.svg")


class SetDrawingView(APIView):
    """The set as a drawing."""

    @extend_schema(responses={(200, "image/svg+xml"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """Layered SVG in mm: sheets, elements and marks as groups with ids."""
        row = my(LayerSet, request, pk)
        return _file(set_svg(core_set(row)), "image/svg+xml", f"{row.key}.svg")


class SetBundleView(APIView):
    """The set to carry."""

    @extend_schema(responses={(200, "application/zip"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """A zip with JSON, SVG and pictures that reads back identical."""
        row = my(LayerSet, request, pk)
        pictures = {p.name: bytes(p.data) for p in row.pictures.all()}
        return _file(write_bundle(Bundle(core_set(row), pictures)), "application/zip", f"{row.key}.set.zip")


class SetPictureView(APIView):
    """A photograph that came with a set."""

    @extend_schema(responses={(200, "image/jpeg"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int, name: str) -> HttpResponse:
        """One photograph."""
        found = my(LayerSet, request, pk).pictures.filter(name=name).first()
        if found is None:
            raise Http404
        return HttpResponse(bytes(found.data), content_type="image/jpeg")
