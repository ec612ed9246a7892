"""What the table asks and answers."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from strata.making.remedies import WRONG
from studio.bench.services import MOST_AT_ONCE
from studio.builds.element_serializers import FormSerializer
from studio.builds.serializers import StepSerializer
from studio.colours import ColourSerializer


class InkedSerializer(serializers.Serializer[Any]):
    """What is taken in hand for a pass, as its card has it."""

    key = serializers.CharField()
    ink = serializers.CharField()
    ink_name = serializers.CharField()
    alone = ColourSerializer()
    coats = serializers.IntegerField()
    hand = serializers.CharField()
    brush_label = serializers.CharField()
    medium_label = serializers.CharField()
    form = FormSerializer()
    element = serializers.CharField()
    sheet = serializers.IntegerField()
    place = serializers.CharField()
    state = serializers.CharField()
    paler = serializers.DictField(allow_null=True, help_text="as what it was laid if it came out paler")


class TableStepSerializer(StepSerializer):
    """A step at the table. ``done``: keys of the events by which it was done, empty as long as it is not."""

    done = serializers.ListField(child=serializers.CharField())
    at = serializers.FloatField(allow_null=True, help_text="seconds since 1970 when it was done")
    inked = InkedSerializer(allow_null=True)


class CardSerializer(serializers.Serializer[Any]):
    """A card in the making."""

    number = serializers.IntegerField()
    spoilt = serializers.BooleanField()
    laid = serializers.IntegerField(help_text="passes on it")
    left = serializers.IntegerField(help_text="passes still to come")
    picture = serializers.CharField(help_text="key of its picture")


class PullPadSerializer(serializers.Serializer[Any]):
    """A pad to fetch."""

    ink = serializers.CharField()
    name = serializers.CharField()
    place = serializers.CharField()
    missing = serializers.CharField(allow_null=True, help_text="why it cannot be inked with")
    colour = ColourSerializer()


class PullStockSerializer(serializers.Serializer[Any]):
    """The card to take."""

    name = serializers.CharField()
    count = serializers.IntegerField()


class PullSerializer(serializers.Serializer[Any]):
    """Everything that will be wanted at the table."""

    pads = PullPadSerializer(many=True)
    stock = PullStockSerializer()
    bottles = serializers.ListField(child=serializers.CharField())
    brushes = serializers.ListField(child=serializers.CharField())
    sheets = serializers.ListField(child=serializers.CharField())
    masks = serializers.ListField(child=serializers.CharField())
    rest = serializers.ListField(child=serializers.CharField())


class TableNoteSerializer(serializers.Serializer[Any]):
    """A note made at the table."""

    key = serializers.CharField()
    at = serializers.FloatField()
    text = serializers.CharField()
    card = serializers.IntegerField()


class WaySerializer(serializers.Serializer[Any]):
    """One of two truths."""

    key = serializers.CharField()
    sentence = serializers.CharField()


class LastToldSerializer(serializers.Serializer[Any]):
    """The last thing told otherwise than planned, and the events by which it is taken back."""

    keys = serializers.ListField(child=serializers.CharField())
    sentence = serializers.CharField()


class QuestionSerializer(serializers.Serializer[Any]):
    """What two devices say differently of the same pass."""

    card = serializers.IntegerField()
    element = serializers.CharField()
    ways = WaySerializer(many=True)


class TablePhotographSerializer(serializers.Serializer[Any]):
    """A photograph from the table."""

    id = serializers.IntegerField()
    key = serializers.CharField()
    at = serializers.FloatField(help_text="seconds since 1970")
    card = serializers.IntegerField(help_text="0 for none in particular")
    after = serializers.CharField(allow_blank=True, help_text="what was done last")


class ToWriteSerializer(serializers.Serializer[Any]):
    """An event to be written for a way on."""

    kind = serializers.CharField()
    body = serializers.DictField()


class WayOnSerializer(serializers.Serializer[Any]):
    """A way on that a device can offer alone; ``$name`` in its events and ``{name}`` in its sentence are blanks."""

    key = serializers.CharField()
    sentence = serializers.CharField()
    events = ToWriteSerializer(many=True)
    needs = serializers.CharField(allow_blank=True, help_text="a blank without which it is none")
    several = serializers.BooleanField(help_text="only where more than one card is left")


class WaysOnSerializer(serializers.Serializer[Any]):
    """What went wrong, with blanks, and the ways on."""

    what = serializers.CharField()
    sentence = serializers.CharField()
    events = ToWriteSerializer(many=True)
    ways = WayOnSerializer(many=True)


class TableSerializer(serializers.Serializer[Any]):
    """Everything the table shows of the making that is under way."""

    making = serializers.IntegerField(help_text="which going of this colouring, from 1")
    changed = serializers.BooleanField(help_text="the rest was planned anew on what happened")
    cards = CardSerializer(many=True)
    steps = TableStepSerializer(many=True)
    notes = TableNoteSerializer(many=True)
    questions = QuestionSerializer(many=True)
    last_told = LastToldSerializer(allow_null=True)
    pull = PullSerializer()
    taken = serializers.ListField(
        child=serializers.CharField(), help_text="sheets of card that the house has fewer, once all is done"
    )
    photographs = TablePhotographSerializer(many=True)
    ways = WaysOnSerializer(many=True)
    together = serializers.BooleanField(help_text="the cards are put together as part of the work")


class HappenedSerializer(serializers.Serializer[Any]):
    """What happened in a making since it was last told."""

    making = serializers.IntegerField(min_value=1, max_value=100_000)
    events = serializers.ListField(
        child=serializers.JSONField(), max_length=MOST_AT_ONCE, help_text="as docs/formats/making.md has them"
    )


class WentWrongSerializer(serializers.Serializer[Any]):
    """What went wrong, and where."""

    what = serializers.ChoiceField(choices=WRONG)
    card = serializers.IntegerField()
    ink = serializers.CharField(required=False)
    dx = serializers.FloatField(required=False)
    dy = serializers.FloatField(required=False)

    def get_fields(self) -> Any:
        """``pass`` is a word of the language, and cannot be an attribute."""
        return {**super().get_fields(), "pass": serializers.CharField(required=False, max_length=60)}


class RemedySerializer(serializers.Serializer[Any]):
    """A way on, with the colour that comes of it and its CIEDE2000 from what was meant."""

    key = serializers.CharField()
    sentence = serializers.CharField()
    colour = ColourSerializer(allow_null=True)
    off = serializers.FloatField(allow_null=True)
    words = serializers.CharField(allow_null=True, help_text="the same as a cardmaker would say it")
    events = ToWriteSerializer(many=True)


class WrongSerializer(serializers.Serializer[Any]):
    """What went wrong, what it looks like now, and the ways on."""

    sentence = serializers.CharField()
    meant = ColourSerializer(allow_null=True)
    now = ColourSerializer(allow_null=True)
    events = ToWriteSerializer(many=True)
    remedies = RemedySerializer(many=True)
