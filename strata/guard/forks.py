"""A process that forks for each reading, and its children as their parent's parent sees them.

One line of talk: a socket that keeps messages apart. ``fork n`` comes with the four ends of pipes that child ``n`` is to
have: its standard input, output and error, and one on which is said how it ended. ``kill n`` ends it: by its number, for
the system gives the number of a process that has ended to another one.
"""

from __future__ import annotations

import os
import select
import signal
import socket
import subprocess
from contextlib import suppress
from types import TracebackType
from typing import IO, Protocol

_LONGEST = 64
# bytes of a message
_ENDS = 4


class Process(Protocol):
    """A child that reads: of ``subprocess.Popen`` what whoever follows one uses."""

    stdin: IO[bytes] | None
    stdout: IO[bytes] | None
    stderr: IO[bytes] | None

    def kill(self) -> None:
        """End it at once; nothing where it has ended."""

    def wait(self, timeout: float | None = None) -> int:
        """How it ended, a signal as a negative number; raises subprocess.TimeoutExpired."""


class Forked:
    """A child of a process that forks. Raises ConnectionError where that process has ended, OSError where no pipe is to be had."""

    def __init__(self, talk: socket.socket, number: int) -> None:
        self._talk, self.number = talk, number
        self._how: int | None = None
        theirs, ours = _pipes(True, False, False, False)
        self.stdin: IO[bytes] | None = os.fdopen(ours[0], "wb")
        self.stdout: IO[bytes] | None = os.fdopen(ours[1], "rb")
        self.stderr: IO[bytes] | None = os.fdopen(ours[2], "rb")
        self._ended = os.fdopen(ours[3], "rb")
        try:
            socket.send_fds(talk, [f"fork {number}".encode()], theirs)
        except OSError:
            self._close()
            raise
        finally:
            for end in theirs:
                os.close(end)

    def kill(self) -> None:
        if self._how is None:
            with suppress(OSError):
                self._talk.send(f"kill {self.number}".encode())

    def wait(self, timeout: float | None = None) -> int:
        if self._how is None:
            if not select.select([self._ended], [], [], timeout)[0]:
                raise subprocess.TimeoutExpired("a forked child", timeout or 0)
            # nothing is said where the process that forks was killed itself
            self._how = int(self._ended.read() or -signal.SIGKILL)
        return self._how

    def _close(self) -> None:
        for file in (self.stdin, self.stdout, self.stderr, self._ended):
            with suppress(OSError):
                if file is not None:
                    file.close()

    def __enter__(self) -> Forked:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.kill()
        self.wait()
        self._close()


def _pipes(*to_child: bool) -> tuple[list[int], list[int]]:
    """The child's ends and ours; all of them or none."""
    theirs: list[int] = []
    ours: list[int] = []
    try:
        for reads in to_child:
            read, write = os.pipe()
            theirs.append(read if reads else write)
            ours.append(write if reads else read)
    except OSError:
        for end in (*theirs, *ours):
            os.close(end)
        raise
    return theirs, ours


def fork_for_each(talk: socket.socket) -> bool:
    """Fork for each that is asked for. True in each child, False here once nobody is there to ask.

    For a process of one thread that has read nothing of its standard input.
    """
    # who asks is told to end as well, and this one ends with it
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    children: dict[int, tuple[int, int]] = {}
    # by the number of the process: its own, and where its end is said
    woken = _woken_by_ends()
    while True:
        ready, _, _ = select.select([talk.fileno(), woken], [], [])
        if woken in ready:
            os.read(woken, 4096)
            _say_ends(children)
        if talk.fileno() not in ready:
            continue
        said, ends, _, _ = socket.recv_fds(talk, _LONGEST, _ENDS)
        if not said:
            _kill(list(children))
            return False
        what, number = said.decode().split()
        if what == "kill":
            _kill([pid for pid, (own, _) in children.items() if own == int(number)])
            continue
        child = _forked()
        if child == 0:
            _take_on(ends, [talk.detach(), woken, *(end for _, end in children.values())])
            return True
        for end in ends[:3] if child else ends:
            os.close(end)
        if child:
            children[child] = int(number), ends[3]


def _forked() -> int | None:
    """As ``os.fork``; None where the system has no room for another process: its parent finds its pipes closed."""
    try:
        return os.fork()
    except OSError:
        return None


def _woken_by_ends() -> int:
    """What can be read from once a child has ended."""
    read, write = os.pipe()
    os.set_blocking(write, False)
    signal.set_wakeup_fd(write, warn_on_full_buffer=False)
    signal.signal(signal.SIGCHLD, lambda number, frame: None)
    return read


def _say_ends(children: dict[int, tuple[int, int]]) -> None:
    with suppress(ChildProcessError):
        while (ended := os.waitpid(-1, os.WNOHANG))[0]:
            _, end = children.pop(ended[0])
            with suppress(OSError):
                # who asked may have ended
                os.write(end, str(os.waitstatus_to_exitcode(ended[1])).encode())
            os.close(end)


def _kill(children: list[int]) -> None:
    # none of them was waited for yet: their numbers are theirs
    for pid in children:
        os.kill(pid, signal.SIGKILL)


def _take_on(ends: list[int], close: list[int]) -> None:
    """In the child: its own standard streams, and nothing of anybody else's."""
    close.append(signal.set_wakeup_fd(-1))
    signal.signal(signal.SIGCHLD, signal.SIG_DFL)
    for stream, end in enumerate(ends[:3]):
        os.dup2(end, stream)
    for end in {*ends, *close} - {0, 1, 2}:
        os.close(end)
