"""Pictures kept, so that a change recomputes only the pixels it touches."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from strata.kept import Kept
from strata.optics.stack import Stock
from strata.picture.panel import Bytes, Layer, paint
from strata.picture.raster import Raster, Window


@dataclass(frozen=True)
class _Print:
    stock: Stock
    raster: Raster
    layers: tuple[Layer, ...]
    image: Bytes


def changed(old: Sequence[Layer], new: Sequence[Layer]) -> list[Layer]:
    """The layers, old and new, between the common bottom and the common top of two stacks."""
    low = 0
    while low < min(len(old), len(new)) and old[low].key == new[low].key:
        low += 1
    high = 0
    while high < min(len(old), len(new)) - low and old[-1 - high].key == new[-1 - high].key:
        high += 1
    return [*old[low : len(old) - high], *new[low : len(new) - high]]


class Album:
    """The last pictures; a new one starts from the kept one that differs least."""

    def __init__(self, most: int = 120_000_000) -> None:
        self._prints: Kept[object, _Print] = Kept(most, lambda p: p.image.nbytes + 2000 * len(p.layers))

    def picture(self, stock: Stock, layers: Sequence[Layer], raster: Raster) -> Bytes:
        """The panel (h, w, 3), sRGB bytes, read-only. The same picture is computed by one thread only."""

        def make() -> _Print:
            alike = [p for p in self._prints.values() if p.raster == raster and p.stock == stock]
            image = _from_nearest(alike, stock, layers, raster)
            image.setflags(write=False)
            return _Print(stock, raster, tuple(layers), image)

        return self._prints.get((stock, raster, tuple(layer.key for layer in layers)), make).image


def _from_nearest(candidates: list[_Print], stock: Stock, layers: Sequence[Layer], raster: Raster) -> Bytes:
    whole = Window(0, 0, raster.width, raster.height)
    best, touched = None, raster.width * raster.height * 0.7
    for kept in candidates:
        fields = {id(layer.field): layer.field for layer in changed(kept.layers, layers)}
        cost = sum(field.inked for field in fields.values())
        if cost < touched:
            best, touched = kept, cost
    if best is None:
        image: Bytes = np.empty((raster.height, raster.width, 3), np.uint8)
        paint(image, stock, layers, whole)
        return image
    image = best.image.copy()
    different = changed(best.layers, layers)
    if different:
        at, mask = _touched(different)
        paint(image, stock, layers, at, mask, different)
    return image


def _touched(layers: Sequence[Layer]) -> tuple[Window, NDArray[np.bool_]]:
    """The window and mask of the pixels that any of the layers inks."""
    at = Window(
        min(layer.field.at.x0 for layer in layers),
        min(layer.field.at.y0 for layer in layers),
        max(layer.field.at.x1 for layer in layers),
        max(layer.field.at.y1 for layer in layers),
    )
    mask = np.zeros((at.y1 - at.y0, at.x1 - at.x0), bool)
    for layer in layers:
        own = layer.field.at
        mask[own.y0 - at.y0 : own.y1 - at.y0, own.x0 - at.x0 : own.x1 - at.x0] |= layer.field.values > 0
    return at, mask


ALBUM = Album()
