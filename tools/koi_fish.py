"""The koi of the demo stencil: one fish along a curved back, its body, fins, rays and scales (tools/draw_koi.py)."""

from __future__ import annotations

import math

import numpy as np
from shapely import affinity
from shapely.geometry import Point as Dot
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry
from shapes import (
    Point,
    blob,
    cut,
    fan,
    normals,
    parts,
    ribbon,
    rounded,
    spline,
    tapered,
    union,
)

Openings = dict[tuple[int, str], list[Polygon]]


class Koi:
    """A koi seen from above along a curved back; all its shapes follow that curve."""

    def __init__(self, back: list[Point], girth: float) -> None:
        self.line = spline(back, 200)
        self.side = normals(self.line)
        t = np.linspace(0, 1, 200)
        self.half = girth * (0.16 + np.sin(np.pi * np.clip(t * 0.92 + 0.04, 0, 1) ** 0.62) ** 0.9)
        self.half *= np.clip((t + 0.012) / 0.07, 0.35, 1) ** 0.5

    def at(self, t: float, across: float = 0.0) -> Point:
        """The point at share ``t`` of the back, ``across`` half-widths to the left."""
        i = min(int(t * 199), 199)
        x, y = self.line[i] + self.side[i] * self.half[i] * across
        return float(x), float(y)

    def heading(self, t: float) -> float:
        """The direction towards the tail, degrees."""
        i = min(max(int(t * 199), 1), 198)
        dx, dy = self.line[i + 1] - self.line[i - 1]
        return math.degrees(math.atan2(dy, dx))

    def patch(self, spans: list[tuple[float, float, float]]) -> Polygon:
        """A marking: points (t, left, right) along the back, in half-widths."""
        return blob([self.at(t, a) for t, a, _ in spans] + [self.at(t, b) for t, _, b in spans[::-1]])

    def body(self) -> Polygon:
        left, right = (self.line + s * self.side * self.half[:, None] for s in (1, -1))
        tip = self.at(0.0)
        nose = Dot(tip).buffer(self.half[0] * 1.05)
        return union([Polygon(np.vstack([left, right[::-1]])).buffer(0), nose]).buffer(0.6).buffer(-0.6)

    def fins(self) -> list[Polygon]:
        back = self.heading
        shapes = [
            fan(self.at(0.25, 0.80), back(0.25) - 62, 58, 13.5),
            fan(self.at(0.25, -0.80), back(0.25) + 62, -58, 13.5),
            fan(self.at(0.60, 0.80), back(0.6) - 42, 44, 7.5, 3),
            fan(self.at(0.60, -0.80), back(0.6) + 42, -44, 7.5, 3),
        ]
        tail_root = self.at(0.975)
        for turn, spread in ((-17, 40), (17, -40)):
            shapes.append(fan(tail_root, back(0.97) + turn, spread, 14.0, 4))
        return shapes

    def rays(self, fin: Polygon, root: Point, count: int) -> list[Polygon]:
        """Fine strokes in a fin, from its root to its rim."""
        rim = np.array(fin.exterior.coords)
        distance = np.hypot(*(rim - np.array(root)).T)
        rim = rim[distance > 0.55 * distance.max()]
        picks = rim[np.linspace(0.1 * len(rim), 0.88 * len(rim), count).astype(int)]
        strokes = []
        for x, y in picks:
            a = (root[0] + 0.38 * (x - root[0]), root[1] + 0.38 * (y - root[1]))
            b = (root[0] + 0.90 * (x - root[0]), root[1] + 0.90 * (y - root[1]))
            middle = ((a[0] + b[0]) / 2 + 0.25, (a[1] + b[1]) / 2 - 0.25)
            strokes.append(ribbon([a, middle, b], tapered(0.34, 0.4, 0.16), 40))
        return strokes

    def scales(self, rows: range, reach: float) -> list[Polygon]:
        """Rows of crescents over the back, staggered."""
        shapes = []
        for row in rows:
            t = 0.30 + 0.052 * row
            count = 3 if row % 2 else 2
            for k in range(count):
                across = (k - (count - 1) / 2) * reach
                x, y = self.at(t, across)
                size = self.half[int(t * 199)] * 0.2
                outer = Dot(x, y).buffer(size)
                angle = math.radians(self.heading(t))
                inner = Dot(x - 0.62 * size * math.cos(angle), y - 0.62 * size * math.sin(angle)).buffer(
                    size * 1.02
                )
                shapes.extend(parts(rounded(outer.difference(inner), 0.05), 0.12))
        return shapes


UPPER = Koi([(34.5, 86.5), (39, 77), (50, 71.8), (62, 72.8), (71.5, 78), (77.5, 85)], 6.7)
LOWER = Koi([(78.5, 106.5), (73.5, 116), (62, 120.6), (49.5, 118.8), (40, 113), (34.5, 106)], 6.7)


def draw_koi(openings: Openings, koi: Koi, name: str, markings: list[Polygon]) -> BaseGeometry:
    """Put one koi on sheets 1, 2, 4 and 5; returns its whole silhouette."""
    body = koi.body()
    fins = [f.difference(body.buffer(0.95)) for f in koi.fins()]
    openings[1, name] += parts(body) + [p for f in fins for p in parts(rounded(f, 0.2))]
    openings[2, name] += [
        p for m in markings for p in parts(rounded(m.intersection(body.buffer(-0.5)), 0.25))
    ]
    # second tone: the far flank and the outer halves of the fins, kept inside the base
    flank = koi.patch(
        [
            (0.10, -0.50, -0.93),
            (0.3, -0.42, -0.95),
            (0.55, -0.40, -0.94),
            (0.8, -0.42, -0.92),
            (0.93, -0.5, -0.9),
        ]
    )
    openings[4, name] += parts(
        rounded(cut(flank, [[koi.at(t, -0.2), koi.at(t, -1.2)] for t in (0.33, 0.62)]), 0.15)
    )
    roots = [
        koi.at(0.25, 0.8),
        koi.at(0.25, -0.8),
        koi.at(0.6, 0.8),
        koi.at(0.6, -0.8),
        koi.at(0.975),
        koi.at(0.975),
    ]
    for fin, root in zip(fins, roots, strict=True):
        reach = max(math.dist(root, c) for c in koi_rim(fin))
        openings[4, name] += parts(
            rounded(fin.buffer(-0.4).difference(Dot(root).buffer(reach * 0.66)), 0.15), 0.6
        )
    eyes = [Dot(koi.at(0.085, s * 0.72)).buffer(0.95) for s in (1, -1)]
    glints = [affinity.translate(Dot(koi.at(0.085, s * 0.72)).buffer(0.3), 0.35, -0.35) for s in (1, -1)]
    openings[5, name] += [
        p for e, g in zip(eyes, glints, strict=True) for p in parts(cut(e.difference(g), [], 0))
    ]
    for s in (1, -1):
        start = np.array(koi.at(0.012, s * 0.8))
        out = np.array(koi.at(0.05, s * 2.3))
        ahead = 2 * np.array(koi.at(0.0)) - np.array(koi.at(0.06))
        tip = (ahead + out) / 2 + 0.4 * (out - start)
        openings[5, name].append(
            ribbon([tuple(start), tuple((start + ahead + out) / 3), tuple(tip)], tapered(0.38, 0.3, 0.14), 50)
        )
    openings[5, name] += koi.scales(range(11), 0.56)
    for fin, root, count in zip(fins, roots, (4, 4, 2, 2, 4, 4), strict=True):
        openings[5, name] += [r for r in koi.rays(fin, root, count) if fin.buffer(0.3).contains(r)]
    return union([body, *koi.fins()])


def koi_rim(fin: BaseGeometry) -> list[Point]:
    """Every corner of a fin, whichever pieces it is in."""
    return [c for p in parts(fin, 0.0) for c in p.exterior.coords]
