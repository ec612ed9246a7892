"""Untrusted drawings are read in a child process with limits on time, memory and processor.

``python -m strata.formats.guarded`` is that child: a drawing on standard
input, one JSON answer on standard output.
"""

from __future__ import annotations

import json
import subprocess
import sys
from typing import Any

from strata.errors import BadFile, BadValue, StrataError, TooLarge
from strata.sheets.model import LayerSet

SECONDS = 15
MEMORY = 2_000_000_000
# bytes of address space; shapely and numpy alone want half a gigabyte of it


def read_guarded(
    data: bytes, name: str, kind: str, width_mm: float | None
) -> tuple[LayerSet, tuple[str, ...]]:
    """The set in a drawing and what was left out; raises a StrataError in every other case."""
    from strata.formats.set_file import read_set
    from strata.formats.svg_set import MOST_BYTES

    if len(data) > MOST_BYTES:
        raise TooLarge("This drawing is over 8 MB; save it without embedded pictures.", "file")
    options = json.dumps({"name": name, "kind": kind, "width_mm": width_mm})
    command = [sys.executable, "-m", "strata.formats.guarded", options]
    try:
        done = subprocess.run(command, input=data, capture_output=True, timeout=SECONDS, check=False)
    except subprocess.TimeoutExpired as error:
        raise TooLarge("This drawing takes too long to read; simplify it and try again.", "file") from error
    try:
        answer = json.loads(done.stdout)
    except json.JSONDecodeError as error:
        raise BadFile("This drawing could not be read.", "file") from error
    if "sentence" in answer:
        known = {"bad_value": BadValue, "too_large": TooLarge}
        raise known.get(answer["code"], BadFile)(answer["sentence"], answer["field"])
    return read_set(answer["set"]), tuple(answer["left_out"])


def _limit() -> None:
    import resource

    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))


def main() -> None:
    """Read, answer, end."""
    _limit()
    options: dict[str, Any] = json.loads(sys.argv[1])
    from strata.formats.set_file import write_set
    from strata.formats.svg_set import read

    try:
        found = read(sys.stdin.buffer.read(), options["name"], options["kind"], options["width_mm"])
        answer: dict[str, Any] = {"set": write_set(found.layer_set), "left_out": found.left_out}
    except StrataError as error:
        answer = {"code": error.code, "sentence": error.sentence, "field": error.field}
    except (RecursionError, MemoryError):
        answer = {
            "code": "too_large",
            "sentence": "This drawing is too deep or too large to read.",
            "field": "file",
        }
    json.dump(answer, sys.stdout)


if __name__ == "__main__":
    main()
