"""What the hand leaves to chance, the same at every look: drops, a dry brush, the stripes of one pad."""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely import MultiPolygon

from strata.picture.raster import Floats32, Raster, Window

DROPS_A_CM2 = 3.2
# of drops 1 mm wide; large ones are fewer


def drops(at: Window, raster: Raster, seed: int, width: float) -> Floats32:
    """Drops about ``width`` mm wide over a window, 1 inside: log-normal sizes, places as they fall."""
    rng = np.random.default_rng(seed)
    wide, tall = raster.width / raster.scale, raster.height / raster.scale
    count = int(min(2500, wide * tall / 100 * DROPS_A_CM2 / max(width, 0.4) ** 1.4))
    found = np.zeros((at.y1 - at.y0, at.x1 - at.x0), np.float32)
    middle = rng.uniform((0, 0), (wide, tall), (count, 2)) * raster.scale
    radii = width / 2 * np.exp(rng.normal(0, 0.45, count)) * raster.scale
    for (x, y), radius in zip(middle - (at.x0, at.y0), radii, strict=True):
        x0, x1 = max(0, math.floor(x - radius - 1)), min(found.shape[1], math.ceil(x + radius + 2))
        y0, y1 = max(0, math.floor(y - radius - 1)), min(found.shape[0], math.ceil(y + radius + 2))
        if x0 >= x1 or y0 >= y1:
            continue
        far = np.hypot(np.arange(x0, x1)[None, :] + 0.5 - x, np.arange(y0, y1)[:, None] + 0.5 - y)
        part = np.clip(radius + 0.5 - far, 0, 1).astype(np.float32)
        np.maximum(found[y0:y1, x0:x1], part, out=found[y0:y1, x0:x1])
    return found


def dry_brush(at: Window, raster: Raster, seed: int) -> Floats32:
    """Patchy strokes: noise drawn out along one way, cut at a level that leaves about half."""
    from scipy.ndimage import gaussian_filter

    rng = np.random.default_rng(seed)
    # on a grid of its own in mm, so that the picture is the same at every size
    step = 0.25
    wide, tall = (
        math.ceil(raster.width / raster.scale / step) + 2,
        math.ceil(raster.height / raster.scale / step) + 2,
    )
    noise = gaussian_filter(rng.normal(size=(tall, wide)), (1.1, 4.5))
    noise /= noise.std()
    x, y = at.centres(raster)
    rows = np.clip((y / step).astype(int), 0, tall - 1)
    columns = np.clip((x / step).astype(int), 0, wide - 1)
    return np.asarray(np.clip(noise[np.ix_(rows, columns)] * 1.6 + 0.4, 0, 1), np.float32)


def stripe(
    shape: MultiPolygon, at: Window, raster: Raster, angle: float, which: tuple[int, int], run: float
) -> Floats32:
    """The share of one colour of a pad in several, running into the next over ``run`` mm; the last lies at the angle."""
    index, count = which
    dx, dy = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    corners = shapely.get_coordinates(shape) @ np.array([dx, dy])
    low, high = float(corners.min()), float(corners.max())
    x, y = at.centres(raster)
    along = (x[None, :] * dx + y[:, None] * dy - low).astype(np.float32)
    width = max(high - low, 1e-6) / count
    soft = min(run, width)

    def past(border: float) -> Floats32:
        return np.asarray(np.clip((along - np.float32(border)) / np.float32(soft) + 0.5, 0, 1))

    start = np.ones_like(along) if index == 0 else past(index * width)
    end = np.zeros_like(along) if index == count - 1 else past((index + 1) * width)
    return np.asarray(start - end, np.float32)
