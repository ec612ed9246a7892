"""The search itself: every single pass and pair is known, triples are found by asking what must lie beneath.

Kubelka's layer law can be turned round: for a wanted spectrum and a last
layer it gives the spectrum needed under it (P. Kubelka, JOSA 38, 1948). The
pairs nearest to that are looked up, laid under the last layer with the full
model, and the best are bettered by exchanging one pass at a time.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from strata.errors import BadValue, TooLarge
from strata.optics import layers, spectrum
from strata.optics.colour import XYZ_WEIGHTS, Floats, Lab, lab_from_xyz
from strata.optics.inks import Ink
from strata.optics.stack import Stock, prepare
from strata.recipes.nearest import Floats32, nearest, quick

MOST_PADS, MOST_COATS, MOST_LAIDS = 3, 6, 1500
BENEATH, PAIRS = 24, 32
# pairs looked up under each last layer, and the nearest pairs of which triples are begun
BETTERED, ROUNDS = 24, 2
# triples that are bettered by exchange, and how often
_FAR = 5.0
# CIE94

Indices = NDArray[np.intp]


@dataclass(frozen=True)
class Recipe:
    """Passes (ink key, coats) bottom first, the colour they give and its CIEDE2000 from the wanted one."""

    passes: tuple[tuple[str, int], ...]
    lab: Lab
    difference: float


class Shelf:
    """The inks at hand on one card, each in 1 to ``most_coats`` coats, ready to be asked.

    Inks are laid dry over dry. Setting up takes some tenths of a second for
    120 inks; a ``Shelf`` is meant to be kept.
    """

    def __init__(self, stock: Stock, inks: Sequence[Ink], most_coats: int = 3) -> None:
        if not 1 <= most_coats <= MOST_COATS:
            raise BadValue(f"A pass takes 1 to {MOST_COATS} coats.", "max_coats")
        if not inks:
            raise BadValue("There is no ink to make it of.", "inks")
        if len(inks) * most_coats > MOST_LAIDS:
            raise TooLarge(f"{len(inks)} inks of {most_coats} coats are more than can be searched.", "inks")
        self.stock, self.inks, self.most_coats = stock, tuple(inks), most_coats
        prepare(inks, [stock])
        self.laids = [(i, c) for i in range(len(inks)) for c in range(1, most_coats + 1)]
        deposits = [inks[i].deposit(float(c), stock.finish) for i, c in self.laids]
        self.absorbed = np.array([d.absorbed for d in deposits])
        self.scattered = np.array([d.scattered for d in deposits])
        one, through = _layer(self.absorbed, self.scattered)
        self.reflected, self.through2 = one.astype(np.float32), (through**2).astype(np.float32)

    @cached_property
    def singles(self) -> tuple[Floats32, Floats32]:
        """(internal reflectances (n, 36), colours (n, 3)) of every pass on the bare card."""
        r = layers.over(self.stock.internal, self.absorbed, self.scattered).astype(np.float32)
        return r, self._seen(r)

    @cached_property
    def pairs(self) -> tuple[Floats32, Floats32]:
        """The same of every pass over every pass: row ``lower * n + upper``."""
        r1, _ = self.singles
        n = len(self.laids)
        r = np.empty((n, n, spectrum.BANDS), np.float32)
        for lower in range(n):
            r[lower] = self._over(r1[lower], slice(None))
        flat = r.reshape(n * n, -1)
        return flat, self._seen(flat)

    @cached_property
    def _tree(self) -> Any:
        from scipy.spatial import cKDTree

        return cKDTree(self.pairs[1], leafsize=32, balanced_tree=False, compact_nodes=False)

    def warm(self, pads: int) -> Shelf:
        """Everything that a search for so many pads needs, made beforehand."""
        # the library of differences takes half a second to load the first time
        nearest(np.array(self.stock.lab, float), self.singles[1], 1)
        if pads >= 2:
            _ = self.pairs
        if pads >= MOST_PADS:
            _ = self._tree
        return self

    def _over(self, below: Floats32, upper: Any) -> Floats32:
        """Internal reflectances of layers ``upper`` on ``below``."""
        reflected = self.reflected[upper]
        return np.asarray(reflected + self.through2[upper] * below / (1 - reflected * below), np.float32)

    def _seen(self, internal: Floats32) -> Floats32:
        """CIELAB (n, 3) of internal reflectances (n, 36)."""
        seen = layers.outside(internal, self.stock.finish)
        return np.asarray(lab_from_xyz(seen @ XYZ_WEIGHTS.T.astype(np.float32)), np.float32)

    def find(self, target: Lab, most_pads: int = 3, keep: int = 10) -> list[Recipe]:
        """The nearest recipes of 1 to ``most_pads`` pads, nearest first, fewer passes before more where equal."""
        if not 1 <= most_pads <= MOST_PADS:
            raise BadValue(f"A recipe has 1 to {MOST_PADS} pads.", "max_pads")
        wanted = np.array(target, float)
        found = self.of(wanted, 1, keep)
        for pads in range(2, most_pads + 1):
            found += self.of(wanted, pads, keep)
        found.sort(key=lambda r: (round(r.difference, 6), len(r.passes)))
        return found[:keep]

    def of(self, target: Floats, pads: int, keep: int = 10) -> list[Recipe]:
        """The nearest recipes of exactly so many passes."""
        n = len(self.laids)
        if pads == 1:
            rows, off = nearest(target, self.singles[1], keep)
            return [self._recipe((int(i),), self.singles[1][i], d) for i, d in zip(rows, off, strict=True)]
        if pads == 2:
            rows, off = nearest(target, self.pairs[1], keep)
            return [
                self._recipe(divmod(int(i), n), self.pairs[1][i], d) for i, d in zip(rows, off, strict=True)
            ]
        triples = self._triples(target)
        labs = self._lab_of(triples)
        rows, off = nearest(target, labs, keep)
        return [self._recipe(tuple(triples[i].tolist()), labs[i], d) for i, d in zip(rows, off, strict=True)]

    def _recipe(self, laid: Sequence[int], lab: Floats32, difference: float) -> Recipe:
        passes = tuple((self.inks[self.laids[k][0]].key, self.laids[k][1]) for k in laid)
        lightness, a, b = (float(v) for v in lab)
        return Recipe(passes, (lightness, a, b), float(difference))

    def _lab_of(self, triples: Indices) -> Floats32:
        n = len(self.laids)
        below = self.pairs[0][triples[:, 0] * n + triples[:, 1]]
        return self._seen(self._over(below, triples[:, 2]))

    def _triples(self, target: Floats) -> Indices:
        """Candidates (m, 3) for a target, without repeats."""
        n = len(self.laids)
        lab = (float(target[0]), float(target[1]), float(target[2]))
        wanted = layers.inside(spectrum.reflectance(lab), self.stock.finish)
        needed = (wanted - self.reflected) / (
            self.through2 + self.reflected * (wanted - self.reflected) + 1e-9
        )
        _, rows = self._tree.query(
            self._seen(np.clip(needed, 0, 1).astype(np.float32)), k=min(BENEATH, n * n)
        )
        rows = rows.reshape(n, -1)
        lower, upper = np.divmod(rows.ravel(), n)
        triples = np.column_stack([lower, upper, np.repeat(np.arange(n), rows.shape[1])])
        a, b = np.divmod(nearest(target, self.pairs[1], PAIRS)[0], n)
        triples = np.concatenate([triples, np.column_stack([a, b, b]), np.column_stack([a, a, b])])
        measured = quick(target, self._lab_of(triples))
        few = min(len(triples), BETTERED)
        best = self._different(
            np.concatenate([triples[np.argpartition(measured, few - 1)[:few]], triples[-2 * len(a) :]])
        )
        every = [best]
        for _ in range(ROUNDS):
            tried = self._exchanged(best)
            measured = quick(target, self._lab_of(tried))
            # far from everything the quick measure is a poor judge, so more are asked exactly
            far = float(measured.min()) > _FAR**2
            few = min(len(tried), (150 if far else 16) * BETTERED)
            tried = self._different(tried[np.argpartition(measured, few - 1)[:few]])
            every.append(tried)
            best = tried[nearest(target, self._lab_of(tried), BETTERED)[0]]
        return self._different(np.concatenate(every))

    def _different(self, triples: Indices) -> Indices:
        """Without repeats."""
        n = len(self.laids)
        code = np.unique((triples[:, 0] * n + triples[:, 1]) * n + triples[:, 2])
        return np.column_stack([code // (n * n), code // n % n, code % n])

    def _exchanged(self, triples: Indices) -> Indices:
        """Each triple with each of its passes exchanged for every other."""
        n = len(self.laids)
        out = np.repeat(triples, 3 * n, axis=0).reshape(len(triples), 3, n, 3)
        for k in range(3):
            out[:, k, :, k] = np.arange(n)
        return out.reshape(-1, 3)


def _layer(absorbed: Floats, scattered: Floats) -> tuple[Floats, Floats]:
    """(R0, T) of layers by themselves, per band."""
    reflected = layers.over(np.zeros_like(absorbed), absorbed, scattered)
    # over a substrate p: R0 + T2 p / (1 - R0 p); at p = 1 that gives T2
    on_one = layers.over(np.ones_like(absorbed), absorbed, scattered)
    squared = np.clip((on_one - reflected) * (1 - reflected), 0, 1)
    return reflected, np.sqrt(squared)
