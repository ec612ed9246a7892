"""The colours of stacks, in all 36 bands, by the one layer law."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from strata.optics import layers as law
from strata.optics.colour import RGB_FROM_XYZ, XYZ_WEIGHTS, Floats, encode_srgb, lab_from_xyz
from strata.optics.deposits import Deposit
from strata.optics.inks import Ink
from strata.optics.spectrum import BANDS
from strata.optics.stack import Stock, still_wet, take
from strata.picture.layers import LIFTED, Layer
from strata.picture.raster import Floats32

Bytes = NDArray[np.uint8]
_HANDS = ThreadPoolExecutor(max_workers=2, thread_name_prefix="picture")
_CHUNK = 12_000
# stacks worked at once: fewer have less in common, and more gain nothing
_CURVE: Bytes = np.round(255 * encode_srgb(np.arange(8192) / 8191.0)).astype(np.uint8)
_TO_RGB = np.float32(8191 * RGB_FROM_XYZ @ XYZ_WEIGHTS).T
GLOSS = 0.1
# how much deeper a clear gloss makes what lies below
WHOLE = 0.9999
# of a pixel that a card covers, and nothing below it is seen
_THIN = 1e-5
# a level that is none


@lru_cache(maxsize=2048)
def _pieces(ink: Ink, finish: str) -> list[tuple[float, float, Floats32, Floats32]]:
    """An ink's deposit curve: from how many coats on, for how many, what each adds in K x and S x."""
    low = Deposit(0.0, np.zeros(BANDS), np.zeros(BANDS))
    found = []
    measured = ink.deposits(finish)
    last = len(measured) - 1
    for i, high in enumerate(measured):
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


def _deposit(ink: Ink, finish: str, coats: Floats32) -> tuple[Floats32, Floats32]:
    """K x and S x (n, 36) of so many coats (n,); of a clear ink S x (n, 1), as it is the same in every band."""
    pieces, most = _pieces(ink, finish), float(coats.max())
    absorbed = np.minimum(coats, pieces[0][1])[:, None] * pieces[0][2]
    bands = slice(None) if ink.chemistry.opaque else slice(1)
    scattered = np.minimum(coats, pieces[0][1])[:, None] * pieces[0][3][bands]
    for start, length, k, s in pieces[1:]:
        if most <= start:
            break
        part = np.clip(coats - np.float32(start), 0, length)[:, None]
        absorbed += part * k
        scattered += part * s[bands]
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
    """Stacks being laid, layer by layer; what several have below in common is worked out once.

    ``at`` (n,): which pile of layers each stack has come to; ``r`` (piles, 36) its internal reflectance, ``wet``
    (piles,) how many coats of it are wet still. Each pile is another one with one layer more: of soft layers over soft
    layers a third of all that lie somewhere are different ones.
    """

    def __init__(self, stock: Stock, layers: Sequence[Layer], levels: Floats32) -> None:
        self.layers, self.levels, self.finish = layers, np.asarray(levels, np.float32), stock.finish
        self.any_wet = any(layer.wet for layer in layers)
        self.at, self.count = np.zeros(len(levels), np.int64), 1
        most = 1 + int((levels > _THIN).sum())
        self.r, self.wet = np.empty((most, BANDS), np.float32), np.zeros(most, np.float32)
        self.r[0] = stock.internal

    def internal(self) -> Floats32:
        """Internal reflectance (n, 36)."""
        return self.laid().r[self.at]

    def laid(self) -> _Pile:
        at = 0
        while at < len(self.layers):
            end = at + 1
            if self.layers[at].kind == "card":
                while end < len(self.layers) and self.layers[end].surface == self.layers[at].surface:
                    end += 1
            self._one(at, end)
            at = end
        return self

    def _one(self, j: int, end: int) -> None:
        """Layer ``j``; a card with the layers up to ``end`` that lie on it."""
        layer, level = self.layers[j], self.levels[:, j]
        rows = np.flatnonzero(level > _THIN)
        if layer.kind == "lift" or not rows.size:
            return  # what is lifted is in the levels already
        inner = None if layer.stock is None else self._inner(layer.stock, rows, j, end)
        first, of_row = _different(self.at[rows], level[rows], None if inner is None else inner.at)
        below, thick = self.at[rows[first]], level[rows[first]]
        new = slice(self.count, self.count + len(first))
        self.wet[new] = self.wet[below]
        own = None if inner is None else inner.r[inner.at[first]]
        self.r[new] = self._over(layer, below, thick, new, own)
        self.at[rows] = self.count + of_row
        self.count += len(first)

    def _over(
        self,
        layer: Layer,
        below: NDArray[np.int64],
        level: Floats32,
        new: slice,
        inner: Floats32 | None,
    ) -> Floats32:
        """Internal reflectance of a layer so thick on what lies below."""
        r = self.r[below]
        if layer.kind == "ink" and layer.ink is not None:
            return self._ink(layer.ink, layer, r, level, below, new)
        if layer.kind == "shade":
            return law.inside(self._seen(r) * (1 - np.float32(layer.strength) * level[:, None]), self.finish)
        if layer.kind == "gloss":
            power = 1 + np.float32(GLOSS) * level[:, None]
            return np.asarray(np.power(np.maximum(r, 1e-6), power), np.float32)
        if inner is None or layer.stock is None:
            return r
        # at its edge a pixel is shared by the card, with what lies on it, and what lies below
        alpha = level[:, None]
        mixed = self._seen(r) * (1 - alpha) + law.outside(inner, layer.stock.finish) * alpha
        return law.inside(mixed, self.finish)

    def _seen(self, r: Floats32) -> Floats32:
        return np.asarray(law.outside(r, self.finish), np.float32)

    def _ink(
        self, ink: Ink, layer: Layer, r: Floats32, level: Floats32, below: NDArray[np.int64], new: slice
    ) -> Floats32:
        coats = level * np.float32(layer.thickness)
        share = self._share_taken(below, coats, layer.wet, new)
        absorbed, scattered = _deposit(ink, self.finish, coats)
        if share is not None:
            absorbed *= share[:, None]
            scattered *= share[:, None]
        law_of = law.over if ink.chemistry.opaque else law.hardly_scattering
        return np.asarray(law_of(r, absorbed, scattered), np.float32)

    def _share_taken(
        self, below: NDArray[np.int64], coats: Floats32, wet: bool, new: slice
    ) -> Floats32 | None:
        """The share t of an ink that stays on what is wet below, None where all of it does; see ``take``."""
        if not self.any_wet:
            return None
        wet_below = self.wet[below]
        share = take(wet_below) if wet else None
        left = wet_below if wet else still_wet(wet_below, coats)
        self.wet[new] = left + (coats if share is None else coats * share)
        return share

    def _inner(self, stock: Stock, rows: NDArray[np.intp], at: int, end: int) -> _Pile:
        """What lies on a piece, of the stacks where it lies."""
        inner = list(range(at + 1, end))
        return _Pile(stock, [self.layers[i] for i in inner], self.levels[rows][:, inner]).laid()


def _different(
    below: NDArray[np.int64], level: Floats32, inner: NDArray[np.int64] | None
) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Of layers on piles the different ones: the first of each, and which each is."""
    key = below << 32 | level.view(np.int32)
    _, first, which = np.unique(key, return_index=True, return_inverse=True)
    if inner is None:
        return first, which
    _, first, which = np.unique(which << 32 | inner, return_index=True, return_inverse=True)
    return first, which


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
    return np.asarray(law.outside(internal(stock, layers, levels), stock.finish), np.float32)


def colours(stock: Stock, layers: Sequence[Layer], levels: Floats32) -> Bytes:
    """sRGB bytes (n, 3) of stacks."""
    found = np.empty((len(levels), 3), np.uint8)

    def encode(start: int, reflected: Floats32) -> None:
        light = reflected @ _TO_RGB
        found[start : start + _CHUNK] = _CURVE[np.clip(light, 0, 8191).astype(np.int16)]

    _by_chunks(stock, layers, levels, encode)
    return found


def reflectances(stock: Stock, layers: Sequence[Layer], levels: Floats32) -> Floats32:
    """Seen reflectance (n, 36) of any number of stacks, chunk by chunk."""
    found = np.empty((len(levels), BANDS), np.float32)

    def put(start: int, reflected: Floats32) -> None:
        found[start : start + _CHUNK] = reflected

    _by_chunks(stock, layers, levels, put)
    return found


def _by_chunks(
    stock: Stock, layers: Sequence[Layer], levels: Floats32, use: Callable[[int, Floats32], None]
) -> None:
    """Hands on the seen reflectance of stacks with the number of the first."""

    def chunk(start: int) -> None:
        part = _uncovered(layers, levels[start : start + _CHUNK])
        active = np.flatnonzero((part > _THIN).any(axis=0)).tolist()
        use(start, seen(stock, [layers[i] for i in active], part[:, active]))

    starts = range(0, len(levels), _CHUNK)
    if len(starts) > 1:
        # numpy lets go of the interpreter inside its loops, so a second core helps
        list(_HANDS.map(chunk, starts))
    else:
        for start in starts:
            chunk(start)


def reference_lab(stock: Stock, layers: Sequence[Layer], levels: Floats32) -> Floats:
    """CIELAB (n, 3) in all 36 bands: what pictures are measured against."""
    return lab_from_xyz(np.asarray(seen(stock, layers, levels), np.float64) @ XYZ_WEIGHTS.T)
