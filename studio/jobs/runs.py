"""The runs of the server, each a process with a name, and whether it is still at work: told by a lock that no kill leaves behind."""

from __future__ import annotations

import os
import time
import uuid
from pathlib import Path
from threading import Lock
from typing import IO

from django.conf import settings

from strata.guard import held

_LOCK = Lock()
_OURS: dict[int, tuple[str, IO[str] | None]] = {}
# by process: who is forked is another
OLD = 24 * 3600.0
# seconds after which the file of a run that has ended is swept


def _file(name: str) -> Path:
    return Path(settings.RUNS_DIR) / name


def ours() -> str:
    """The name of this process's run; held from when it is first asked for."""
    with _LOCK:
        known = _OURS.get(os.getpid())
        if known is None:
            name = uuid.uuid4().hex
            settings.RUNS_DIR.mkdir(parents=True, exist_ok=True)
            # whoever asks whether it is held holds it for a moment
            known = _OURS[os.getpid()] = name, held.hold(_file(name), wait=True)
        return known[0]


def at_work(name: str) -> bool:
    """Whether the run of that name is still at work."""
    return bool(name) and held.is_held(_file(name))


def sweep() -> None:
    """The files of runs that ended long ago."""
    ours()
    for file in Path(settings.RUNS_DIR).iterdir():
        if time.time() - file.stat().st_mtime > OLD and not held.is_held(file):
            file.unlink(missing_ok=True)
