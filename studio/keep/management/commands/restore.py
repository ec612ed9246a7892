"""Bring a backup back: ``manage.py restore FILE``."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import connections

from strata.errors import StrataError
from studio.keep import backups, served


class Command(BaseCommand):
    """Everything as it was when a backup was made; what is there now is put aside."""

    help = "Bring a backup back. Stop the server first."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        """Which one."""
        parser.add_argument("file", type=Path)
        parser.add_argument("--over", action="store_true", help="also where what is there is newer")

    def handle(self, *args: Any, **options: Any) -> None:
        """Bring it back."""
        if served.is_served():
            raise CommandError("Anastrata is running on this data. Stop it first, then restore.")
        connections.close_all()
        try:
            aside = backups.restore(options["file"], options["over"])
        except StrataError as error:
            raise CommandError(error.sentence) from error
        call_command("migrate", verbosity=0)
        self.stdout.write(f"Everything is as it was in {options['file'].name}.")
        if aside is not None:
            self.stdout.write(f"What was there before lies in {aside}.")
