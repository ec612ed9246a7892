"""What a picture shows: the finished panel, any moment of its making, and what a change makes different."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from strata.kept import Kept
from strata.optics.stack import Stock
from strata.panel.things import Card
from strata.picture.colours import Bytes, colours, hidden
from strata.picture.layers import Layer, layers_of
from strata.picture.raster import Raster
from strata.picture.stacks import Stacks, stacks_of
from strata.plan.model import Plan
from strata.plan.scene import Scene

Rows = NDArray[np.intp]


@dataclass(frozen=True, eq=False)
class _Palette:
    """A finished palette, with what made it: the card, and what tells its layers apart."""

    stock: Stock
    keys: tuple[tuple[object, ...], ...]
    palette: Bytes


_LAST: Kept[str, tuple[_Palette, ...]] = Kept(
    48_000_000, lambda last: sum(one.palette.nbytes + 1000 * len(one.keys) for one in last)
)
# by the map that they are of, the latest first
_HANDS_AT_IT = 12
# makers whose colourings of one set are told apart: each goes on from her own last palette


@dataclass(frozen=True, eq=False)
class View:
    """A scene on a grid: all its layers and the map of their stacks."""

    scene: Scene
    layers: tuple[Layer, ...]
    stacks: Stacks

    @property
    def stock(self) -> Stock:
        """The card of the panel."""
        return self.scene.stock

    @cached_property
    def finished(self) -> Bytes:
        """The palette (n, 3) of the finished panel; of the last ones on this map the most alike is gone on from."""
        levels, others = self.stacks.levels, list(_LAST.seen(self.stacks.key) or ())
        last = min(others, key=self._unlike, default=None)
        rows = np.arange(len(levels)) if last is None else _rows_unlike(last.stock, last.keys, self)
        if last is None or 2 * len(rows) > len(levels):
            found = colours(self.stock, self.layers, levels)
        else:
            # what this one goes on from was hers, and gives way to it
            others.remove(last)
            found = last.palette
            if len(rows):
                found = last.palette.copy()
                found[rows] = colours(self.stock, self.layers, levels[rows])
        found.setflags(write=False)
        own = _Palette(self.stock, tuple(layer.key for layer in self.layers), found)
        _LAST.renew(self.stacks.key, (own, *others[: _HANDS_AT_IT - 1]))
        return found

    def _unlike(self, last: _Palette) -> int:
        """How many layers have another colour than a palette on the same map was made with; all, on another card."""
        if last.stock != self.stock:
            return len(self.layers)
        return sum(key != layer.key for key, layer in zip(last.keys, self.layers, strict=True))

    def columns(self, done: Sequence[str], pieces: bool) -> list[int]:
        """The layers that are there once the passes ``done`` are; pieces appear with their first pass."""
        keys = set(done)
        begun = {layer.surface for layer in self.layers if layer.pass_key in keys}
        return [
            j
            for j, layer in enumerate(self.layers)
            if (layer.pass_key in keys if layer.pass_key else pieces or layer.surface in begun)
        ]

    def palette(self, done: Sequence[str] | None = None, rows: Rows | None = None) -> Bytes:
        """Colours of all stacks, or some, with the passes ``done`` (None: finished)."""
        if done is None and rows is None:
            return self.finished
        every = done is None or len(set(done)) >= len(self.scene.plan.passes)
        which = list(range(len(self.layers))) if every else self.columns(done or (), False)
        levels = self.stacks.levels if rows is None else self.stacks.levels[rows]
        return colours(self.stock, [self.layers[j] for j in which], levels[:, which])


def view(scene: Scene, wet_on: frozenset[str], width: int, fresh: str = "") -> View:
    """A scene ``width`` px wide. ``wet_on``: passes that go onto wet ink; ``fresh``: the one not dried back yet."""
    size = scene.layer_set
    raster = Raster.of(size.width, size.height, width)
    layers = tuple(layers_of(scene, scene.plan.passes, wet_on, raster, fresh))
    return View(scene, layers, stacks_of(layers, raster))


def lie_alike(one: Scene, other: Scene) -> bool:
    """Whether all that two scenes show lies alike, so that only colours can differ: told without making any picture."""

    def lie(plan: Plan) -> object:
        """A plan without what makes colour only."""
        passes = [
            replace(p, ink="", coats=1, hand="medium", generation=1, more=("",) * len(p.more))
            for p in plan.passes
        ]
        things = [
            replace(
                t, card=t.card and _uncoloured(t.card), cards=tuple((n, _uncoloured(c)) for n, c in t.cards)
            )
            for t in plan.things
            if t.kind != "note"
        ]
        return passes, things, plan.materials.panel, plan.materials.light

    same_sets = all(one.sets.get(k) is s for k, s in other.sets.items())
    return same_sets and one.tools == other.tools and lie(one.plan) == lie(other.plan)


def _uncoloured(card: Card) -> Card:
    return replace(card, stock="-", copies=1)


def changed(old: View, new: View) -> Rows | None:
    """Which stacks of one and the same map may have another colour; None where the maps differ."""
    if old.stacks.key != new.stacks.key:
        return None
    return _rows_unlike(old.stock, [layer.key for layer in old.layers], new)


def _rows_unlike(stock: Stock, keys: Sequence[tuple[object, ...]], new: View) -> Rows:
    """Which stacks may have another colour than an earlier view on the same map gave them."""
    if stock != new.stock:
        return np.arange(len(new.stacks.levels))
    pairs = zip(keys, new.layers, strict=True)
    touched = np.zeros(len(new.stacks.levels), bool)
    for j in [j for j, (key, layer) in enumerate(pairs) if key != layer.key]:
        touched |= (new.stacks.levels[:, j] > 0) & ~hidden(new.layers, new.stacks.levels, j)
    return np.flatnonzero(touched)


def build_up(seen: View, sequence: Sequence[str]) -> Iterator[tuple[Rows, Bytes]]:
    """From bare card to finished, pass by pass: which stacks change, and to which colours; first all of the bare card."""
    everything = np.arange(len(seen.stacks.levels))
    shown: set[int] = set()
    for count in range(len(sequence) + 1):
        done = sequence[:count]
        which = seen.columns(done, pieces=count == len(sequence))
        fresh = [j for j in which if j not in shown]
        shown.update(which)
        rows = everything if count == 0 else np.flatnonzero((seen.stacks.levels[:, fresh] > 0).any(axis=1))
        yield rows, colours(seen.stock, [seen.layers[j] for j in which], seen.stacks.levels[rows][:, which])


def panel_after(seen: View, done: Sequence[str] | None) -> Bytes:
    """The panel (h, w, 3) with the passes ``done`` (None: finished)."""
    # a quarter of the time that indexing takes
    return seen.palette(done).take(seen.stacks.numbers, axis=0)
