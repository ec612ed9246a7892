"""The rest of a work that is under way: planned from what was done on, near the order that it had."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import replace

from strata.order.anneal import Order, Split, annealed
from strata.order.begun import OUT, Begun
from strata.order.done import Timed
from strata.order.found import Found
from strata.order.greedy import rest_in_order
from strata.order.planning import UNHELD
from strata.order.rounds import lots_of, rounds_of, visits_in
from strata.order.second_copy import told_apart
from strata.order.ticks import Work
from strata.order.timing import resumed
from strata.order.visits import Visit, runs_of, visits_of, washes_resumed
from strata.order.wetness import off_hold
from strata.order.wish import Wish

MOVES_A_PASS, MOST_INKINGS = 12, 6000
# moves tried for each pass that is left; times the inkings that are left, at the most


class _Rest:
    """What is left to do of a work."""

    def __init__(self, work: Work, begun: Begun, wish: Wish, held: frozenset[int]) -> None:
        self.work, self.begun, self.wish, self.held = work, begun, wish, held
        self.cards = [c for c, make in enumerate(work.instance.cards, 1) if make != OUT]
        self.open = {
            (card, i)
            for card in self.cards
            for i in work.of_make[work.instance.cards[card - 1]]
            if (card, i) not in begun.pairs
        }
        self.waiting = frozenset(i for _, i in self.open)

    def price(self, order: Order, split: Split) -> tuple[float, Timed]:
        """What an order costs, and how it lies in time; of several cards the better of rounds and one by one."""
        ways = [self._laid(self._one_by_one(order))]
        if len(self.cards) > 1:
            ways += [self._laid(self._in_rounds(order, split, lots)) for lots in lots_of(self.work)]
        return min(((self._cost(t), t) for t in ways), key=lambda found: found[0])

    def _cost(self, laid: Timed) -> float:
        return self.wish.price(laid) + UNHELD * off_hold(self.work, laid, self.held)

    def _one_by_one(self, order: Order) -> list[Visit]:
        now = self.begun.seated
        first = sorted(self.cards, key=lambda c: (now is None or c != now[0], c))
        return visits_of(self.work, [(c, i) for c in first for i in order if (c, i) in self.open])

    def _in_rounds(self, order: Order, split: Split, lots: Sequence[Sequence[int]]) -> list[Visit]:
        whole = visits_in(self.work, rounds_of(self.work, order, split), lots)
        return self._continued([v for v in map(self._still_open, whole) if v is not None])

    def _still_open(self, visit: Visit) -> Visit | None:
        runs = [
            (cover, tuple(i for i in passes if (visit.card, i) in self.open)) for cover, passes in visit.runs
        ]
        runs = [(cover, passes) for cover, passes in runs if passes]
        return replace(visit, runs=tuple(runs)) if runs else None

    def _continued(self, visits: list[Visit]) -> list[Visit]:
        """What lies seated is gone on with first, as long as nothing that is left must come before."""
        now = self._seated
        at = next((n for n, v in enumerate(visits) if (v.card, v.sheet) == now), None)
        if at is None:
            return visits
        later = {i for v in visits[:at] if v.card == visits[at].card for i in v.passes}
        if any(j in later for i in visits[at].passes for j, _ in self.work.before[i]):
            return visits
        return [visits[at], *visits[:at], *visits[at + 1 :]]

    @property
    def _seated(self) -> tuple[int, int] | None:
        """(card, sheet) that lies on the card now, whichever copy it is."""
        now = self.begun.seated
        return None if now is None else (now[0], told_apart(now[1])[0])

    def _laid(self, visits: Sequence[Visit]) -> Timed:
        gathered, washes = washes_resumed(
            self.work,
            self._from_bare(visits),
            self.begun.left(self.work),
            self.begun.seated[1] if self.begun.seated else None,
        )
        return resumed(self.work, gathered, self.begun, washes)

    def _from_bare(self, visits: Sequence[Visit]) -> list[Visit]:
        """Behind as few masks as what is left needs."""
        return [replace(v, runs=runs_of(self.work, v.passes)) if len(v.runs) > 1 else v for v in visits]


def go_on(
    work: Work, begun: Begun, wish: Wish, before: Iterable[int] = (), held: frozenset[int] = frozenset()
) -> Found:
    """The rest of a work, after what was done of it.

    ``before``: the order that was followed so far; ``held``: the passes that
    are to lie on wet ink where they can. The same plan for the same work.
    """
    rest = _Rest(work, begun, wish, held)
    sheet = told_apart(begun.seated[1])[0] if begun.seated is not None else None
    starts = dict.fromkeys(
        [tuple(rest_in_order(work, rest.waiting, sheet)), tuple(_near(work, rest.waiting, before))]
    )
    start = min(starts, key=lambda order: rest.price(order, Split())[0])
    moves = min(MOVES_A_PASS * len(start), MOST_INKINGS // max(1, len(rest.open)))
    best = annealed(work, start, rest.price, moves)[2] if len(start) > 1 else rest.price(start, Split())[1]
    return Found(best, "resumed", begun=begun)


def _near(work: Work, waiting: frozenset[int], before: Iterable[int]) -> list[int]:
    """Passes that are left in the order that was followed; those that it did not know behind their sheet's, or last."""
    found = [i for i in dict.fromkeys(before) if i in waiting]
    for i in sorted(waiting - set(found)):
        under = [n for n, j in enumerate(found) if work.below[i] >> j & 1]
        mates = [n for n, j in enumerate(found) if work.sheet[j] == work.sheet[i]]
        after = max(under, default=-1)
        place = max([n for n in mates if n >= after], default=max(after, len(found) - 1))
        found.insert(place + 1, i)
    return _sound(work, found)


def _sound(work: Work, order: Sequence[int]) -> list[int]:
    """The same order, each pass put off until what must be under it is down."""
    waiting, found = list(order), list[int]()
    while waiting:
        left = set(waiting)
        at = next(n for n, i in enumerate(waiting) if not any(j in left for j, _ in work.before[i]))
        found.append(waiting.pop(at))
    return found
