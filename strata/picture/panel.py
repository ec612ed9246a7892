"""The panel computed pixel by pixel: coverage times thickness, then the layer law.

The same code runs in all 36 bands (the reference, and small samples) and in
the few of the quadrature (pictures). A little over 300 lines: the reference and
the fast way stand side by side, so that one can be read against the other.
"""

from __future__ import annotations

from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from strata.optics import layers as law
from strata.optics.colour import RGB_FROM_XYZ, XYZ_WEIGHTS, BandIndex, Floats, encode_srgb
from strata.optics.inks import Deposit, Ink
from strata.optics.stack import TRAP_BANDS, TRAP_LOSS, TRAP_RATE, Stock
from strata.picture import quadrature
from strata.picture.fields import Field, kept_field, shape_key
from strata.picture.raster import Floats32, Raster, Window
from strata.plan.model import Pass
from strata.plan.scene import Scene

Bytes = NDArray[np.uint8]
_HANDS = ThreadPoolExecutor(max_workers=2, thread_name_prefix="picture")
_TILE = 176
# px a side
_SPOTS = 24
# pixels sampled of each layer
_SKIP = 7
# every so many pixels are looked at when sampling; prime, so that no column is favoured
_CURVE: Bytes = np.round(255 * encode_srgb(np.arange(8192) / 8191.0)).astype(np.uint8)


@dataclass(frozen=True)
class Layer:
    """One pass as the picture sees it.

    Two layers with the same ``key`` look the same; its first three parts are
    the shape, the form and the brush, which alone decide the field.
    """

    field: Field
    ink: Ink
    thickness: float
    wet: bool
    key: tuple[object, ...]


def layers_of(
    scene: Scene, passes: Sequence[Pass], wet: frozenset[str], raster: Raster, factor: float = 1.0
) -> list[Layer]:
    """The layers of passes (bottom first, as in the plan) on a grid.

    ``wet``: keys of passes that go onto wet ink. ``factor`` multiplies the top
    pass's thickness, to show a dye before it has dried back.
    """
    result = []
    for i, item in enumerate(passes):
        group, brush = scene.group(item), scene.brush(item)
        ink = scene.ink(item)
        thickness = scene.thickness(item) * (factor if i == len(passes) - 1 else 1.0)
        key = (shape_key(group), item.form, brush.diameter, item.ink, ink, thickness, item.key in wet)
        field = kept_field(group, item.form, brush.diameter, raster)
        result.append(Layer(field, ink, thickness, item.key in wet, key))
    return result


@dataclass(frozen=True)
class _Slope:
    """One straight piece of an ink's deposit curve: from ``start`` coats on, what each coat adds."""

    start: float
    length: float
    absorbed: Floats32
    scattered: Floats32


def _small(values: Floats) -> Floats32:
    return np.asarray(values, dtype=np.float32)


@lru_cache(maxsize=2048)
def _slopes(ink: Ink, few: bool) -> list[_Slope]:
    """An ink's deposit curve in the few bands of the quadrature, or in all."""
    bands = quadrature.BANDS if few else np.arange(36)
    low = Deposit(0.0, np.zeros(36), np.zeros(36))
    pieces = []
    last = len(ink.deposits) - 1
    for i, high in enumerate(ink.deposits):
        run = high.coats - low.coats
        pieces.append(
            _Slope(
                low.coats,
                np.inf if i == last else run,
                _small((high.absorbed - low.absorbed)[bands] / run),
                _small((high.scattered - low.scattered)[bands] / run),
            )
        )
        low = high
    return pieces


@lru_cache(maxsize=2048)
def _coat(ink: Ink, thickness: float) -> Floats:
    """What each measured coat absorbs, at a thickness (36,)."""
    return ink.deposit(thickness).absorbed / thickness


class Panel:
    """Colours of pixels of a stock under layers, in the given bands."""

    def __init__(self, stock: Stock, layers: Sequence[Layer], bands: BandIndex) -> None:
        self.layers = layers
        self._bare = _small(stock.internal[bands])
        self._slopes = [_slopes(layer.ink, len(bands) < 36) for layer in layers]
        self._means: dict[tuple[int, ...], Floats32] = {}
        self._thickness = np.array([layer.thickness for layer in layers], np.float32)
        self._coat = np.array([_coat(layer.ink, layer.thickness) for layer in layers], np.float32).reshape(
            -1, 36
        )

    def internal(self, shares: Floats32, active: Sequence[int] | None = None) -> Floats32:
        """Internal reflectance (n, k) for coverage shares (n, layers).

        ``active``: which layers the columns of ``shares`` are (default: all).
        Dyes between two opaque layers only add their densities, so each such
        run is one matrix product.
        """
        r = np.repeat(self._bare[None, :], len(shares), axis=0)
        order = list(range(len(self.layers)) if active is None else active)
        trapping = any(self.layers[j].wet for j in order)
        taken = np.empty((len(order), len(shares)) if trapping else (0, 0), np.float32)
        columns: list[Floats32] = []
        spectra: list[Floats32] = []
        for column, j in enumerate(order):
            layer = self.layers[j]
            coats = shares[:, column] * np.float32(layer.thickness)
            if trapping:
                if layer.wet and column:
                    coats *= self._share_taken(taken[:column], order[:column])
                taken[column] = coats
            if layer.ink.chemistry.opaque:
                _lay_dyes(r, columns, spectra)
                self._opaque(r, coats, self._slopes[j])
                continue
            for piece in self._slopes[j]:
                if piece.start < layer.thickness:
                    whole = piece.start == 0 and layer.thickness <= piece.length
                    columns.append(
                        coats if whole else np.clip(coats - np.float32(piece.start), 0, piece.length)
                    )
                    spectra.append(piece.absorbed)
        _lay_dyes(r, columns, spectra)
        return r

    def _share_taken(self, taken: Floats32, below: list[int]) -> Floats32:
        """The share t (n,) of an ink that stays on the wet layers ``below``, of which ``taken`` lies there.

        The mean over the nine highest bands of a sum is the largest mean over
        any nine; trying the sets of each ink below and of their piles gives it
        to within the model's own accuracy.
        """
        key = tuple(below)
        if key not in self._means:
            self._means[key] = self._highest_means(below)
        highest = (self._means[key] @ taken).max(axis=0)
        return np.asarray(1 - np.float32(TRAP_LOSS) * (1 - np.exp(-np.float32(TRAP_RATE) * highest)))

    def _highest_means(self, below: list[int]) -> Floats32:
        """Mean density of each layer's coat over each candidate set of highest bands, (sets, below)."""
        coats = self._coat[below]
        piles = np.cumsum(coats * self._thickness[below, None], axis=0)
        spectra = np.concatenate([coats, piles])
        ranks = np.argpartition(spectra, -TRAP_BANDS, axis=1)[:, -TRAP_BANDS:]
        chosen = np.zeros(spectra.shape, np.float32)
        np.put_along_axis(chosen, ranks, np.float32(2 / TRAP_BANDS), axis=1)
        different = {row.tobytes(): row for row in chosen}
        return np.asarray(np.stack(list(different.values())) @ coats.T)

    @staticmethod
    def _opaque(r: Floats32, coats: Floats32, slopes: list[_Slope]) -> None:
        rows = np.flatnonzero(coats > 1e-4)
        absorbed = np.zeros((len(rows), r.shape[1]), np.float32)
        scattered = np.zeros_like(absorbed)
        for piece in slopes:
            part = np.clip(coats[rows] - np.float32(piece.start), 0, piece.length)[:, None]
            absorbed += part * piece.absorbed
            scattered += part * piece.scattered
        r[rows] = law.over(r[rows], absorbed, scattered)


def _lay_dyes(r: Floats32, columns: list[Floats32], spectra: list[Floats32]) -> None:
    """Multiply a run of dyes into ``r`` and empty the run."""
    if columns:
        r *= np.exp(np.stack(columns).T @ (-2 * np.stack(spectra)))
        columns.clear()
        spectra.clear()


def shares_at(layers: Sequence[Layer], rows: NDArray[np.intp], columns: NDArray[np.intp]) -> Floats32:
    """Coverage shares (n, layers) at single pixels."""
    result = np.zeros((len(rows), len(layers)), np.float32)
    for j, layer in enumerate(layers):
        at = layer.field.at
        inside = (rows >= at.y0) & (rows < at.y1) & (columns >= at.x0) & (columns < at.x1)
        result[inside, j] = layer.field.values[rows[inside] - at.y0, columns[inside] - at.x0]
    return result


def shares_in(
    layers: Sequence[Layer], at: Window, chosen: NDArray[np.bool_] | None = None
) -> tuple[Floats32, list[int]]:
    """Coverage shares of a window's pixels (all or the chosen ones), and which layers they are.

    Layers without ink in the window have no column.
    """
    height, width = at.y1 - at.y0, at.x1 - at.x0
    columns, active = [], []
    rows, across = np.nonzero(chosen) if chosen is not None else (np.empty(0, int), np.empty(0, int))
    for j, layer in enumerate(layers):
        own = layer.field.at
        y0, y1 = max(at.y0, own.y0), min(at.y1, own.y1)
        x0, x1 = max(at.x0, own.x0), min(at.x1, own.x1)
        if y0 >= y1 or x0 >= x1:
            continue
        part = layer.field.values[y0 - own.y0 : y1 - own.y0, x0 - own.x0 : x1 - own.x0]
        if not part.any():
            continue
        plane = part
        if part.shape != (height, width):
            plane = np.zeros((height, width), np.float32)
            plane[y0 - at.y0 : y1 - at.y0, x0 - at.x0 : x1 - at.x0] = part
        columns.append(plane.ravel() if chosen is None else plane[rows, across])
        active.append(j)
    count = height * width if chosen is None else int(chosen.sum())
    # a layer's shares lie together in memory, since everything below works layer by layer
    shares = np.stack(columns).T if columns else np.zeros((count, 0), np.float32)
    return shares, active


def sampled(layers: Sequence[Layer], shown: Sequence[Layer]) -> Floats32:
    """Coverage shares of some hundred pixels where ``shown`` lie, for tuning the quadrature."""
    picked = [np.array([0, 0])[:, None]]
    spots_each = max(_SPOTS, 120 // len(shown))
    for layer in shown:
        inked = np.flatnonzero(layer.field.values.ravel()[::_SKIP] > 0.02) * _SKIP
        if len(inked):
            spots = inked[np.linspace(0, len(inked) - 1, spots_each).astype(int)]
            y, x = np.divmod(spots, layer.field.values.shape[1])
            picked.append(np.stack([y + layer.field.at.y0, x + layer.field.at.x0]))
    rows, columns = np.concatenate(picked, axis=1)
    return shares_at(layers, rows, columns)


def tuned_weights(stock: Stock, layers: Sequence[Layer], shown: Sequence[Layer] | None = None) -> Floats:
    """Quadrature weights for this picture, or for the part of it where the layers ``shown`` lie."""
    if not layers:
        return quadrature.GENERAL
    internal = Panel(stock, layers, np.arange(36)).internal(sampled(layers, shown or layers))
    return quadrature.tuned(law.outside(np.asarray(internal, np.float64)))


def paint(
    image: Bytes,
    stock: Stock,
    layers: Sequence[Layer],
    at: Window,
    chosen: NDArray[np.bool_] | None = None,
    shown: Sequence[Layer] | None = None,
) -> None:
    """Compute a window of ``image`` (h, w, 3), all pixels or the chosen ones, in place.

    ``shown``: the layers that tell which colours are about to be painted.
    """
    weights = tuned_weights(stock, layers, shown)
    to_rgb = np.float32(8191 * RGB_FROM_XYZ @ weights).T
    panel = Panel(stock, layers, quadrature.BANDS)

    def tile(part: Window) -> None:
        mask = None
        if chosen is not None:
            mask = chosen[part.y0 - at.y0 : part.y1 - at.y0, part.x0 - at.x0 : part.x1 - at.x0]
            if not mask.any():
                return
        seen = law.outside(panel.internal(*shares_in(layers, part, mask)))
        light = np.clip(seen @ to_rgb, 0, 8191).astype(np.int16)
        target = image[part.slices]
        colours = _CURVE[light]
        if mask is None:
            target[:] = colours.reshape(target.shape)
        else:
            target[mask] = colours

    # numpy lets go of the interpreter inside its loops, so a second core helps
    list(_HANDS.map(tile, _tiles(at)))


def _tiles(at: Window) -> list[Window]:
    """A window cut into tiles: few layers ink any one of them, and its bands fit the cache."""
    return [
        Window(x, y, min(at.x1, x + _TILE), min(at.y1, y + _TILE))
        for y in range(at.y0, at.y1, _TILE)
        for x in range(at.x0, at.x1, _TILE)
    ]


def reference_lab(stock: Stock, layers: Sequence[Layer], shares: Floats32) -> Floats:
    """CIELAB (n, 3) in all 36 bands: what pictures are measured against."""
    from strata.optics.colour import lab_from_xyz

    internal = np.asarray(Panel(stock, layers, np.arange(36)).internal(shares), np.float64)
    return lab_from_xyz(law.outside(internal) @ XYZ_WEIGHTS.T)
