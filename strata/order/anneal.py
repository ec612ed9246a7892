"""A better order by annealing: small moves in the order of passes, each priced by laying it out in time.

Kirkpatrick, Gelatt and Vecchi, "Optimization by simulated annealing",
Science 220 (1983). The same seed and moves give the same plan every time.
"""

from __future__ import annotations

import math
import random
from collections.abc import Callable

from strata.order.done import Timed
from strata.order.ticks import Work

SEED = 11
WARM, COLD = 15_000.0, 120.0
# ticks of loss taken with one chance in e, at the first and the last move, for one card
SPLITS = 0.35
# share of the moves that begin or end a round, where there are several cards
Order = tuple[int, ...]
Split = frozenset[int]
Price = Callable[[Order, Split], tuple[float, Timed]]


def annealed(work: Work, start: Order, price: Price, moves: int) -> tuple[Order, Split, Timed]:
    """The best order found from ``start`` on, the passes at which a round is split, and how it lies in time.

    Precedences are kept at every move.
    """
    rng = random.Random(SEED)  # noqa: S311 - the same plan every time is what is wanted
    here, split = start, Split()
    cost, laid = price(here, split)
    best, least = (here, split, laid), cost
    several = len(work.instance.cards) > 1
    scale = 2.0 if several else 1.0
    for move in range(moves if len(start) > 1 else 0):
        heat = scale * WARM * (COLD / WARM) ** (move / moves)
        tried, parted = here, split
        if several and rng.random() < SPLITS:
            parted = split ^ {rng.randrange(work.count)}
        else:
            found = _moved(work, list(here), rng)
            if found is None:
                continue
            tried = tuple(found)
        new, laid = price(tried, parted)
        if new <= cost or rng.random() < math.exp((cost - new) / heat):
            here, split, cost = tried, parted, new
            if cost < least:
                best, least = (here, split, laid), cost
    return best


def _moved(work: Work, order: list[int], rng: random.Random) -> list[int] | None:
    """One pass, or a row of passes on one sheet, put elsewhere; what must go before or after it comes along."""
    count = len(order)
    start, length = rng.randrange(count), 1
    if rng.random() < 0.5:
        sheet = work.sheet[order[start]]
        while start + length < count and work.sheet[order[start + length]] == sheet:
            length += 1
        if rng.random() < 0.5:
            length = rng.randint(1, length)
    to = _target(work, order, start, length, rng)
    if start <= to <= start + length:
        return None
    row = order[start : start + length]
    if to < start:
        wanted = _union(work.below, row)
        between = order[to:start]
        along = [i for i in between if wanted >> i & 1]
        rest = [i for i in between if not wanted >> i & 1]
        return order[:to] + along + row + rest + order[start + length :]
    wanted = _union(work.above, row)
    between = order[start + length : to]
    along = [i for i in between if wanted >> i & 1]
    rest = [i for i in between if not wanted >> i & 1]
    return order[:start] + rest + row + along + order[to:]


def _union(bits: list[int], row: list[int]) -> int:
    found = 0
    for i in row:
        found |= bits[i]
    return found


def _target(work: Work, order: list[int], start: int, length: int, rng: random.Random) -> int:
    """Where to: often next to its own sheet, where it costs no seating."""
    count = len(order)
    if rng.random() < 0.5:
        sheet = work.sheet[order[start]]
        mates = [
            at
            for at in range(count + 1)
            if not start <= at <= start + length
            and (
                (at > 0 and work.sheet[order[at - 1]] == sheet)
                or (at < count and work.sheet[order[at]] == sheet)
            )
        ]
        if mates:
            return rng.choice(mates)
    return rng.randint(0, count)
