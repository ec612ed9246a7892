"""Sets as JSON."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from strata.sheets.model import KINDS


class GroupSerializer(serializers.Serializer[Any]):
    """The openings of an element on a sheet."""

    element = serializers.CharField()
    sheet = serializers.IntegerField()
    outline = serializers.CharField(help_text="SVG path data, mm")
    openings = serializers.IntegerField()
    area_mm2 = serializers.FloatField()
    width_mm = serializers.FloatField()
    brush = serializers.CharField()
    box = serializers.ListField(child=serializers.FloatField(), min_length=4, max_length=4)


class SheetSerializer(serializers.Serializer[Any]):
    """A sheet."""

    number = serializers.IntegerField()
    name = serializers.CharField()
    openings = serializers.IntegerField()
    groups = GroupSerializer(many=True)
    marks = serializers.CharField()


class GroupKeySerializer(serializers.Serializer[Any]):
    """Which group."""

    element = serializers.CharField()
    sheet = serializers.IntegerField()


class OverlapSerializer(serializers.Serializer[Any]):
    """What lies over what."""

    under = GroupKeySerializer()
    over = GroupKeySerializer()
    area_mm2 = serializers.FloatField()


class SetSummarySerializer(serializers.Serializer[Any]):
    """A set in the library."""

    id = serializers.IntegerField()
    key = serializers.CharField()
    name = serializers.CharField()
    kind = serializers.CharField()
    width_mm = serializers.FloatField()
    height_mm = serializers.FloatField()
    sheet_count = serializers.IntegerField()
    opening_count = serializers.IntegerField()
    preview = serializers.ListField(child=serializers.CharField(), help_text="a path a sheet, mm")


class SetSerializer(SetSummarySerializer):
    """A set opened."""

    sheets = SheetSerializer(many=True)
    overlaps = OverlapSerializer(many=True)
    elements = serializers.ListField(child=serializers.CharField())
    left_out = serializers.ListField(child=serializers.CharField())


class NewSetSerializer(serializers.Serializer[Any]):
    """A drawing with what the maker says of it."""

    file = serializers.FileField()
    name = serializers.CharField(max_length=200)
    kind = serializers.ChoiceField(choices=KINDS, default="stencil")
    width_mm = serializers.FloatField(required=False, min_value=5, max_value=2000)
