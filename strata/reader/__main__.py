"""``python -m strata.reader --memory FILE tile`` or ``... read L a b --times N``: the stand-in as a process."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from strata.errors import StrataError
from strata.optics.colour import checked_lab
from strata.reader.device import Device


def main(arguments: list[str] | None = None) -> int:
    """Answer on standard output; 1 with a sentence on standard error where it cannot."""
    parser = argparse.ArgumentParser(prog="python -m strata.reader", description=__doc__)
    parser.add_argument("--memory", type=Path, required=True, help="file in which it remembers its tile")
    does = parser.add_subparsers(dest="does", required=True)
    does.add_parser("tile", help="read the white tile")
    read = does.add_parser("read", help="read what it stands on")
    read.add_argument("lab", nargs=3, type=float, metavar=("L", "a", "b"))
    read.add_argument("--times", type=int, default=5, choices=range(1, 21), metavar="1..20")
    read.add_argument("--seed", type=int)
    asked = parser.parse_args(arguments)
    device = Device(asked.memory)
    try:
        if asked.does == "tile":
            device.calibrate()
        else:
            sys.stdout.buffer.write(device.read(checked_lab(asked.lab, "lab"), asked.times, asked.seed))
    except (StrataError, OSError) as error:
        print(getattr(error, "sentence", str(error)), file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
