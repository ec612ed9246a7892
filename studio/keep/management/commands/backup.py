"""Back everything up while it runs: ``manage.py backup``."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from strata.errors import StrataError
from studio.keep import backups


class Command(BaseCommand):
    """A backup, checked by opening it; older ones are thinned out."""

    help = "Back everything up while it runs; ANASTRATA_BACKUPS says where."

    def add_arguments(self, parser: CommandParser) -> None:
        """Where to, and how many stay."""
        parser.add_argument("--to", type=Path, help="folder (as ANASTRATA_BACKUPS says)")
        parser.add_argument("--keep", type=int, default=14, help="how many stay whatever their age (14)")
        parser.add_argument("--days", type=int, default=60, help="how old others may get (60)")

    def handle(self, *args: Any, **options: Any) -> None:
        """Make one."""
        try:
            made = backups.make(options["to"])
        except (StrataError, OSError) as error:
            raise CommandError(f"No backup was made: {error}") from error
        gone = backups.thin_out(options["keep"], options["days"], options["to"])
        self.stdout.write(f"Backed up to {made.path} ({made.size / 1e6:.1f} MB), and opened to check it.")
        if gone:
            self.stdout.write(f"{len(gone)} old backups were let go.")
