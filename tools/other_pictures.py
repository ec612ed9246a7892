"""Tables, light and telephones made by another hand than the simulated camera's: what one generator leaves out, the
other has. `make conditions OTHERWISE="1 2"` reads its pictures."""

from __future__ import annotations

import math
import zlib
from typing import Any

import cv2
import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon, affinity

from strata.camera import Shot
from strata.camera.photograph import encoded, share_of
from strata.camera.shot import Lens
from strata.camera.surfaces import over_the_table, rounded
from tools.other_tables import (
    COLOURS,
    Colour,
    Plane,
    cloud,
    gingham,
    lettered,
    mat,
    newspaper,
    plain,
    turned,
    wood,
)

Rgb = NDArray[np.uint8]
_INKS = (
    (0.35, 0.028, 0.07),
    (0.035, 0.14, 0.28),
    (0.385, 0.28, 0.014),
    (0.07, 0.21, 0.07),
    (0.21, 0.056, 0.245),
)


def _kernel(radius: int, shaken: bool) -> Plane:
    """What one point of light becomes: a disk out of focus, or the way of a hand that shook."""
    kernel = np.zeros((2 * radius + 3,) * 2, np.float32)
    middle = radius + 1
    if not shaken:
        cv2.circle(kernel, (middle, middle), radius, 1.0, -1, cv2.LINE_AA)
    else:
        for t in np.linspace(-0.5, 0.5, 200):
            kernel[round(middle + radius * (0.48 * t + 0.5 * t * t)), round(middle + radius * 0.88 * t)] += 1
    return kernel / kernel.sum()


def _soft_shadow(x: Plane, y: Plane) -> Plane:
    dark = 1 / (1 + np.exp(-(0.8 * x + 0.6 * y - 0.72 + 0.06 * np.sin(6 * y)) / 0.025))
    return 1 - dark[..., None] * np.array([0.55, 0.52, 0.46], np.float32)


def _hard_shadow(x: Plane, y: Plane) -> Plane:
    u, v = turned(x - np.float32(0.55), y - np.float32(0.45), 0.35)
    return (
        1
        - 0.5
        * cv2.GaussianBlur(((np.abs(u) < 0.16) & (np.abs(v) < 0.27)).astype(np.float32), (0, 0), 5)[..., None]
    )


def _two_lamps(x: Plane, y: Plane) -> Plane:
    one, other = (
        np.exp(-k * ((x - a) ** 2 + (y - b) ** 2))[..., None] for k, a, b in ((3, 0.05, 0.1), (2, 1.0, 0.9))
    )
    return (
        one * np.array([1.1, 0.85, 0.55], np.float32)
        + other * np.array([0.6, 0.8, 1.05], np.float32)
        + np.float32(0.1)
    )


def _window(x: Plane, y: Plane) -> Plane:
    """Two panes of a window, mirrored in the plastic."""
    panes = np.zeros(x.shape, np.float32)
    for at_x, at_y in ((0.40, 0.58), (0.66, 0.4)):
        u, v = turned(x - np.float32(at_x), y - np.float32(at_y), 0.32)
        panes = np.maximum(panes, (np.abs(u) < 0.05) & (np.abs(v) < 0.06))
    return 0.85 * cv2.GaussianBlur(panes.astype(np.float32), (0, 0), 14)[..., None]


def _thumb(picture: Rgb) -> Rgb:
    high, wide = picture.shape[:2]
    for at, size, colour in (
        ((0.12, 0.6), (0.09, 0.04), (196, 150, 130)),
        ((0.185, 0.585), (0.02, 0.026), (225, 190, 178)),
    ):
        ends = round(at[0] * wide), round(at[1] * high)
        cv2.ellipse(picture, ends, tuple(round(s * wide) for s in size), -12, 0, 360, colour, -1, cv2.LINE_AA)
    return picture


def _sharpened(picture: Rgb) -> Rgb:
    """A telephone's: the more of an edge, up to a limit."""
    more = picture - cv2.GaussianBlur(picture, (0, 0), 1.4).astype(np.float32)
    return np.clip(picture + np.sign(more) * np.minimum(1.1 * np.abs(more), 45), 0, 255).astype(np.uint8)


def _bent(picture: Rgb) -> Rgb:
    """A telephone's tones: the dark darker, the light lighter, an S over the encoded values."""
    values = np.arange(256) / 255
    return np.rint(255 * (values - 0.08 * np.sin(2 * np.pi * values))).astype(np.uint8)[picture]


def _by_telephone(picture: Rgb) -> Rgb:
    """All that a telephone does to a picture at once."""
    return _sharpened(cv2.bilateralFilter(_bent(picture), 5, 14, 2))


def _dusty(picture: Rgb) -> Rgb:
    by, (high, wide) = np.random.default_rng(9), picture.shape[:2]
    for _ in range(700):
        x, y, angle, t = (
            by.uniform(0, wide),
            by.uniform(0, high),
            by.uniform(0, 6.3),
            np.linspace(0, by.uniform(10, 60), 8),
        )
        if by.random() < 0.6:
            cv2.circle(picture, (int(x), int(y)), int(by.integers(1, 3)), (165, 160, 150), -1, cv2.LINE_AA)
        else:
            hair = np.c_[
                x + t * math.cos(angle) + 8 * np.sin(t / 10), y + t * math.sin(angle) + 8 * np.cos(t / 8)
            ]
            cv2.polylines(picture, [np.int32(hair)], False, (140, 138, 130), 1, cv2.LINE_AA)
    return picture


def _ruler(width: float, height: float) -> list[tuple[list[Polygon], Colour]]:
    strokes = [
        shapely.box(width + 2.2, n, width + 2.2 + (9 if n % 10 == 0 else 6.5 if n % 5 == 0 else 4.5), n + 0.2)
        for n in range(int(0.95 * height))
    ]
    return [
        ([shapely.box(width + 2, -5, width + 28, 0.95 * height)], (0.55, 0.5, 0.3)),
        (strokes, (0.04,) * 3),
    ]


_WHITE_ON_GREEN: dict[str, Any] = {
    "table": mat((0.02, 0.12, 0.09), (0.55, 0.6, 0.4), 10, 0.25, 0.5, 5),
    "plastic": COLOURS["white"],
}
_WHITE_ON_OAK: dict[str, Any] = {"table": wood(COLOURS["oak"]), "plastic": COLOURS["white"]}
_ON_PALE: dict[str, Any] = {"table": plain(COLOURS["pale"]), "plastic": COLOURS["black"]}
OTHERWISE: dict[str, dict[str, Any]] = {
    "clear": {},
    "green mat": _WHITE_ON_GREEN,
    "blue mat": {"table": mat((0.03, 0.07, 0.2), (0.6, 0.62, 0.66), 12.7, 0.3, 0.6, 4)},
    "pink mat": {"table": mat((0.5, 0.16, 0.22), (0.8, 0.75, 0.72), 10, 0.2, 0.4, 5)},
    "grey mat in inches": {
        "table": mat((0.07, 0.07, 0.075), (0.55, 0.55, 0.5), 25.4, 0.3, 0.3, 1),
        "plastic": COLOURS["white"],
    },
    "gingham": {"table": gingham((0.7, 0.68, 0.64), (0.45, 0.08, 0.08))},
    "pine": {"table": wood(COLOURS["pine"])},
    "oak": {"table": wood(COLOURS["oak"])},
    "white desk, grey sheet": {"table": plain(COLOURS["desk"]), "plastic": COLOURS["grey"]},
    "newspaper": {"table": newspaper},
    "small": {"shot": {"fills": 0.36}},
    "rounded": {"shot": {"corner": 12.0}},
    "ruler": {"beside": _ruler, "shot": {"fills": 0.66}},
    "second sheet along a side": {
        "beside": lambda w, h: [([shapely.box(-1.2 * w, -0.1 * h, -0.3, 1.3 * h)], COLOURS["black"])]
    },
    "corner outside": {"shot": {"roll": 0.2, "shift": (-0.12, 0.05), "fills": 0.8}},
    "paper beneath": {
        "table": plain(COLOURS["dark"]),
        "shot": {"fills": 0.6},
        "beside": lambda w, h: [
            ([affinity.rotate(shapely.box(-22, -15, w + 20, h + 26), 3)], (0.8, 0.8, 0.79))
        ],
    },
    "white on oak": _WHITE_ON_OAK,
    "white on pine": {"table": wood(COLOURS["pine"]), "plastic": COLOURS["white"]},
    "frosted on brown": {"table": plain(COLOURS["oak"]), "plastic": COLOURS["frosted"], "clear": 0.3},
    "blue on oak": {"table": wood(COLOURS["oak"]), "plastic": COLOURS["blue"]},
    "kraft on white": {"table": plain(COLOURS["desk"]), "plastic": COLOURS["kraft"]},
    "maker's name": {"name": "Lockside 07 B"},
    "stained, frosted": {"table": plain(COLOURS["dark"]), "plastic": COLOURS["frosted"], "stains": 0.9},
    "stained, dark": {"stains": 0.9},
    "soft shadow": {"lit": _soft_shadow},
    "hard shadow": {"lit": _hard_shadow},
    "window mirrored": {"added": _window},
    "warm lamp": {"fall": 0.75, "tint": (1.25, 1.0, 0.65)},
    "two lamps": {"lit": _two_lamps},
    "out of focus": {"spread": _kernel(7, shaken=False)},
    "shaken": {"spread": _kernel(15, shaken=True)},
    "wide angle": {"shot": {"k1": -0.08}},
    "dusk": {"noise": 0.07, "smoothed": True},
    "JPEG 40": {"quality": 40},
    "sharpened": {"after": _sharpened},
    "sharpened, white on oak": {**_WHITE_ON_OAK, "after": _sharpened},
    "bent tones": {"after": _bent},
    "by telephone": {"after": _by_telephone},
    "by telephone, white on dark": {
        "table": plain(COLOURS["dark"]),
        "plastic": COLOURS["white"],
        "after": _by_telephone,
    },
    "by telephone, green mat": {**_WHITE_ON_GREEN, "after": _by_telephone},
    "thumb": {"after": _thumb},
    "dusty": {"after": _dusty},
}


def _shot(way: dict[str, Any], by: np.random.Generator, size: tuple[float, float]) -> Shot:
    lies = {
        "roll": by.uniform(-0.12, 0.12),
        "tilt_x": by.uniform(-0.12, 0.12),
        "tilt_y": by.uniform(-0.12, 0.12),
        "shift": tuple(by.uniform(-0.03, 0.03, 2)),
    }
    wide, high = (2400, 3000) if size[0] <= size[1] else (3000, 2400)
    return Shot(**{"width": wide, "height": high, "fills": 0.78, **lies, **way.get("shot", {})})


def _plastic(
    way: dict[str, Any], ground: Plane, x: Plane, y: Plane, by: np.random.Generator, size: tuple[float, float]
) -> Plane:
    """The sheet's own colour (h, w, 3): what shows through it, inks left on it, its maker's name."""
    plastic = np.array(way.get("plastic", COLOURS["black"]), np.float32)
    colour = plastic + np.float32(way.get("clear", 0)) * (ground - plastic)
    for k, ink in enumerate(_INKS if "stains" in way else ()):
        much = np.clip(cloud(int(by.integers(1e6)) + k, x, y, 3, 20, 20) - 0.9, 0, 0.8) * np.float32(
            way["stains"]
        )
        colour = colour + much[..., None] * (np.array(ink, np.float32) - colour)
    if "name" in way:
        tile = lettered(600, way["name"], (8, 45), 1.4, 5)
        at = (np.asarray((t - o) * 14, np.float32) for t, o in ((x, 0.3 * size[0]), (y, size[1] - 4.6)))
        colour = colour + 0.85 * cv2.remap(tile, *at, cv2.INTER_LINEAR, borderValue=0)[..., None] * (
            np.float32(0.75) - colour
        )
    return colour


def pictured(name: str, shapes: list[Polygon], size: tuple[float, float], number: int) -> tuple[Rgb, int]:
    """(picture, JPEG quality) of a sheet with openings ``shapes``, all mm, in one of the conditions OTHERWISE."""
    way = {**_ON_PALE, **OTHERWISE[name]}
    by = np.random.default_rng(1000 * number + zlib.crc32(name.encode()) % 997)
    shot = _shot(way, by, size)
    lens = Lens(shot, *size)
    cover = np.clip(share_of([rounded(*size, shot.corner)], lens) - share_of(shapes, lens), 0, 1)[..., None]
    x, y = over_the_table(lens)
    ground = np.asarray(way["table"](x, y, by), np.float32)
    for outlines, colour in way["beside"](*size) if "beside" in way else ():
        ground = ground + share_of(outlines, lens)[..., None] * (np.array(colour, np.float32) - ground)
    light = cover * _plastic(way, ground, x, y, by, size) + (1 - cover) * ground
    v, u = (
        np.mgrid[: shot.height, : shot.width] / np.array([shot.height, shot.width])[:, None, None]
    ).astype(np.float32)
    side, fall = (
        turned(u - np.float32(0.5), v - np.float32(0.5), by.uniform(0, 6.3))[0],
        way.get("fall", 0.3),
    )
    lamp = (1 - fall * (0.5 + 0.9 * side) / 1.2) * (1 - 0.5 * fall * ((u - 0.5) ** 2 + (v - 0.5) ** 2))
    light = light * lamp[..., None] * np.array(way.get("tint", (1, 1, 1)), np.float32)
    light = light * way["lit"](u, v) if "lit" in way else light
    light = light + way["added"](u, v) if "added" in way else light
    light = cv2.GaussianBlur(np.asarray(light, np.float32), (0, 0), 0.9)
    light = cv2.filter2D(light, -1, way["spread"]) if "spread" in way else light
    light = light + way.get("noise", 0.012) * np.sqrt(np.clip(light, 0, 1) + 0.02) * by.standard_normal(
        light.shape, dtype=np.float32
    )
    picture = np.ascontiguousarray(encoded(np.asarray(light, np.float32)))
    picture = cv2.bilateralFilter(picture, 5, 14, 2) if way.get("smoothed") else picture
    return way.get("after", lambda p: p)(picture), way.get("quality", 82)
