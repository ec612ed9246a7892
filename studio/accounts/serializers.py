"""Accounts as JSON."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from studio.accounts.models import Preference


class SessionSerializer(serializers.Serializer[Any]):
    """Who is here."""

    name = serializers.CharField(allow_null=True)
    units = serializers.ChoiceField(choices=Preference.Units.choices)
    demo = serializers.BooleanField()


class SignInSerializer(serializers.Serializer[Any]):
    """A name and a password."""

    name = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, write_only=True)


class PreferenceSerializer(serializers.ModelSerializer[Preference]):
    """What a maker prefers."""

    class Meta:
        model = Preference
        fields = ("units",)
