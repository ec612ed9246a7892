"""Draw the demo stencil "Koi and lantern": five sheets for a 4 1/4 x 5 1/2 in panel.

``python tools/draw_koi.py`` writes demo/sets/koi-and-lantern.svg. Longer than other
files, and some functions too: it is one drawing, and its strokes are data.
"""

from __future__ import annotations

import math
from collections import defaultdict
from pathlib import Path
from xml.sax.saxutils import quoteattr

import numpy as np
from koi_fish import LOWER, UPPER, Openings, draw_koi
from shapely import affinity
from shapely.geometry import LineString, Polygon, box
from shapely.geometry import Point as Dot
from shapely.geometry.base import BaseGeometry
from shapes import (
    Point,
    cut,
    lens,
    parts,
    ribbon,
    rounded,
    smooth_path,
    spline,
    tapered,
    union,
)

TARGET = Path(__file__).parent.parent / "demo" / "sets" / "koi-and-lantern.svg"
WIDTH, HEIGHT = 107.95, 139.7
FRAME = box(6.2, 6.2, WIDTH - 6.2, HEIGHT - 6.2)
SHEET_NAMES = {
    1: "Large bases",
    2: "Koi markings and lantern panels",
    3: "Pads and reeds",
    4: "Second tones",
    5: "Dark details",
}


def draw_lantern(openings: Openings) -> BaseGeometry:
    """The hanging lantern with its panels, ribs, cap, tassel, and its light on the water."""
    x, y, rx, ry = 74.0, 33.5, 15.5, 13.8
    globe = affinity.scale(Dot(0, 0).buffer(1, 64), rx, ry)
    globe = affinity.translate(globe, x, y)
    openings[1, "lantern"] += parts(rounded(globe, 0.2))
    for k in range(-3, 4):
        # gores between meridians, drawn as a globe turns: narrower to the sides
        left, right = (rx * math.sin(math.radians(a)) for a in (k * 25.5 - 10.2, k * 25.5 + 10.2))
        rows = np.linspace(-0.93, 0.93, 60)
        bulge = np.sqrt(1 - rows**2)
        edge = [(x + left * b, y + ry * r) for r, b in zip(rows, bulge, strict=True)]
        edge += [(x + right * b, y + ry * r) for r, b in zip(rows[::-1], bulge[::-1], strict=True)]
        gore = Polygon(edge).intersection(globe.buffer(-0.7))
        openings[2, "lantern"] += parts(
            rounded(
                cut(gore, [[(x - rx, y + ry * h), (x + rx, y + ry * h)] for h in (-0.36, 0.36)], 0.8), 0.12
            ),
            0.5,
        )
    cap = rounded(
        union(
            [
                box(x - 5.6, y - ry - 2.6, x + 5.6, y - ry - 0.4),
                box(x - 3.4, y - ry - 4.4, x + 3.4, y - ry - 2.4),
            ]
        ),
        0.4,
    )
    foot = rounded(box(x - 4.6, y + ry + 0.4, x + 4.6, y + ry + 2.6), 0.4)
    openings[5, "lantern"] += parts(cap) + parts(foot)
    openings[5, "lantern"].append(ribbon([(x - 0.4, 7.0), (x + 0.3, 11), (x, y - ry - 5.2)], 0.34, 40))
    for k, drop in zip(range(-2, 3), (6.8, 8.2, 9.0, 7.9, 6.6), strict=True):
        top = (x + k * 0.95, y + ry + 3.4)
        openings[5, "lantern"].append(
            ribbon(
                [top, (x + k * 1.2, top[1] + drop / 2), (x + k * 1.5 + 0.3, top[1] + drop)],
                tapered(0.42, 0.35, 0.2),
                40,
            )
        )
    for h in (-0.36, 0.36):
        half = rx * math.sqrt(1 - h * h) - 0.9
        hoop = ribbon(
            [(x - half, y + ry * h), (x, y + ry * h + 0.9), (x + half, y + ry * h)], tapered(0.36, 0.5, 0.22)
        )
        openings[5, "lantern"] += parts(
            cut(hoop, [[(x - 5, 0), (x - 5, 99)], [(x + 5, 0), (x + 5, 99)]], 0.9), 0.2
        )
    glow = [
        (0, 61.5, 17),
        (2.5, 64.6, 23),
        (-1.5, 67.9, 15),
        (9.5, 70.7, 11),
        (13.5, 74.3, 14.5),
        (12.8, 78.0, 9.5),
    ]
    for shift, gy, length in glow:
        openings[2, "light on the water"].append(lens((x + shift, gy), length, 1.9, 0, 0.5))
    return union([globe, cap, foot])


def pad(centre: Point, radius: float, notch: float, squash: float = 0.8) -> Polygon:
    """A lily pad: a wavy disc with a notch towards ``notch`` degrees."""
    rim = []
    for i in range(180):
        turn = 2 * math.pi * i / 180
        r = radius * (1 + 0.025 * math.sin(5 * turn + notch) + 0.015 * math.sin(9 * turn))
        rim.append((centre[0] + r * math.cos(turn), centre[1] + squash * r * math.sin(turn)))
    tip = math.radians(notch)
    far = 1.5 * radius
    wedge = Polygon(
        [centre]
        + [
            (centre[0] + far * math.cos(tip + d), centre[1] + squash * far * math.sin(tip + d))
            for d in (-0.24, 0, 0.24)
        ]
    )
    return rounded(Polygon(rim).difference(wedge), 0.35)


PADS = [
    ((20.5, 68), 11.2, 35.0),
    ((94.0, 106.0), 7.8, 200.0),
    ((92.5, 124.5), 10.0, 250.0),
    ((19.5, 125.5), 10.8, -40.0),
]


def draw_pads(openings: Openings) -> BaseGeometry:
    """Pads with bridges along their veins, the bud on its stem, the second tone, the veins."""
    x, y = 33.0, 61.0
    for turn, length, height in ((-28, 10.5, 4.0), (28, 10.5, 4.0), (0, 13.0, 4.6)):
        petal = affinity.rotate(lens((x, y - length / 2), length, height, 90), turn, origin=(x, y + 1))
        taken = union(openings[3, "bud"]).buffer(0.75) if openings[3, "bud"] else Polygon()
        openings[3, "bud"] += parts(rounded(petal.difference(taken), 0.15), 0.8)
    heart = affinity.rotate(lens((x, y - 3.4), 6.0, 2.2, 90), 0)
    openings[5, "bud"] += [
        affinity.translate(s, 0, 0.4)
        for s in parts(heart.difference(affinity.translate(heart, 0.9, -0.5)), 0.3)
    ]
    openings[3, "bud"].append(
        ribbon([(x, y + 2.4), (x - 0.8, y + 5.4), (x - 3.0, y + 8.2)], tapered(0.75, 0.4, 0.4), 50)
    )
    whole = []
    for centre, radius, notch in PADS:
        shape = pad(centre, radius, notch)
        whole.append(shape)
        spokes = [notch + 180, notch + 105, notch - 105]
        rays = [
            [
                centre,
                (
                    centre[0] + 2 * radius * math.cos(math.radians(a)),
                    centre[1] + 1.6 * radius * math.sin(math.radians(a)),
                ),
            ]
            for a in spokes
        ]
        free = shape.difference(union(openings[3, "bud"]).buffer(1.3)) if openings[3, "bud"] else shape
        openings[3, "lily pads"] += parts(rounded(cut(free, rays, 1.0), 0.25))
        near = shape.buffer(-0.7).difference(affinity.translate(affinity.scale(shape, 0.82, 0.82), 1.3, -1.6))
        near = cut(near, rays, 1.6)
        openings[4, "lily pads"] += parts(rounded(near, 0.2), 1.0)
        for a in (notch + 65, notch + 142, notch + 218, notch + 295):
            c, s = math.cos(math.radians(a)), math.sin(math.radians(a))
            a0 = (centre[0] + 0.22 * radius * c, centre[1] + 0.18 * radius * s)
            a1 = (centre[0] + 0.55 * radius * c + 0.3, centre[1] + 0.44 * radius * s)
            a2 = (centre[0] + 0.84 * radius * c, centre[1] + 0.67 * radius * s)
            openings[5, "lily pads"].append(ribbon([a0, a1, a2], tapered(0.36, 0.25, 0.14), 40))
    return union([*whole, *openings[3, "bud"]])


REEDS = [
    [(9.5, 58), (11.5, 40), (17.5, 20), (24, 10)],
    [(13.2, 59), (17, 42), (25, 28), (36.5, 22)],
    [(16.8, 58.5), (18.5, 46), (20.5, 33), (19.5, 22)],
    [(20.6, 59), (25.5, 47), (33.5, 39), (43, 37.5)],
    [(101, 96), (98.5, 84), (99.3, 70), (95.5, 60)],
    [(98, 95.5), (94, 85), (90.5, 77.5), (84.8, 72.6)],
]


def draw_reeds(openings: Openings, bud: BaseGeometry) -> BaseGeometry:
    """Blades with a bridge each, and two seed heads with a dark tip."""
    taken: list[BaseGeometry] = [bud.buffer(0.7)]
    for points in REEDS:
        blade = ribbon(points, tapered(1.75, 0.3, 0.2), 120)
        middle = spline(points, 9)
        at = tuple(middle[5])
        across = [(at[0] - 4, at[1] - 2.4), (at[0] + 4, at[1] + 2.4)]
        free = blade.difference(union(taken).buffer(0.8)) if taken else blade
        openings[3, "reeds"] += parts(rounded(cut(free, [across], 1.0), 0.12), 0.8)
        taken.append(blade)
        vein = ribbon([tuple(p) for p in spline(points, 12)[2:8]], tapered(0.3, 0.4, 0.12), 60)
        openings[5, "reeds"] += parts(vein.intersection(blade.buffer(-0.3)), 0.3)
    for x, y, lean in ((28.5, 17.0, 14), (47.0, 26.5, 24)):
        head = affinity.rotate(Dot(0, 0).buffer(1, 32), 0)
        head = affinity.translate(affinity.rotate(affinity.scale(head, 1.55, 5.2), lean, origin=(0, 0)), x, y)
        openings[5, "reeds"] += parts(head)
        foot = (x - 5.2 * math.sin(math.radians(lean)) * -1, y + 5.2)
        foot = (x - 5.6 * math.sin(math.radians(lean)), y + 5.8 * math.cos(math.radians(lean)))
        stem = ribbon(
            [foot, (foot[0] - 3.4, foot[1] + 11), (foot[0] - 5.4 - lean / 6, 57.5)],
            tapered(0.62, 0.5, 0.35),
            60,
        )
        free = stem.difference(union(taken).buffer(0.8))
        openings[3, "reeds"] += parts(free, 0.8)
        taken.append(stem)
    return union(taken)


def draw_water(openings: Openings, keep_off: BaseGeometry) -> None:
    """Long currents that part around the koi, and the deeper troughs between them."""
    rows = np.arange(61.0, 133.0, 6.1)
    for n, y in enumerate(rows):
        sway = 2.1 * (-1) ** n
        points = [
            (6, y + 0.6 * sway),
            (26, y - sway),
            (48, y + sway),
            (72, y - 0.8 * sway),
            (102.5, y + sway),
        ]
        band = ribbon(points, lambda t, n=n: 2.35 + 0.5 * np.sin(3 * np.pi * t + n))
        free = band.intersection(FRAME).difference(keep_off.buffer(1.1))
        joints = [[(18 + 23 * k + 7 * (n % 3), y - 6), (14 + 23 * k + 7 * (n % 3), y + 6)] for k in range(5)]
        openings[1, "water"] += parts(rounded(cut(free, joints, 1.1), 0.45), 11.0)
        low = [(px, py + 0.95) for px, py in points]
        trough = ribbon(low, lambda t, n=n: 0.85 + 0.4 * np.sin(4 * np.pi * t + 1.7 * n)).intersection(FRAME)
        trough = trough.intersection(union(openings[1, "water"]).buffer(-0.35))
        openings[4, "water"] += parts(rounded(trough, 0.2), 3.0)


def marks() -> list[Polygon]:
    """An L in three corners and a cross in the fourth, so that a sheet cannot be turned unnoticed."""
    shapes = []
    for x, y, dx, dy in ((2.2, 2.2, 1, 1), (WIDTH - 2.2, 2.2, -1, 1), (2.2, HEIGHT - 2.2, 1, -1)):
        shapes.append(
            LineString([(x + 3 * dx, y), (x, y), (x, y + 3 * dy)]).buffer(
                0.3, cap_style="square", join_style="mitre"
            )
        )
    x, y = WIDTH - 3.4, HEIGHT - 3.4
    shapes.append(
        LineString([(x - 1.6, y), (x + 1.6, y)])
        .buffer(0.3)
        .union(LineString([(x, y - 1.6), (x, y + 1.6)]).buffer(0.3))
    )
    return shapes


def draw() -> Openings:
    """Every opening of the set by (sheet, element)."""
    openings: Openings = defaultdict(list)
    upper = draw_koi(
        openings,
        UPPER,
        "upper koi",
        [
            UPPER.patch([(0.03, 0.5, -0.4), (0.10, 0.75, -0.5), (0.19, 0.5, -0.2)]),
            UPPER.patch([(0.26, 0.8, 0.1), (0.36, 0.9, -0.62), (0.47, 0.55, -0.75), (0.53, 0.2, -0.3)]),
            UPPER.patch([(0.60, 0.75, 0.1), (0.70, 0.85, -0.5), (0.79, 0.6, -0.7), (0.86, 0.2, -0.35)]),
        ],
    )
    lower = draw_koi(
        openings,
        LOWER,
        "lower koi",
        [
            LOWER.patch([(0.15, 0.2, -0.75), (0.24, 0.6, -0.85), (0.36, 0.4, -0.7), (0.42, 0.0, -0.3)]),
            LOWER.patch([(0.47, 0.85, 0.1), (0.57, 0.9, -0.35), (0.66, 0.55, -0.2)]),
            LOWER.patch([(0.74, 0.45, -0.6), (0.84, 0.7, -0.8), (0.93, 0.4, -0.5)]),
        ],
    )
    lantern = draw_lantern(openings)
    draw_pads(openings)
    draw_reeds(openings, union(openings[3, "bud"]))
    draw_water(openings, union([upper, lower, lantern]))
    return parted(openings)


def parted(openings: Openings, bridge: float = 0.7) -> Openings:
    """The same with a bridge left between any two openings of one sheet that come too near."""
    result: Openings = defaultdict(list)
    for sheet in SHEET_NAMES:
        cut_already: list[Polygon] = []
        for key in [k for k in openings if k[0] == sheet]:
            for whole in parts(union(openings[key]), 0.1):
                near = [c for c in cut_already if c.distance(whole) < 0.3]
                kept = whole.difference(union(near).buffer(bridge)) if near else whole
                pieces = parts(rounded(kept, 0.1) if near else kept, 0.15)
                cut_already += pieces
                result[key] += pieces
    return result


def write(openings: Openings) -> str:
    """The set as SVG: a named group per sheet, an attribute per element, marks apart."""
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDTH}mm" height="{HEIGHT}mm" viewBox="0 0 {WIDTH} {HEIGHT}">',
        "<title>Koi and lantern</title>",
    ]
    for number, name in SHEET_NAMES.items():
        out.append(f'<g id="sheet-{number}" data-name={quoteattr(name)} fill="#444">')
        for (sheet, element), shapes in openings.items():
            if sheet == number and shapes:
                out.append(f"<g data-element={quoteattr(element)}>")
                out += [f'<path d="{smooth_path(s)}"/>' for s in shapes]
                out.append("</g>")
        out.append(
            '<g data-role="mark">' + "".join(f'<path d="{smooth_path(m)}"/>' for m in marks()) + "</g></g>"
        )
    return "\n".join([*out, "</svg>"]) + "\n"


if __name__ == "__main__":
    drawn = draw()
    TARGET.parent.mkdir(parents=True, exist_ok=True)
    TARGET.write_text(write(drawn))
    print(sum(map(len, drawn.values())), "openings,", TARGET.stat().st_size // 1024, "kB")
