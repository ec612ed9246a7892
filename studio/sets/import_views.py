"""Imports over HTTP: begun, followed, corrected, stopped, kept or let go."""

from __future__ import annotations

from typing import Any

from django.http import FileResponse, Http404
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.answers.opened import draft_json
from strata.formats.limits import MOST_DRAWING, MOST_FILES, MOST_PHOTOGRAPH
from strata.formats.set_file import read_set
from strata.tracing.openings import AS_FOUND
from studio.asked import asked, maker, whole_parameter
from studio.jobs import waiting
from studio.jobs.queue import job_json
from studio.owned import my
from studio.sets import imports, services
from studio.sets.import_serializers import (
    AgainSerializer,
    FittedSerializer,
    ImportSerializer,
    ImportsSerializer,
    KeepSerializer,
    MoreSerializer,
    NewImportSerializer,
    OutlineSerializer,
)
from studio.sets.models import Import, LayerSet
from studio.sets.reading import arrangement, shown
from studio.sets.serializers import SetSerializer
from studio.sets.traced import in_photo, open_places, unclear

LIMITS = {"drawing": MOST_DRAWING, "photograph": MOST_PHOTOGRAPH, "files": MOST_FILES}
_OPTIONS: dict[str, Any] = {
    "name": "",
    "kind": "stencil",
    "width_mm": None,
    "height_mm": None,
    "by": "layer",
    "visible": False,
}


GONE = "The reading of these files was lost; read them again, or let them go."


def _mine(request: Request, pk: int) -> Import:
    # what it holds is large, and what is shown of it is kept beside it
    rows = Import.objects.select_related("job").defer("draft")
    row: Import = get_object_or_404(rows, pk=pk, owner=request.user)
    return row


def import_json(row: Import) -> dict[str, Any]:
    """An import for the screen: without files, with the draft described as a set is."""
    draft = row.described
    if draft is None and row.state == "ready" and row.draft:
        # read before what is shown was kept
        draft = draft_json(read_set(row.draft))
    return {
        **under_way_json(row),
        "options": {k: row.options.get(k, v) for k, v in _OPTIONS.items()},
        "sheets": _sheets_json(row, draft),
        "draft": draft,
        "left_out": row.left_out,
    }


def under_way_json(row: Import) -> dict[str, Any]:
    """How far an import is, without what it holds: for those who follow several."""
    job = job_json(row.job) if row.job is not None else {"share": 1.0, "doing": "", "sentence": GONE}
    return {
        "id": row.pk,
        "name": row.options.get("name", ""),
        "state": row.state,
        **{k: job[k] for k in ("share", "doing", "sentence")},
        "files": len(row.sheets),
        "source": row.options.get("source", "drawing"),
        "guessed": bool(row.options.get("guessed")),
    }


def _sheets_json(row: Import, draft: dict[str, Any] | None) -> list[dict[str, Any]]:
    """Files or photographs; for one drawing the sheets that were found in it."""
    if row.options.get("source") != "drawing" or len(row.sheets) != 1 or draft is None:
        return [_sheet_json(row, s) for s in row.sheets]
    laid = arrangement(row) or [{} for _ in draft["sheets"]]
    plain = {
        "turn": 0,
        "mirrored": False,
        "dropped": [],
        "retouches": [],
        "result": None,
        "corners": None,
        "name": "",
    }
    return [
        _sheet_json(row, {**plain, **wanted, "title": sheet["name"]})
        for wanted, sheet in zip(laid, draft["sheets"], strict=True)
    ]


def _sheet_json(row: Import, sheet: dict[str, Any]) -> dict[str, Any]:
    result = sheet["result"] or {}
    seen = bool(result)
    return {
        **{k: sheet[k] for k in ("title", "name", "turn", "mirrored", "dropped")},
        "corners": result.get("corners") if seen else sheet["corners"],
        "level": sheet.get("level", AS_FOUND),
        "photo": f"/api/imports/{row.pk}/photos/{sheet['file']}" if seen else None,
        "photo_size": result.get("photo_size", []),
        "retouches": sheet.get("retouches", []),
        "together": [other["name"] for other in sheet.get("together", [])],
        "openings": in_photo(sheet) if seen else [],
        "doubtful": result.get("doubtful", []),
        "may_be_off": result.get("may_be_off", []),
        **(open_places(sheet) if seen else {"places": [], "blinded": []}),
        "lines_apart": result.get("lines_apart"),
        "by_ruler": result.get("by_ruler"),
        "unclear": unclear(sheet),
    }


class ImportsView(APIView):
    """What is on its way in; a new import."""

    @extend_schema(operation_id="imports_list", responses=ImportsSerializer)
    def get(self, request: Request) -> Response:
        """Imports that were neither kept nor let go, and the limits for files."""
        rows = Import.objects.filter(owner=maker(request)).select_related("job").defer("draft", "described")
        # their drafts are not needed to know whether they are there
        return Response({"under_way": [under_way_json(row) for row in rows], "limits": LIMITS})

    @extend_schema(request={"multipart/form-data": NewImportSerializer}, responses={201: ImportSerializer})
    def post(self, request: Request) -> Response:
        """Begin to bring a set in; follow it at its own address."""
        wanted = NewImportSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        values = dict(wanted.validated_data)
        sent = values.pop("files")
        sample_id = values.pop("sample", None)
        sample = my(LayerSet, request, sample_id) if sample_id is not None else None
        if sample is None:
            imports.check_files([(f.name, f.size) for f in sent])
        files = [(f.name, f.read()) for f in sent]
        row = imports.begin(request.user, files, values, sample)
        row = _mine(request, row.pk)
        return Response(import_json(row), status=201)


class ImportView(APIView):
    """One import."""

    @extend_schema(
        parameters=[
            OpenApiParameter(
                "patience_ms", int, description="so long the answer may wait for the reading to end (0)"
            )
        ],
        responses=ImportSerializer,
    )
    def get(self, request: Request, pk: int) -> Response:
        """How far it is, and the draft when it is ready."""
        patience = whole_parameter(request, "patience_ms", 0, waiting.LONGEST_MS) or 0
        row = _mine(request, pk)
        if waiting.wait_for(row.job, patience / 1000):
            row = _mine(request, pk)
        return Response(import_json(row))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Let it go; nothing of it stays."""
        imports.let_go(_mine(request, pk))
        return Response(status=204)


class ImportStopView(APIView):
    """Stopping."""

    @extend_schema(request=None, responses=ImportSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Stop reading."""
        return Response(import_json(imports.stop(_mine(request, pk))))


class ImportAgainView(APIView):
    """Reading again."""

    @extend_schema(request=AgainSerializer, responses=ImportSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Read again with other options, corners, order or side up."""
        wanted = AgainSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        values = wanted.validated_data
        row, options = _mine(request, pk), dict(values.get("options") or {})
        if measured := values.get("measured"):
            options |= imports.by_points(row, measured["sheet"], measured["points"], measured["apart"])
        row = imports.again(row, options, values.get("sheets"))
        return Response(import_json(_mine(request, row.pk)))


class ImportFitView(APIView):
    """Fitting an outline."""

    @extend_schema(request=OutlineSerializer, responses=FittedSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """An outline drawn on a photograph, laid on the edge that runs beside it; nothing is changed by it."""
        values = asked(OutlineSerializer, request)
        row = _mine(request, pk)
        return Response({"points": imports.outline_fitted(row, values["sheet"], values["points"])})


class ImportMoreView(APIView):
    """More photographs."""

    @extend_schema(request={"multipart/form-data": MoreSerializer}, responses=ImportSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """One more photograph of a sheet: what one hides the other may show."""
        row = _mine(request, pk)
        values = asked(MoreSerializer, request)
        row = imports.photographed_again(row, values["sheet"], values["file"])
        return Response(import_json(_mine(request, row.pk)))


class ImportKeepView(APIView):
    """Keeping."""

    @extend_schema(request=KeepSerializer, responses={201: SetSerializer})
    def post(self, request: Request, pk: int) -> Response:
        """The draft becomes a set of the library."""
        values = asked(KeepSerializer, request)
        made = imports.keep(_mine(request, pk), values.get("name", "").strip(), values.get("kind", ""))
        return Response(services.set_json(made), status=201)


class ImportPhotoView(APIView):
    """A photograph as it is shown."""

    @extend_schema(responses={(200, "image/jpeg"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int, index: int) -> FileResponse:
        """The photograph, smaller, without metadata."""
        row = get_object_or_404(Import, pk=pk, owner=request.user)
        path = shown(row.pk, index)
        if not path.exists():
            raise Http404
        return FileResponse(path.open("rb"), content_type="image/jpeg")
