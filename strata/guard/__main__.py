"""The guarded child: on standard input a line that says what to do, then files one after another; JSON lines on
standard output.

They say how far it is, and at the end one answer or one sentence. It does one thing and ends. With ``--ahead`` it loads
what drawings need and forks for each that it is asked for (``strata.guard.forks``): what it forks does one thing and ends.
"""

from __future__ import annotations

import gc
import json
import os
import resource
import socket
import sys

import orjson

from strata.errors import StrataError
from strata.guard.child import READ
from strata.guard.forks import fork_for_each
from strata.guard.ready import AHEAD

READING_SECONDS, PHOTOGRAPH_SECONDS, MOST_SECONDS, LOADING_SECONDS = 5, 40, 60, 2
# of processor: to read a drawing, to read a photograph, to measure and propose as well, and to load libraries before
MEMORY = 3_000_000_000
# bytes of address space; the geometry and picture libraries alone want a gigabyte of it
SMALL = b"""<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="30mm" viewBox="0 0 40 30">
<style>.a { fill: #345 }</style><g id="1"><path class="a" d="M2 2h20c9 0 9 20 0 20H2zm4 4v8h8z"/></g>
<g id="2"><circle cx="20" cy="15" r="6" fill="none" stroke="#800" stroke-dasharray="4 1"/></g></svg>"""
PHOTOGRAPHED = (
    "trace",
    "sheet",
    "sheets",
    "swatch_card",
    "card_photograph",
    "photographs",
    "panel_photograph",
)


def _limit(task: str, loading: float) -> None:
    """``loading``: seconds that libraries may take first, where they are not loaded yet; no file is refused for them."""
    _end_after(loading + (PHOTOGRAPH_SECONDS if task in PHOTOGRAPHED else READING_SECONDS))
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))


def _end_after(seconds: float) -> None:
    """So many seconds of processor in all; past them the system ends this process (SIGXCPU)."""
    hard = resource.getrlimit(resource.RLIMIT_CPU)[1]
    soft = int(seconds) + 1
    resource.setrlimit(resource.RLIMIT_CPU, (soft if hard < 0 else min(soft, hard), hard))


def _load() -> None:
    """Read a small drawing: what drawings need is loaded then; and what photographs need, without reading any."""
    from strata.guard.tasks import TASKS

    TASKS["set"]([SMALL], {"name": "Ahead"}, lambda share, doing: None)
    import cv2  # noqa: F401

    # shared by all that it forks as long as nobody looks whether it is rubbish
    gc.collect()
    gc.freeze()


def _say(share: float, doing: str) -> None:
    if doing == READ:
        used = resource.getrusage(resource.RUSAGE_SELF)
        _end_after(used.ru_utime + used.ru_stime + MOST_SECONDS)
    print(json.dumps({"share": share, "doing": doing}), flush=True)


def main() -> None:
    """Read, answer, end. An error that nobody expected ends it with its trace on standard error."""
    ahead = AHEAD in sys.argv
    if ahead:
        _load()
        if not fork_for_each(socket.socket(fileno=int(sys.argv[-1]))):
            # who started it has ended
            return
    line = sys.stdin.buffer.readline()
    if not line:
        return
    asked = orjson.loads(line)
    _limit(asked["task"], 0 if ahead else LOADING_SECONDS)
    files = [sys.stdin.buffer.read(size) for size in asked["sizes"]]
    try:
        from strata.guard.tasks import TASKS

        last = {"answer": TASKS[asked["task"]](files, asked["options"], _say)}
    except StrataError as error:
        last = {"code": error.code, "sentence": error.sentence, "field": error.field}
    except (RecursionError, MemoryError):
        last = {
            "code": "too_large",
            "sentence": "This file is too deep or too large to read.",
            "field": "file",
        }
    sys.stdout.buffer.write(orjson.dumps(last, option=orjson.OPT_NON_STR_KEYS) + b"\n")


if __name__ == "__main__":
    main()
    # all is said: taking down what was built up takes as long as half a drawing
    sys.stdout.flush()
    os._exit(0)
