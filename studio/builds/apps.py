"""The builds app."""

from __future__ import annotations

from django.apps import AppConfig


class BuildsConfig(AppConfig):
    """Colourings of sets on panels."""

    name = "studio.builds"
