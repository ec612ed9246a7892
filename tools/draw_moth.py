"""Draw the demo die-cut "Luna moth": six pieces that are cut, inked and stacked.

``python tools/draw_moth.py`` writes demo/sets/luna-moth.svg.
"""

from __future__ import annotations

import math
from collections import defaultdict
from pathlib import Path

import numpy as np
from shapely import affinity
from shapely.geometry import Point as Dot
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry
from shapes import Point, blob, ribbon, rounded, sheets_svg, spline, tapered, union

TARGET = Path(__file__).parent.parent / "demo" / "sets" / "luna-moth.svg"
WIDTH, HEIGHT = 127.0, 127.0
MIDDLE = WIDTH / 2
PIECES = {
    1: "Whole moth, the ground piece",
    2: "Lower wings",
    3: "Upper wings",
    4: "Leading edge",
    5: "Eye spots",
    6: "Body and feelers",
}
Shapes = dict[tuple[int, str], list[BaseGeometry]]

UPPER = [
    (64, 46),
    (72, 33),
    (87, 23.5),
    (105, 19.5),
    (118.6, 22.4),
    (120.3, 25.5),
    (115, 36),
    (109, 48),
    (100, 57.5),
    (86, 62.5),
    (72, 60.5),
    (65, 56),
]
LOWER = [
    (65, 55),
    (76, 58),
    (91, 61),
    (101.5, 68),
    (103, 77.5),
    (96.5, 85),
    (91.5, 92),
    (92.2, 102),
    (96.5, 112),
    (94, 117.5),
    (88.4, 115.5),
    (85, 106),
    (83.6, 95),
    (80, 88),
    (72, 81),
    (66, 72),
]
SHOULDER: Point = (65.0, 48.0)


def mirrored(shape: BaseGeometry) -> BaseGeometry:
    """The left half of what is drawn on the right."""
    return affinity.scale(shape, -1, 1, origin=(MIDDLE, 0))


def both(shapes: list[BaseGeometry]) -> list[BaseGeometry]:
    """Right and left."""
    return [*shapes, *(mirrored(s) for s in shapes)]


def veins(wing: Polygon, start: Point, ends: list[Point], half: float) -> list[Polygon]:
    """Slits from the root of a wing towards its rim, bowed, ending before it."""
    found = []
    for i, (x, y) in enumerate(ends):
        bow = 1.6 * (-1) ** i
        middle = ((start[0] + x) / 2 + bow * 0.4, (start[1] + y) / 2 - bow)
        a = (start[0] + 0.24 * (x - start[0]), start[1] + 0.24 * (y - start[1]))
        found.append(ribbon([a, middle, (x, y)], tapered(half, 0.35, 0.07), 60))
    return [v.intersection(wing.buffer(-1.6)) for v in found]


def scallops(wing: Polygon, line: list[Point], count: int) -> list[Polygon]:
    """Small crescents along the outer rim, as moth wings have them."""
    path = spline(line, 200)
    found = []
    for k in range(count):
        t = (k + 0.5) / count
        at = path[int(t * 199)]
        ahead = path[min(199, int(t * 199) + 1)] - path[max(0, int(t * 199) - 1)]
        turn = math.degrees(math.atan2(ahead[1], ahead[0]))
        outer = affinity.scale(Dot(0, 0).buffer(1), 2.0, 0.95)
        moon = outer.difference(affinity.translate(affinity.scale(outer, 1.05, 1.0), 0, -0.62))
        found.append(
            affinity.translate(affinity.rotate(moon, turn, origin=(0, 0)), float(at[0]), float(at[1]))
        )
    return [f.intersection(wing.buffer(-0.7)) for f in found]


def eye(x: float, y: float, size: float, lean: float) -> list[BaseGeometry]:
    """An eye spot: a ring, a lid and a pupil."""
    ring = affinity.scale(Dot(0, 0).buffer(1, 32), size, size * 0.84)
    hole = affinity.translate(affinity.scale(ring, 0.66, 0.62), 0.1 * size, 0.06 * size)
    pupil = affinity.translate(affinity.scale(ring, 0.30, 0.36), 0.1 * size, 0.06 * size)
    lid = affinity.translate(ring, 0, -0.34 * size).difference(ring.buffer(0.34)).buffer(-0.04)
    return [
        affinity.translate(affinity.rotate(s, lean, origin=(0, 0)), x, y)
        for s in (ring.difference(hole), pupil, lid)
    ]


def feeler() -> BaseGeometry:
    """A feathered feeler, the right one."""
    stem = [(65.2, 37.5), (69, 30.5), (75, 25.6), (81.5, 24.2)]
    line = spline(stem, 120)
    barbs = []
    for k in range(13):
        t = 0.16 + 0.8 * k / 13
        at, ahead = line[int(t * 118)], line[int(t * 118) + 1]
        heading = math.atan2(*(ahead - at)[::-1])
        reach = 4.4 * math.sin(math.pi * (0.14 + 0.8 * t)) ** 0.7
        for side in (1, -1):
            turn = heading + side * math.radians(58)
            tip = at + reach * np.array([math.cos(turn), math.sin(turn)])
            middle = (at + tip) / 2 + 0.25 * np.array([math.cos(heading), math.sin(heading)])
            barbs.append(ribbon([tuple(at), tuple(middle), tuple(tip)], tapered(0.36, 0.3, 0.16), 24))
    return union([ribbon(stem, lambda t: 0.62 - 0.3 * t, 80), *barbs]).buffer(0.12).buffer(-0.08)


def body() -> tuple[BaseGeometry, BaseGeometry]:
    """(trunk, fur): a trunk with rings, and the collar of fur that lies on it."""
    trunk = blob(
        [
            (MIDDLE, 37.4),
            (66.6, 40),
            (68, 47),
            (67, 55),
            (66, 66),
            (65, 76),
            (MIDDLE, 80),
            (62, 76),
            (61, 66),
            (60, 55),
            (59, 47),
            (60.4, 40),
        ]
    )
    rings = [
        ribbon([(58.5, y), (MIDDLE, y + 1.3), (68.5, y)], tapered(0.34, 0.5, 0.12), 40)
        for y in np.arange(58.5, 77, 3.6)
    ]
    tufts = []
    for k in range(15):
        turn = math.radians(20 + 140 * k / 14)
        foot = (MIDDLE + 2.4 * math.cos(turn), 46.0 + 1.5 * math.sin(turn))
        tip = (MIDDLE + 5.2 * math.cos(turn), 46.4 + 7.6 * math.sin(turn))
        tufts.append(
            ribbon(
                [foot, ((foot[0] + tip[0]) / 2 + 0.3, (foot[1] + tip[1]) / 2), tip],
                tapered(0.9, 0.3, 0.1),
                30,
            )
        )
    fur = union([affinity.scale(Dot(MIDDLE, 44.6).buffer(1), 4.1, 3.4), *tufts])
    return trunk.difference(union(rings)).difference(fur.buffer(0.35)), fur


def draw() -> Shapes:
    """Every piece by (sheet, element)."""
    shapes: Shapes = defaultdict(list)
    upper, lower = blob(UPPER), blob(LOWER)
    trunk, fur = body()
    whole = union([*both([upper, lower]), trunk.buffer(0.6), fur]).buffer(0.9).buffer(-0.1)
    shapes[1, "ground piece"] = [rounded(whole, 0.3)]
    low_rim = [(100.6, 69.5), (101.5, 76), (95.4, 83.6), (90.2, 90)]
    low_veins = veins(lower, (67, 60), [(98, 68), (100, 76), (94, 83), (88, 92), (91, 108), (80, 84)], 0.5)
    shapes[2, "lower wings"] = both(
        [
            rounded(
                lower.difference(upper.buffer(0.2))
                .buffer(-0.8)
                .difference(union([*low_veins, *scallops(lower, low_rim, 6)])),
                0.1,
            )
        ]
    )
    up_rim = [(116.8, 28), (112, 38), (106, 48.5), (97.5, 56), (85, 60.4)]
    up_veins = veins(
        upper, SHOULDER, [(115, 27), (110, 37), (104.5, 46), (97, 54), (86, 59.4), (76, 58.6)], 0.55
    )
    shapes[3, "upper wings"] = both(
        [rounded(upper.buffer(-0.8).difference(union([*up_veins, *scallops(upper, up_rim, 9)])), 0.1)]
    )
    edge = ribbon(
        [(65.4, 42.4), (73.4, 32.4), (87.6, 23.6), (105, 19.9), (118.2, 23.0)], lambda t: 1.75 - 1.0 * t, 140
    )
    shapes[4, "leading edge"] = [
        union(
            [
                *both([edge]),
                blob([(60, 43), (MIDDLE, 40.6), (67, 43), (67.4, 47.4), (MIDDLE, 48.6), (59.6, 47.4)]),
            ]
        ).buffer(0.1)
    ]
    shapes[5, "upper eyes"] = both(eye(93.5, 38.0, 4.1, -24))
    shapes[5, "lower eyes"] = both(eye(88.2, 72.4, 4.5, 22))
    shapes[6, "body"] = [trunk]
    shapes[6, "fur"] = [fur.difference(Dot(0, 0).buffer(0.1))]
    shapes[6, "feelers"] = both([feeler()])
    return shapes


if __name__ == "__main__":
    text = sheets_svg("Luna moth", (WIDTH, HEIGHT), PIECES, draw(), "piece", 0.2)
    TARGET.write_text(text)
    print(text.count("<path"), "parts,", TARGET.stat().st_size // 1024, "kB")
