"""Imports as JSON."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from strata.sheets.model import KINDS
from strata.tracing.openings import LEAST_LEVEL, MOST_LEVEL
from strata.tracing.retouched import KINDS as KINDS_OF_RETOUCHES
from strata.tracing.retouched import MOST_POINTS
from studio.sets.joining import MOST_TOGETHER
from studio.sets.models import Import
from studio.sets.reading import UNNAMED
from studio.sets.serializers import DrawnSheetSerializer, length, point

_IF_KNOWN: dict[str, Any] = {"required": False, "allow_null": True, "default": None}


class OptionsSerializer(serializers.Serializer[Any]):
    """What the maker says of the files."""

    name = serializers.CharField(max_length=200, default=UNNAMED)
    kind = serializers.ChoiceField(choices=KINDS, default="stencil")
    width_mm = length("The width", 1, 2000, **_IF_KNOWN)
    height_mm = length("The height", 1, 2000, **_IF_KNOWN)
    by = serializers.ChoiceField(choices=("layer", "colour"), default="layer")
    visible = serializers.BooleanField(default=False)


class NewImportSerializer(OptionsSerializer):
    """Files, or the set whose sheets the simulated camera is to photograph."""

    files = serializers.ListField(
        child=serializers.FileField(allow_empty_file=True), required=False, default=list
    )
    sample = serializers.IntegerField(required=False)
    seed = serializers.IntegerField(required=False, min_value=1, max_value=100000)


class RetouchSerializer(serializers.Serializer[Any]):
    """An opening retouched by hand: points of the shown photograph (px), two, or those of an outline that is drawn."""

    kind = serializers.ChoiceField(choices=KINDS_OF_RETOUCHES)
    points = serializers.ListField(child=point(), min_length=2, max_length=MOST_POINTS)


class SheetChoiceSerializer(serializers.Serializer[Any]):
    """A sheet in its new place; ``at`` is its old one."""

    at = serializers.IntegerField(min_value=0)
    title = serializers.CharField(max_length=120, required=False)
    turn = serializers.ChoiceField(choices=(0, 90, 180, 270), required=False)
    mirrored = serializers.BooleanField(required=False)
    dropped = serializers.ListField(child=serializers.IntegerField(min_value=0), required=False)
    retouches = serializers.ListField(child=RetouchSerializer(), max_length=200, required=False)
    corners = serializers.ListField(
        child=point(),
        min_length=4,
        max_length=4,
        required=False,
        allow_null=True,
    )
    level = serializers.FloatField(
        min_value=LEAST_LEVEL, max_value=MOST_LEVEL, required=False, help_text="how open counts as open, 0..1"
    )
    also = serializers.ListField(
        child=serializers.IntegerField(min_value=0),
        max_length=MOST_TOGETHER,
        required=False,
        help_text="old places of sheets that are more photographs of this one, and no sheets of their own",
    )
    apart = serializers.BooleanField(
        required=False, help_text="its further photographs are sheets of their own again"
    )


class MeasuredSerializer(serializers.Serializer[Any]):
    """Two points of a photograph (px as shown) that are so many mm apart."""

    sheet = serializers.IntegerField(min_value=0)
    points = serializers.ListField(child=point(), min_length=2, max_length=2)
    apart = length("The distance", 0.5, 2000)


class OutlineSerializer(serializers.Serializer[Any]):
    """An outline on the shown photograph of a sheet (px)."""

    sheet = serializers.IntegerField(min_value=0)
    points = serializers.ListField(child=point(), min_length=3, max_length=MOST_POINTS)


class FittedSerializer(serializers.Serializer[Any]):
    """The edge that runs beside an outline (px)."""

    points = serializers.ListField(child=point())


class MoreSerializer(serializers.Serializer[Any]):
    """One more photograph of a sheet."""

    sheet = serializers.IntegerField(min_value=0)
    file = serializers.FileField(allow_empty_file=True)


class AgainSerializer(serializers.Serializer[Any]):
    """How to read the files once more."""

    options = OptionsSerializer(partial=True, required=False)
    sheets = SheetChoiceSerializer(many=True, required=False)
    measured = MeasuredSerializer(required=False)


class KeepSerializer(serializers.Serializer[Any]):
    """What the set is called, and of which kind it is; as it was said before where left out."""

    name = serializers.CharField(max_length=200, required=False, allow_blank=True)
    kind = serializers.ChoiceField(choices=KINDS, required=False)


class TracedSheetSerializer(serializers.Serializer[Any]):
    """A photographed sheet as it was found; paths and corners in px of the shown photograph."""

    title = serializers.CharField()
    name = serializers.CharField()
    turn = serializers.IntegerField()
    mirrored = serializers.BooleanField()
    dropped = serializers.ListField(child=serializers.IntegerField())
    retouches = RetouchSerializer(many=True)
    corners = serializers.ListField(child=point(), allow_null=True)
    level = serializers.FloatField(help_text="how open counts as open, 0..1")
    photo = serializers.CharField(allow_null=True)
    photo_size = serializers.ListField(child=serializers.IntegerField())
    together = serializers.ListField(
        child=serializers.CharField(), help_text="names of more photographs of it, read with this one"
    )
    openings = serializers.ListField(
        child=serializers.CharField(allow_blank=True), help_text="empty where a retouch took it up"
    )
    may_be_off = serializers.ListField(
        child=serializers.FloatField(), help_text="by what share of its area an opening may be off"
    )
    places = serializers.ListField(
        child=serializers.CharField(), help_text="where there may be openings that were not taken for any"
    )
    blinded = serializers.ListField(
        child=serializers.CharField(), help_text="where a glint hides whether there are openings"
    )
    lines_apart = serializers.FloatField(
        allow_null=True, help_text="mm from line to line of the mat it lies on, at the size it is taken to be"
    )
    by_ruler = serializers.FloatField(
        allow_null=True,
        help_text="by how many times it is larger than it is taken to be, as a ruler beside it says",
    )
    unclear = serializers.BooleanField(
        help_text="whether something of it is unclear that one more photograph would show"
    )
    doubtful = serializers.ListField(
        child=serializers.IntegerField(), help_text="openings that the photograph does not show clearly"
    )


class DraftSerializer(serializers.Serializer[Any]):
    """The set as it would be kept."""

    width_mm = serializers.FloatField()
    height_mm = serializers.FloatField()
    sheets = DrawnSheetSerializer(many=True)
    elements = serializers.ListField(child=serializers.CharField())


class UnderWaySerializer(serializers.Serializer[Any]):
    """How far a set on its way in is."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    state = serializers.ChoiceField(choices=Import.STATES)
    share = serializers.FloatField()
    doing = serializers.CharField()
    sentence = serializers.CharField()
    source = serializers.CharField()  # type: ignore[assignment]
    files = serializers.IntegerField(help_text="how many were sent")
    guessed = serializers.BooleanField()


class ImportSerializer(UnderWaySerializer):
    """A set on its way in, with what it holds."""

    options = OptionsSerializer()
    sheets = TracedSheetSerializer(many=True)
    draft = DraftSerializer(allow_null=True)
    left_out = serializers.ListField(child=serializers.CharField())


class LimitsSerializer(serializers.Serializer[Any]):
    """How large files may be, bytes; and how many."""

    drawing = serializers.IntegerField()
    photograph = serializers.IntegerField()
    files = serializers.IntegerField()


class ImportsSerializer(serializers.Serializer[Any]):
    """What is on its way in, and what may be sent."""

    under_way = UnderWaySerializer(many=True)
    limits = LimitsSerializer()
