"""Draw the demo stamp set "Hedgehog in ferns": an outline, four steps, and a toadstool printed apart.

``python tools/draw_hedgehog.py`` writes demo/sets/hedgehog-in-ferns.svg.
"""

from __future__ import annotations

import math
from collections import defaultdict
from pathlib import Path

import numpy as np
from shapely import affinity
from shapely.geometry import LineString, Polygon
from shapely.geometry import Point as Dot
from shapely.geometry.base import BaseGeometry
from shapes import Point, blob, lens, parts, ribbon, rounded, sheets_svg, spline, tapered, union

TARGET = Path(__file__).parent.parent / "demo" / "sets" / "hedgehog-in-ferns.svg"
WIDTH, HEIGHT = 107.95, 107.95
GROUND = 4.8
# mm by which ferns, ground and toadstool are lifted to the feet
STEPS = {
    1: "Outline",
    2: "Soft shapes",
    3: "Middle tones",
    4: "Deep tones",
    5: "Darkest touches",
    6: "Toadstool, printed apart",
}
Prints = dict[tuple[int, str], list[BaseGeometry]]

BACK = blob(
    [
        (24, 84),
        (21, 70),
        (26, 55),
        (39, 44.5),
        (54, 43),
        (66, 49),
        (71.5, 58),
        (69, 68),
        (66, 80),
        (58, 87),
        (40, 89),
    ]
)
FACE = blob(
    [
        (62, 62),
        (68, 55.5),
        (76, 60),
        (83, 68),
        (91.5, 74.2),
        (92.3, 77),
        (85, 80.5),
        (75, 84.5),
        (64, 85),
        (59, 76),
    ]
)
BELLY = blob([(36, 86), (48, 80), (62, 78), (74, 82), (70, 89), (56, 91.5), (42, 91)])
FEET = [
    blob([(44, 90), (50, 88.5), (54, 91), (52, 94), (44, 94.2), (41.5, 92.5)]),
    blob([(65, 88.5), (71, 87), (75.5, 90.5), (73, 93.2), (65.5, 93.2), (63, 91)]),
]
EAR = blob([(64.2, 58), (65.5, 52.5), (70.4, 52), (73, 56.5), (70, 61), (66, 61.5)])
SPINE = [(25, 80), (26, 63), (38, 50), (54, 47), (66, 55)]
# the curve from which the quills stand away


class Fern:
    """A frond: a curved stem with leaflets on both sides, smaller towards its tip."""

    def __init__(self, stem: list[Point], longest: float, pairs: int) -> None:
        stem = [(x, y - GROUND) for x, y in stem]
        self.line = spline(stem, 300)
        self.stem = ribbon(stem, lambda t: 0.62 - 0.45 * t, 120)
        self.longest, self.pairs = longest, pairs

    def leaflets(self, share: float = 1.0, fat: float = 0.30, shift: float = 0.0) -> list[Polygon]:
        """One lens a leaflet; ``share`` of its length, ``fat`` its height by its length."""
        found = []
        for i in range(self.pairs):
            t = 0.14 + 0.84 * i / self.pairs
            at, ahead = self.line[int(t * 298)], self.line[int(t * 298) + 1]
            heading = math.atan2(*(ahead - at)[::-1])
            length = self.longest * math.sin(math.pi * (0.18 + 0.80 * t)) ** 0.8
            if length < 1.6:
                continue
            for side in (1, -1):
                turn = heading + side * math.radians(62 - 14 * t)
                reach = share * length
                middle = at + (0.5 * reach + 0.55 + shift) * np.array([math.cos(turn), math.sin(turn)])
                leaf = lens(
                    (float(middle[0]), float(middle[1])),
                    reach,
                    fat * length,
                    math.degrees(turn),
                    side * 0.07 * length,
                )
                found.append(leaf)
        tip = self.line[-1]
        found.append(
            affinity.translate(lens((0, 0), 3.4 * share, 1.1, self.tip_angle), float(tip[0]), float(tip[1]))
        )
        return found

    @property
    def tip_angle(self) -> float:
        return math.degrees(math.atan2(*(self.line[-1] - self.line[-6])[::-1]))


FERNS = [
    Fern([(17, 98), (12, 76), (15, 52), (27, 30), (42, 21)], 10.5, 17),
    Fern([(22, 99), (31, 70), (46, 42), (64, 26), (80, 24)], 11.0, 18),
    Fern([(88, 98), (97, 84), (99.5, 66), (93, 48), (82, 40)], 8.8, 14),
    Fern([(9, 98), (5.8, 86), (7, 74), (12, 66)], 5.6, 9),
]


def quills(
    rows: list[float], count: int, length: float, width: float, lift: float, seed: int
) -> list[Polygon]:
    """Quills in rows over the back, each leaning towards the tail, a little unlike its neighbours."""
    rng = np.random.default_rng(seed)
    line = spline(SPINE, 300)
    centre = np.array([56.0, 76.0])
    found = []
    for row in rows:
        for k in range(count):
            t = (k + 0.5 * (rows.index(row) % 2) + rng.uniform(-0.12, 0.12)) / count
            if not 0 <= t <= 1:
                continue
            foot = line[int(t * 299)]
            foot = centre + (foot - centre) * row
            out = foot - centre
            angle = math.atan2(out[1], out[0]) - math.radians(lift) + rng.uniform(-0.1, 0.1)
            reach = length * rng.uniform(0.85, 1.12)
            tip = foot + reach * np.array([math.cos(angle), math.sin(angle)])
            middle = (foot + tip) / 2 + 0.12 * reach * np.array([math.sin(angle), -math.cos(angle)])
            found.append(ribbon([tuple(foot), tuple(middle), tuple(tip)], tapered(width, 0.3, 0.06), 40))
    return found


def fringe() -> list[Polygon]:
    """The quills that stand over the edge of the back."""
    return quills([1.0], 34, 8.6, 0.85, 24, 3)


def outline(shape: BaseGeometry, half: float = 0.24) -> BaseGeometry:
    """The line along the edge of a shape."""
    return union([LineString(p.exterior.coords).buffer(half) for p in parts(shape)])


def lifted(shape: BaseGeometry) -> BaseGeometry:
    """To its place in front of the right fern, clear of the nose."""
    return affinity.translate(shape, 4.6, 2.2 - GROUND)


def draw_lines(prints: Prints, coat: BaseGeometry, head: BaseGeometry) -> None:
    """Step 0: the lines that hold the picture together."""
    front = union([coat, head, BELLY, *FEET, EAR])
    prints[1, "hedgehog"] = [
        outline(head.difference(coat.buffer(-0.2)), 0.26).difference(coat.buffer(0.2)),
        outline(coat, 0.22),
        outline(EAR, 0.24),
        *[outline(f, 0.22).difference(union([BELLY, head]).buffer(-0.3)) for f in FEET],
        outline(BELLY, 0.2).difference(union([coat, head]).buffer(0.1)),
        ribbon([(84.5, 78.4), (81.5, 79.6), (78.0, 78.6)], tapered(0.3, 0.5, 0.1), 40),
    ]
    for fern in FERNS:
        lines = union([fern.stem, *(outline(p, 0.15) for p in fern.leaflets())])
        prints[1, "ferns"].append(lines.difference(front.buffer(0.5)))
    ground = [
        [(5, 99.5), (24, 97.6), (50, 98.8), (78, 97.4), (103, 99.2)],
        [(14, 102.2), (36, 101.2), (58, 102.4)],
        [(66, 102.6), (84, 101.4), (97, 102.4)],
    ]
    drawn = union([*prints[1, "hedgehog"], *prints[1, "ferns"]]).buffer(0.5)
    prints[1, "ground"] = [
        ribbon([(x, y - GROUND) for x, y in g], tapered(0.34, 0.5, 0.08), 120).difference(drawn)
        for g in ground
    ]


def draw_hedgehog(prints: Prints, coat: BaseGeometry, head: BaseGeometry) -> None:
    """Four steps of one animal, from the soft shapes to the eye."""
    cheek = affinity.rotate(affinity.scale(Dot(75.5, 76.2).buffer(1), 3.6, 2.4), 18)
    prints[2, "coat"] = [coat]
    prints[2, "face"] = [
        head.difference(coat.buffer(0.35)),
        BELLY.difference(union([coat, head]).buffer(0.35)),
    ]
    prints[2, "feet"] = [f.difference(union([BELLY, head, coat]).buffer(0.3)) for f in FEET]
    shade = affinity.translate(coat, -4.5, 6.0).intersection(coat.buffer(-0.5))
    prints[3, "coat"] = [
        *[
            q.intersection(coat.buffer(-0.3))
            for q in quills([0.96, 0.78, 0.6, 0.42, 0.24], 17, 8.8, 1.05, 26, 5)
        ]
    ]
    prints[3, "face"] = [
        cheek,
        head.intersection(affinity.translate(head, -3.0, 7.5)).difference(coat.buffer(0.5)),
        EAR.buffer(-0.9),
    ]
    prints[4, "coat"] = [
        *[q.intersection(shade) for q in quills([0.88, 0.69, 0.5, 0.32, 0.16], 17, 6.6, 0.62, 28, 8)],
        *[q.difference(coat.buffer(0.3)) for q in quills([1.02], 34, 5.4, 0.4, 24, 13)],
    ]
    prints[4, "feet"] = [affinity.scale(f, 0.8, 0.42).intersection(f.buffer(-0.3)) for f in FEET]
    nose = affinity.rotate(affinity.scale(Dot(91.6, 75.3).buffer(1), 2.3, 1.9), 20)
    eye = affinity.scale(Dot(80.2, 68.6).buffer(1), 1.75, 2.0).difference(Dot(80.9, 67.9).buffer(0.55))
    prints[5, "face"] = [nose.difference(Dot(92.2, 74.5).buffer(0.5)), eye]
    prints[5, "feet"] = [Dot(x, 93.2).buffer(0.38) for x in (43.6, 45.4, 47.2, 66.6, 68.4, 70.2)]


def draw_ferns(prints: Prints, front: BaseGeometry) -> None:
    """Fronds behind the animal in three depths."""
    taken: BaseGeometry = Polygon()
    for i, fern in enumerate(FERNS):
        name = ("left fern", "tall fern", "right fern", "small fern")[i]
        whole = union([fern.stem, *fern.leaflets()])
        free = front.buffer(0.6).union(taken.buffer(0.45))
        prints[2, name] = [rounded(whole.difference(free), 0.06)]
        prints[3, name] = [
            union(fern.leaflets(0.62, 0.17, 0.1)).difference(free).intersection(whole.buffer(-0.12))
        ]
        veins = fern.leaflets(0.42, 0.075)
        prints[4, name] = [union([fern.stem.buffer(-0.08), *veins]).difference(free)]
        taken = union([taken, whole])


def draw_toadstool(prints: Prints) -> None:
    """Printed on its own scrap, cut out and set on at the end: it stands before the ferns on the right."""
    cap = blob([(82, 92), (83, 86.6), (88.5, 82.6), (94.5, 83.4), (98.6, 87.6), (99, 92.4), (91, 94)])
    stem = blob([(88.6, 93), (93.2, 93), (93.6, 98), (95.2, 101.4), (87, 101.4), (88.4, 98)])
    spots = [
        affinity.scale(Dot(x, y).buffer(1), a, b)
        for x, y, a, b in (
            (87, 87.2, 1.4, 1.1),
            (92.2, 85.6, 1.5, 1.0),
            (96, 89.2, 1.1, 1.2),
            (90.4, 90.2, 1.2, 0.9),
            (85, 91, 0.8, 0.7),
        )
    ]
    prints[6, "toadstool cap"] = [lifted(cap.difference(union(spots)))]
    prints[6, "toadstool stem"] = [
        lifted(
            stem.difference(cap.buffer(0.4)).difference(
                ribbon([(89.4, 95), (91, 95.8), (92.6, 95)], 0.18, 30)
            )
        )
    ]


def draw() -> Prints:
    """Every raised part of the set by (sheet, element)."""
    prints: Prints = defaultdict(list)
    coat = rounded(
        union([BACK.difference(FACE.buffer(-1.6)), *fringe()]).difference(
            union([FACE.buffer(-2.2), EAR.buffer(0.4)])
        ),
        0.08,
    )
    head = union([FACE, EAR])
    draw_lines(prints, coat, head)
    draw_hedgehog(prints, coat, head)
    draw_ferns(prints, union([coat, head, BELLY, *FEET]))
    moss = [
        affinity.scale(Dot(x, y - GROUND).buffer(1), a, b)
        for x, y, a, b in ((15, 99.6, 9, 1.6), (40, 100.2, 14, 1.7), (70, 99.8, 12, 1.7), (95, 100.2, 8, 1.4))
    ]
    prints[2, "ground"] = [rounded(union(moss).difference(union(FEET).buffer(0.4)), 0.2)]
    prints[3, "ground"] = [
        affinity.scale(Dot(x, y - GROUND).buffer(1), a, 0.8)
        for x, y, a in ((22, 100.5, 5), (57.5, 100.9, 4), (82, 100.7, 5))
    ]
    draw_toadstool(prints)
    return prints


if __name__ == "__main__":
    text = sheets_svg("Hedgehog in ferns", (WIDTH, HEIGHT), STEPS, draw(), "step", 0.12)
    TARGET.write_text(text)
    print(text.count("<path"), "parts,", TARGET.stat().st_size // 1024, "kB")
