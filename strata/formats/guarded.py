"""Untrusted files are read in a child process with limits on time, memory and processor.

``python -m strata.formats.guarded TASK OPTIONS`` is that child: the files on
standard input one after another, JSON lines on standard output: how far it
is, and at the end one answer or one sentence.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import IO, Any

from strata.errors import BadFile, BadValue, StrataError, TooLarge, UnknownName

READING_SECONDS, PHOTOGRAPH_SECONDS, MOST_SECONDS = 8.0, 40.0, 60.0
# to read a drawing, to read a photograph, and to measure and propose as well
MEMORY = 3_000_000_000
# bytes of address space; the geometry and picture libraries alone want a gigabyte of it
READ = "read"
# the child says this when the untrusted part is behind it
PHOTOGRAPHED = ("trace", "sheet", "sheets", "swatch_card", "card_photograph")

Progress = Callable[[float, str], None]


def _quiet(share: float, doing: str) -> None:
    del share, doing


@dataclass
class Child:
    """One reading under way. ``stop`` ends it from another thread."""

    task: str
    options: dict[str, Any]
    files: Sequence[bytes]
    progress: Progress = _quiet
    stopped: bool = False
    _process: subprocess.Popen[bytes] | None = field(default=None, repr=False)
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
        options = {**self.options, "sizes": [len(f) for f in self.files]}
        command = [sys.executable, "-m", "strata.formats.guarded", self.task, json.dumps(options)]
        pipe = subprocess.PIPE
        # one thread of linear algebra: the work is geometry, and starting more takes time
        env = {**os.environ, "OPENBLAS_NUM_THREADS": "1"}
        with subprocess.Popen(
            command, stdin=pipe, stdout=pipe, stderr=subprocess.DEVNULL, env=env
        ) as process:
            self._process = process
            if self.stopped:
                process.kill()
            feeder = threading.Thread(target=self._feed, args=(process.stdin,), daemon=True)
            feeder.start()
            try:
                last = self._follow(process)
            finally:
                process.kill()
                feeder.join()
        return self._answer(last)

    def _feed(self, sink: IO[bytes] | None) -> None:
        assert sink is not None  # noqa: S101 - it was asked for as a pipe
        try:
            for data in self.files:
                sink.write(data)
            sink.close()
        except OSError:
            return  # the child ended before it had read all

    def _follow(self, process: subprocess.Popen[bytes]) -> dict[str, Any] | None:
        assert process.stdout is not None  # noqa: S101 - it was asked for as a pipe
        timer = threading.Timer(
            PHOTOGRAPH_SECONDS if self.task in PHOTOGRAPHED else READING_SECONDS, self._expire
        )
        timer.start()
        last: dict[str, Any] | None = None
        try:
            for line in process.stdout:
                try:
                    last = json.loads(line)
                except json.JSONDecodeError:
                    return None
                if last is not None and "doing" in last:
                    if last["doing"] == READ:
                        timer.cancel()
                        timer = threading.Timer(MOST_SECONDS, self._expire)
                        timer.start()
                    else:
                        self.progress(float(last["share"]), str(last["doing"]))
        finally:
            timer.cancel()
        return last

    def _answer(self, last: dict[str, Any] | None) -> Any:
        if self.stopped:
            raise BadFile("Stopped.", "file")
        if last is not None and "answer" in last:
            return last["answer"]
        if last is not None and "sentence" in last:
            known = {kind.code: kind for kind in (BadValue, TooLarge, UnknownName)}
            raise known.get(last["code"], BadFile)(last["sentence"], last["field"])
        if self._late:
            raise TooLarge("This file takes too long to read; simplify it and try again.", "file")
        raise BadFile(
            "This file could not be read: it needs more memory than it may have, or it is damaged.", "file"
        )


def run_guarded(task: str, files: Sequence[bytes], options: dict[str, Any] | None = None) -> Any:
    """One task of strata.formats.tasks on untrusted files; raises a StrataError where it refuses."""
    return Child(task, options or {}, files).run()


def _limit() -> None:
    import resource

    resource.setrlimit(resource.RLIMIT_CPU, (int(2 * MOST_SECONDS), int(2 * MOST_SECONDS)))
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))


def _say(share: float, doing: str) -> None:
    print(json.dumps({"share": share, "doing": doing}), flush=True)


def main() -> None:
    """Read, answer, end."""
    _limit()
    task, options = sys.argv[1], json.loads(sys.argv[2])
    files = [sys.stdin.buffer.read(size) for size in options.pop("sizes")]
    try:
        from strata.formats.tasks import TASKS

        last: dict[str, Any] = {"answer": TASKS[task](files, options, _say)}
    except StrataError as error:
        last = {"code": error.code, "sentence": error.sentence, "field": error.field}
    except (RecursionError, MemoryError):
        last = {
            "code": "too_large",
            "sentence": "This file is too deep or too large to read.",
            "field": "file",
        }
    print(json.dumps(last), flush=True)


if __name__ == "__main__":
    main()
