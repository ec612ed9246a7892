"""The core on the command line.

``python -m strata predict FILE.json``: the colour of ink on ink on card.
``python -m strata recipe FILE.json``: the pads that come nearest to a wanted colour.
``python -m strata order FILE.json``: the order of work for a build, with the facts to judge it by.
``python -m strata making FILE.json``: what is on the cards after what happened at the table, and the rest of the work.
``python -m strata finish FILE.json``: what a card is cut from, laid on sheets of stock, how thick and heavy it gets.
``python -m strata measure FILE.svg``: the sheets of a drawing and what is on them.
``python -m strata trace PHOTO``: the openings of one photographed sheet.
"""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import Any

from strata.errors import BadValue, StrataError, finite


def _read(name: str) -> bytes:
    return sys.stdin.buffer.read() if name == "-" else Path(name).read_bytes()


def _predict(options: argparse.Namespace) -> Any:
    from strata.answers import prediction

    return prediction.answer(_read(options.file))


def _recipe(options: argparse.Namespace) -> Any:
    from strata.answers import recipe

    return recipe.answer(_read(options.file))


def _order(options: argparse.Namespace) -> Any:
    from strata.answers import order

    return order.answer(_read(options.file))


def _making(options: argparse.Namespace) -> Any:
    from strata.answers import making

    return making.answer(_read(options.file))


def _finish(options: argparse.Namespace) -> Any:
    from strata.answers import finish

    return finish.answer(_read(options.file))


def _guarded(task: str, options: argparse.Namespace, values: dict[str, Any], most: int) -> Any:
    from strata.guard.child import run_guarded

    data = _read(options.file)
    if len(data) > most:
        raise BadValue(f"This file is over {most // 1_000_000} MB, more than is read.", "file")
    return run_guarded(task, [data], values)


def _length(value: float | None, name: str) -> float | None:
    return None if value is None else finite(value, name, 1, 3000)


def _measure(options: argparse.Namespace) -> Any:
    from strata.formats.limits import MOST_DRAWING

    width = _length(options.width_mm, "width")
    return _guarded(
        "measure", options, {"by": options.by, "width_mm": width, "visible": options.visible}, MOST_DRAWING
    )


def _trace(options: argparse.Namespace) -> Any:
    from strata.formats.limits import MOST_PHOTOGRAPH

    size = {"width_mm": _length(options.width_mm, "width"), "height_mm": _length(options.height_mm, "height")}
    return _guarded("trace", options, size, MOST_PHOTOGRAPH)


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="python -m strata", description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter
    )
    commands = parser.add_subparsers(dest="command", required=True)
    predict = commands.add_parser("predict", help="the colour of ink on ink on card")
    predict.add_argument("file", help="a JSON file, or - for standard input")
    predict.set_defaults(answer=_predict)
    recipe = commands.add_parser("recipe", help="the pads, order and coats that come nearest to a colour")
    recipe.add_argument("file", help="a JSON file, or - for standard input")
    recipe.set_defaults(answer=_recipe)
    order = commands.add_parser("order", help="the order of work for a build, and the facts behind it")
    order.add_argument("file", help="a JSON file, or - for standard input")
    order.set_defaults(answer=_order)
    making = commands.add_parser(
        "making", help="the rest of a work that is under way, and what is really there"
    )
    making.add_argument("file", help="a JSON file, or - for standard input")
    making.set_defaults(answer=_making)
    finish = commands.add_parser("finish", help="what a card is cut from, its sheets, thickness and weight")
    finish.add_argument("file", help="a JSON file, or - for standard input")
    finish.set_defaults(answer=_finish)
    measure = commands.add_parser("measure", help="the sheets of an SVG drawing and what is on them")
    measure.add_argument("file", help="an SVG file, or - for standard input")
    measure.add_argument("--by", choices=("layer", "colour"), default="layer", help="what makes a sheet")
    measure.add_argument("--width-mm", type=float, help="scale the drawing to this width")
    measure.add_argument("--visible", action="store_true", help="leave out what later colours cover")
    measure.set_defaults(answer=_measure)
    trace = commands.add_parser("trace", help="the openings of one photographed sheet")
    trace.add_argument("file", help="a JPEG, PNG or TIFF picture, or - for standard input")
    trace.add_argument("--width-mm", type=float, help="width of the sheet, the right way up")
    trace.add_argument("--height-mm", type=float, help="height of the sheet")
    trace.set_defaults(answer=_trace)
    return parser


def main(arguments: list[str] | None = None) -> int:
    """Run one command; 0 when answered, 2 with one line on stderr for bad input."""
    options = _parser().parse_args(arguments)
    try:
        answer = options.answer(options)
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
