"""Builds as JSON: the shapes the interface is typed by."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from strata.advice.base import SEVERITIES, SUBJECTS
from strata.order.steps import KINDS as STEP_KINDS
from strata.plan.edits import EDITS
from strata.plan.model import REGISTERS, SCHOOLS
from strata.sheets.model import KINDS
from studio.builds.element_serializers import ElementSerializer
from studio.colours import ColourSerializer

EDIT_KINDS = sorted(EDITS)


class ColouringRefSerializer(serializers.Serializer[Any]):
    """A colouring by number and name."""

    id = serializers.IntegerField()
    name = serializers.CharField()


class PanelSizeSerializer(serializers.Serializer[Any]):
    """How large a panel is, mm."""

    width = serializers.FloatField()
    height = serializers.FloatField()
    trim = serializers.FloatField()


class MaterialsSerializer(serializers.Serializer[Any]):
    """What holds for every colouring of a build that does not say otherwise."""

    stock = serializers.CharField()
    register = serializers.ChoiceField(choices=sorted(REGISTERS))
    cards = serializers.IntegerField()
    panel = PanelSizeSerializer(required=False)
    light = serializers.FloatField(required=False)


class BuildSerializer(serializers.Serializer[Any]):
    """A build by itself: its materials and its colourings."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    revision = serializers.IntegerField()
    set_id = serializers.IntegerField(allow_null=True)
    materials = MaterialsSerializer()
    colourings = ColouringRefSerializer(many=True)


class HeadSerializer(serializers.Serializer[Any]):
    """Where a colouring stands: its revision, and what undo and redo would do. ``name`` is its build's."""

    id = serializers.IntegerField()
    build_id = serializers.IntegerField()
    name = serializers.CharField()
    colouring = serializers.CharField()
    revision = serializers.IntegerField()
    set_id = serializers.IntegerField(allow_null=True)
    set_change = serializers.IntegerField()
    picture_key = serializers.CharField()
    layout_key = serializers.CharField(help_text="changes with what lies on the panel, or where")
    painting = serializers.CharField(
        allow_null=True, required=False, help_text="base64: the colours that a change made different"
    )
    undo = serializers.CharField(allow_null=True)
    redo = serializers.CharField(allow_null=True)


class BuildSummarySerializer(HeadSerializer):
    """A build on the home screen, by its first colouring; ``id`` is the build's."""

    colouring_id = serializers.IntegerField()
    colouring_count = serializers.IntegerField()
    kind = serializers.ChoiceField(choices=KINDS)
    updated = serializers.DateTimeField()
    set_name = serializers.CharField()
    stock_name = serializers.CharField()
    pass_count = serializers.IntegerField()
    minutes = serializers.FloatField()
    warnings = serializers.IntegerField()
    next_step = serializers.CharField()
    table_step = serializers.IntegerField(allow_null=True)
    step_count = serializers.IntegerField()
    aspect = serializers.FloatField(help_text="height over width of the panel")


class NewBuildSerializer(serializers.Serializer[Any]):
    """What a build starts from."""

    name = serializers.CharField(max_length=200)
    set_id = serializers.IntegerField(required=False, allow_null=True, help_text="none: an empty panel")
    stock = serializers.CharField(max_length=120)
    panel = serializers.DictField(
        required=False, help_text="width, height, trim; or format, lying, whole, trim"
    )


class NameSerializer(serializers.Serializer[Any]):
    """A build's name."""

    name = serializers.CharField(max_length=200)


class ColouringNameSerializer(serializers.Serializer[Any]):
    """A colouring's name."""

    name = serializers.CharField(max_length=200)


class NewColouringSerializer(ColouringNameSerializer):
    """Another colouring, begun where the one numbered ``copy`` stands."""

    copy = serializers.IntegerField()


class LookedAtSerializer(serializers.Serializer[Any]):
    """The picture that is on the screen: its width in px, the keys of its map and of itself."""

    width = serializers.IntegerField(min_value=40, max_value=1600)
    map = serializers.CharField(max_length=40)
    picture = serializers.CharField(max_length=40)


class EditSerializer(serializers.Serializer[Any]):
    """One edit on top of a revision. The same ``edit_key`` twice is one edit."""

    revision = serializers.IntegerField(min_value=0)
    kind = serializers.ChoiceField(choices=EDIT_KINDS)
    values = serializers.DictField(child=serializers.JSONField(allow_null=True))
    edit_key = serializers.CharField(max_length=64, required=False, allow_blank=True)
    looked_at = LookedAtSerializer(required=False, allow_null=True)


class RevisionSerializer(serializers.Serializer[Any]):
    """Which revision an undo or redo is meant for. The same ``edit_key`` twice is one step."""

    revision = serializers.IntegerField(min_value=0)
    edit_key = serializers.CharField(max_length=64, required=False, allow_blank=True)
    looked_at = LookedAtSerializer(required=False, allow_null=True)


class MendSerializer(serializers.Serializer[Any]):
    """A way out of a warning, as an edit."""

    label = serializers.CharField()  # type: ignore[assignment]
    kind = serializers.ChoiceField(choices=EDIT_KINDS)
    values = serializers.DictField(child=serializers.JSONField(allow_null=True))


class SubjectSerializer(serializers.Serializer[Any]):
    """What a warning is about."""

    kind = serializers.ChoiceField(choices=SUBJECTS)
    names = serializers.ListField(child=serializers.CharField())
    sheet = serializers.IntegerField(allow_null=True)


class FindingSerializer(serializers.Serializer[Any]):
    """A warning; ``key`` is its identity, ``left`` whether its maker knows it and leaves it."""

    key = serializers.CharField()
    code = serializers.CharField()
    severity = serializers.ChoiceField(choices=SEVERITIES)
    sentence = serializers.CharField()
    reason = serializers.CharField()
    subject = SubjectSerializer()
    elements = serializers.ListField(child=serializers.CharField())
    passes = serializers.ListField(child=serializers.CharField())
    left = serializers.BooleanField()
    mends = MendSerializer(many=True)


class StepSerializer(serializers.Serializer[Any]):
    """A step of the sequence; ``key`` names it whatever it is called."""

    key = serializers.CharField()
    kind = serializers.ChoiceField(choices=STEP_KINDS)
    word = serializers.CharField(help_text="what is done, in one word")
    minutes = serializers.FloatField()
    starts = serializers.FloatField()
    sentence = serializers.CharField()
    reasons = serializers.ListField(child=serializers.CharField())
    how = serializers.CharField()
    caution = serializers.CharField(allow_null=True)
    sheet = serializers.IntegerField(allow_null=True)
    pass_key = serializers.CharField(allow_null=True)
    element = serializers.CharField(allow_null=True)
    brush = serializers.CharField(allow_null=True)
    masks = serializers.ListField(child=serializers.CharField())
    heated_minutes = serializers.FloatField(allow_null=True)
    card = serializers.IntegerField(help_text="which card of the batch, from 1")
    who = serializers.IntegerField(help_text="which pair of hands, from 1")
    which = serializers.IntegerField(allow_null=True, help_text="which brush of its size, from 0")
    copy = serializers.IntegerField(help_text="which copy of the sheet, from 1, where it is there twice")
    serves = serializers.CharField(allow_null=True, help_text="the pass it is done for")
    job = serializers.CharField(allow_null=True, help_text="other work that is done")
    clock = serializers.CharField(
        allow_null=True, help_text="what begins to dry with it; of a wait, what is waited for"
    )
    dries = serializers.FloatField(help_text="minutes until that is dry")
    done_before = serializers.IntegerField(help_text="passes finished when this step begins")


class TotalsSerializer(serializers.Serializer[Any]):
    """What an order of work adds up to."""

    minutes = serializers.FloatField()
    waiting = serializers.FloatField()
    placements = serializers.IntegerField()
    cleanings = serializers.IntegerField()
    masks = serializers.IntegerField()


class SequenceSerializer(TotalsSerializer):
    """The order of work."""

    steps = StepSerializer(many=True)
    passes = serializers.ListField(child=serializers.CharField())


class MissingSerializer(serializers.Serializer[Any]):
    """A pad of the plan that cannot be inked with, and why."""

    ink = serializers.CharField()
    name = serializers.CharField()
    why = serializers.CharField()


class PassToolSerializer(serializers.Serializer[Any]):
    """A tool, and what it does."""

    key = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]
    diameter_mm = serializers.FloatField()
    spread_mm = serializers.FloatField()


class MediumSerializer(serializers.Serializer[Any]):
    """A way of working."""

    key = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]
    bottle = serializers.CharField(allow_null=True, help_text="what it is done with where no ink is named")
    how = serializers.CharField()
    caution = serializers.CharField()


class StateSerializer(HeadSerializer):
    """Everything that a colouring's screens show."""

    colourings = ColouringRefSerializer(many=True)
    wet_key = serializers.CharField(help_text="changes with which passes go onto wet ink")
    kind = serializers.ChoiceField(choices=KINDS)
    stock = serializers.CharField()
    stock_name = serializers.CharField()
    stock_colour = ColourSerializer()
    register = serializers.ChoiceField(choices=sorted(REGISTERS))
    cards = serializers.IntegerField()
    light = serializers.FloatField()
    school = serializers.ChoiceField(choices=SCHOOLS)
    trim_mm = serializers.FloatField()
    width_mm = serializers.FloatField()
    height_mm = serializers.FloatField()
    elements = ElementSerializer(many=True)
    findings = FindingSerializer(many=True)
    sequence = SequenceSerializer()
    brushes = PassToolSerializer(many=True)
    media = MediumSerializer(many=True)
    missing = MissingSerializer(many=True)


class StandInSerializer(serializers.Serializer[Any]):
    """A pad in the place of another, as one edit; judged in the whole build."""

    ink = serializers.CharField()
    name = serializers.CharField()
    line = serializers.CharField()
    role = serializers.CharField()
    words = serializers.CharField()
    de00 = serializers.FloatField()
    amounts = serializers.CharField()
    before = ColourSerializer(many=True)
    after = ColourSerializer(many=True)
    troubles = serializers.ListField(child=serializers.CharField())
    values = serializers.DictField(child=serializers.JSONField(allow_null=True))


class TryoutSerializer(serializers.Serializer[Any]):
    """An ink in the place of a pass."""

    ink = serializers.CharField()
    here = ColourSerializer()
    alone = ColourSerializer()
    change = serializers.FloatField()
