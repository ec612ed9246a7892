"""Inks and stocks as JSON."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from strata.optics.colour import chroma, hue
from strata.optics.inks import Ink as CoreInk
from strata.optics.stack import Coat, predict
from strata.optics.stack import Stock as CoreStock
from studio.colours import ColourSerializer, colour
from studio.inks.models import Ink, Stock
from studio.inks.services import core_ink


def _triple() -> serializers.ListField:
    return serializers.ListField(child=serializers.FloatField(), min_length=3, max_length=3)


class OnSerializer(serializers.Serializer[Any]):
    """A card's colour."""

    lab = _triple()


class SwatchSerializer(serializers.Serializer[Any]):
    """A measured swatch."""

    on = OnSerializer()
    coats = serializers.FloatField()
    lab = _triple()


class InkSerializer(serializers.Serializer[Any]):
    """An ink with its dabs of 1, 2 and 3 coats on the stock asked for."""

    id = serializers.IntegerField()
    key = serializers.CharField()
    name = serializers.CharField()
    line = serializers.CharField()
    family = serializers.CharField()
    depth = serializers.IntegerField()
    character = serializers.CharField()
    chemistry = serializers.CharField()
    opaque = serializers.BooleanField()
    estimated = serializers.BooleanField()
    swatches = SwatchSerializer(many=True)
    dabs = ColourSerializer(many=True)
    lightness = serializers.FloatField()
    chroma = serializers.FloatField()
    hue = serializers.FloatField()


class NewInkSerializer(serializers.Serializer[Any]):
    """What a maker gives for a pad."""

    name = serializers.CharField(max_length=200)
    line = serializers.CharField(max_length=200, required=False, allow_blank=True)
    family = serializers.CharField(max_length=200, required=False, allow_blank=True)
    depth = serializers.IntegerField(min_value=0, max_value=20, required=False)
    character = serializers.ChoiceField(choices=["vivid", "muted"], required=False)
    chemistry = serializers.CharField()
    swatches = SwatchSerializer(many=True)


class StockSerializer(serializers.Serializer[Any]):
    """A card stock."""

    id = serializers.IntegerField(read_only=True)
    key = serializers.CharField(read_only=True)
    name = serializers.CharField(max_length=200)
    lab = _triple()
    weight_gsm = serializers.FloatField(required=False)
    thickness_mm = serializers.FloatField(required=False)
    hex = serializers.CharField(read_only=True)


class TakenInSerializer(serializers.Serializer[Any]):
    """What a drawer file brought."""

    inks = serializers.IntegerField()
    stocks = serializers.IntegerField()


def ink_json(row: Ink, stock: CoreStock, core: CoreInk | None = None) -> dict[str, Any]:
    """An ink on a stock."""
    core = core or core_ink(row)
    dabs = [predict(stock, [Coat(core, n)]) for n in (1, 2, 3)]
    return {
        "id": row.pk,
        "key": row.key,
        "name": row.name,
        "line": row.line,
        "family": row.family,
        "depth": row.depth,
        "character": row.character,
        "chemistry": row.chemistry,
        "opaque": core.chemistry.opaque,
        "estimated": core.estimated,
        "swatches": row.swatches,
        "dabs": [colour(d) for d in dabs],
        "lightness": round(dabs[0][0], 2),
        "chroma": round(chroma(dabs[0]), 2),
        "hue": round(hue(dabs[0]), 2),
    }


def stock_json(row: Stock) -> dict[str, Any]:
    """A stock."""
    return {
        "id": row.pk,
        "key": row.key,
        "name": row.name,
        "lab": row.lab,
        "weight_gsm": row.weight_gsm,
        "thickness_mm": row.thickness_mm,
        "hex": colour(tuple(row.lab))["hex"],
    }
