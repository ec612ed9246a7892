"""Sets as JSON."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from strata.sheets.edits import EDITS
from strata.sheets.model import KINDS, ROLES

EDIT_KINDS = sorted(EDITS)


def length(what: str, least: float, most: float, **more: Any) -> serializers.FloatField:
    """A length in mm from ``least`` to ``most``; who chose inches reads of inches, too."""
    inches = f"{least / 25.4:.3g} to {most / 25.4:.3g}"
    said = f"{what} can be {least:g} to {most:g} mm, which is {inches} in."
    messages: dict[str, Any] = {"min_value": said, "max_value": said}
    return serializers.FloatField(min_value=least, max_value=most, error_messages=messages, **more)


class DrawnGroupSerializer(serializers.Serializer[Any]):
    """The openings of an element on a sheet, as they lie."""

    element = serializers.CharField()
    sheet = serializers.IntegerField()
    outline = serializers.CharField(help_text="SVG path data, mm")
    openings = serializers.IntegerField()
    area_mm2 = serializers.FloatField()
    box = serializers.ListField(child=serializers.FloatField(), min_length=4, max_length=4)


class GroupSerializer(DrawnGroupSerializer):
    """The openings of an element on a sheet, measured."""

    role = serializers.CharField()
    width_mm = serializers.FloatField()
    brush = serializers.CharField()


class ShapeSerializer(serializers.Serializer[Any]):
    """One opening, for pointing at."""

    key = serializers.CharField()
    element = serializers.CharField()
    role = serializers.ChoiceField(choices=ROLES)
    outline = serializers.CharField(help_text="SVG path data, mm")


class SeatSerializer(serializers.Serializer[Any]):
    """A second seat of a sheet."""

    of = serializers.IntegerField()
    dx = serializers.FloatField()
    dy = serializers.FloatField()
    turn = serializers.FloatField()
    mirrored = serializers.BooleanField()
    strength = serializers.FloatField()


class DrawnSheetSerializer(serializers.Serializer[Any]):
    """A sheet as it lies."""

    number = serializers.IntegerField()
    name = serializers.CharField()
    openings = serializers.IntegerField()
    groups = DrawnGroupSerializer(many=True)
    marks = serializers.CharField(help_text="SVG path data, mm")


class SheetSerializer(DrawnSheetSerializer):
    """A sheet, measured, with each of its openings."""

    groups = GroupSerializer(many=True)
    shapes = ShapeSerializer(many=True)
    seat = SeatSerializer(allow_null=True)
    copies = serializers.IntegerField()
    loose = serializers.BooleanField()


class NounsSerializer(serializers.Serializer[Any]):
    """What the parts of a set are called, by its kind."""

    one = serializers.CharField()
    many = serializers.CharField()  # type: ignore[assignment]
    shape = serializers.CharField()
    shapes = serializers.CharField()


class SetLabelSerializer(serializers.Serializer[Any]):
    """What a set is called, and how large it is."""

    id = serializers.IntegerField()
    key = serializers.CharField()
    name = serializers.CharField()
    kind = serializers.ChoiceField(choices=KINDS)
    width_mm = serializers.FloatField()
    height_mm = serializers.FloatField()
    nouns = NounsSerializer()
    sheet_count = serializers.IntegerField()
    opening_count = serializers.IntegerField()


class SetSummarySerializer(SetLabelSerializer):
    """A set in the library."""

    version = serializers.CharField(help_text="another one whenever it is drawn otherwise")


class SetPreviewSerializer(serializers.Serializer[Any]):
    """A set in small."""

    paths = serializers.ListField(child=serializers.CharField(), help_text="one a sheet, mm, coarse")


class SetSerializer(SetLabelSerializer):
    """A set opened."""

    sheets = SheetSerializer(many=True)
    elements = serializers.ListField(child=serializers.CharField())
    left_out = serializers.ListField(child=serializers.CharField())
    head = serializers.IntegerField(allow_null=True)
    revision = serializers.IntegerField()
    undo = serializers.CharField(allow_null=True)
    redo = serializers.CharField(allow_null=True)
    pictures = serializers.ListField(child=serializers.CharField())


class SetEditSerializer(serializers.Serializer[Any]):
    """A change to a set; ``values`` as the kind wants them (docs/formats/set-edits.md).

    ``revision`` is the one it was decided on; the same ``edit_key`` twice is one change.
    """

    revision = serializers.IntegerField(min_value=0)
    edit_key = serializers.CharField(max_length=64, required=False, allow_blank=True)
    kind = serializers.ChoiceField(choices=EDIT_KINDS)
    values = serializers.DictField()


class SetHeadSerializer(serializers.Serializer[Any]):
    """Where the caller believes the set stands. The same ``edit_key`` twice is one step."""

    revision = serializers.IntegerField(min_value=0)
    edit_key = serializers.CharField(max_length=64, required=False, allow_blank=True)


def point() -> serializers.ListField:
    """x and y, mm."""
    return serializers.ListField(child=serializers.FloatField(), min_length=2, max_length=2)


class HowSerializer(serializers.Serializer[Any]):
    """How each number of an opening came."""

    area = serializers.CharField()
    inscribed = serializers.CharField()
    neck = serializers.CharField()
    brush = serializers.CharField()
    smallest = serializers.CharField()
    minutes = serializers.CharField()


class OpeningMeasuresSerializer(serializers.Serializer[Any]):
    """What is measured on an opening."""

    key = serializers.CharField()
    sheet = serializers.IntegerField()
    element = serializers.CharField()
    area_mm2 = serializers.FloatField()
    inscribed_mm = serializers.FloatField()
    circle = point()
    neck_mm = serializers.FloatField(allow_null=True)
    neck_ends = serializers.ListField(child=point())
    gap_mm = serializers.FloatField(allow_null=True)
    brush = serializers.CharField(allow_null=True)
    smallest = serializers.CharField(allow_null=True)
    minutes = serializers.FloatField()
    how = HowSerializer()


class BridgeSerializer(serializers.Serializer[Any]):
    """The plastic between two openings."""

    sheet = serializers.IntegerField()
    one = serializers.CharField()
    other = serializers.CharField()
    width_mm = serializers.FloatField()
    ends = serializers.ListField(child=point())
    thin = serializers.BooleanField()
    how = serializers.CharField()


class IslandSerializer(serializers.Serializer[Any]):
    """Plastic that nothing holds."""

    key = serializers.CharField()
    sheet = serializers.IntegerField()
    outline = serializers.CharField()
    how = serializers.CharField()


class MaskFitSerializer(serializers.Serializer[Any]):
    """Whether a mask fits between two elements."""

    sheet = serializers.IntegerField()
    inked = serializers.CharField()
    covered = serializers.CharField()
    gap_mm = serializers.FloatField()
    fits = serializers.BooleanField()
    how = serializers.CharField()


class RoomSerializer(serializers.Serializer[Any]):
    """Room to slip in one direction (degrees, 0 to the right, 90 down)."""

    angle = serializers.FloatField()
    mm = serializers.FloatField()


class SlipSerializer(serializers.Serializer[Any]):
    """How far a tone may slip on its base."""

    element = serializers.CharField()
    under_sheet = serializers.IntegerField()
    over_sheet = serializers.IntegerField()
    first = serializers.CharField(help_text="The opening that leaves its base first.")
    least_mm = serializers.FloatField()
    flush = serializers.BooleanField(help_text="Drawn to the very edge of its base.")
    worst = serializers.FloatField()
    by_direction = RoomSerializer(many=True)
    register = serializers.CharField(allow_null=True)
    register_words = serializers.CharField()
    how = serializers.CharField()


class GroupKeySerializer(serializers.Serializer[Any]):
    """Which group."""

    element = serializers.CharField()
    sheet = serializers.IntegerField()


class OverlapSerializer(serializers.Serializer[Any]):
    """What lies over what."""

    under = GroupKeySerializer()
    over = GroupKeySerializer()
    area_mm2 = serializers.FloatField()


class MeasuresSerializer(serializers.Serializer[Any]):
    """Everything that is measured on a set."""

    openings = OpeningMeasuresSerializer(many=True)
    bridges = BridgeSerializer(many=True)
    islands = IslandSerializer(many=True)
    masks = MaskFitSerializer(many=True)
    slips = SlipSerializer(many=True)
    overlaps = OverlapSerializer(many=True)
    minutes = serializers.FloatField()


class CutSerializer(serializers.Serializer[Any]):
    """How much of an element the trimmed panel keeps."""

    element = serializers.CharField()
    kept = serializers.FloatField()


class TrimSerializer(serializers.Serializer[Any]):
    """What a trimmed panel keeps."""

    box = serializers.ListField(child=serializers.FloatField(), min_length=4, max_length=4)
    kept = serializers.FloatField()
    cut = CutSerializer(many=True)
    marks = serializers.ListField(child=serializers.IntegerField())
    how = serializers.CharField()


class PanelSerializer(serializers.Serializer[Any]):
    """A trimmed panel, mm; its middle from the set's."""

    width = length("The width", 5, 2000)
    height = length("The height", 5, 2000)
    dx = serializers.FloatField(default=0, min_value=-2000, max_value=2000)
    dy = serializers.FloatField(default=0, min_value=-2000, max_value=2000)
