"""The panel as JSON: the shapes the interface is typed by."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from strata.panel.shapes import KINDS as SHAPES
from strata.panel.things import KINDS
from studio.sets.serializers import NounsSerializer, SheetSerializer


class LaidSheetSerializer(SheetSerializer):
    """A sheet as it lies; ``number`` on the panel, ``called`` what stands on the sheet itself."""

    thing = serializers.CharField()
    called = serializers.IntegerField()
    kind = serializers.CharField()
    nouns = NounsSerializer()
    surface = serializers.CharField(help_text="key of the piece it lies on; empty: the panel")


class PlaceOnPanelSerializer(serializers.Serializer[Any]):
    """Where a thing's middle lies, mm; degrees clockwise."""

    x = serializers.FloatField()
    y = serializers.FloatField()
    turn = serializers.FloatField()
    mirrored = serializers.BooleanField()


class CardOfSerializer(serializers.Serializer[Any]):
    """Card of its own."""

    stock = serializers.CharField()
    foam = serializers.FloatField()
    copies = serializers.IntegerField()
    allowance = serializers.FloatField()


class SheetCardSerializer(CardOfSerializer):
    """The card of one piece of a set."""

    sheet = serializers.IntegerField()


class OutlineOfSerializer(serializers.Serializer[Any]):
    """What a mask or a piece is cut to; mm."""

    kind = serializers.ChoiceField(choices=SHAPES)
    width = serializers.FloatField(required=False)
    height = serializers.FloatField(required=False)
    points = serializers.ListField(
        child=serializers.ListField(child=serializers.FloatField()), required=False
    )
    seed = serializers.FloatField(required=False)
    of = serializers.CharField(required=False)
    elements = serializers.ListField(child=serializers.CharField(), required=False)
    allowance = serializers.FloatField(required=False)


class WearSerializer(serializers.Serializer[Any]):
    """How and when a mask is on."""

    way = serializers.ChoiceField(choices=("window", "cover"))
    since = serializers.CharField(help_text="key of the first pass; empty: from the start")
    until = serializers.CharField(help_text="key of the last pass; empty: to the end")
    off = serializers.BooleanField()
    soft = serializers.FloatField()


class WordsSerializer(serializers.Serializer[Any]):
    """A greeting as typed."""

    text = serializers.CharField()
    size = serializers.FloatField(help_text="mm, height of capitals")
    hand = serializers.ChoiceField(choices=("script", "print"))


class NoteSerializer(serializers.Serializer[Any]):
    """What cannot be predicted."""

    text = serializers.CharField()
    thickness = serializers.FloatField()


class SheetNameSerializer(serializers.Serializer[Any]):
    """A sheet that a set has."""

    number = serializers.IntegerField()
    name = serializers.CharField()


class ThingSerializer(serializers.Serializer[Any]):
    """A thing on the panel."""

    key = serializers.CharField()
    number = serializers.IntegerField()
    base = serializers.IntegerField()
    kind = serializers.ChoiceField(choices=KINDS)
    name = serializers.CharField()
    place = PlaceOnPanelSerializer()
    box = serializers.ListField(child=serializers.FloatField(), min_length=4, max_length=4)
    on = serializers.CharField()
    counter = serializers.BooleanField()
    source = serializers.CharField(  # type: ignore[assignment]
        help_text="the name by which the build knows the set"
    )
    sheets = serializers.ListField(child=serializers.IntegerField())
    all_sheets = SheetNameSerializer(many=True)
    set_kind = serializers.CharField()
    shape = OutlineOfSerializer(allow_null=True)
    wear = WearSerializer(allow_null=True)
    card = CardOfSerializer(allow_null=True)
    cards = SheetCardSerializer(many=True)
    words = WordsSerializer(allow_null=True)
    note = NoteSerializer(allow_null=True)
    outline = serializers.CharField(help_text="of a mask, SVG path data, mm on the panel")
    cut_mm = serializers.FloatField(allow_null=True, help_text="length of its cut")


class SurfaceSerializer(serializers.Serializer[Any]):
    """A piece of card as it lies."""

    key = serializers.CharField()
    thing = serializers.CharField()
    outline = serializers.CharField()
    stock = serializers.CharField()
    foam = serializers.FloatField()
    sheets = serializers.ListField(child=serializers.IntegerField())


class LaidSerializer(serializers.Serializer[Any]):
    """The panel with all that lies on it."""

    kind = serializers.CharField()
    nouns = NounsSerializer()
    width_mm = serializers.FloatField()
    height_mm = serializers.FloatField()
    trim_mm = serializers.FloatField()
    sheets = LaidSheetSerializer(many=True)
    things = ThingSerializer(many=True)
    surfaces = SurfaceSerializer(many=True)


class FormatSerializer(serializers.Serializer[Any]):
    """A format of card, with the size of its panel."""

    key = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]
    width_mm = serializers.FloatField()
    height_mm = serializers.FloatField()
    units = serializers.CharField()


class TriedEditSerializer(serializers.Serializer[Any]):
    """One edit that is only looked at."""

    kind = serializers.CharField(max_length=40)
    values = serializers.DictField(child=serializers.JSONField(allow_null=True))


class TrySerializer(serializers.Serializer[Any]):
    """Edits to look at, and the map that is on the screen."""

    edits = serializers.ListField(child=TriedEditSerializer(), min_length=1, max_length=40)
    width = serializers.IntegerField(min_value=40, max_value=1600)
    map = serializers.CharField(max_length=40, required=False, allow_blank=True)
