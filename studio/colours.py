"""A colour as the interface gets it: measured, and as near as a screen can show it."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from strata.optics.colour import Lab, hex_of


class ColourSerializer(serializers.Serializer[Any]):
    """CIELAB D50 with its sRGB code."""

    lab = serializers.ListField(child=serializers.FloatField(), min_length=3, max_length=3)
    hex = serializers.CharField()
    in_gamut = serializers.BooleanField()


def colour(lab: Lab) -> dict[str, Any]:
    """The JSON of a colour."""
    code, in_gamut = hex_of(lab)
    return {"lab": [round(v, 2) for v in lab], "hex": code, "in_gamut": in_gamut}
