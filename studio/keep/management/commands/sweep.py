"""Let go of what nobody will ask for again: ``manage.py sweep``, every night with the backup."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from studio.keep.sweeping import sweep


class Command(BaseCommand):
    """Sessions that ended, old work, sets that were never kept, archives that lay long enough."""

    help = "Let go of sessions that ended, old work, sets that were never kept, archives that were fetched."

    def handle(self, *args: Any, **options: Any) -> None:
        """Sweep."""
        found = {what: count for what, count in sweep().items() if count}
        said = ", ".join(f"{count} {what}" for what, count in found.items()) or "nothing"
        self.stdout.write(f"Let go of: {said}.")
