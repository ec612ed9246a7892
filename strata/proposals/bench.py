"""What all proposals for one panel, card and drawer have in common, laid out once: candidates and what pairs cost."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import cached_property

import numpy as np

from strata.advice.remedies import is_white
from strata.errors import BadValue
from strata.kept import Kept
from strata.optics.stack import prepare
from strata.panel.laid import FREE
from strata.panel.things import IMAGE
from strata.plan.family import Amount, slots_of
from strata.plan.scene import Scene
from strata.proposals.beside import beside
from strata.proposals.costs import Part, Table, apart_costs, over_costs, sheet_costs, step_cost
from strata.proposals.ladders import DARK_CARD, Candidate, candidates, ladders_of
from strata.proposals.search import order_of, room

SWALLOWS = 35.0
# L* of a card on which no clear ink shows without a white ground
MOST_CANDIDATES = 48
# of an element: the best by their own tones, each ladder once before any comes again


class Bench:
    """Raises BadValue where there is no pad, or nothing to colour."""

    def __init__(
        self, scene: Scene, pads: Sequence[str], keep: frozenset[str], white_ground: bool | None
    ) -> None:
        self.scene, self.keep = bared(scene, keep), keep
        self.pads = [k for k in pads if k in scene.inks]
        if not self.pads:
            raise BadValue("There is no pad at hand to propose with.", "pads")
        prepare([scene.inks[k] for k in self.pads], [scene.stock])
        self.parts, self.own = self._parts(self._white(white_ground))
        self.places = {p.name: i for i, p in enumerate(self.parts)}
        self.near, self.over = beside(scene.layer_set)
        # no pass of what stays may carry a key that a new one will carry
        self.key = self.scene.plan.free_prefix("o")

    def _parts(self, white: Amount | None) -> tuple[list[Part], list[Table]]:
        scene, laid = self.scene, self.scene.layer_set
        families = ladders_of(scene, self.pads)
        if white is None and scene.stock.lab[0] < SWALLOWS:
            families = [f for f in families if f.opaque]
        if not families:
            raise BadValue(
                f"On {scene.stock.name or 'so dark a card'} clear inks do not show: it takes a white or opaque pads.",
                "pads",
            )
        parts, own = [], []
        # where parts touch many others only few are searched at once: more than thrice as many are never asked
        wanted = [e for e in laid.elements if self._is_part(e)]
        near, over = beside(laid)
        touching = [
            sorted(p) for p in {*near, *(frozenset(p) for p in over)} if p <= set(wanted) and len(p) == 2
        ]
        _, width = order_of(len(wanted), [(wanted.index(a), wanted.index(b)) for a, b in touching])
        most = min(MOST_CANDIDATES, 3 * room(width))
        for element in wanted:
            sheet = laid.sheets_of(element)[0]
            slots = slots_of(scene, element)
            card = laid.origin(sheet).surface
            stock = scene.plan.stock if not card else laid.surface_by_key[card].card.stock
            choices = candidates(scene, slots, families, white, stock)
            costs = np.array([step_cost(c, scene.stock.lab) for c in choices])
            best = spread_out(costs, choices, most)
            parts.append(Part(element, sheet, slots[0].area, tuple(choices[i] for i in best)))
            own.append(costs[best])
        if not parts:
            raise BadValue("There is no element left to colour.", "keep")
        return parts, own

    def _is_part(self, element: str) -> bool:
        laid = self.scene.layer_set
        sheet = laid.sheets_of(element)[0]
        return sheet != FREE and laid.origin(sheet).thing == IMAGE and element not in self.keep

    def _white(self, wanted: bool | None) -> Amount | None:
        if wanted is None:
            wanted = self.scene.stock.lab[0] < DARK_CARD
        whites = [k for k in self.pads if is_white(self.scene, k)]
        if not wanted or not whites:
            return None
        white = max(whites, key=lambda k: self.scene.inks[k].paleness)
        return Amount(white, 2 if self.scene.stock.lab[0] < 45 else 1)

    @cached_property
    def links(self) -> list[tuple[int, int]]:
        """The pairs of elements (by place, a < b) that cost something together."""
        both = {*self.near, *(frozenset(p) for p in self.over)}
        found = [sorted(self.places[n] for n in p) for p in both if p <= set(self.places) and len(p) == 2]
        return sorted((a, b) for a, b in found)

    @cached_property
    def pairs(self) -> dict[tuple[int, int], Table]:
        """What each pair costs, for all candidates of both."""
        return {(a, b): self._pair(self.parts[a], self.parts[b]) for a, b in self.links}

    def _pair(self, one: Part, other: Part) -> Table:
        laid, stock = self.scene.layer_set, self.scene.stock
        cost: Table = np.zeros((len(one.choices), len(other.choices)))
        if frozenset((one.name, other.name)) in self.near:
            cost = cost + apart_costs(one.choices, other.choices)
            if set(laid.sheets_of(one.name)) & set(laid.sheets_of(other.name)):
                cost = cost + sheet_costs(one.choices, other.choices)
        if share := self.over.get((one.name, other.name)):
            cost = cost + over_costs(stock, one.choices, other.choices, share)
        if share := self.over.get((other.name, one.name)):
            cost = cost + over_costs(stock, other.choices, one.choices, share).T
        return cost


def spread_out(costs: Table, choices: Sequence[Candidate], most: int) -> list[int]:
    """The places of the cheapest, each ladder once before any comes again for the last quarter."""
    first: list[int] = []
    rest: list[int] = []
    seen: set[tuple[str, ...]] = set()
    for i in np.argsort(costs, kind="stable").tolist():
        pads = choices[i].ladder.pads
        (rest if pads in seen else first).append(i)
        seen.add(pads)
    return (first[: most - most // 4] + rest)[:most]


def bared(scene: Scene, keep: frozenset[str]) -> Scene:
    """Without what is proposed anew: the passes of ink on the image that are not to stay."""
    laid = scene.layer_set
    passes = tuple(
        p
        for p in scene.plan.passes
        if p.element in keep or p.sheet == FREE or laid.origin(p.sheet).thing != IMAGE
    )
    return scene.with_plan(replace(scene.plan, passes=passes, left=()))


_BENCHES: Kept[object, Bench] = Kept(60_000_000, lambda _: 3_000_000)
# candidates with their spectra, and tables of 48 by 48 for some dozens of pairs


def bench_of(scene: Scene, pads: Sequence[str], keep: frozenset[str], white_ground: bool | None) -> Bench:
    """The bench of a scene; kept by all that it is made of."""
    bare = bared(scene, keep)
    inks = tuple((k, scene.inks[k]) for k in pads if k in scene.inks)
    key = (scene.layer_set, scene.stock, bare.plan.passes, bare.plan.materials, inks, keep, white_ground)
    return _BENCHES.get(key, lambda: Bench(scene, pads, keep, white_ground))
