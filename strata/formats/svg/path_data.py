"""Path data to commands, as far as it is sound. Parsed by fontTools, but for lines alone, which are read at once."""

from __future__ import annotations

import re

from strata.formats.svg.geometry import Command

_DIGITS = r"([+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?)"
_NUMBERS, _NUMBER = re.compile(_DIGITS), re.compile(r"[\s,]*" + _DIGITS)
# all of a text's numbers, and the next one after what may stand between: a long run of spaces is gone through once
_FLAG = re.compile(r"[\s,]*([01])")
_COUNT = {"m": 2, "l": 2, "h": 1, "v": 1, "c": 6, "s": 4, "q": 4, "t": 2, "a": 7, "z": 0}


def _sound(data: str) -> str:
    """The path data up to its first error, as a browser draws it, arc flags set apart."""
    parts: list[str] = []
    for piece in re.findall(r"([MmZzLlHhVvCcSsQqTtAa])([^MmZzLlHhVvCcSsQqTtAa]*)", data):
        command, rest = piece
        if not parts and command not in "Mm":
            break
        values, sound = _arguments(command.lower(), rest)
        if values is None:
            break
        parts.append(f"{command} {' '.join(values)}")
        if not sound:
            break
    return " ".join(parts)


def _arguments(command: str, rest: str) -> tuple[list[str] | None, bool]:
    """The whole groups of numbers of one command (None when not even one), and whether all was sound."""
    count, at, sound = _COUNT[command], 0, True
    found: list[str] = []
    if command != "a" and not _NUMBERS.sub("", rest).strip(" \t\r\n,"):
        # all of it is numbers, as it nearly always is
        found, at = _NUMBERS.findall(rest), len(rest)
    while at < len(rest):
        pattern = _FLAG if command == "a" and len(found) % 7 in (3, 4) else _NUMBER
        match = pattern.match(rest, at)
        if match is None:
            sound = not rest[at:].strip(" \t\r\n,")
            break
        found.append(match.group(1))
        at = match.end()
    if count == 0:
        return [], sound and not found
    whole = len(found) - len(found) % count
    return (found[:whole] if whole else None), sound and whole == len(found)


def path_commands(data: str) -> list[Command]:
    """Path data as moveTo, lineTo, curveTo, qCurveTo, closePath, endPath; up to its first error."""
    straight = _straight(data)
    if straight is not None:
        return straight
    from fontTools.pens.recordingPen import RecordingPen
    from fontTools.svgLib.path import parse_path

    pen = RecordingPen()
    try:
        parse_path(_sound(data), pen)
    except (ValueError, IndexError, TypeError, AssertionError, ZeroDivisionError, OverflowError):
        return [c for c in pen.value if c[0] != "endPath"]
    return list(pen.value)


_LINES = re.compile(r"[ \t\r\n]*M[MLZz0-9eE+\-., \t\r\n]+")
# what paths of lines are written with, each number by itself


def _straight(data: str) -> list[Command] | None:
    """The commands of a path of lines between given points, as cutters and tracers write them by ten thousands; None
    for any other path, and where anything is to be looked at closely."""
    if not _LINES.fullmatch(data):
        return None
    found: list[Command] = []
    for figure in data.replace("z", "Z").split("M")[1:]:
        body, closed, after = figure.partition("Z")
        points: list[tuple[float, float]] = []
        try:
            for words in body.split("L"):
                numbers = [float(w) for w in words.replace(",", " ").split()]
                if not numbers or len(numbers) % 2:
                    return None
                points += zip(numbers[::2], numbers[1::2], strict=True)
        except ValueError:
            return None
        if after.strip():
            return None
        if closed and points[-1] != points[0]:
            points.append(points[0])
        found.append(("moveTo", (points[0],)))
        found += [("lineTo", (p,)) for p in points[1:]]
        found.append(("closePath" if closed else "endPath", ()))
    return found
