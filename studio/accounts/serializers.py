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
    owner = serializers.BooleanField(help_text="who runs the house")
    joining = serializers.ChoiceField(
        choices=("first", "open", "invited"),
        help_text="how an account is made: the first one, by anybody, by invitation",
    )


class SignInSerializer(serializers.Serializer[Any]):
    """A name and a password."""

    name = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, write_only=True)


class JoinSerializer(SignInSerializer):
    """The same, with the token of an invitation where one is needed."""

    token = serializers.CharField(max_length=100, allow_blank=True, default="")


class PreferenceSerializer(serializers.ModelSerializer[Preference]):
    """What a maker prefers."""

    class Meta:
        model = Preference
        fields = ("units",)
