"""Jobs as JSON."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from studio.jobs.models import Job


class JobSerializer(serializers.Serializer[Any]):
    """Work in the background: how far it is, and why it ended."""

    state = serializers.ChoiceField(choices=Job.STATES)
    share = serializers.FloatField()
    doing = serializers.CharField()
    sentence = serializers.CharField()
    field = serializers.CharField(help_text="what is at fault, or the reason's short name")
