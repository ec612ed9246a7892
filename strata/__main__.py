"""The core on the command line: ``python -m strata predict FILE.json``."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from strata.errors import StrataError
from strata.formats import prediction


def _read(name: str) -> bytes:
    return sys.stdin.buffer.read() if name == "-" else Path(name).read_bytes()


def main(arguments: list[str] | None = None) -> int:
    """Run one command; 0 when answered, 2 with one line on stderr for bad input."""
    parser = argparse.ArgumentParser(prog="python -m strata", description=__doc__)
    commands = parser.add_subparsers(dest="command", required=True)
    predict = commands.add_parser("predict", help="the colour of ink on ink on card")
    predict.add_argument("file", help="a JSON file, or - for standard input")
    options = parser.parse_args(arguments)
    try:
        answer = prediction.answer(_read(options.file))
    except StrataError as error:
        print(" ".join(error.sentence.split()), file=sys.stderr)
        return 2
    except OSError as error:
        print(f"{options.file} cannot be read: {error.strerror}.", file=sys.stderr)
        return 2
    print(json.dumps(answer, ensure_ascii=False))
    return 0


if __name__ == "__main__":
    sys.exit(main())
