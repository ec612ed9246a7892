"""Path data to commands, as far as it is sound. Curves are made by fontTools; a path of lines is what it says."""

from __future__ import annotations

import re

from strata.formats.svg.flattening import Command

_DIGITS = r"([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)"
_NUMBERS, _NUMBER = re.compile(_DIGITS), re.compile(r"[\s,]*" + _DIGITS)
# all of a text's numbers, and the next one after what may stand between: a long run of spaces is gone through once
_BETWEEN = " \t\r\n,"
_FLAG = re.compile(r"[\s,]*([01])")
Piece = tuple[str, list[str]]
# a command and its numbers, in whole groups
_COUNT = {"m": 2, "l": 2, "h": 1, "v": 1, "c": 6, "s": 4, "q": 4, "t": 2, "a": 7, "z": 0}


def path_commands(data: str) -> list[Command]:
    """Path data as moveTo, lineTo, curveTo, qCurveTo, closePath, endPath; up to its first error."""
    pieces = _sound(data)
    if _is_of_lines(pieces):
        return _lines(pieces)
    from fontTools.pens.recordingPen import RecordingPen
    from fontTools.svgLib.path import parse_path

    pen = RecordingPen()
    try:
        parse_path(" ".join(f"{command} {' '.join(values)}" for command, values in pieces), pen)
    except (ValueError, IndexError, TypeError, AssertionError, ZeroDivisionError, OverflowError):
        return [c for c in pen.value if c[0] != "endPath"]
    return list(pen.value)


def _sound(data: str) -> list[Piece]:
    """Path data up to its first error, as a browser draws it: commands with their numbers, the flags of arcs set apart."""
    pieces: list[Piece] = []
    for command, rest in re.findall(r"([MmZzLlHhVvCcSsQqTtAa])([^MmZzLlHhVvCcSsQqTtAa]*)", data):
        if not pieces and command not in "Mm":
            break
        values, sound = _arguments(command.lower(), rest)
        if values is None:
            break
        pieces.append((command, values))
        if not sound:
            break
    return pieces


def _is_of_lines(pieces: list[Piece]) -> bool:
    """Whether a path is lines between given points, as cutters and tracers write them by ten thousands: these need no
    parser. One that goes on from where it was closed is none."""
    follows = "".join(command for command, _ in pieces).replace("z", "Z")
    return not follows.strip("MLZ") and all(
        figure.find("Z") in (-1, len(figure) - 1) for figure in follows.split("M")
    )


def _lines(pieces: list[Piece]) -> list[Command]:
    found: list[Command] = []
    start = at = (0.0, 0.0)
    for command, values in pieces:
        if command in "Zz":
            found += [("lineTo", (start,))] * (at != start) + [("closePath", ())]
            continue
        numbers = list(map(float, values))
        points = list(zip(numbers[::2], numbers[1::2], strict=True))
        if command == "M":
            found += [("endPath", ())] * (bool(found) and found[-1][0] != "closePath")
            start = points[0]
            found.append(("moveTo", (points.pop(0),)))
        found += [("lineTo", (p,)) for p in points]
        at = points[-1] if points else start
    return found + [("endPath", ())] * (bool(found) and found[-1][0] != "closePath")


def _arguments(command: str, rest: str) -> tuple[list[str] | None, bool]:
    """The whole groups of numbers of one command (None when not even one), and whether all was sound."""
    count, at, sound = _COUNT[command], 0, True
    found: list[str] = [] if command == "a" else _NUMBERS.findall(rest)
    if found and len(rest) == sum(map(len, found)) + sum(map(rest.count, _BETWEEN)):
        # all of it is numbers, as it nearly always is
        at = len(rest)
    else:
        found = []
    while at < len(rest):
        pattern = _FLAG if command == "a" and len(found) % 7 in (3, 4) else _NUMBER
        match = pattern.match(rest, at)
        if match is None:
            sound = not rest[at:].strip(_BETWEEN)
            break
        found.append(match.group(1))
        at = match.end()
    if count == 0:
        return [], sound and not found
    whole = len(found) - len(found) % count
    return (found[:whole] if whole else None), sound and whole == len(found)
