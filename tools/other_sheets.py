"""Sheets that the readings of photographs were not made with: leaves, hearts, petals, waves, arcs and bars, drawn from a number."""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely import Polygon, affinity

SIZES = ((152.4, 152.4), (127.0, 177.8), (105.0, 148.0), (210.0, 148.0), (107.95, 139.7))
# mm, width by height
KINDS = {"coarse": (37, 1.5, 1.0), "fine": (98, 1.0, 0.45), "finest": (140, 0.8, 0.3)}
# openings, mm between them at least, and how large they are
_LARGER, _SMALLER, _MARGIN, _TRIES = 0.4, 0.55, 6.0, 8000
# share of them that are of full size, and the size of the others; mm; how often a place is looked for


def _leaf(long: float, wide: float) -> Polygon:
    t = np.linspace(0, 1, 24)
    y = wide / 2 * np.sin(np.pi * t) ** 0.9
    back = list(zip(long * (t[::-1] - 0.5), -y[::-1], strict=True))[1:-1]
    return Polygon([*zip(long * (t - 0.5), y, strict=True), *back])


def _heart(size: float) -> Polygon:
    t = np.linspace(0, 2 * np.pi, 60, endpoint=False)
    y = 13 * np.cos(t) - 5 * np.cos(2 * t) - 2 * np.cos(3 * t) - np.cos(4 * t)
    return Polygon(np.c_[16 * np.sin(t) ** 3, -y] * size / 32)


def _petals(size: float, count: int) -> Polygon:
    t = np.linspace(0, 2 * np.pi, 120, endpoint=False)
    r = size / 2 * (0.72 + 0.28 * np.cos(count * t))
    return Polygon(np.c_[r * np.cos(t), r * np.sin(t)])


def _wave(long: float, wide: float, high: float, turns: float, start: float) -> Polygon:
    t = np.linspace(-long / 2, long / 2, 60)
    return shapely.LineString(np.c_[t, high * np.sin(t / long * 2 * np.pi * turns + start)]).buffer(wide / 2)


def _arc(radius: float, wide: float, span: float) -> Polygon:
    t = np.linspace(0, span, 40)
    return shapely.LineString(np.c_[radius * np.cos(t), radius * np.sin(t)]).buffer(
        wide / 2, cap_style="flat"
    )


def _opening(by: np.random.Generator, size: float, thick: float) -> Polygon:
    """One of seven shapes, turned; ``size`` and ``thick`` of 1 as a coarse sheet has them."""
    long, wide, which = by.uniform(12, 26) * size, max(0.5, by.uniform(2.0, 4.0) * thick), int(by.integers(7))
    made = (
        lambda: _leaf(long, 0.4 * long),
        lambda: _heart(0.7 * long),
        lambda: _petals(0.7 * long, int(by.integers(4, 8))),
        lambda: _wave(1.3 * long, wide, 0.1 * long, by.uniform(0.6, 1.6), by.uniform(0, 6)),
        lambda: shapely.Point(0, 0).buffer(0.27 * long),
        lambda: shapely.box(-0.4 * long, -wide, 0.4 * long, wide),
        lambda: _arc(0.5 * long, wide, by.uniform(1.2, 4)),
    )[which]()
    return affinity.rotate(made, by.uniform(0, 360), origin=(0, 0))


def other_sheet(kind: str, number: int) -> tuple[list[Polygon], float, float]:
    """(openings, width, height) mm of a sheet of one of KINDS, as ``number`` has it."""
    count, wall, fine = KINDS[kind]
    width, height = SIZES[number % len(SIZES)]
    by = np.random.default_rng(7 * number + count)
    inner = shapely.box(_MARGIN, _MARGIN, width - _MARGIN, height - _MARGIN)
    found: list[Polygon] = []
    for _ in range(_TRIES):
        if len(found) == count:
            break
        size = fine if len(found) < _LARGER * count else _SMALLER * fine
        shape = affinity.translate(
            _opening(by, size, math.sqrt(fine) * fine**0.3), by.uniform(0, width), by.uniform(0, height)
        )
        if shape.is_valid and inner.contains(shape) and all(shape.distance(o) >= wall for o in found):
            found.append(shape)
    return found, width, height
