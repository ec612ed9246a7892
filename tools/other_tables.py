"""Tables made by another hand than the simulated camera's: boards with seams, checks, mats with lines aslant and numbers,
a newspaper."""

from __future__ import annotations

import math
from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter

Plane = NDArray[np.float32]
Colour = tuple[float, float, float]
Table = Callable[[Plane, Plane, np.random.Generator], Plane]
# linear colour (h, w, 3) at places on it, mm (h, w) each
COLOURS: dict[str, Colour] = {
    "black": (0.03, 0.035, 0.045), "white": (0.78, 0.78, 0.76), "frosted": (0.6, 0.63, 0.64), "kraft": (0.42, 0.29, 0.17),
    "blue": (0.04, 0.18, 0.48), "grey": (0.5, 0.5, 0.49), "pale": (0.68, 0.66, 0.62), "desk": (0.78, 0.78, 0.77),
    "dark": (0.06, 0.05, 0.045), "pine": (0.62, 0.42, 0.23), "oak": (0.36, 0.22, 0.12),
}  # fmt: skip
_N = 1024


def cloud(seed: int, x: Plane, y: Plane, per_mm: float, across: float, down: float) -> Plane:
    """Smooth noise of spread 1."""
    raw = gaussian_filter(
        np.random.default_rng(seed).normal(0, 1, (_N, _N)).astype(np.float32), (down, across), mode="wrap"
    )
    u, v = ((t * np.float32(per_mm)) % _N for t in (x, y))
    return cv2.remap(
        raw / raw.std(),
        u.astype(np.float32),
        v.astype(np.float32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_WRAP,
    )


def turned(x: Plane, y: Plane, angle: float) -> tuple[Plane, Plane]:
    c, s = np.float32(math.cos(angle)), np.float32(math.sin(angle))
    return x * c + y * s, y * c - x * s


def plain(colour: Colour) -> Table:
    return lambda x, y, by: (
        np.array(colour, np.float32)
        * (1 + 0.015 * cloud(int(by.integers(1e6)), x, y, 6, 1.5, 1.5))[..., None]
    )


def wood(colour: Colour) -> Table:
    """Boards with rings that waver, fibres, pores, and a dark seam every 85 mm."""

    def of(x: Plane, y: Plane, by: np.random.Generator) -> Plane:
        angle = by.uniform(-0.3, 0.3) + (math.pi / 2 if by.random() < 0.5 else 0)
        (u, v), seed = turned(x, y, angle), int(by.integers(1e6))
        v = v + 3 * cloud(seed, u, v, 0.5, 30, 8)
        ring = 0.5 + 0.5 * np.sin(v * np.float32(2 * math.pi / by.uniform(5, 9)))
        pores = cloud(seed + 2, u, v, 10, 14, 0.8) > 1.9
        grain = 1 - 0.22 * ring**3 + 0.06 * cloud(seed + 1, u, v, 8, 40, 1.0) - 0.3 * pores
        return np.clip(grain * np.where(np.mod(v, 85) < 0.5, 0.4, 1), 0.25, 1.5)[..., None] * np.array(
            colour, np.float32
        )

    return of


def gingham(one: Colour, other: Colour) -> Table:
    def of(x: Plane, y: Plane, by: np.random.Generator) -> Plane:
        (u, v), wide = turned(x, y, by.uniform(-0.4, 0.4)), by.uniform(5, 9)
        share = ((np.mod(u, 2 * wide) < wide).astype(np.float32) + (np.mod(v, 2 * wide) < wide)) / 2
        cloth = (
            np.array(one, np.float32) * (1 - share)[..., None]
            + np.array(other, np.float32) * share[..., None]
        )
        return cloth * (1 + 0.08 * np.sin(u * 9) * np.sin(v * 9))[..., None]

    return of


def lettered(tall: int, words: str, at: tuple[int, int], scale: float, thick: int) -> Plane:
    tile = np.zeros((tall, tall), np.uint8)
    cv2.putText(tile, words, at, cv2.FONT_HERSHEY_SIMPLEX, scale, 255, thick, cv2.LINE_AA)
    return tile.astype(np.float32) / 255


def mat(colour: Colour, ink: Colour, apart: float, thin: float, bold: float, every: int) -> Table:
    """A mat with lines each way, bold ones, ones aslant, and a number by each crossing of bold ones."""

    def of(x: Plane, y: Plane, by: np.random.Generator) -> Plane:
        u, v = (t + by.uniform(0, apart) for t in turned(x, y, by.uniform(-0.08, 0.08)))
        px = float(np.median(np.abs(np.diff(u, axis=1)))) + 1e-6

        def lines(at: Plane, step: float, wide: float) -> Plane:
            return np.clip((wide / 2 - np.abs(np.mod(at + step / 2, step) - step / 2)) / px + 0.5, 0, 1)

        far = apart * every
        marks = [lines(t, s, w) for t in (u, v) for s, w in ((apart, thin), (far, bold))]
        marks.append(lines((u + v) / math.sqrt(2), 2 * far, thin))
        number = lettered(800, str(int(by.integers(1, 30))), (40, 160), 3.2, 16)
        marks.append(
            cv2.remap(
                number, *(np.asarray(np.mod(t, far) / far * 800, np.float32) for t in (u, v)), cv2.INTER_AREA
            )
        )
        base = (
            np.array(colour, np.float32) * (1 + 0.03 * cloud(int(by.integers(1e6)), x, y, 8, 1, 1))[..., None]
        )
        return base + np.maximum.reduce(marks)[..., None] * (np.array(ink, np.float32) - base)

    return of


def newspaper(x: Plane, y: Plane, by: np.random.Generator) -> Plane:
    page, words = (
        np.full((_N, _N), 140, np.uint8),
        [
            "the",
            "lock",
            "was",
            "opened",
            "again",
            "on",
            "Thursday",
            "by",
            "those",
            "who",
            "had",
            "mended",
            "its",
            "gates",
            "and",
        ],
    )
    for row in range(26):
        text = " ".join(np.random.default_rng(5 + row).choice(words, 12))
        cv2.putText(page, text, (0, 36 + 39 * row), cv2.FONT_HERSHEY_COMPLEX, 0.95, 12, 2, cv2.LINE_AA)
    places = (np.mod(t * 10, _N).astype(np.float32) for t in turned(x, y, by.uniform(-0.3, 0.3)))
    return cv2.remap(page.astype(np.float32) / 255, *places, cv2.INTER_LINEAR)[..., None] * np.array(
        [1, 0.98, 0.92], np.float32
    )
