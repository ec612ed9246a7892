"""The planner: a sound plan at once, and a better one where it is found in time."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace

from strata.order.anneal import Order, Price, Split, annealed
from strata.order.done import Timed
from strata.order.found import Found
from strata.order.greedy import greedy_order
from strata.order.instance import Instance
from strata.order.needed import least_ticks
from strata.order.rounds import led_by_one, rounds_of, visits_in
from strata.order.schedule import Schedule
from strata.order.scheduled import scheduled
from strata.order.ticks import Work
from strata.order.timing import timed
from strata.order.visits import visits_of
from strata.order.wetness import off_hold, wet_by_card
from strata.order.wish import Wish

MOVES_A_PASS, MOST_MOVES = 25, 800
# moves tried in the order of one card before the solver begins; 0.3 s for thirty passes
MOVES_A_SECOND = 40_000
# of an order for one inking, on one core; what a deterministic second buys where many cards are planned
Say = Callable[[float], None]
UNHELD = 10_000_000.0
# ticks: a pass that would lie on wet ink where it is to lie on dry, or the reverse


def plan_greedily(instance: Instance) -> Schedule:
    """A sound schedule at once: one card by a rule of thumb, several in rounds; an empty instance gives an empty one."""
    work = Work(instance)
    return scheduled(work, at_once(work))


def at_once(work: Work) -> Found:
    """What ``plan_greedily`` tells of."""
    return _found(work, _at_once(work), "greedy")


def _found(work: Work, laid: Timed, by: str) -> Found:
    """A plan with the floor that lies under any: proven the shortest where it reaches that."""
    bound = min(least_ticks(work), laid.end)
    return Found(laid, by, bound, bound >= laid.end and work.count > 0)


def plan(instance: Instance, wish: Wish) -> Schedule:
    """The best schedule that is found within the wish's budget; the same one for the same work and wish."""
    work = Work(instance)
    return scheduled(work, search(work, wish))


def search(work: Work, wish: Wish, say: Say = lambda _: None) -> Found:
    """What ``plan`` tells of; never worse than ``plan_greedily`` by what the wish puts first, but for what it spares.

    ``say`` is told how far the search is, 0..1.
    """
    say(0.1)
    if not work.count:
        return at_once(work)
    return _search_one(work, wish, say) if len(work.instance.cards) == 1 else _search_many(work, wish, say)


def _one_by_one(work: Work) -> Timed:
    """One card after another, each by the rule of thumb."""
    orders = {m: greedy_order(work, [m]) for m in work.of_make}
    cards = work.instance.cards
    return timed(work, visits_of(work, [(card, i) for card, m in enumerate(cards, 1) for i in orders[m]]))


def _at_once(work: Work) -> Timed:
    """What can be said at once: of several cards, in rounds or one by one, whichever is sooner done."""
    one_by_one = _one_by_one(work)
    if len(work.instance.cards) == 1:
        return one_by_one
    in_rounds = _in_rounds(work, tuple(greedy_order(work, work.of_make)), Split())
    held = _held(work)
    return min([one_by_one, in_rounds], key=lambda t: t.end + _off(work, t, held))


def _in_rounds(work: Work, order: Order, split: Split) -> Timed:
    return timed(work, visits_in(work, rounds_of(work, order, split), led_by_one(work)))


def _held(work: Work) -> frozenset[int] | None:
    """The passes that are to lie on wet ink: as where each card is made by itself by the rule of thumb."""
    if not work.instance.rules.hold_wet:
        return None
    return frozenset(i for wet in wet_by_card(work, _one_by_one(work)).values() for i in wet)


def _off(work: Work, laid: Timed, held: frozenset[int] | None) -> float:
    return 0.0 if held is None else UNHELD * off_hold(work, laid, held)


def _priced(
    work: Work, wish: Wish, held: frozenset[int] | None, lay: Callable[[Order, Split], Timed]
) -> Price:
    def price(order: Order, split: Split) -> tuple[float, Timed]:
        laid = lay(order, split)
        return wish.price(laid) + _off(work, laid, held), laid

    return price


def _search_one(work: Work, wish: Wish, say: Say) -> Found:
    from strata.order.proof import solve

    held = _held(work)

    def lay(order: Order, _: Split) -> Timed:
        return timed(work, visits_of(work, [(1, i) for i in order]))

    price, start = _priced(work, wish, held, lay), tuple(greedy_order(work, work.of_make))
    *_, known = annealed(work, start, price, min(MOST_MOVES, MOVES_A_PASS * work.count))
    say(0.3)
    if wish.budget <= 0:
        return _found(work, known, "annealing")
    rules = work.instance.rules
    if rules.hands == 1 and not rules.heat:
        found = solve(work, known, wish, held)
        return replace(found, bound=max(found.bound, min(least_ticks(work), found.timed.end)))
    # the solver knows one pair of hands and inks that dry by themselves: what it finds serves here as well
    alone = Work(replace(work.instance, rules=replace(rules, hands=1, heat=False)))
    other = solve(alone, _one_by_one(alone), wish, held).timed
    best = min([known, other], key=lambda t: wish.price(t) + _off(work, t, held))
    return _found(work, best, "annealing" if best is known else "search")


def _search_many(work: Work, wish: Wish, say: Say) -> Found:
    held = _held(work)
    price = _priced(work, wish, held, lambda order, split: _in_rounds(work, order, split))
    inkings = sum(len(work.of_make[m]) for m in work.instance.cards)
    starts = list(_starts(work))
    moves = round(wish.budget * MOVES_A_SECOND / inkings / len(starts))
    found = []
    for n, start in enumerate(starts):
        found.append(annealed(work, start, price, moves)[2])
        say((n + 1) / len(starts))
    best = min([_at_once(work), *found], key=lambda t: wish.price(t) + _off(work, t, held))
    return _found(work, best, "annealing")


def _starts(work: Work) -> Iterable[Order]:
    """Orders to begin with: sheet by sheet for all makes together, and each make by itself."""
    merged = tuple(greedy_order(work, work.of_make))
    apart = tuple(i for m in work.of_make for i in greedy_order(work, [m]))
    return dict.fromkeys([merged, apart])
