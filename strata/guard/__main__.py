"""The guarded child: files on standard input one after another, JSON lines on standard output.

They say how far it is, and at the end one answer or one sentence.
"""

from __future__ import annotations

import json
import resource
import sys

from strata.errors import StrataError
from strata.guard.child import READ

READING_SECONDS, PHOTOGRAPH_SECONDS, MOST_SECONDS = 6, 40, 60
# of processor: to read a drawing, to read a photograph, and to measure and propose as well
MEMORY = 3_000_000_000
# bytes of address space; the geometry and picture libraries alone want a gigabyte of it
PHOTOGRAPHED = (
    "trace",
    "sheet",
    "sheets",
    "swatch_card",
    "card_photograph",
    "photographs",
    "panel_photograph",
)


def _limit(task: str) -> None:
    _allow(PHOTOGRAPH_SECONDS if task in PHOTOGRAPHED else READING_SECONDS)
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))


def _allow(seconds: int) -> None:
    """So many more seconds of processor from here on; past them the system ends this process (SIGXCPU)."""
    used = resource.getrusage(resource.RUSAGE_SELF)
    hard = resource.getrlimit(resource.RLIMIT_CPU)[1]
    soft = int(used.ru_utime + used.ru_stime) + seconds + 1
    resource.setrlimit(resource.RLIMIT_CPU, (soft if hard < 0 else min(soft, hard), hard))


def _say(share: float, doing: str) -> None:
    if doing == READ:
        _allow(MOST_SECONDS)
    print(json.dumps({"share": share, "doing": doing}), flush=True)


def main() -> None:
    """Read, answer, end. An error that nobody expected ends it with its trace on standard error."""
    task, options = sys.argv[1], json.loads(sys.argv[2])
    _limit(task)
    files = [sys.stdin.buffer.read(size) for size in options.pop("sizes")]
    try:
        from strata.guard.tasks import TASKS

        last = {"answer": TASKS[task](files, options, _say)}
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
