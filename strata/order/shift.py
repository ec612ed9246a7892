"""Things done in a given order, each as early as the hands and whatever dries allow."""

from __future__ import annotations

from collections.abc import Iterable

from strata.order.done import Did, Timed
from strata.order.ledger import Ledger
from strata.order.ticks import Work


def pushed_left(work: Work, order: Iterable[Did], keep: bool = False) -> Timed:
    """The same things in the same order, with nothing waiting longer than it must.

    With ``keep`` inks stay where they are, and only what is done between them moves.
    """
    ledger, clock = Ledger(work), 0
    did: list[Did] = []
    for one in order:
        start = max([clock, *(cause.at for cause in ledger.causes(one))])
        if keep and one.kind == "ink":
            start = max(start, one.start)
        here = one._replace(start=start)
        ledger.note(here)
        did.append(here)
        clock = start + one.length
    last = (Did("end", 0, 0, card, 0) for card in range(1, len(work.instance.cards) + 1))
    end = max([clock, *(cause.at for one in last for cause in ledger.causes(one))])
    return Timed(work, did, end)
