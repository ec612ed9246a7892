"""Bringing inks in, over HTTP."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from strata.formats.limits import MOST_DRAWING
from strata.formats.tables import FIELDS
from strata.optics.inks import CHEMISTRIES
from studio.asked import ONE_FILE, maker, sent_file
from studio.colours import ColourSerializer
from studio.inks import imports
from studio.inks.models import InkImport

_MEANINGS = ["", *FIELDS]


class InkColumnSerializer(serializers.Serializer[Any]):
    """A column of the file: its name, what it is taken for, its first cells."""

    name = serializers.CharField()
    meaning = serializers.CharField()
    samples = serializers.ListField(child=serializers.CharField())


class MeaningSerializer(serializers.Serializer[Any]):
    """Something a column can be."""

    key = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]


class InkPreviewSerializer(serializers.Serializer[Any]):
    """An ink as it would be kept."""

    name = serializers.CharField()
    line = serializers.CharField()
    family = serializers.CharField()
    chemistry = serializers.CharField()
    what = serializers.ChoiceField(choices=["new", "changed", "same"])
    swatches = serializers.IntegerField()
    rows = serializers.ListField(child=serializers.IntegerField())
    colour = ColourSerializer()


class InkProblemSerializer(serializers.Serializer[Any]):
    """A row that cannot be taken, and why."""

    row = serializers.IntegerField()
    column = serializers.CharField(allow_null=True)
    sentence = serializers.CharField()


class ImportOptionsSerializer(serializers.Serializer[Any]):
    """How the file is read, and what holds where it says nothing."""

    head = serializers.BooleanField(allow_null=True, required=False)
    encoding = serializers.CharField(allow_null=True, required=False, max_length=40)
    chemistry = serializers.ChoiceField(choices=sorted(CHEMISTRIES), required=False)
    line = serializers.CharField(allow_blank=True, required=False, max_length=200)
    stock = serializers.CharField(allow_null=True, required=False)


class ChangeImportSerializer(ImportOptionsSerializer):
    """What its columns mean, one for each, and the options."""

    mapping = serializers.ListField(
        child=serializers.ChoiceField(choices=_MEANINGS, allow_blank=True), required=False, max_length=400
    )


class InkImportSerializer(serializers.Serializer[Any]):
    """Inks on their way in."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    kind = serializers.ChoiceField(choices=["csv", "cgats", "gpl", "json"])
    kind_label = serializers.CharField()
    notes = serializers.ListField(child=serializers.CharField())
    options = ImportOptionsSerializer()
    columns = InkColumnSerializer(many=True)
    meanings = MeaningSerializer(many=True)
    rows = serializers.IntegerField()
    inks = serializers.IntegerField()
    new = serializers.IntegerField()
    changed = serializers.IntegerField()
    same = serializers.IntegerField()
    stocks = serializers.IntegerField()
    tools = serializers.IntegerField()
    preview = InkPreviewSerializer(many=True)
    problems = InkProblemSerializer(many=True)
    problem_count = serializers.IntegerField()
    done = serializers.IntegerField()
    state = serializers.ChoiceField(choices=["reading", "failed", "read", "keeping", "kept"])
    share = serializers.FloatField(help_text="how far reading is, 0 to 1")
    doing = serializers.CharField()
    sentence = serializers.CharField(help_text="why it could not be read")
    undone = serializers.BooleanField()
    undoable = serializers.BooleanField(help_text="it is the last change to the drawer")


def _mine(request: Request, pk: int) -> InkImport:
    rows = InkImport.objects.select_related("job", "change")
    row = get_object_or_404(rows, pk=pk, owner=request.user)
    row.owner = maker(request)
    return row


class InkImportsView(APIView):
    """A new import."""

    @extend_schema(
        request=ONE_FILE,
        responses={201: InkImportSerializer},
    )
    def post(self, request: Request) -> Response:
        """Read a CSV, CGATS, GPL or JSON file of inks; nothing is kept yet."""
        file = sent_file(request, "file", MOST_DRAWING)
        row = imports.begin(request.user, file.name or "a file", file.read())
        row.owner = maker(request)
        return Response(imports.import_json(row), status=201)


class InkImportView(APIView):
    """One import."""

    @extend_schema(responses=InkImportSerializer)
    def get(self, request: Request, pk: int) -> Response:
        """What it comes to as things stand."""
        return Response(imports.import_json(_mine(request, pk)))

    @extend_schema(request=ChangeImportSerializer, responses=InkImportSerializer)
    def patch(self, request: Request, pk: int) -> Response:
        """Say what its columns mean, or how to read it."""
        row = _mine(request, pk)
        wanted = ChangeImportSerializer(data=request.data)
        wanted.is_valid(raise_exception=True)
        return Response(imports.import_json(imports.change(row, wanted.validated_data)))

    @extend_schema(responses={204: None})
    def delete(self, request: Request, pk: int) -> Response:
        """Let it go; what was kept stays."""
        _mine(request, pk).delete()
        return Response(status=204)


class InkImportKeepView(APIView):
    """Keeping an import."""

    @extend_schema(request=None, responses=InkImportSerializer)
    def post(self, request: Request, pk: int) -> Response:
        """Keep the next part; ask again until its state is kept."""
        row = imports.keep(_mine(request, pk))
        row.owner = maker(request)
        return Response(imports.import_json(row))


class InkImportProblemsView(APIView):
    """What could not be taken."""

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.BINARY})
    def get(self, request: Request, pk: int) -> HttpResponse:
        """Those rows as a table, each with what is wrong."""
        answer = HttpResponse(
            imports.problems_csv(_mine(request, pk)), content_type="text/csv; charset=utf-8"
        )
        answer["Content-Disposition"] = 'attachment; filename="rows-to-mend.csv"'
        return answer
