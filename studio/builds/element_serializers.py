"""Elements as JSON: the shapes the interface is typed by."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from strata.optics.stack import HANDS
from strata.plan.media import MEDIA
from strata.plan.model import FORM_KINDS, SCHOOLS, SPANS
from studio.colours import ColourSerializer


class FormSerializer(serializers.Serializer[Any]):
    """A shading form."""

    kind = serializers.ChoiceField(choices=FORM_KINDS)
    angle = serializers.FloatField()
    extent = serializers.FloatField()
    place = serializers.FloatField()
    span = serializers.ChoiceField(choices=SPANS)
    soft = serializers.FloatField(allow_null=True, help_text="mm over which its edge fades")
    join = serializers.BooleanField(help_text="only its border, softly")


class UnderSerializer(serializers.Serializer[Any]):
    """A pass beneath, with the coats of it that lie there."""

    ink_name = serializers.CharField()
    coats = serializers.FloatField()


class PlaceSerializer(serializers.Serializer[Any]):
    """One ground a pass lies on."""

    share = serializers.FloatField()
    before = ColourSerializer()
    here = ColourSerializer()
    under = UnderSerializer(many=True)


class RungSerializer(serializers.Serializer[Any]):
    """A pass on its element's ladder."""

    key = serializers.CharField()
    element = serializers.CharField()
    sheet = serializers.IntegerField()
    ink = serializers.CharField()
    ink_name = serializers.CharField()
    chemistry = serializers.CharField()
    state = serializers.CharField(help_text="how full the pad is; away where it was put away")
    place = serializers.CharField(help_text="where the pad lies")
    coats = serializers.IntegerField()
    hand = serializers.ChoiceField(choices=list(HANDS))
    form = FormSerializer()
    medium = serializers.ChoiceField(choices=list(MEDIA))
    medium_label = serializers.CharField()
    more = serializers.ListField(child=serializers.CharField(), help_text="further inks of a striped pad")
    generation = serializers.IntegerField()
    width = serializers.FloatField(help_text="mm of a line, a stroke or a drop")
    without = serializers.ListField(child=serializers.CharField())
    masks = serializers.ListField(child=serializers.CharField(), help_text="names of the masks that are on")
    place_in_plan = serializers.IntegerField(help_text="from 1 at the bottom")
    thickness = serializers.FloatField(help_text="coats, the hand included")
    most_coats = serializers.IntegerField(help_text="that a pass can take")
    brush = serializers.CharField(allow_null=True)
    brush_label = serializers.CharField()
    role = serializers.CharField()
    alone = ColourSerializer()
    here = ColourSerializer()
    lightness = serializers.FloatField()
    chroma = serializers.FloatField()
    hue = serializers.FloatField()
    margin = serializers.FloatField(help_text="CIEDE2000 within which the true colour lies nine times in ten")
    change = serializers.FloatField()
    step = serializers.FloatField(allow_null=True)
    lightness_step = serializers.FloatField(allow_null=True)
    places = PlaceSerializer(many=True)
    wet = serializers.BooleanField()
    lighter = serializers.CharField(allow_null=True)
    deeper = serializers.CharField(allow_null=True)
    order = serializers.IntegerField(help_text="place in the sequence, from 1")


class BedSerializer(serializers.Serializer[Any]):
    """Something of another element that lies under or over this one."""

    kind = serializers.CharField()
    pass_key = serializers.CharField(help_text="empty for a piece of card")
    name = serializers.CharField()
    of = serializers.CharField(help_text="the element or the thing it belongs to")
    share = serializers.FloatField()
    colour = ColourSerializer()


class ElementSerializer(serializers.Serializer[Any]):
    """An element with its core sample."""

    name = serializers.CharField()
    sheets = serializers.ListField(child=serializers.IntegerField())
    school = serializers.ChoiceField(choices=SCHOOLS)
    thing = serializers.CharField(help_text="key of the thing it belongs to; empty: the panel itself")
    kind = serializers.CharField(help_text="how it is worked with")
    card = serializers.CharField(help_text="name of the card it lies on")
    card_colour = ColourSerializer()
    below = BedSerializer(many=True)
    over = BedSerializer(many=True)
    rungs = RungSerializer(many=True)
    bare = serializers.ListField(child=serializers.IntegerField())
