"""A predicted panel as a photograph of it is read: where bare card is, and regions in which one stack of passes is seen."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from strata.optics.colour import RGB_FROM_XYZ, XYZ_WEIGHTS, Floats, Lab, lab_from_xyz
from strata.picture.colours import WHOLE, reflectances
from strata.picture.raster import Floats32
from strata.picture.shown import View, view
from strata.plan.scene import Scene

PER_MM = 4.0
# px a mm at which panel and photograph are held against each other
APART = 0.5
# mm that a region keeps from where another stack begins: ink strays, and sheets slip
LEAST = 4.0
# mm2 of a region
CHANGE = 7.0
# CIE 1976 difference within that distance, above which it is an outline
FAINT = 0.06
# of a layer, from which on it counts as being there
STEP = 9.0
# L* that a soft region may span before it is told apart in two
STAND_FOR = 8
# stacks by which a region's colour is predicted anew

Numbers = NDArray[np.int32]
Places = NDArray[np.float64]
_Kind = tuple[str, tuple[str, ...], NDArray[np.intp], NDArray[np.int64]]
# element, passes, stacks, and how many pixels carry each


@dataclass(frozen=True)
class Region:
    """Where one stack of passes is seen: its element, the passes from the lowest up, CIELAB predicted, mm2.

    ``stacks``: numbers of stacks of the view that stand for it, equally.
    """

    element: str
    passes: tuple[str, ...]
    predicted: Lab
    area: float
    stacks: tuple[int, ...]


@dataclass(frozen=True, eq=False)
class Predicted:
    """``linear`` (h, w, 3) RGB of the panel; ``bare`` (h, w) where card is seen; ``labels`` (h, w): region + 1, or 0."""

    width: float
    height: float
    linear: Floats32
    bare: NDArray[np.bool_]
    labels: Numbers

    @property
    def per_mm(self) -> float:
        """px a mm."""
        return float(self.linear.shape[1] / self.width)

    @property
    def corners(self) -> Places:
        """(4, 2) mm, clockwise from the top left."""
        w, h = self.width, self.height
        return np.array([(0, 0), (w, 0), (w, h), (0, h)], float)

    def grid(self, rows: int, columns: int) -> Places:
        """Points (rows, columns, 2) mm, the middles of so many px."""
        x = (np.arange(columns) + 0.5) * self.width / columns
        y = (np.arange(rows) + 0.5) * self.height / rows
        return np.stack(np.meshgrid(x, y), axis=-1)


def looked_at(scene: Scene, wet: frozenset[str]) -> View:
    """The panel on the grid on which photographs are read. ``wet``: passes that lie on wet ink."""
    return view(scene, wet, round(scene.layer_set.width * PER_MM))


def linear_of_reflectance(reflected: Floats32) -> Floats32:
    """Linear sRGB (n, 3) of seen reflectances (n, 36)."""
    return np.asarray(reflected @ (RGB_FROM_XYZ @ XYZ_WEIGHTS).T, np.float32)


def predicted(seen: View) -> tuple[Predicted, tuple[Region, ...]]:
    """A view as it is read by, and its regions."""
    numbers, levels = seen.stacks.numbers, seen.stacks.levels
    reflected = reflectances(seen.stock, seen.layers, levels)
    shown = _shown(seen)
    bare = ~(shown > FAINT / 4).any(axis=1) & ~_shaded(seen)
    labs = np.asarray(lab_from_xyz(reflected @ XYZ_WEIGHTS.T), np.float32)
    inside = _inside(labs[numbers])
    light = np.asarray(labs[:, 0], float)
    labels, regions = _regions(seen, shown, light, inside)
    found = []
    for element, passes, rows, counts in regions:
        xyz = np.average(reflected[rows], axis=0, weights=counts) @ XYZ_WEIGHTS.T
        lab = lab_from_xyz(np.asarray(xyz, float))
        area = float(counts.sum()) / PER_MM**2
        stand = _stand_for(rows, counts, light)
        found.append(Region(element, passes, (float(lab[0]), float(lab[1]), float(lab[2])), area, stand))
    linear = linear_of_reflectance(reflected)[numbers]
    size = seen.scene.layer_set
    own = Predicted(size.width, size.height, linear, bare[numbers] & inside, labels)
    return own, tuple(found)


def _shown(seen: View) -> Floats32:
    """How thick the inks lie in each stack (n, layers), of those that no card covers; 0 for all that is no ink."""
    levels = seen.stacks.levels.copy()
    for j, layer in enumerate(seen.layers):
        if layer.kind == "card":
            levels[levels[:, j] >= WHOLE, :j] = 0
    for j, layer in enumerate(seen.layers):
        if layer.kind not in ("ink", "gloss", "lift"):
            levels[:, j] = 0
    return levels


def _shaded(seen: View) -> NDArray[np.bool_]:
    """Stacks in a shadow, or at the edge of a piece."""
    found = np.zeros(len(seen.stacks.levels), bool)
    for j, layer in enumerate(seen.layers):
        if layer.kind == "shade":
            found |= seen.stacks.levels[:, j] > 0.02
        if layer.kind == "card":
            found |= (seen.stacks.levels[:, j] > 0) & (seen.stacks.levels[:, j] < WHOLE)
    return found


def _combinations(shown: Floats32) -> Numbers:
    """A number for each set of layers that are there (n,)."""
    packed = np.packbits(shown > FAINT, axis=1)
    _, number = np.unique(packed, axis=0, return_inverse=True)
    return np.asarray(number.ravel(), np.int32)


def _inside(labs: Floats32) -> NDArray[np.bool_]:
    """Where the colour hardly changes within ``APART`` mm (h, w): no outline is near, nor the edge of the panel."""
    import cv2

    side = 2 * round(APART * PER_MM) + 1
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (side, side))
    span = cv2.dilate(labs, disc) - cv2.erode(labs, disc)
    inside = np.sqrt((span**2).sum(axis=2)) < CHANGE
    rim = side // 2
    inside[:rim] = inside[-rim:] = False
    inside[:, :rim] = inside[:, -rim:] = False
    return np.asarray(inside)


def _regions(
    seen: View, shown: Floats32, light: Floats, inside: NDArray[np.bool_]
) -> tuple[Numbers, list[_Kind]]:
    """The map of regions, and of each its element, its passes, its stacks and how many pixels carry them."""
    there = shown > FAINT
    inked = there.any(axis=1)
    top = np.where(inked, there.shape[1] - 1 - np.argmax(there[:, ::-1], axis=1), 0)
    items = {p.key: p for p in seen.scene.plan.passes}
    key_of = [layer.pass_key for layer in seen.layers]
    element = [items[k].element if k in items else "" for k in key_of]
    combination = _combinations(shown)
    step = np.floor(light / STEP).astype(np.int64)
    code = combination.astype(np.int64) * 64 + step
    numbers = seen.stacks.numbers
    counts = np.bincount(numbers[inside], minlength=len(light))
    labels = np.zeros(len(light), np.int32)
    found: list[_Kind] = []
    for one in np.unique(code[inked & (counts > 0)]):
        rows = np.flatnonzero((code == one) & (counts > 0))
        if counts[rows].sum() < LEAST * PER_MM**2:
            continue
        passes = tuple(dict.fromkeys(key_of[j] for j in np.flatnonzero(there[rows[0]]) if key_of[j]))
        labels[rows] = len(found) + 1
        found.append((element[int(top[rows[0]])], passes, rows, counts[rows]))
    return np.where(inside, labels[numbers], 0).astype(np.int32), found


def _stand_for(rows: NDArray[np.intp], counts: NDArray[np.int64], light: Floats) -> tuple[int, ...]:
    """The stacks at even shares of a region, from its darkest pixel to its lightest."""
    order = np.argsort(light[rows], kind="stable")
    share = np.cumsum(counts[order]) / counts.sum()
    at = np.searchsorted(share, (np.arange(STAND_FOR) + 0.5) / STAND_FOR)
    return tuple(int(rows[order[i]]) for i in at)
