"""One whole colouring for a set on a card, from the pads at hand, with what it is judged by."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from strata.advice import advise
from strata.advice.verdicts import READABLE
from strata.optics.colour import Lab, differences
from strata.order import dispatch
from strata.plan.edits import apply
from strata.plan.scene import Scene
from strata.proposals.bench import Bench, bench_of, spread_out
from strata.proposals.costs import NEVER, Part, Table
from strata.proposals.ladders import Candidate
from strata.proposals.moods import leads, mood_costs
from strata.proposals.reasons import figures, reason
from strata.proposals.search import best, bettered, order_of, room
from strata.proposals.wishes import Wishes
from strata.tones import Ground
from strata.tones import ladders as climb

DIFFERENT, LEAST_DIFFERENT, ALIKE = 16.0, 11.0, 1.2
# CIEDE2000 from an earlier proposal that an element should have, and all on the average; what it costs not to
MOST_ROUNDS, MOST_SEARCHED = 7, 36
# how often a choice found wanting is exchanged; candidates of an element that are searched at once


@dataclass(frozen=True)
class Worn:
    """What an element wears: the ladder's name, its pads light to deep with their colours there, and why."""

    element: str
    ladder: str
    pads: tuple[str, ...]
    colours: tuple[Lab, ...]
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
    bodies: Mapping[str, Lab]
    scene: Scene


def propose(
    scene: Scene, pads: Iterable[str], wishes: Wishes, apart_from: Sequence[Proposal] = ()
) -> Proposal:
    """The best colouring for these wishes, unlike those before; the same wishes give the same answer.

    Raises BadValue where there is no pad, or nothing to colour.
    """
    solver = _Solver(bench_of(scene, sorted(pads), wishes.keep, wishes.white_ground), wishes)
    led = leads(solver.bench.parts, wishes, scene.stock.lab)
    return min((solver.solved(lead, apart_from) for lead in led), key=lambda found: found.cost)


class _Solver:
    """One set of wishes at a bench."""

    def __init__(self, bench: Bench, wishes: Wishes) -> None:
        self.bench, self.wishes = bench, wishes
        middle = float(np.median([p.area for p in bench.parts]))
        ranked = sorted(bench.parts, key=lambda p: abs(p.area - middle))
        # an accent goes to an element of middling size that is named for a colour
        self.focal = next((p.name for p in ranked if wishes.hue(p.name) is not None), ranked[0].name)

    def solved(self, lead: float, apart_from: Sequence[Proposal]) -> Proposal:
        """The best choice for a hue that leads, tried on the panel."""
        bench = self.bench
        own = [
            base + mood_costs(p, self.wishes, bench.scene.stock.lab, lead, p.name == self.focal)
            for base, p in zip(bench.own, bench.parts, strict=True)
        ]
        found = self._tried(own, apart_from, ALIKE)
        if any(difference_of(found, earlier, bench.parts) < LEAST_DIFFERENT for earlier in apart_from):
            found = self._tried(own, apart_from, 4 * ALIKE)
        return found

    def _tried(self, own: Sequence[Table], apart_from: Sequence[Proposal], alike: float) -> Proposal:
        """The best choice; one that is found wanting on the panel, or takes too many pads, is exchanged."""
        bench = self.bench
        for earlier in apart_from:
            own = [cost + _same(part, earlier, alike) for cost, part in zip(own, bench.parts, strict=True)]
        _, width = order_of(len(bench.parts), bench.links)
        most = min(room(width), MOST_SEARCHED)
        costs = [c.copy() for c in own]
        found: Proposal | None = None
        for _ in range(MOST_ROUNDS):
            places, cost = self._cheapest(costs, most)
            chosen = [p.choices[n] for p, n in zip(bench.parts, places, strict=True)]
            if self._over_the_count(chosen, costs):
                continue
            made = self._made(chosen, cost, most)
            wanting = self._wanting(made.scene)
            if found is None or cost + NEVER * len(wanting) < found.cost:
                found = replace(made, cost=cost + NEVER * len(wanting))
            if not wanting:
                break
            for element in wanting & set(bench.places):
                at = bench.places[element]
                costs[at][places[at]] += NEVER / 2
        return found or self._made(chosen, cost, most)

    def _cheapest(self, costs: Sequence[Table], most: int) -> tuple[list[int], float]:
        """The best choice among the ``most`` cheapest of each element, exactly; then bettered among all of them."""
        bench = self.bench
        kept = [spread_out(c, p.choices, most) for c, p in zip(costs, bench.parts, strict=True)]
        pairs = {(a, b): t[np.ix_(kept[a], kept[b])] for (a, b), t in bench.pairs.items()}
        places, _ = best([c[k] for c, k in zip(costs, kept, strict=True)], pairs)
        return bettered(costs, bench.pairs, [k[n] for k, n in zip(kept, places, strict=True)])

    def _over_the_count(self, chosen: Sequence[Candidate], costs: Sequence[Table]) -> bool:
        """Whether it takes more pads than asked for; the ladders that colour least are then made dear."""
        most = self.wishes.most_pads
        if len({k for c in chosen for k in c.pads}) <= most:
            return False
        areas: dict[frozenset[str], float] = {}
        for part, candidate in zip(self.bench.parts, chosen, strict=True):
            areas[candidate.pads] = areas.get(candidate.pads, 0.0) + part.area
        allowed: set[str] = set()
        for pads in sorted(areas, key=lambda p: (-areas[p], sorted(p))):
            if len(allowed | pads) <= most:
                allowed |= pads
        dear = False
        for part, cost in zip(self.bench.parts, costs, strict=True):
            outside = np.array([not c.pads <= allowed for c in part.choices])
            if allowed and not outside.all() and (cost[outside] < NEVER).any():
                cost[outside] += NEVER
                dear = True
        return dear

    def _made(self, chosen: Sequence[Candidate], cost: float, most: int) -> Proposal:
        scene, edits, worn = self.bench.scene, [], []
        for n, (part, candidate) in enumerate(zip(self.bench.parts, chosen, strict=True)):
            values: dict[str, Any] = {
                "elements": [part.name],
                "pads": list(candidate.ladder.pads),
                "strength": candidate.strength,
                "pass": f"{self.bench.key}{n}-",
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
                    tuple(candidate.worn),
                    candidate.strength,
                    reason(part, candidate, self.wishes, part.name == self.focal),
                )
            )
        bodies = {p.name: c.body for p, c in zip(self.bench.parts, chosen, strict=True)}
        return Proposal(
            self.wishes.mood,
            tuple(worn),
            tuple(edits),
            figures(
                {p.name: c for p, c in zip(self.bench.parts, chosen, strict=True)},
                list(self.bench.near),
                scene.stock.lab,
            ),
            cost,
            most,
            bodies,
            scene,
        )

    def _wanting(self, scene: Scene) -> set[str]:
        """Elements of which something serious is said once it is laid out whole."""
        order = dispatch(scene)
        ground = Ground.of(scene, order.wet)
        climbs = climb(scene, order, ground)
        said = advise(scene, order, climbs, frozenset(self.bench.pads), ground, mending=False)
        faint = {
            element
            for element, rungs in climbs.items()
            if any(r.step is not None and r.step < READABLE and r.role != "line" for r in rungs)
        }
        bad = [f for f in said if f.severity in ("stop", "look") or f.code in ("step_size", "silhouette")]
        return faint | {n for f in bad if f.subject.kind in ("element", "pair") for n in f.subject.names}


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
