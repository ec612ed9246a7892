"""Building the model, searching it, and reading the plan off it."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from ortools.sat.python import cp_model

from strata.order.done import Timed
from strata.order.found import Found
from strata.order.proof.bounds import hands_at_least, keep_order
from strata.order.proof.cares import Cares, take_brushes
from strata.order.proof.decode import decoded
from strata.order.proof.masks import Mask, lay_masks
from strata.order.proof.model import Expr, Model
from strata.order.proof.sheets import keep_dry, seat_sheets
from strata.order.ticks import Work, ticks
from strata.order.wish import MINUTES, RETURN, Wish

SETTINGS = {
    "num_workers": 1,
    "random_seed": 7,
    "linearization_level": 2,
    "cp_model_probing_level": 0,
    "symmetry_level": 0,
}
MANNERS: tuple[Mapping[str, bool], ...] = (
    {"use_strong_propagation_in_disjunctive": True, "use_dynamic_precedence_in_disjunctive": True},
    {},
    {"optimize_with_lb_tree_search": True},
)
A_SECOND = 0.22
# of the solver's deterministic time, about what a second of one core of 2020 gives
EASE, MOST_EASE = 0.25, 0.6
# share of the budget, and most seconds, that go into sparing the hands what a shortest plan does not need
BY = "search"
FEW = 8
# passes up to which every number of seatings and masks is allowed, not only one more than needed


@dataclass(frozen=True)
class _Whole:
    model: Model
    masks: dict[int, list[Mask]]
    cares: Cares
    held: frozenset[int] | None


def solve(work: Work, known: Timed, wish: Wish, held: frozenset[int] | None = None) -> Found:
    """The best plan for one card within the wish's budget, by what it puts first.

    ``known`` is a sound plan to begin with. ``held``: the passes that must lie
    on wet ink, and no others; None where that is left free.
    """
    counts = wish.first != "time"
    whole = _built(work, 2 * known.end if counts else known.end, held)
    counted = _counted(whole.model, wish)
    share = 1 - EASE
    if counted is not None:
        first = _Search(whole, counted, wish.count(known), known)
        first.run(share / 2 * wish.budget)
        known = min(first.best, known, key=wish.price)
        if not first.proven:
            return Found(known, BY)
        whole.model.cp.add(counted <= first.least)
        share /= 2
    tail = _tail(work)
    search = _Search(whole, whole.model.end, known.end - tail, known)
    search.run(share * wish.budget)
    shortest = min(search.best, known, key=wish.price)
    bound = min(search.bound + tail, shortest.end)
    best = _easier(work, shortest, wish, held, min(MOST_EASE, EASE * wish.budget))
    return Found(best, BY, bound, search.proven and best.end <= bound)


def _easier(work: Work, shortest: Timed, wish: Wish, held: frozenset[int] | None, budget: float) -> Timed:
    """Of the plans that take no longer, or no more than may be spared, the one with least work and fewest returns."""
    whole = _built(work, shortest.end + ticks(wish.spare), held)
    model, counted = whole.model, _counted(whole.model, wish)
    if counted is not None:
        model.cp.add(counted <= wish.count(shortest))
    seated = [s.there for seatings in model.seatings.values() for s in seatings]
    returns = RETURN * cp_model.LinearExpr.sum(seated)
    goal = MINUTES * (model.end + returns) + cp_model.LinearExpr.sum(model.effort)
    search = _Search(whole, goal, 4 * wish.ease(shortest), shortest)
    search.run(budget)
    return min(shortest, search.best, key=wish.ease)


class _Search:
    """Minimises one thing with one manner of search after another, each going on from what is known.

    Which manner proves a plan soonest differs from card to card; a little of
    each first costs little, and seconds become tenths where one suits.
    """

    def __init__(self, whole: _Whole, goal: Expr, least: int, best: Timed) -> None:
        self.whole, self.goal, self.least, self.best = whole, goal, least, best
        self.bound, self.proven = 0, False

    def run(self, budget: float) -> None:
        for share, manner in (*((0.08, m) for m in MANNERS), *((0.25, m) for m in MANNERS)):
            self._once(share * budget, manner)
            if self.proven:
                return

    def _once(self, budget: float, manner: Mapping[str, bool]) -> None:
        cp = self.whole.model.cp
        cp.add(self.goal <= self.least)
        if self.bound:
            cp.add(self.goal >= self.bound)
        cp.minimize(self.goal)
        solver = cp_model.CpSolver()
        for name, value in {**SETTINGS, **manner, "max_deterministic_time": A_SECOND * budget}.items():
            setattr(solver.parameters, name, value)
        status = solver.solve(cp)
        if status in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            self.least = round(solver.objective_value)
            self.best = decoded(self.whole.model, self.whole.masks, self.whole.cares, solver, self.whole.held)
        if status in (cp_model.OPTIMAL, cp_model.INFEASIBLE):
            # nothing is better than the best that is known
            self.bound, self.proven = self.least, True
        else:
            self.bound = max(self.bound, math.ceil(solver.best_objective_bound - 1e-6))
            self.proven = self.bound >= self.least


def _built(work: Work, latest: int, held: frozenset[int] | None) -> _Whole:
    """The model of all plans that end by ``latest``."""
    model = Model(work, latest - _tail(work))
    more = work.count if work.count <= FEW else 1
    seat_sheets(model, more)
    masks = lay_masks(model, more)
    keep_dry(model)
    cares = take_brushes(model)
    cp = model.cp
    cp.add_no_overlap(model.hands)
    keep_order(model)
    for i in range(work.count):
        cp.add(model.end >= model.ends[i] + work.dry[i])
    for seatings in model.seatings.values():
        for s in seatings:
            cp.add(model.end >= s.end).only_enforce_if(s.there)
    hands_at_least(model)
    if held is not None:
        _hold(model, held)
    return _Whole(model, masks, cares, held)


def _hold(model: Model, held: frozenset[int]) -> None:
    """What lies on wet ink stays as it was, so that the picture does."""
    cp, work = model.cp, model.work
    for j in range(work.count):
        under = [i for i in range(work.count) if work.touching[j] >> i & 1 and work.below[j] >> i & 1]
        if j not in held:
            for i in under:
                cp.add(model.starts[j] >= model.ends[i] + work.dry[i] - work.minutes.enough)
            continue
        wet = []
        for i in under:
            flag = model.flag(f"{j} on wet {i}")
            still = model.ends[i] + work.dry[i] - work.minutes.enough - 1
            cp.add(model.starts[j] <= still).only_enforce_if(flag)
            wet.append(flag)
        cp.add_bool_or(wet)


def _counted(model: Model, wish: Wish) -> Expr | None:
    if wish.first == "cleanings":
        return sum([*model.washes, *model.cleans])
    if wish.first == "placements":
        return sum(s.there for seatings in model.seatings.values() for s in seatings)
    return sum(model.masks) if wish.first == "masks" else None


def _tail(work: Work) -> int:
    """Ticks from the moment when all is dry: sealing, and gluing pieces on."""
    minutes = work.minutes
    return bool(work.sealed) * (minutes.seal + minutes.seal_dry) + minutes.glue * len(work.instance.pieces)
