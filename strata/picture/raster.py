"""Polygons to anti-aliased coverage, by exact areas."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
import shapely
import shapely.geometry.polygon
from numpy.typing import NDArray
from shapely import Polygon

from strata.errors import finite

Floats32 = NDArray[np.float32]
Floats = NDArray[np.float64]


MOST_PIXELS = 8_000_000
# of one picture; 1600 x 5000
MOST_ROWS = 16_000
# px; a JPEG file ends at 65,500


@dataclass(frozen=True)
class Raster:
    """A pixel grid over the panel: ``width`` x ``height`` px at ``scale`` px/mm."""

    width: int
    height: int
    scale: float

    @classmethod
    def of(cls, width_mm: float, height_mm: float, width_px: int) -> Raster:
        """The grid that shows a panel ``width_px`` wide (16..4000), fewer where it would be higher than MOST_PIXELS allows."""
        finite(width_px, "width", 16, 4000)
        scale = width_px / width_mm
        # a strip of 5 x 2000 mm would have 640,000 rows; it is shown smaller instead
        most = min(math.sqrt(MOST_PIXELS / (width_mm * height_mm)), MOST_ROWS / height_mm)
        if scale > most:
            scale, width_px = most, max(1, int(width_mm * most))
            scale = width_px / width_mm
        return cls(int(width_px), max(1, round(height_mm * scale)), scale)


@dataclass(frozen=True)
class Window:
    """A rectangle of the grid, pixels: rows y0..y1, columns x0..x1."""

    x0: int
    y0: int
    x1: int
    y1: int

    @property
    def empty(self) -> bool:
        return self.x1 <= self.x0 or self.y1 <= self.y0

    @property
    def slices(self) -> tuple[slice, slice]:
        return slice(self.y0, self.y1), slice(self.x0, self.x1)

    def centres(self, raster: Raster) -> tuple[Floats32, Floats32]:
        """mm of the pixel centres: columns (w,) and rows (h,)."""
        x = (np.arange(self.x0, self.x1, dtype=np.float32) + 0.5) / np.float32(raster.scale)
        y = (np.arange(self.y0, self.y1, dtype=np.float32) + 0.5) / np.float32(raster.scale)
        return x, y


def window(bounds: tuple[float, float, float, float], raster: Raster) -> Window:
    """The pixels that a box in mm touches, with one to spare, within the grid."""
    x0, y0, x1, y1 = (v * raster.scale for v in bounds)
    return Window(
        max(0, math.floor(x0) - 1),
        max(0, math.floor(y0) - 1),
        min(raster.width, math.ceil(x1) + 1),
        min(raster.height, math.ceil(y1) + 1),
    )


def coverage(shapes: Iterable[Polygon], at: Window, raster: Raster) -> Floats32:
    """The share of each pixel of a window that the (disjoint) shapes fill, float32 0..1.

    Exact areas: every edge is cut at pixel borders, each piece adds the area
    it leaves to its right, and a running sum along the row gives the share.
    """
    height, width = at.y1 - at.y0, at.x1 - at.x0
    starts, ends = [], []
    for shape in shapes:
        for ring in _oriented(shape):
            points = ring * raster.scale - (at.x0, at.y0)
            starts.append(points[:-1])
            ends.append(points[1:])
    if not starts or at.empty:
        return np.zeros((max(0, height), max(0, width)), np.float32)
    a, b = np.concatenate(starts), np.concatenate(ends)
    a, b = _cut(*_cut(a, b, 1), 0)
    ya, yb = np.clip(a[:, 1], 0, height), np.clip(b[:, 1], 0, height)
    middle = np.clip((a[:, 0] + b[:, 0]) / 2, 0, width)
    column = np.minimum(middle.astype(np.intp), width)
    row = np.clip(((ya + yb) / 2).astype(np.intp), 0, height - 1)
    rise, within = yb - ya, middle - column
    size = height * (width + 2)
    cell = row * (width + 2) + column
    total = np.bincount(cell, rise * (1 - within), size) + np.bincount(cell + 1, rise * within, size)
    share = np.cumsum(total.reshape(height, width + 2), axis=1)[:, :width]
    return np.asarray(np.clip(np.abs(share), 0, 1), dtype=np.float32)


def _oriented(shape: Polygon) -> list[Floats]:
    """The rings of a polygon, the outer one and its holes turning opposite ways."""
    turned = shapely.geometry.polygon.orient(shape)
    return [shapely.get_coordinates(ring) for ring in (turned.exterior, *turned.interiors)]


def _cut(a: Floats, b: Floats, axis: int) -> tuple[Floats, Floats]:
    """Segments a..b (n, 2) cut wherever they cross a whole number on an axis."""
    low, high = np.minimum(a[:, axis], b[:, axis]), np.maximum(a[:, axis], b[:, axis])
    first = np.floor(low)
    pieces = np.maximum(1, np.ceil(high) - first).astype(np.intp)
    which = np.repeat(np.arange(len(a)), pieces)
    nth = np.arange(len(which)) - np.repeat(np.cumsum(pieces) - pieces, pieces)
    border = first[which] + nth
    run = (b - a)[which]
    length = np.where(run[:, axis] == 0, 1.0, run[:, axis])
    at_low = np.where(nth == 0, low[which], border)
    at_high = np.minimum(border + 1, high[which])
    rising = run[:, axis] >= 0
    t0 = (np.where(rising, at_low, at_high) - a[which, axis]) / length
    t1 = (np.where(rising, at_high, at_low) - a[which, axis]) / length
    flat = run[:, axis] == 0
    t0, t1 = np.where(flat, 0.0, t0), np.where(flat, 1.0, t1)
    return a[which] + t0[:, None] * run, a[which] + t1[:, None] * run
