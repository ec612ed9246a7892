"""The photographs of the demo log: what the simulated camera takes of its cards as one hidden maker made them.

Run once the demo world is there: ANASTRATA_DATA=... python tools/photograph_log.py
"""

from __future__ import annotations

import os
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")


def main() -> None:
    """Photograph every card of the demo log anew."""
    import django

    django.setup()
    from django.utils.text import slugify

    from studio.bench.management.commands.seed_log import MADE, PHOTOGRAPHS, _card
    from studio.bench.models import Record
    from studio.bench.photographs import taken, view_of

    PHOTOGRAPHS.mkdir(parents=True, exist_ok=True)
    for number, made in enumerate(MADE, 1):
        row = Record.objects.select_related("owner", "build").filter(name=made.build).first()
        if row is not None:
            data = taken(row, view_of(row), number, _card(row.owner, made.on))
            (PHOTOGRAPHS / f"{slugify(made.build)}.jpg").write_bytes(data)


if __name__ == "__main__":
    main()
