"""Whether a server has the data folder: a lock that it holds as long as it lives, whatever ends it."""

from __future__ import annotations

import fcntl
from pathlib import Path
from typing import IO

from django.conf import settings

_held: list[IO[str]] = []


def _lock() -> Path:
    return Path(settings.DATA_DIR) / "serving.lock"


def hold() -> bool:
    """Take the lock for this process's life; False where another server has it."""
    file = _lock().open("a")
    try:
        fcntl.flock(file, fcntl.LOCK_SH | fcntl.LOCK_NB)
    except OSError:
        file.close()
        return False
    _held.append(file)
    return True


def is_served() -> bool:
    """Whether some server has it now."""
    with _lock().open("a") as file:
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            return True
    return False
