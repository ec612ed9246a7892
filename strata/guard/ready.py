"""A process that has its libraries loaded and forks for each reading: loading them takes as long as reading a drawing does."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from itertools import count
from typing import Any

from strata.guard.forks import Forked, Process

COMMAND = (sys.executable, "-m", "strata.guard")
AHEAD = "--ahead"
# it then loads, and forks for each that it is asked for on the socket of the number that follows

_ENDING = 5.0
# seconds; loading ends before
_KEPT_MEMORY = "glibc.malloc.mmap_max=0:glibc.malloc.trim_threshold=4000000000:glibc.malloc.hugetlb=1"
# planes of a large photograph are given back and asked for again and again; the system would clear each anew, page by
# page (GNU C Library manual, Memory Allocation Tunables); other C libraries do not know the setting


def _started(*more: str, stream: int, **how: Any) -> subprocess.Popen[bytes]:
    # one thread of linear algebra: the work is geometry, and starting more takes time
    env = {**os.environ, "OPENBLAS_NUM_THREADS": "1", "GLIBC_TUNABLES": _KEPT_MEMORY}
    return subprocess.Popen([*COMMAND, *more], stdin=stream, stdout=stream, env=env, **how)


class Ready:
    """Children for readings, each used once: of one that is loaded where ``keep`` was called, else started anew."""

    def __init__(self) -> None:
        self._loaded: subprocess.Popen[bytes] | None = None
        self._talk: socket.socket | None = None
        self._numbers = count(1)
        self._lock = threading.Lock()

    def keep(self) -> None:
        """Have one loaded from here on. It ends when this process does, for then nobody is there to ask it."""
        with self._lock:
            if self._talk is None:
                self._load()

    def let_go(self) -> None:
        """Have none any more."""
        with self._lock:
            self._drop()

    @contextmanager
    def taken(self) -> Iterator[Process]:
        """A child for one reading."""
        pipe = subprocess.PIPE
        with self._forked() or _started(stream=pipe, stderr=pipe) as own:
            yield own

    def _forked(self) -> Forked | None:
        with self._lock:
            if self._talk is None:
                return None
            try:
                return Forked(self._talk, next(self._numbers))
            except ConnectionError:
                # something ended it meanwhile, as a machine does that is short of memory
                self._drop()
                self._load()
                return None

    def _load(self) -> None:
        try:
            self._talk, theirs = socket.socketpair(socket.AF_UNIX, socket.SOCK_SEQPACKET)
            with theirs:
                end = theirs.fileno()
                self._loaded = _started(AHEAD, str(end), stream=subprocess.DEVNULL, pass_fds=(end,))
        except OSError:
            # where there is no memory for it, readings start their own
            self._drop()

    def _drop(self) -> None:
        talk, self._talk = self._talk, None
        loaded, self._loaded = self._loaded, None
        if talk is not None:
            talk.close()
        if loaded is None:
            return
        try:
            # it ends what it forked, and then itself
            loaded.wait(_ENDING)
        except subprocess.TimeoutExpired:
            loaded.kill()
            loaded.wait()
