"""Inks, stocks and tools as JSON."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from rest_framework import serializers

from strata.drawer import sector_of
from strata.optics.colour import Lab, chroma, hue, lab_of_hex
from strata.optics.dabs import dabs
from strata.optics.inks import CLEANINGS, HOWS, PADS, STATES
from strata.optics.inks import Ink as CoreInk
from strata.optics.layers import FINISHES
from strata.optics.remarks import remarks
from strata.optics.stack import MOST_SHEETS, STOCK_STATES
from strata.optics.stack import Stock as CoreStock
from strata.plan.tools import BRUSHES, DAUBERS
from studio.colours import ColourSerializer, colour
from studio.inks.models import DrawerRow, Ink, Stock, Tool
from studio.inks.services import OF_INK, OF_STOCK, core_ink


def triple() -> serializers.ListField:
    """A CIELAB triple."""
    return serializers.ListField(child=serializers.FloatField(), min_length=3, max_length=3)


class OnSerializer(serializers.Serializer[Any]):
    """A card: its colour when the swatch was made, and its key where it is one of the house."""

    lab = triple()
    card = serializers.CharField(required=False, allow_blank=True, max_length=120)


class SwatchSerializer(serializers.Serializer[Any]):
    """A measured swatch: on which card, in how many coats, its colour, how and when it came to be known."""

    on = OnSerializer()
    coats = serializers.FloatField()
    lab = triple()
    how = serializers.ChoiceField(choices=HOWS, required=False, allow_blank=True)
    when = serializers.CharField(required=False, allow_blank=True, max_length=10)
    spread = serializers.FloatField(required=False, allow_null=True)


class GivenSwatchSerializer(SwatchSerializer):
    """A swatch as a maker gives it: its colour as CIELAB, or as a screen's hex code."""

    lab = serializers.ListField(child=serializers.FloatField(), min_length=3, max_length=3, required=False)
    hex = serializers.CharField(required=False, max_length=9)

    def validate(self, attrs: dict[str, Any]) -> dict[str, Any]:
        code = attrs.pop("hex", None)
        if (code is None) == ("lab" not in attrs):
            raise serializers.ValidationError("Give the colour as CIELAB or as a hex code.")
        if code is not None:
            attrs |= {"lab": list(lab_of_hex(code)), "how": attrs.get("how") or "screen colour"}
        return attrs


class LearnedSerializer(serializers.Serializer[Any]):
    """What made cards say of a pad, over its readings."""

    strength = serializers.FloatField(help_text="measured coats that one coat comes to")
    lean = serializers.ListField(child=serializers.FloatField(), min_length=2, max_length=2)
    cards = serializers.IntegerField(help_text="made cards that say so")


class InkSerializer(serializers.Serializer[Any]):
    """An ink with its dabs of 1, 2 and 3 coats on the stock asked for.

    ``revision`` is the drawer's at the last change of this pad.
    """

    revision = serializers.IntegerField(read_only=True)
    id = serializers.IntegerField()
    key = serializers.CharField()
    name = serializers.CharField()
    line = serializers.CharField()
    family = serializers.CharField()
    depth = serializers.IntegerField()
    character = serializers.CharField()
    chemistry = serializers.CharField()
    pad = serializers.CharField()
    place = serializers.CharField()
    state = serializers.CharField()
    notes = serializers.CharField()
    dry_minutes = serializers.FloatField()
    cleaning = serializers.CharField()
    opaque = serializers.BooleanField()
    estimated = serializers.BooleanField()
    remarks = serializers.ListField(child=serializers.CharField())
    swatches = SwatchSerializer(many=True)
    learned = LearnedSerializer(allow_null=True)
    dabs = ColourSerializer(many=True)
    lightness = serializers.FloatField()
    chroma = serializers.FloatField()
    hue = serializers.FloatField()
    neutral = serializers.BooleanField(help_text="too grey for its hue to be worth a figure")


class DecidedSerializer(serializers.Serializer[Any]):
    """A change of the drawer: the revision it was decided on, and a key by which it is made once."""

    revision = serializers.IntegerField(min_value=0, required=False)
    edit_key = serializers.CharField(max_length=64, required=False, allow_blank=True)


class NewInkSerializer(DecidedSerializer):
    """What a maker gives for a pad; to change one, only what is to be changed."""

    name = serializers.CharField(max_length=200)
    line = serializers.CharField(max_length=200, required=False, allow_blank=True)
    family = serializers.CharField(max_length=200, required=False, allow_blank=True)
    depth = serializers.IntegerField(min_value=0, max_value=20, required=False)
    character = serializers.ChoiceField(choices=["vivid", "muted"], required=False)
    chemistry = serializers.CharField()
    pad = serializers.ChoiceField(choices=PADS, required=False)
    place = serializers.CharField(max_length=200, required=False, allow_blank=True)
    state = serializers.ChoiceField(choices=STATES, required=False)
    notes = serializers.CharField(max_length=4000, required=False, allow_blank=True)
    dry_minutes = serializers.FloatField(required=False, allow_null=True)
    cleaning = serializers.ChoiceField(choices=sorted(CLEANINGS), required=False, allow_null=True)
    swatches = GivenSwatchSerializer(many=True)
    learned = LearnedSerializer(required=False, allow_null=True, help_text="null takes off what was learned")


class ManyInksSerializer(DecidedSerializer):
    """The same change for many pads."""

    ids = serializers.ListField(child=serializers.IntegerField(), min_length=1, max_length=2000)
    values = serializers.DictField(child=serializers.JSONField())
    away = serializers.BooleanField(default=False, help_text="put them away instead")


class StockSerializer(DecidedSerializer):
    """A card stock."""

    id = serializers.IntegerField(read_only=True)
    key = serializers.CharField(read_only=True)
    name = serializers.CharField(max_length=200)
    lab = triple()
    weight_gsm = serializers.FloatField(required=False)
    thickness_mm = serializers.FloatField(required=False)
    finish = serializers.ChoiceField(choices=FINISHES, required=False, allow_blank=True)
    place = serializers.CharField(max_length=200, required=False, allow_blank=True)
    state = serializers.ChoiceField(choices=STOCK_STATES, required=False)
    notes = serializers.CharField(max_length=4000, required=False, allow_blank=True)
    how = serializers.ChoiceField(choices=HOWS, required=False, allow_blank=True)
    when = serializers.CharField(max_length=10, required=False, allow_blank=True)
    sheets = serializers.IntegerField(
        min_value=0,
        max_value=MOST_SHEETS,
        required=False,
        allow_null=True,
        help_text="in the house; null where nobody counts them",
    )
    hex = serializers.CharField(read_only=True)


class ToolSerializer(DecidedSerializer):
    """Brushes of one size."""

    id = serializers.IntegerField(read_only=True)
    brush = serializers.ChoiceField(choices=[*BRUSHES, *DAUBERS])
    count = serializers.IntegerField(min_value=0, max_value=200)
    line = serializers.CharField(max_length=200, required=False, allow_blank=True)
    family = serializers.CharField(max_length=200, required=False, allow_blank=True)
    label = serializers.CharField(read_only=True)  # type: ignore[assignment]
    diameter = serializers.FloatField(read_only=True)


class DrawerHistorySerializer(serializers.Serializer[Any]):
    """What can be undone and redone in the drawer, and the revision to say with it."""

    revision = serializers.IntegerField()
    undo = serializers.CharField(allow_null=True)
    redo = serializers.CharField(allow_null=True)


def seen_at(row: DrawerRow) -> int:
    """The revision of the drawer at which a row last changed."""
    return max(row.touched.values(), default=0)


def inks_json(rows: Iterable[Ink], stock: CoreStock, cores: dict[str, CoreInk]) -> list[dict[str, Any]]:
    """Many inks on a stock, their dabs worked out together."""
    listed = list(rows)
    labs = dabs([cores[row.key] for row in listed], stock)
    triples = [[(float(v[0]), float(v[1]), float(v[2])) for v in own] for own in labs]
    return [_json(row, cores[row.key], own) for row, own in zip(listed, triples, strict=True)]


def ink_json(row: Ink, stock: CoreStock, core: CoreInk | None = None) -> dict[str, Any]:
    """An ink on a stock."""
    core = core or core_ink(row)
    return inks_json([row], stock, {row.key: core})[0]


def _json(row: Ink, core: CoreInk, labs: list[Lab]) -> dict[str, Any]:
    return {
        "id": row.pk,
        "revision": seen_at(row),
        "key": row.key,
        **{name: getattr(row, name) for name in OF_INK},
        "dry_minutes": core.chemistry.dry_minutes,
        "cleaning": core.chemistry.cleaning,
        "opaque": core.chemistry.opaque,
        "estimated": core.estimated,
        "remarks": remarks(core),
        "dabs": [colour(lab) for lab in labs],
        "lightness": round(labs[0][0], 2),
        "chroma": round(chroma(labs[0]), 2),
        "hue": round(hue(labs[0]), 2),
        "neutral": sector_of(labs[0]) is None,
    }


def stock_json(row: Stock) -> dict[str, Any]:
    """A stock."""
    return {
        "id": row.pk,
        "revision": seen_at(row),
        "key": row.key,
        **{name: getattr(row, name) for name in OF_STOCK},
        "hex": colour((row.lab[0], row.lab[1], row.lab[2]))["hex"],
    }


def tool_json(row: Tool) -> dict[str, Any]:
    """Brushes of one size."""
    own = {**BRUSHES, **DAUBERS}[row.brush]
    names = ("brush", "count", "line", "family")
    return {
        "id": row.pk,
        "revision": seen_at(row),
        **{name: getattr(row, name) for name in names},
        "label": own.label,
        "diameter": own.diameter,
    }
