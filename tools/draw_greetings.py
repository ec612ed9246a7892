"""Draw the demo greetings: words with a broad nib, stroke by stroke, and two frames. No font is copied.

Each letter is a few strokes on a grid of its own (x-height 1, y up); a slanted
elliptic nib is swept along them, so that they swell and thin as a pen's do.
"""

from __future__ import annotations

import itertools
import math
import sys
from pathlib import Path

import numpy as np
from shapely import affinity
from shapely.geometry import MultiPoint, Point, Polygon
from shapely.geometry.base import BaseGeometry
from shapely.ops import unary_union

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from tools.shapes import sheets_svg, spline  # noqa: E402

TARGET = ROOT / "demo" / "sets" / "lockside-greetings.svg"
WIDTH, HEIGHT = 100.0, 120.0
NIB = affinity.rotate(affinity.scale(Point(0, 0).buffer(1, quad_segs=6), 0.135, 0.045), 38, origin=(0, 0))
# in x-heights: broad 0.27, thin 0.09
SLANT = 9.0
# degrees

Stroke = list[tuple[float, float]]


def arc(cx: float, cy: float, rx: float, ry: float, start: float, end: float, n: int = 14) -> Stroke:
    """Points along an ellipse, degrees from the right, counter-clockwise."""
    return [
        (cx + rx * math.cos(math.radians(a)), cy + ry * math.sin(math.radians(a)))
        for a in np.linspace(start, end, n)
    ]


def curve(*points: tuple[float, float]) -> Stroke:
    """A smooth stroke through points."""
    return [(float(x), float(y)) for x, y in spline(points, 40)]


BOWL = arc(0.42, 0.5, 0.4, 0.5, 35, 395)
LETTERS: dict[str, tuple[float, list[Stroke]]] = {
    " ": (0.5, []),
    "a": (0.98, [BOWL, curve((0.82, 0.98), (0.8, 0.3), (0.9, 0.02), (1.06, 0.12))]),
    "b": (0.92, [curve((0.1, 1.75), (0.06, 0.6), (0.1, 0.0)), arc(0.45, 0.5, 0.38, 0.5, 180, -150)]),
    "d": (0.98, [BOWL, curve((0.84, 1.75), (0.8, 0.4), (0.9, 0.02), (1.06, 0.12))]),
    "e": (0.8, [[(0.08, 0.5), (0.74, 0.62)], curve((0.74, 0.62), (0.5, 1.0), (0.1, 0.72), (0.1, 0.25), (0.45, -0.02), (0.82, 0.2))]),
    "f": (0.62, [curve((0.72, 1.6), (0.5, 1.78), (0.3, 1.4), (0.3, 0.6), (0.26, -0.5)), [(0.05, 0.9), (0.6, 0.96)]]),
    "g": (0.96, [BOWL, curve((0.82, 0.98), (0.82, 0.2), (0.76, -0.5), (0.4, -0.72), (0.08, -0.55))]),
    "h": (0.98, [curve((0.1, 1.75), (0.08, 0.8), (0.08, 0.0)), curve((0.08, 0.55), (0.4, 0.98), (0.74, 0.8), (0.76, 0.3), (0.84, 0.02), (1.02, 0.1))]),
    "i": (0.36, [curve((0.12, 0.98), (0.1, 0.3), (0.2, 0.02), (0.36, 0.12)), arc(0.15, 1.38, 0.05, 0.05, 0, 360)]),
    "k": (0.86, [curve((0.1, 1.75), (0.08, 0.8), (0.08, 0.0)), curve((0.72, 0.98), (0.3, 0.6), (0.12, 0.46)), curve((0.28, 0.56), (0.6, 0.2), (0.74, 0.0), (0.9, 0.1))]),
    "l": (0.4, [curve((0.14, 1.75), (0.1, 0.7), (0.14, 0.1), (0.26, 0.0), (0.42, 0.12))]),
    "m": (1.5, [curve((0.1, 0.98), (0.1, 0.5), (0.08, 0.0)), curve((0.09, 0.55), (0.35, 0.98), (0.66, 0.8), (0.68, 0.0)), curve((0.68, 0.55), (0.96, 0.98), (1.24, 0.8), (1.26, 0.3), (1.34, 0.02), (1.52, 0.1))]),
    "n": (0.98, [curve((0.1, 0.98), (0.1, 0.5), (0.08, 0.0)), curve((0.08, 0.55), (0.4, 0.98), (0.74, 0.8), (0.76, 0.3), (0.84, 0.02), (1.02, 0.1))]),
    "o": (0.9, [arc(0.43, 0.5, 0.4, 0.5, 60, 420)]),
    "r": (0.66, [curve((0.1, 0.98), (0.1, 0.5), (0.08, 0.0)), curve((0.09, 0.55), (0.3, 0.92), (0.52, 1.0), (0.68, 0.88))]),
    "s": (0.72, [curve((0.66, 0.8), (0.42, 1.0), (0.14, 0.8), (0.3, 0.55), (0.58, 0.4), (0.58, 0.1), (0.3, -0.02), (0.04, 0.16))]),
    "t": (0.62, [curve((0.3, 1.45), (0.26, 0.5), (0.3, 0.06), (0.46, 0.0), (0.64, 0.14)), [(0.02, 0.96), (0.58, 1.02)]]),
    "u": (0.98, [curve((0.1, 0.98), (0.08, 0.4), (0.2, 0.02), (0.5, 0.05), (0.78, 0.45)), curve((0.82, 0.98), (0.78, 0.4), (0.86, 0.02), (1.02, 0.12))]),
    "v": (0.84, [curve((0.06, 0.98), (0.22, 0.4), (0.36, 0.0)), curve((0.36, 0.0), (0.6, 0.5), (0.72, 0.98), (0.86, 0.92))]),
    "w": (1.26, [curve((0.06, 0.98), (0.16, 0.4), (0.32, 0.0)), curve((0.32, 0.0), (0.5, 0.45), (0.62, 0.85)), curve((0.62, 0.85), (0.7, 0.4), (0.86, 0.0)), curve((0.86, 0.0), (1.04, 0.5), (1.12, 0.98), (1.28, 0.92))]),
    "y": (0.94, [curve((0.1, 0.98), (0.1, 0.4), (0.24, 0.04), (0.52, 0.08), (0.78, 0.5)), curve((0.84, 0.98), (0.8, 0.1), (0.7, -0.52), (0.36, -0.72), (0.06, -0.52))]),
    "T": (1.2, [curve((0.06, 1.5), (0.5, 1.66), (1.0, 1.58), (1.26, 1.7)), curve((0.66, 1.62), (0.6, 0.8), (0.5, 0.1), (0.3, -0.04), (0.12, 0.1))]),
    "W": (1.9, [curve((0.1, 1.6), (0.24, 0.8), (0.46, 0.0)), curve((0.46, 0.0), (0.76, 0.8), (0.94, 1.35)), curve((0.94, 1.35), (1.06, 0.6), (1.26, 0.0)), curve((1.26, 0.0), (1.6, 0.9), (1.7, 1.5), (1.96, 1.6))]),
    "F": (1.1, [curve((0.1, 1.5), (0.5, 1.66), (0.9, 1.58), (1.2, 1.68)), curve((0.5, 1.62), (0.46, 0.8), (0.36, 0.05), (0.16, -0.04)), [(0.3, 0.86), (0.92, 0.92)]]),
}  # fmt: skip


def swept(stroke: Stroke) -> BaseGeometry:
    """The nib drawn along a stroke."""
    points = np.array(stroke)
    parts = []
    nib = np.array(NIB.exterior.coords)
    for a, b in itertools.pairwise(points):
        parts.append(MultiPoint(np.vstack([nib + a, nib + b])).convex_hull)
    return unary_union(parts)


def line(text: str, size: float, middle: tuple[float, float]) -> list[Polygon]:
    """A line of words ``size`` mm in x-height, about a point of the sheet."""
    at, parts = 0.0, []
    for letter in text:
        wide, strokes = LETTERS[letter]
        parts += [affinity.translate(swept(s), at, 0) for s in strokes]
        at += wide + 0.06
    drawn = affinity.skew(unary_union(parts), xs=SLANT, origin=(0, 0))
    drawn = affinity.scale(drawn, size, -size, origin=(0, 0))
    x0, y0, x1, y1 = drawn.bounds
    drawn = affinity.translate(drawn, middle[0] - (x0 + x1) / 2, middle[1] - (y0 + y1) / 2).simplify(0.012)
    return [p for p in getattr(drawn, "geoms", [drawn]) if p.area > 0.02]


def rope(ring: list[tuple[float, float]], twist: float = 3.1) -> list[Polygon]:
    """A frame of rope: slanting strands along a closed curve."""
    path = np.array(ring)
    chord = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(path, axis=0).T))])
    count = round(chord[-1] / twist)
    strands = []
    for i in range(count):
        s = chord[-1] * i / count
        x, y = np.interp(s, chord, path[:, 0]), np.interp(s, chord, path[:, 1])
        x2, y2 = (
            np.interp((s + 0.4) % chord[-1], chord, path[:, 0]),
            np.interp((s + 0.4) % chord[-1], chord, path[:, 1]),
        )
        strand = affinity.scale(Point(0, 0).buffer(1, quad_segs=8), 1.95, 0.62)
        angle = math.degrees(math.atan2(y2 - y, x2 - x)) + 32
        strands.append(affinity.translate(affinity.rotate(strand, angle, origin=(0, 0)), x, y))
    return strands


def label() -> list[Polygon]:
    """A frame like a painted name board: a double line with scooped corners."""
    outer = Polygon([(8, 101), (92, 101), (92, 117), (8, 117)])
    scoops = unary_union([Point(x, y).buffer(3.6, quad_segs=16) for x in (8, 92) for y in (101, 117)])
    board = outer.difference(scoops)
    return [board.difference(board.buffer(-0.75)), board.buffer(-1.7).difference(board.buffer(-2.05))]


SHEETS = dict(
    enumerate(["Thank you", "Well done", "From all of us", "With love", "Rope ring", "Name board"], start=1)
)


def draw() -> dict[tuple[int, str], list[Polygon]]:
    """Each greeting a step of its own, below one another on the sheet."""
    ring = [(50 + 21 * math.cos(a), 76 + 14.5 * math.sin(a)) for a in np.linspace(0, 2 * math.pi, 200)]
    board = label()
    return {
        (1, "thank you"): line("Thank you", 4.6, (50, 10)),
        (2, "well done"): line("Well done", 4.2, (50, 26)),
        (3, "from all of us"): line("From all of us", 3.4, (50, 40)),
        (4, "with love"): line("with love", 3.6, (50, 50)),
        (5, "rope"): rope([(float(x), float(y)) for x, y in ring]),
        (6, "board"): [g for b in board for g in getattr(b, "geoms", [b])],
    }


if __name__ == "__main__":
    text = sheets_svg("Lockside greetings", (WIDTH, HEIGHT), SHEETS, draw(), "step", 0.02)
    TARGET.write_text(text)
    print(text.count("<path"), "shapes,", TARGET.stat().st_size // 1024, "kB")
