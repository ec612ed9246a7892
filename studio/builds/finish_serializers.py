"""The finish of a card as JSON: the shapes the interface is typed by."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from strata.plan.finish import FOLDS, GRAINS, WAYS


class MatSerializer(serializers.Serializer[Any]):
    """A mat, mm."""

    stock = serializers.CharField()
    margin = serializers.FloatField(help_text="what shows of it all round")
    foot = serializers.FloatField(help_text="so much more at the foot")
    rim = serializers.FloatField(
        help_text="0, or what stays of it under what lies on it: its middle is cut out"
    )


class StripSerializer(serializers.Serializer[Any]):
    """A strip for words, mm."""

    width = serializers.FloatField()
    height = serializers.FloatField()
    stock = serializers.CharField()
    shadow = serializers.CharField(allow_blank=True, help_text="stock of a strip behind it; empty for none")
    edge = serializers.FloatField(help_text="what shows of the shadow")
    foam = serializers.FloatField()
    x = serializers.FloatField(
        allow_null=True, help_text="its middle, from the front's left; null: in the middle"
    )
    y = serializers.FloatField(allow_null=True, help_text="from its top; null: near the foot")


class FinishValuesSerializer(serializers.Serializer[Any]):
    """How the panel becomes a card, mm."""

    width = serializers.FloatField(help_text="of the front")
    height = serializers.FloatField()
    base = serializers.CharField()
    fold = serializers.ChoiceField(choices=FOLDS)
    way = serializers.ChoiceField(
        choices=WAYS, help_text="counted from the card inwards, or from the panel outwards"
    )
    edge = serializers.FloatField(help_text="of base, all round")
    foot = serializers.FloatField()
    mats = MatSerializer(many=True, help_text="from the outermost in")
    alone = serializers.BooleanField(help_text="the panel itself is folded")
    foam = serializers.FloatField()
    stiffener = serializers.CharField(allow_blank=True)
    strips = StripSerializer(many=True)
    sheets = serializers.ListField(
        child=serializers.ListField(child=serializers.CharField(allow_blank=True)),
        help_text="stock, sheet size, how its grain runs",
    )
    offcuts = serializers.ListField(child=serializers.ListField(), help_text="stock, width, height")
    blade = serializers.FloatField()


class BoxSerializer(serializers.Serializer[Any]):
    """A rectangle, mm."""

    x = serializers.FloatField()
    y = serializers.FloatField()
    width = serializers.FloatField()
    height = serializers.FloatField()


class SpotSerializer(serializers.Serializer[Any]):
    """A point, mm."""

    x = serializers.FloatField()
    y = serializers.FloatField()


class ScoreSerializer(serializers.Serializer[Any]):
    """A fold."""

    down = serializers.BooleanField(help_text="from top to foot")
    at = serializers.FloatField(help_text="mm from the left, or from the top")


class CutPieceSerializer(serializers.Serializer[Any]):
    """A piece to cut, mm."""

    key = serializers.CharField()
    name = serializers.CharField()
    stock = serializers.CharField()
    stock_name = serializers.CharField()
    width = serializers.FloatField()
    height = serializers.FloatField()
    count = serializers.IntegerField(help_text="for all cards")
    scores = ScoreSerializer(many=True)
    window = BoxSerializer(allow_null=True, help_text="cut out of it and kept")
    place = SpotSerializer(allow_null=True, help_text="its left upper corner on the front")
    up = serializers.CharField(help_text="which way up")


class SoldSerializer(serializers.Serializer[Any]):
    """A size that something is sold in, mm."""

    key = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]
    width = serializers.FloatField()
    height = serializers.FloatField()


class LaidPieceSerializer(BoxSerializer):
    """A piece on a sheet."""

    name = serializers.CharField()
    turned = serializers.BooleanField()


class KnifeCutSerializer(serializers.Serializer[Any]):
    """A cut, from edge to edge of the part in hand."""

    down = serializers.BooleanField()
    at = serializers.FloatField(help_text="mm from the part's left edge, or from its top")
    part = BoxSerializer()


class CutSheetSerializer(serializers.Serializer[Any]):
    """A sheet or an off-cut, and what is cut from it."""

    width = serializers.FloatField()
    height = serializers.FloatField()
    offcut = serializers.BooleanField()
    waste = serializers.FloatField(help_text="0..1")
    pieces = LaidPieceSerializer(many=True)
    cuts = KnifeCutSerializer(many=True)
    left = BoxSerializer(many=True, help_text="off-cuts worth keeping")


class FromStockSerializer(serializers.Serializer[Any]):
    """What is cut from one stock, for all cards."""

    stock = serializers.CharField()
    stock_name = serializers.CharField()
    sheet = SoldSerializer()
    grain = serializers.ChoiceField(choices=GRAINS, allow_blank=True)
    take = serializers.IntegerField(help_text="new sheets")
    fewest = serializers.IntegerField(help_text="no layout does with less")
    waste = serializers.FloatField(help_text="0..1, of all of them")
    problem = serializers.CharField(allow_blank=True)
    laid = CutSheetSerializer(many=True)


class AmountSerializer(serializers.Serializer[Any]):
    """What adds to a sum."""

    name = serializers.CharField()
    amount = serializers.FloatField()


class SumSerializer(serializers.Serializer[Any]):
    """A sum and its parts."""

    total = serializers.FloatField()
    parts = AmountSerializer(many=True)


class RateSerializer(serializers.Serializer[Any]):
    """One of the maker's own postal rates: the most that it takes, mm and g."""

    name = serializers.CharField(max_length=60)
    thick = serializers.FloatField()
    weight = serializers.FloatField()
    long = serializers.FloatField()
    wide = serializers.FloatField()
    price = serializers.CharField(max_length=20, allow_blank=True)


class RatesSerializer(serializers.Serializer[Any]):
    """All rates, in the order in which they are tried."""

    sample = serializers.BooleanField(read_only=True, help_text="invented ones, as long as there are no own")
    rates = RateSerializer(many=True)


class RateAgainstSerializer(serializers.Serializer[Any]):
    """Whether a card goes at a rate."""

    name = serializers.CharField()
    price = serializers.CharField(allow_blank=True)
    against = serializers.ListField(child=serializers.CharField(), help_text="empty where it goes")
    cheapest = serializers.BooleanField()


class TaskSerializer(serializers.Serializer[Any]):
    """Something to do beside the inking."""

    key = serializers.CharField()
    sentence = serializers.CharField()
    minutes = serializers.FloatField()
    early = serializers.BooleanField(help_text="while ink dries")
    first = serializers.BooleanField(help_text="before anything is inked")
    caution = serializers.CharField(allow_blank=True)
    waits = serializers.FloatField()


class SizesSerializer(serializers.Serializer[Any]):
    """What shows of the base, mm."""

    left = serializers.FloatField()
    right = serializers.FloatField()
    above = serializers.FloatField()
    below = serializers.FloatField()


class PanelCutSerializer(serializers.Serializer[Any]):
    """The panel as it is cut, mm."""

    width = serializers.FloatField()
    height = serializers.FloatField()


class SupplySerializer(serializers.Serializer[Any]):
    """Something that a build takes."""

    kind = serializers.ChoiceField(choices=("pad", "stock", "foam", "envelope"))
    name = serializers.CharField()
    amount = serializers.CharField()
    place = serializers.CharField(allow_blank=True)
    wanting = serializers.CharField(
        allow_blank=True, help_text="why it must be got first; empty where it is there"
    )


class FinishSerializer(serializers.Serializer[Any]):
    """A finished card."""

    decided = serializers.BooleanField(help_text="false: as it is proposed")
    finish = FinishValuesSerializer()
    cards = serializers.IntegerField()
    panel = PanelCutSerializer()
    shows = SizesSerializer()
    pieces = CutPieceSerializer(many=True)
    sheets = FromStockSerializer(many=True)
    thickness = SumSerializer()
    weight = SumSerializer()
    envelope = SoldSerializer(allow_null=True)
    rates = RateAgainstSerializer(many=True)
    sample_rates = serializers.BooleanField()
    supplies = SupplySerializer(many=True)
    assembly = TaskSerializer(many=True)
    at_table = serializers.BooleanField(help_text="whether that is part of the order of work")
    problems = serializers.ListField(child=serializers.CharField())
    formats = SoldSerializer(many=True)
    sheet_sizes = SoldSerializer(many=True)
