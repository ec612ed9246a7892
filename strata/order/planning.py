"""The planner: a sound plan at once, and a better one where it is found in time."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace
from itertools import groupby, zip_longest

from strata.order.anneal import Order, Price, Split, annealed
from strata.order.done import Timed
from strata.order.found import Found
from strata.order.greedy import greedy_order
from strata.order.instance import Instance
from strata.order.needed import least_ticks
from strata.order.rounds import lots_of, rounds_of, visits_in
from strata.order.schedule import Schedule
from strata.order.scheduled import scheduled
from strata.order.second_copy import never_dirty
from strata.order.ticks import Work
from strata.order.timing import timed
from strata.order.visits import visits_of
from strata.order.wetness import off_hold, wet_by_card
from strata.order.wish import Wish

BY_MOVES = ("pads", "elements")
MANY = 6
# times the moves where nothing but moves is tried
MOVES_A_PASS, MOST_MOVES = 25, 800
# moves tried in the order of one card before the solver begins; 0.3 s for thirty passes
SHARE_APART = 3
# of the moves of an evening, one in so many for each build by itself
MOVES_A_SECOND = 40_000
# of an order for one inking, on one core; what a deterministic second buys where many cards are planned
Say = Callable[[float], None]
UNHELD = 10_000_000.0
# ticks: a pass that would lie on wet ink where it is to lie on dry, or the reverse


def at_once(work: Work) -> Found:
    """A sound plan at once: one card by a rule of thumb; of several in rounds or one by one, whichever is sooner done."""
    laid = _one_by_one(work)
    if len(work.instance.cards) > 1:
        held = _held(work)
        in_rounds = _in_rounds(work, tuple(greedy_order(work, work.of_make)), Split())
        laid = min([laid, in_rounds], key=lambda t: t.end + _off(work, t, held))
    return _found(work, laid, "greedy")


def _found(work: Work, laid: Timed, by: str) -> Found:
    """A plan with the floor that lies under any: proven the shortest where it reaches that."""
    bound = min(least_ticks(work), laid.end)
    return Found(laid, by, bound, bound >= laid.end and work.count > 0)


def plan(instance: Instance, wish: Wish) -> Schedule:
    """The best schedule that is found within the wish's budget; the same one for the same work and wish."""
    work = Work(instance)
    return scheduled(work, search(work, wish))


def search(work: Work, wish: Wish, say: Say = lambda _: None) -> Found:
    """What ``plan`` tells of; never worse than ``at_once`` by what the wish puts first, but for what it spares.

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


def _in_rounds(work: Work, order: Order, split: Split) -> Timed:
    rounds = rounds_of(work, order, split)
    return min((timed(work, visits_in(work, rounds, lots)) for lots in lots_of(work)), key=lambda t: t.end)


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
    if wish.first in BY_MOVES:
        # of pads and elements taken up the solver counts nothing
        *_, moved = annealed(work, start, price, MANY * MOVES_A_PASS * work.count)
        best = min([known, moved], key=lambda t: wish.price(t) + _off(work, t, held))
        return _found(work, best, "annealing")
    if rules.hands == 1 and not rules.heat and not work.instance.twice:
        found = solve(work, known, wish, held)
        return replace(found, bound=max(found.bound, min(least_ticks(work), found.timed.end)))
    # the solver knows one pair of hands, one copy of a sheet and inks that dry by themselves
    alone = Work(replace(never_dirty(work.instance), rules=replace(rules, hands=1, heat=False)))
    other = solve(alone, _one_by_one(alone), wish, held)
    order = [(1, d.i) for d in sorted(other.timed.did, key=lambda d: d.start) if d.kind == "ink"]
    laid = timed(work, visits_of(work, order))
    # as the solver timed it, it is sound only where sheets are cleaned as they must be
    ways = [known, laid] if work.instance.twice else [known, other.timed, laid]
    best = min(ways, key=lambda t: wish.price(t) + _off(work, t, held))
    found = _found(work, best, "annealing" if best is known else "search")
    if rules.hands == 1 and not rules.heat and wish.first == "time":
        # with sheets that never want cleaning nothing takes longer
        bound = max(found.bound, min(other.bound, best.end))
        return replace(found, bound=bound, proven=best.end <= bound)
    return found


def _search_many(work: Work, wish: Wish, say: Say) -> Found:
    held = _held(work)
    price = _priced(work, wish, held, lambda order, split: _in_rounds(work, order, split))
    inkings = sum(len(work.of_make[m]) for m in work.instance.cards)
    moves = round(wish.budget * MOVES_A_SECOND / inkings)
    starts = _starts(work, price, min(moves // SHARE_APART, MOVES_A_PASS * work.count))
    say(0.3)
    start = min(starts, key=lambda order: price(order, Split())[0])
    found = annealed(work, start, price, moves)[2]
    say(0.9)
    best = min([at_once(work).timed, found], key=lambda t: wish.price(t) + _off(work, t, held))
    return _found(work, best, "annealing")


def _starts(work: Work, price: Price, moves: int) -> Iterable[Order]:
    """Orders to begin with: sheet by sheet for all makes together; of several makes, each improved by itself
    (``moves`` in all), one after another and one sheet of each in turn."""
    merged = tuple(greedy_order(work, work.of_make))
    if len(work.of_make) == 1:
        return [merged]
    each = moves // len(work.of_make)
    own = [annealed(work, tuple(greedy_order(work, [m])), price, each)[0] for m in work.of_make]
    apart = tuple(i for order in own for i in order)
    rows = ([list(row) for _, row in groupby(order, key=lambda i: work.sheet[i])] for order in own)
    # what one make waits for is filled by another's next sheet
    woven = tuple(i for turn in zip_longest(*rows, fillvalue=()) for row in turn for i in row)
    return [merged, apart, woven]
