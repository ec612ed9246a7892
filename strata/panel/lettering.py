"""Typed words as outlines: the stand-in for a greeting stamp that a maker has, true to size.

Drawn with fonts under the SIL Open Font License that ship in ``data/``.
"""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

import numpy as np
import shapely
import shapely.affinity
from fontTools.pens.recordingPen import DecomposingRecordingPen
from fontTools.ttLib import TTFont
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from strata.errors import BadValue
from strata.panel.things import Words

_DATA = Path(__file__).parent / "data"
_FAMILIES = {"script": "caveat", "print": "commissioner"}
_RANGES = ("latin", "latin-ext", "cyrillic")
_STEPS = 8
# points along each curve: 0.01 mm off in letters 10 mm high
LINE = 1.35
# from one line to the next, in heights of the letters


@lru_cache(maxsize=8)
def _fonts(hand: str) -> tuple[TTFont, ...]:
    files = [_DATA / f"{_FAMILIES[hand]}-{part}-600-normal.woff" for part in _RANGES]
    return tuple(TTFont(file) for file in files if file.exists())


def unknown_letters(words: Words) -> str:
    """The letters that the shipped fonts have no shape for."""
    known = {chr(c) for font in _fonts(words.hand) for c in font.getBestCmap()}
    return "".join(dict.fromkeys(c for c in words.text if not c.isspace() and c not in known))


@lru_cache(maxsize=64)
def lettering(words: Words) -> BaseGeometry:
    """The words in mm about their own middle, lines under one another, centred; raises BadValue for unknown letters."""
    if missing := unknown_letters(words):
        raise BadValue(f"There is no shape for “{missing}” in the lettering that ships.", "words.text")
    capital = _capital_height(words.hand)
    scale = words.size / capital
    lines = []
    for i, line in enumerate(words.text.strip().splitlines()):
        shape = _line(line.strip(), words.hand)
        if not shape.is_empty:
            x0, _, x1, _ = shape.bounds
            lines.append(_moved(shape, scale, -(x0 + x1) / 2 * scale, i * LINE * words.size))
    area = shapely.union_all(lines)
    if area.is_empty:
        raise BadValue("There is nothing to read in these words.", "words.text")
    x0, y0, x1, y1 = area.bounds
    return _moved(area, 1.0, -(x0 + x1) / 2, -(y0 + y1) / 2, flip=False)


def _moved(shape: BaseGeometry, scale: float, dx: float, dy: float, flip: bool = True) -> BaseGeometry:
    up = -scale if flip else scale  # fonts measure upwards
    return shapely.transform(shape, lambda p: p * (scale, up) + (dx, dy))


@lru_cache(maxsize=8)
def _capital_height(hand: str) -> float:
    font = _fonts(hand)[0]
    shape = _glyph(font, font.getBestCmap()[ord("H")])
    return float(shape.bounds[3])


def _line(text: str, hand: str) -> BaseGeometry:
    at, parts = 0.0, []
    for letter in text:
        font = next((f for f in _fonts(hand) if ord(letter) in f.getBestCmap()), _fonts(hand)[0])
        name = font.getBestCmap().get(ord(letter), "space")
        shape = _glyph(font, name)
        if not shape.is_empty:
            parts.append(shapely.affinity.translate(shape, at))
        at += font["hmtx"][name][0]
    return shapely.union_all(parts)


def _glyph(font: TTFont, name: str) -> BaseGeometry:
    """One letter's area by its even-odd contours, font units, y up."""
    glyphs = font.getGlyphSet()
    pen = DecomposingRecordingPen(glyphs)
    glyphs[name].draw(pen)
    area: BaseGeometry = Polygon()
    for ring in _rings(pen.value):
        if len(ring) >= 3:
            area = area.symmetric_difference(shapely.make_valid(Polygon(ring)))
    return area


def _rings(drawn: list[tuple[str, tuple[tuple[float, float], ...]]]) -> list[list[tuple[float, float]]]:
    rings: list[list[tuple[float, float]]] = []
    for what, points in drawn:
        if what == "moveTo":
            rings.append([points[0]])
        elif what == "lineTo":
            rings[-1].append(points[0])
        elif what == "qCurveTo":
            rings[-1].extend(_quadratics(rings[-1][-1], points))
        elif what == "curveTo":
            rings[-1].extend(_bezier([rings[-1][-1], *points]))
    return rings


def _quadratics(
    start: tuple[float, float], points: tuple[tuple[float, float], ...]
) -> list[tuple[float, float]]:
    """A run of quadratic curves whose inner ends are implied half-way between their handles."""
    found, at = [], start
    for i, handle in enumerate(points[:-1]):
        last = i == len(points) - 2
        following = points[i + 1]
        end = following if last else ((handle[0] + following[0]) / 2, (handle[1] + following[1]) / 2)
        found.extend(_bezier([at, handle, end]))
        at = end
    return found


def _bezier(points: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Points along a curve of any degree (de Casteljau), without its first."""
    level = np.array(points)[:, None, :].repeat(_STEPS, axis=1)
    t = (np.arange(1, _STEPS + 1) / _STEPS)[:, None]
    while len(level) > 1:
        level = level[:-1] * (1 - t) + level[1:] * t
    return [(float(x), float(y)) for x, y in level[0]]
