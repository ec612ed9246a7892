"""One whole colouring for a set on a card, from the pads at hand, with what it is judged by."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import count
from typing import Any

import numpy as np

from strata.advice import advise
from strata.advice.remedies import is_white, paleness
from strata.errors import BadValue
from strata.optics.colour import differences
from strata.optics.stack import prepare
from strata.order import dispatch
from strata.panel.laid import FREE
from strata.panel.things import IMAGE
from strata.plan.edits import apply
from strata.plan.family import Amount, slots_of
from strata.plan.scene import Scene
from strata.proposals.beside import beside
from strata.proposals.costs import (
    NEVER,
    Part,
    apart_costs,
    over_costs,
    sheet_costs,
    step_cost,
)
from strata.proposals.ladders import DARK_CARD, Candidate, candidates, ladders_of
from strata.proposals.moods import leads, mood_costs
from strata.proposals.reasons import figures, reason
from strata.proposals.search import Table, best, order_of, room
from strata.proposals.wishes import Wishes
from strata.tones import ladders as climb

DIFFERENT, LEAST_DIFFERENT, ALIKE = 16.0, 11.0, 1.2
# CIEDE2000 from an earlier proposal that an element should have, and all on the average; what it costs not to
MOST_ROUNDS = 5
# how often a choice found wanting is exchanged


@dataclass(frozen=True)
class Worn:
    """What an element wears: the ladder's name, its pads light to deep, and why."""

    element: str
    ladder: str
    pads: tuple[str, ...]
    strength: str
    reason: str


@dataclass(frozen=True, eq=False)
class Proposal:
    """A colouring as edits that make it; ``figures`` by name with what they are judged by, ``cost`` the score (less is better)."""

    mood: str
    worn: tuple[Worn, ...]
    edits: tuple[tuple[str, Mapping[str, Any]], ...]
    figures: Mapping[str, float]
    cost: float
    exact_among: int
    bodies: Mapping[str, tuple[float, float, float]]
    scene: Scene


def propose(
    scene: Scene, pads: Iterable[str], wishes: Wishes, apart_from: Sequence[Proposal] = ()
) -> Proposal:
    """The best colouring for these wishes, unlike those before; the same wishes give the same answer.

    Raises BadValue where there is no pad, or nothing to colour.
    """
    table = _Table(scene, sorted(pads), wishes)
    return min(
        (table.solved(lead, apart_from) for lead in leads(table.parts, wishes, scene.stock.lab)),
        key=lambda found: found.cost,
    )


class _Table:
    """Everything that is the same for all hues that lead."""

    def __init__(self, scene: Scene, pads: Sequence[str], wishes: Wishes) -> None:
        self.wishes, self.scene = wishes, _bared(scene, wishes.keep)
        self.pads = [k for k in pads if k in scene.inks]
        if not self.pads:
            raise BadValue("There is no pad at hand to propose with.", "pads")
        prepare([scene.inks[k] for k in self.pads], [scene.stock])
        self.parts = self._parts()
        self.places = {p.name: i for i, p in enumerate(self.parts)}
        self.near, self.over = beside(scene.layer_set)
        self.own = [np.array([step_cost(c, scene.stock.lab) for c in p.choices]) for p in self.parts]
        self.focal = self._focal()
        # no pass of what stays may carry a key that a new one will carry
        known = [p.key for p in self.scene.plan.passes]
        self.key = next(f"o{n}." for n in count() if not any(k.startswith(f"o{n}.") for k in known))

    def _parts(self) -> list[Part]:
        scene, laid = self.scene, self.scene.layer_set
        white = self._white()
        families = ladders_of(scene, self.pads)
        parts = []
        for element in laid.elements:
            sheet = laid.sheets_of(element)[0]
            if sheet == FREE or laid.origin(sheet).thing != IMAGE or element in self.wishes.keep:
                continue
            slots = slots_of(scene, element)
            card = laid.origin(sheet).surface
            stock = scene.plan.stock if not card else laid.surface_by_key[card].card.stock
            choices = tuple(candidates(scene, slots, families, white, stock))
            parts.append(Part(element, sheet, slots[0].area, choices))
        if not parts:
            raise BadValue("There is no element left to colour.", "keep")
        return parts

    def _white(self) -> Amount | None:
        wanted = self.wishes.white_ground
        if wanted is None:
            wanted = self.scene.stock.lab[0] < DARK_CARD
        whites = [k for k in self.pads if is_white(self.scene, k)]
        if not wanted or not whites:
            return None
        white = max(whites, key=lambda k: paleness(self.scene, k))
        return Amount(white, 2 if self.scene.stock.lab[0] < 45 else 1)

    def _focal(self) -> str:
        """The element that an accent goes to: of middling size, and named for a colour."""
        ranked = sorted(self.parts, key=lambda p: abs(p.area - np.median([q.area for q in self.parts])))
        named = [p for p in ranked if self.wishes.hue(p.name) is not None]
        return (named or ranked)[0].name

    def solved(self, lead: float, apart_from: Sequence[Proposal]) -> Proposal:
        """The best choice, tried on the panel; a choice found wanting there is exchanged."""
        own = [
            base + mood_costs(p, self.wishes, self.scene.stock.lab, lead, p.name == self.focal)
            for base, p in zip(self.own, self.parts, strict=True)
        ]
        found = self._tried(own, apart_from, ALIKE)
        if any(difference_of(found, earlier, self.parts) < LEAST_DIFFERENT for earlier in apart_from):
            found = self._tried(own, apart_from, 4 * ALIKE)
        return found

    def _tried(self, own: Sequence[Table], apart_from: Sequence[Proposal], alike: float) -> Proposal:
        for earlier in apart_from:
            own = [cost + _same(part, earlier, alike) for cost, part in zip(own, self.parts, strict=True)]
        kept = self._kept(own)
        pairs = self._pairs(kept)
        costs = [c[k].copy() for c, k in zip(own, kept, strict=True)]
        found: tuple[float, Proposal] | None = None
        for _ in range(MOST_ROUNDS):
            chosen, cost = best(costs, pairs)
            made = self._made([self.parts[i].choices[kept[i][n]] for i, n in enumerate(chosen)], cost, kept)
            wanting = self._wanting(made.scene)
            penalty = cost + NEVER * len(wanting)
            if found is None or penalty < found[0]:
                found = penalty, replace(made, cost=penalty)
            if not wanting:
                break
            for element in wanting & set(self.places):
                at = self.places[element]
                costs[at][chosen[at]] += NEVER / 2
        assert found is not None  # noqa: S101
        return found[1]

    def _kept(self, own: Sequence[Table]) -> list[np.ndarray]:
        """The candidates that are searched: the best of each ladder first, as many as fit the tables."""
        links = [tuple(sorted((self.places[a], self.places[b]))) for a, b in self._links()]
        _, width = order_of(len(self.parts), [(a, b) for a, b in links])
        most = min(room(width), 36)
        kept = []
        for cost, part in zip(own, self.parts, strict=True):
            order = np.argsort(cost, kind="stable")
            first: list[int] = []
            rest: list[int] = []
            seen: set[tuple[str, ...]] = set()
            for i in order.tolist():
                name = part.choices[i].ladder.pads
                (rest if name in seen else first).append(i)
                seen.add(name)
            kept.append(np.array((first[: most - most // 4] + rest)[:most]))
        return kept

    def _links(self) -> list[tuple[str, str]]:
        names = set(self.places)
        both = {*self.near, *(frozenset(p) for p in self.over)}
        return sorted(tuple(sorted(p)) for p in both if p <= names and len(p) == 2)  # type: ignore[misc]

    def _pairs(self, kept: Sequence[np.ndarray]) -> dict[tuple[int, int], Table]:
        found: dict[tuple[int, int], Table] = {}
        for one, other in self._links():
            a, b = sorted((self.places[one], self.places[other]))
            ca, cb = ([self.parts[i].choices[k] for k in kept[i]] for i in (a, b))
            cost = np.zeros((len(ca), len(cb)))
            first, second = self.parts[a], self.parts[b]
            gap = self.near.get(frozenset((one, other)))
            if gap is not None:
                cost += apart_costs(ca, cb)
                if set(self.scene.layer_set.sheets_of(one)) & set(self.scene.layer_set.sheets_of(other)):
                    cost += sheet_costs(ca, cb)
            for (under, over), share in self.over.items():
                if (under, over) == (first.name, second.name):
                    cost += over_costs(self.scene.stock, ca, cb, share)
                elif (under, over) == (second.name, first.name):
                    cost += over_costs(self.scene.stock, cb, ca, share).T
            found[a, b] = cost
        return found

    def _made(self, chosen: Sequence[Candidate], cost: float, kept: Sequence[np.ndarray]) -> Proposal:
        scene, edits, worn = self.scene, [], []
        for n, (part, candidate) in enumerate(zip(self.parts, chosen, strict=True)):
            values: dict[str, Any] = {
                "elements": [part.name],
                "pads": list(candidate.ladder.pads),
                "strength": candidate.strength,
                "pass": f"{self.key}{n}-",
            }
            if candidate.ground:
                values["ground"] = {"ink": candidate.ground.ink, "coats": candidate.ground.coats}
            edits.append(("wear_family", values))
            scene = scene.with_plan(apply(scene, "wear_family", values)[0])
            worn.append(
                Worn(
                    part.name,
                    candidate.ladder.name,
                    tuple(a.ink for _, a in candidate.laid),
                    candidate.strength,
                    reason(part, candidate, self.wishes, part.name == self.focal),
                )
            )
        bodies = {p.name: c.body for p, c in zip(self.parts, chosen, strict=True)}
        return Proposal(
            self.wishes.mood,
            tuple(worn),
            tuple(edits),
            figures(
                {p.name: c for p, c in zip(self.parts, chosen, strict=True)}, list(self.near), scene.stock.lab
            ),
            cost,
            len(kept[0]),
            bodies,
            scene,
        )

    def _wanting(self, scene: Scene) -> set[str]:
        """Elements of which something serious is said once it is laid out whole."""
        order = dispatch(scene)
        said = advise(scene, order, climb(scene, order), frozenset(self.pads))
        bad = [f for f in said if f.severity in ("stop", "look") or f.code in ("step_size", "silhouette")]
        return {n for f in bad if f.subject.kind in ("element", "pair") for n in f.subject.names}


def _bared(scene: Scene, keep: frozenset[str]) -> Scene:
    """Without what is proposed anew: the passes of ink on the image that are not to stay."""
    laid = scene.layer_set
    passes = tuple(
        p
        for p in scene.plan.passes
        if p.element in keep or p.sheet == FREE or laid.origin(p.sheet).thing != IMAGE
    )
    return scene.with_plan(replace(scene.plan, passes=passes, left=()))


def difference_of(one: Proposal, other: Proposal, parts: Sequence[Part]) -> float:
    """Mean CIEDE2000 between two proposals over the area that is inked."""
    both = [p for p in parts if p.name in one.bodies and p.name in other.bodies]
    if not both:
        return 0.0
    a, b = (np.array([o.bodies[p.name] for p in both]) for o in (one, other))
    return float(np.average(differences(a, b), weights=[p.area for p in both]))


def _same(part: Part, earlier: Proposal, weight: float) -> Table:
    """What it costs to look as an earlier proposal did, most for large elements."""
    body = earlier.bodies.get(part.name)
    if body is None:
        return np.zeros(len(part.choices))
    off = differences(np.array([c.body for c in part.choices]), np.broadcast_to(body, (len(part.choices), 3)))
    return np.asarray(weight * np.maximum(0, 1 - off / DIFFERENT) * min(2.0, 0.5 + part.area / 800))
