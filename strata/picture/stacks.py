"""One picture, many palettes: which pixels carry the same stack of layers, told once for all colours.

Pixels whose layers lie equally thick (to a step too small to see) carry one
number. The map of numbers changes only with shapes, forms and order; a change
of ink, coats, hand or card changes colours in the palette and nothing else.
"""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from strata.kept import Kept
from strata.picture.fields import Field
from strata.picture.layers import Layer
from strata.picture.raster import Floats32, Raster

Numbers = NDArray[np.uint32]
STEPS, POWER = 300, 2.5
# levels of coverage that are told apart, closer together where it is thin: a little of an opaque ink shows most.
# On a hundred sets of random soft stacks: at most 0.6 CIEDE2000 off, 99.9 % within 0.2 (square root, 255: 0.9)
MOST_STACKS = 400_000
# more, and steps are made coarser: soft grounds under soft grounds
_SLOT_BITS = 22
_FACTORS = np.random.default_rng(36).integers(1, 1 << 63, 1024, np.uint64) * np.uint64(2) + np.uint64(1)
# one for each layer, without any order among them: level 3 of one may not be level 1 of another


@dataclass(frozen=True, eq=False)
class Stacks:
    """``numbers`` (h, w): which stack each pixel carries; ``levels`` (n, layers): how thick each layer lies in it, 0..1.

    A level is the middle of its step. Numbers are given in the order in which they first appear.
    """

    numbers: Numbers
    levels: Floats32
    counts: NDArray[np.int64]
    key: str

    @property
    def nbytes(self) -> int:
        """Bytes in memory."""
        return int(self.numbers.nbytes + self.levels.nbytes + self.counts.nbytes)


def map_key(layers: Sequence[Layer], raster: Raster) -> str:
    """What a map is kept by: how its layers lie, not what they are."""
    told = repr((raster, [layer.spot for layer in layers]))
    return hashlib.sha256(told.encode()).hexdigest()[:20]


_STACKS: Kept[str, Stacks] = Kept(260_000_000, lambda stacks: stacks.nbytes)


def stacks_of(layers: Sequence[Layer], raster: Raster) -> Stacks:
    """The stacks of layers (in the order in which they lie) on a grid; kept by ``map_key``."""
    key = map_key(layers, raster)
    return _STACKS.get(key, lambda: _found(layers, raster, key))


def _found(layers: Sequence[Layer], raster: Raster, key: str) -> Stacks:
    steps, fields = STEPS, [layer.field for layer in layers]
    while True:
        numbers, first = _numbered(_codes(fields, raster, steps))
        if len(first) <= MOST_STACKS or steps <= 32:
            break
        steps //= 2
    counts = np.bincount(numbers.ravel(), minlength=len(first))
    return Stacks(numbers, _levels(fields, raster, first, steps), counts, key)


def _level(values: Floats32, steps: int) -> Floats32:
    return np.rint(np.power(values, np.float32(1 / POWER)) * np.float32(steps))


def _codes(fields: Sequence[Field], raster: Raster, steps: int) -> NDArray[np.uint64]:
    """One number of 64 bits for each pixel's stack; two stacks share one by chance once in 10^9 pictures."""
    codes = np.zeros((raster.height, raster.width), np.uint64)
    for j, field in enumerate(fields):
        values = field.values
        if not values.size:
            continue
        level = _level(values, steps).astype(np.uint64)
        mixed = level * _FACTORS[j % len(_FACTORS)]
        mixed ^= mixed >> np.uint64(29)
        mixed *= np.uint64(0x94D049BB133111EB)
        # what lies under card counts as well: the build-up shows it until the piece is set on
        codes[field.at.slices] += np.where(level > 0, mixed, np.uint64(0))
    return codes


def _numbered(codes: NDArray[np.uint64]) -> tuple[Numbers, NDArray[np.intp]]:
    """Numbers in the order of first appearance, and where each first appears.

    A table of slots finds most of them without sorting; what clashes in a
    slot is sorted.
    """
    flat = codes.ravel()
    at = np.arange(flat.size, dtype=np.int32)
    slot = (flat * np.uint64(0xD6E8FEB86659FD93)) >> np.uint64(64 - _SLOT_BITS)
    table = np.zeros(1 << _SLOT_BITS, np.int32)
    table[slot[::-1]] = at[::-1]  # the last to be written is the first to appear
    home = table[slot]
    astray = np.flatnonzero(flat[home] != flat)
    if astray.size:
        _, own, inverse = np.unique(flat[astray], return_index=True, return_inverse=True)
        home[astray] = at[astray][own][inverse]
    first = np.flatnonzero(home == at)
    number = np.zeros(flat.size, np.uint32)
    number[first] = np.arange(len(first), dtype=np.uint32)
    return number[home].reshape(codes.shape), first


def _levels(fields: Sequence[Field], raster: Raster, first: NDArray[np.intp], steps: int) -> Floats32:
    """How thick each layer lies in each stack: the middle of its step."""
    levels = np.zeros((len(first), len(fields)), np.float32)
    rows, columns = np.divmod(first, raster.width)
    for j, field in enumerate(fields):
        at = field.at
        low, high = np.searchsorted(rows, (at.y0, at.y1))  # first appearances come row by row
        inside = np.flatnonzero((columns[low:high] >= at.x0) & (columns[low:high] < at.x1)) + low
        values = field.values[rows[inside] - at.y0, columns[inside] - at.x0]
        levels[inside, j] = np.power(_level(values, steps) / np.float32(steps), np.float32(POWER))
    return levels
