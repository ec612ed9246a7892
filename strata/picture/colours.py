"""The colours of stacks, in all 36 bands, by the one layer law."""

from __future__ import annotations

from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from strata.optics import layers as law
from strata.optics.colour import RGB_FROM_XYZ, XYZ_WEIGHTS, Floats, encode_srgb, lab_from_xyz
from strata.optics.inks import Deposit, Ink
from strata.optics.spectrum import BANDS
from strata.optics.stack import TRAP_BANDS, TRAP_LOSS, TRAP_RATE, Stock
from strata.picture.layers import LIFTED, Layer
from strata.picture.raster import Floats32

Bytes = NDArray[np.uint8]
_HANDS = ThreadPoolExecutor(max_workers=2, thread_name_prefix="picture")
_CHUNK = 6000
# stacks worked at once: their bands stay in the cache
_CURVE: Bytes = np.round(255 * encode_srgb(np.arange(8192) / 8191.0)).astype(np.uint8)
_TO_RGB = np.float32(8191 * RGB_FROM_XYZ @ XYZ_WEIGHTS).T
GLOSS = 0.1
# how much deeper a clear gloss makes what lies below
WHOLE = 0.9999
# of a pixel that a card covers, and nothing below it is seen
_THIN = 1e-5
# a level that is none


@lru_cache(maxsize=2048)
def _pieces(ink: Ink) -> list[tuple[float, float, Floats32, Floats32]]:
    """An ink's deposit curve: from how many coats on, for how many, what each adds in K x and S x."""
    low = Deposit(0.0, np.zeros(BANDS), np.zeros(BANDS))
    found = []
    last = len(ink.deposits) - 1
    for i, high in enumerate(ink.deposits):
        run = high.coats - low.coats
        found.append(
            (
                low.coats,
                np.inf if i == last else run,
                np.asarray((high.absorbed - low.absorbed) / run, np.float32),
                np.asarray((high.scattered - low.scattered) / run, np.float32),
            )
        )
        low = high
    return found


def _deposit(ink: Ink, coats: Floats32) -> tuple[Floats32, Floats32]:
    """K x and S x (n, 36) of so many coats (n,)."""
    absorbed = np.zeros((len(coats), BANDS), np.float32)
    scattered = np.zeros_like(absorbed)
    for start, length, k, s in _pieces(ink):
        part = np.clip(coats - np.float32(start), 0, length)[:, None]
        if start and not part.any():
            break
        absorbed += part * k
        if ink.chemistry.opaque:
            scattered += part * s
    return absorbed, scattered


def internal(stock: Stock, layers: Sequence[Layer], levels: Floats32) -> Floats32:
    """Internal reflectance (n, 36) of stacks: ``levels`` (n, layers) of layers on a card."""
    return _Pile(stock, layers, _lifted(layers, levels)).internal()


def _lifted(layers: Sequence[Layer], levels: Floats32) -> Floats32:
    """Levels with what a damp wipe takes away again of the dyes it goes over."""
    if not any(layer.kind == "lift" for layer in layers):
        return levels
    levels = levels.copy()
    for j, layer in enumerate(layers):
        if layer.kind != "lift":
            continue
        left = 1 - np.float32(layer.strength) * levels[:, j]
        for i, below in enumerate(layers[:j]):
            own = below.surface == layer.surface and below.kind == "ink" and below.ink is not None
            if own and below.ink.chemistry.key in LIFTED:  # type: ignore[union-attr]
                levels[:, i] *= left
    return levels


class _Pile:
    """Stacks being laid, layer by layer.

    Dyes between two opaque layers only add what they absorb, so each such run
    is one matrix product.
    """

    def __init__(self, stock: Stock, layers: Sequence[Layer], levels: Floats32) -> None:
        self.layers, self.levels = layers, levels
        self.r = np.repeat(np.asarray(stock.internal, np.float32)[None, :], len(levels), axis=0)
        self.coats: list[Floats32] = []
        self.spectra: list[Floats32] = []
        self.last_wet = max((j for j, layer in enumerate(layers) if layer.wet), default=-1)
        # inks below the last one that goes onto wet ink: what lies of each (n,), and what a coat of it absorbs (36,)
        self.laid: list[Floats32] = []
        self.coat: list[Floats] = []
        self.piles: list[float] = []

    def internal(self) -> Floats32:
        at = 0
        while at < len(self.layers):
            layer = self.layers[at]
            if layer.kind == "card":
                end = at + 1
                while end < len(self.layers) and self.layers[end].surface == layer.surface:
                    end += 1
                self._card(at, end)
                at = end
                continue
            self._one(at)
            at += 1
        self._settle()
        return self.r

    def _settle(self) -> None:
        """Lay the run of dyes that waits."""
        if self.coats:
            self.r *= np.exp(np.stack(self.coats).T @ (-2 * np.stack(self.spectra)))
            self.coats.clear()
            self.spectra.clear()

    def _one(self, j: int) -> None:
        layer, level = self.layers[j], self.levels[:, j]
        if layer.kind == "lift":
            return  # it is in the levels already
        if layer.kind == "ink" and layer.ink is not None:
            self._ink(j, layer.ink, layer, level)
            return
        rows = np.flatnonzero(level > _THIN)
        if not rows.size:
            return
        self._settle()
        if layer.kind == "shade":
            seen = law.outside(self.r[rows]) * (1 - np.float32(layer.strength) * level[rows, None])
            self.r[rows] = law.inside(seen)
        elif layer.kind == "gloss":
            power = 1 + np.float32(GLOSS) * level[rows, None]
            self.r[rows] = np.power(np.maximum(self.r[rows], 1e-6), power)

    def _ink(self, j: int, ink: Ink, layer: Layer, level: Floats32) -> None:
        coats = level * np.float32(layer.thickness)
        taken = self._share_taken() if layer.wet and self.laid else None
        if j < self.last_wet:
            self.laid.append(coats if taken is None else coats * taken)
            self.coat.append(ink.deposit(layer.thickness).absorbed / layer.thickness)
            self.piles.append(layer.thickness)
        if ink.chemistry.opaque:
            self._opaque(ink, coats, taken)
            return
        for start, length, absorbed, _ in _pieces(ink):
            if start < layer.thickness:
                whole = start == 0 and layer.thickness <= length
                part = coats if whole else np.clip(coats - np.float32(start), 0, length)
                self.coats.append(part if taken is None else part * taken)
                self.spectra.append(absorbed)

    def _opaque(self, ink: Ink, coats: Floats32, taken: Floats32 | None) -> None:
        rows = np.flatnonzero(coats > _THIN)
        if not rows.size:
            return
        self._settle()
        absorbed, scattered = _deposit(ink, coats[rows])
        if taken is not None:
            share = taken[rows, None]
            absorbed, scattered = absorbed * share, scattered * share
        self.r[rows] = law.over(self.r[rows], absorbed, scattered)

    def _share_taken(self) -> Floats32:
        """The share t (n,) of an ink that stays on the wet ink below.

        The mean over the nine highest bands of a sum is the largest mean over
        any nine; trying the sets of each ink below and of their piles gives it
        to within the model's own accuracy.
        """
        coat = np.stack(self.coat)
        piles = np.cumsum(coat * np.array(self.piles)[:, None], axis=0)
        spectra = np.concatenate([coat, piles])
        ranks = np.argpartition(spectra, -TRAP_BANDS, axis=1)[:, -TRAP_BANDS:]
        sets = np.unique(np.sort(ranks, axis=1), axis=0)
        means = np.asarray(2 * coat[:, sets].mean(axis=2).T, np.float32)
        highest = (means @ np.stack(self.laid)).max(axis=0)
        return np.asarray(1 - np.float32(TRAP_LOSS) * (1 - np.exp(-np.float32(TRAP_RATE) * highest)))

    def _card(self, at: int, end: int) -> None:
        """A piece with what lies on it, over what lies below; at its edge a pixel is shared by both."""
        layer = self.layers[at]
        rows = np.flatnonzero(self.levels[:, at] > _THIN)
        if not rows.size or layer.stock is None:
            return
        self._settle()
        alpha = self.levels[rows, at][:, None]
        inner = list(range(at + 1, end))
        own = _Pile(layer.stock, [self.layers[i] for i in inner], self.levels[rows][:, inner]).internal()
        mixed = law.inside(law.outside(self.r[rows]) * (1 - alpha) + law.outside(own) * alpha)
        self.r[rows] = np.where(alpha >= WHOLE, own, mixed)


def _uncovered(layers: Sequence[Layer], levels: Floats32) -> Floats32:
    """Levels without what a card hides anyway: it need not be computed."""
    cards = [j for j, layer in enumerate(layers) if layer.kind == "card"]
    if cards:
        levels = levels.copy()
        for j in cards:
            levels[levels[:, j] >= WHOLE, :j] = 0
    return levels


def hidden(layers: Sequence[Layer], levels: Floats32, j: int) -> NDArray[np.bool_]:
    """Which stacks a card covers wholly above layer ``j``."""
    found = np.zeros(len(levels), bool)
    for i in range(j + 1, len(layers)):
        if layers[i].kind == "card" and layers[i].surface != layers[j].surface:
            found |= levels[:, i] >= WHOLE
    return found


def seen(stock: Stock, layers: Sequence[Layer], levels: Floats32) -> Floats32:
    """Seen reflectance (n, 36) of stacks."""
    return np.asarray(law.outside(internal(stock, layers, levels)), np.float32)


def colours(stock: Stock, layers: Sequence[Layer], levels: Floats32) -> Bytes:
    """sRGB bytes (n, 3) of stacks."""
    found = np.empty((len(levels), 3), np.uint8)

    def chunk(start: int) -> None:
        part = _uncovered(layers, levels[start : start + _CHUNK])
        active = np.flatnonzero((part > _THIN).any(axis=0)).tolist()
        light = seen(stock, [layers[i] for i in active], part[:, active]) @ _TO_RGB
        found[start : start + _CHUNK] = _CURVE[np.clip(light, 0, 8191).astype(np.int16)]

    starts = range(0, len(levels), _CHUNK)
    if len(starts) > 1:
        # numpy lets go of the interpreter inside its loops, so a second core helps
        list(_HANDS.map(chunk, starts))
    else:
        for start in starts:
            chunk(start)
    return found


def reference_lab(stock: Stock, layers: Sequence[Layer], levels: Floats32) -> Floats:
    """CIELAB (n, 3) in all 36 bands: what pictures are measured against."""
    return lab_from_xyz(np.asarray(seen(stock, layers, levels), np.float64) @ XYZ_WEIGHTS.T)
