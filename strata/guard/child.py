"""A guarded child as its parent sees it: started when there is room, followed, stopped, its end told in a sentence.

``python -m strata.guard`` is that child (``strata.guard.__main__``): it is told its task on the first line of its
standard input, so that it can be forked of one that has its libraries loaded (``strata.guard.ready``).
Its limit is processor time: ten readings at once take longer by the clock, and
none of them is the worse for it.
"""

from __future__ import annotations

import json
import logging
import os
import signal
import subprocess
import tempfile
import threading
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path
from typing import IO, Any

import orjson

from strata.errors import BadFile, BadValue, Broken, NotTheSame, StrataError, TooLarge, UnknownName
from strata.guard.forks import Process
from strata.guard.held import Room
from strata.guard.ready import Ready
from strata.progress import Progress, quiet

log = logging.getLogger("strata.guard")
MOST_AT_ONCE = 2
# children of all processes together; each may take a core and some hundred megabytes, one that measures a set both cores
LONGEST = 900.0
# seconds by the clock: a child that neither computes nor answers is ended
WAITING = "Waiting its turn"
READ = "read"
# the child says this when the untrusted part is behind it
_OF_FILE = ("file", "read", "simplify it")
_OF_OURS = {
    "measures": ("set", "measure", "part it into several"),
    "order": ("card", "put in order", "plan fewer passes"),
}
# what was too large, to do what, and what helps: by the task, where it is not a file that is read
_MOST_TRACE = 16_000
# characters of a child's complaint that are kept
ROOM = Room(Path(tempfile.gettempdir()) / f"strata-readers-{os.getpid()}", MOST_AT_ONCE)
# of this process alone, until who serves says otherwise
READY = Ready()


@dataclass
class Child:
    """One reading, waiting or under way. ``stop`` ends it from another thread; ``later``: nobody waits for it."""

    task: str
    options: dict[str, Any]
    files: Sequence[bytes]
    progress: Progress = quiet
    later: bool = False
    stopped: bool = False
    _process: Process | None = field(default=None, repr=False)
    _late: bool = False

    def stop(self) -> None:
        """End the reading; ``run`` then raises BadFile."""
        self.stopped = True
        if self._process is not None:
            self._process.kill()

    def _expire(self) -> None:
        self._late = True
        if self._process is not None:
            self._process.kill()

    def run(self) -> Any:
        """The answer of the child; raises a StrataError in every other case."""
        with ROOM.taken(self._wait, self.later):
            return self._run()

    def _wait(self) -> None:
        if self.stopped:
            raise BadFile("Stopped.", "file")
        self.progress(0.0, WAITING)

    def _run(self) -> Any:
        trace: list[str] = []
        with READY.taken() as process:
            self._process = process
            if self.stopped:
                process.kill()
            helpers = [
                threading.Thread(target=self._feed, args=(process.stdin,), daemon=True),
                threading.Thread(target=_collect, args=(process.stderr, trace), daemon=True),
            ]
            for helper in helpers:
                helper.start()
            try:
                last = self._follow(process)
                ended = process.wait(timeout=10)
            except subprocess.TimeoutExpired:
                ended = -signal.SIGKILL
            finally:
                process.kill()
                for helper in helpers:
                    helper.join()
        return self._answer(last, ended, "".join(trace))

    def _feed(self, sink: IO[bytes] | None) -> None:
        assert sink is not None  # noqa: S101 - it was asked for as a pipe
        asked = {"task": self.task, "options": self.options, "sizes": [len(f) for f in self.files]}
        # the child may end before it has read all
        with suppress(OSError):
            sink.write(json.dumps(asked).encode() + b"\n")
            for data in self.files:
                sink.write(data)
        # what it has not read is given up here: whoever closes it next would take that for a fault of the disk
        with suppress(OSError):
            sink.close()

    def _follow(self, process: Process) -> dict[str, Any] | None:
        assert process.stdout is not None  # noqa: S101 - it was asked for as a pipe
        timer = threading.Timer(LONGEST, self._expire)
        timer.start()
        last: dict[str, Any] | None = None
        try:
            for line in process.stdout:
                try:
                    last = orjson.loads(line)
                except json.JSONDecodeError:
                    return None
                if last is not None and "doing" in last and last["doing"] != READ:
                    self.progress(float(last["share"]), str(last["doing"]))
        finally:
            timer.cancel()
        return last

    def _answer(self, last: dict[str, Any] | None, ended: int, trace: str) -> Any:
        if self.stopped:
            raise BadFile("Stopped.", "file")
        if last is not None and "answer" in last:
            return last["answer"]
        if last is not None and "sentence" in last:
            known = {kind.code: kind for kind in (BadValue, NotTheSame, TooLarge, UnknownName)}
            raise known.get(last["code"], BadFile)(last["sentence"], last["field"])
        what, done, helps = _OF_OURS.get(self.task, _OF_FILE)
        if self._late or ended == -signal.SIGXCPU:
            raise TooLarge(f"This {what} takes too long to {done}; {helps} and try again.", "file")
        log.error("reading (%s) ended with %s: %s", self.task, ended, trace or "it said nothing")
        if ended in (-signal.SIGKILL, -signal.SIGABRT, -signal.SIGSEGV, -signal.SIGBUS):
            # what a library does that is refused memory
            raise TooLarge(
                f"This {what} needs more memory to {done} than it may have; {helps} and try again.", "file"
            )
        raise Broken(f"Something went wrong on our side with this {what}. It has been written down.", trace)


def _collect(source: IO[bytes] | None, into: list[str]) -> None:
    """The last of what the child complains of."""
    assert source is not None  # noqa: S101 - it was asked for as a pipe
    kept = b""
    for line in source:
        kept = (kept + line)[-_MOST_TRACE:]
    into.append(kept.decode(errors="replace"))


def run_guarded(task: str, files: Sequence[bytes], options: dict[str, Any] | None = None) -> Any:
    """One task of strata.guard.tasks on untrusted files; raises a StrataError where it refuses."""
    return Child(task, options or {}, files).run()


__all__ = ["READ", "Child", "StrataError", "run_guarded"]
