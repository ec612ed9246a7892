"""A child that has its libraries loaded and waits for a reading: loading them takes as long as reading a drawing does."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager, suppress

COMMAND = (sys.executable, "-m", "strata.guard")
AHEAD = "--ahead"
# the child then loads before it is told what to do
_REST = 0.7
# seconds after a reading until the next child is got ready: what was read is to be seen first


def _started(*more: str) -> subprocess.Popen[bytes]:
    pipe = subprocess.PIPE
    # one thread of linear algebra: the work is geometry, and starting more takes time
    env = {**os.environ, "OPENBLAS_NUM_THREADS": "1"}
    return subprocess.Popen([*COMMAND, *more], stdin=pipe, stdout=pipe, stderr=pipe, env=env)


class Ready:
    """Children for readings, each used once: one that waits where ``keep`` was called, else a new one."""

    def __init__(self) -> None:
        self._kept = False
        self._waiting: subprocess.Popen[bytes] | None = None
        self._lock = threading.Lock()

    def keep(self) -> None:
        """Have one wait from here on. It ends when this process does, for then its input ends."""
        self._kept = True
        self._fill()

    def let_go(self) -> None:
        """Have none wait any more."""
        with self._lock:
            self._kept, waiting, self._waiting = False, self._waiting, None
        if waiting is not None:
            waiting.kill()
            waiting.communicate()

    @contextmanager
    def taken(self) -> Iterator[subprocess.Popen[bytes]]:
        """A child for one reading."""
        with self._lock:
            process, self._waiting = self._waiting, None
        if process is not None and process.poll() is not None:
            # something ended it meanwhile, as a machine does that is short of memory
            process.communicate()
            process = None
        try:
            with process or _started() as own:
                yield own
        finally:
            if self._kept:
                again = threading.Timer(_REST, self._fill)
                again.daemon = True
                again.start()

    def _fill(self) -> None:
        with self._lock:
            if self._kept and self._waiting is None:
                # where there is no memory for one that waits, readings start their own
                with suppress(OSError):
                    self._waiting = _started(AHEAD)
