"""Whether a server has the data folder: a lock that it holds as long as it lives, whatever ends it."""

from __future__ import annotations

from pathlib import Path
from typing import IO

from django.conf import settings

from strata.guard import held

_held: list[IO[str]] = []


def _lock() -> Path:
    return Path(settings.DATA_DIR) / "serving.lock"


def hold() -> bool:
    """Take the lock for this process's life."""
    # whoever asks whether it is held holds it for a moment
    file = held.hold(_lock(), shared=True, wait=True)
    if file is not None:
        _held.append(file)
    return file is not None


def is_served() -> bool:
    """Whether some server has it now."""
    return held.is_held(_lock())
