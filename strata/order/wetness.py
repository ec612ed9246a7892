"""Which passes lie on wet ink in a plan: the one place where this is settled.

Pictures, core samples and warnings all take it from here, so that another
order of work cannot change a colour unseen.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from strata.order.done import Did, Timed
from strata.order.ledger import Ledger
from strata.order.ticks import Work


def _inked(work: Work, did: Iterable[Did]) -> Iterator[tuple[Did, bool]]:
    """Every inking in its order, and whether ink that it shares ground with is still wet."""
    ledger, enough = Ledger(work), work.minutes.enough
    for one in sorted(did, key=lambda d: d.start):
        if one.kind == "ink":
            touching, limit = work.touching[one.i], one.start + enough
            on_card = ledger.dry_at.get(one.card, {})
            yield one, any(touching >> j & 1 and at > limit for j, at in on_card.items())
        ledger.note(one)


def wet_by_card(work: Work, laid: Timed) -> dict[int, frozenset[int]]:
    """For each card, the passes that are laid while ink they share ground with is still wet."""
    found: dict[int, set[int]] = {}
    for one, wet in _inked(work, laid.did):
        own = found.setdefault(one.card, set())
        if wet:
            own.add(one.i)
    return {card: frozenset(own) for card, own in found.items()}


def laid_on_wet(work: Work, did: Iterable[Did]) -> frozenset[int]:
    """The same of each pass on the card that gets it first: what a picture of one card shows."""
    first: dict[int, bool] = {}
    for one, wet in _inked(work, did):
        first.setdefault(one.i, wet)
    return frozenset(i for i, wet in first.items() if wet)


def off_hold(work: Work, laid: Timed, held: frozenset[int]) -> int:
    """How many passes lie on wet ink where they are to lie on dry, or the reverse; over all cards."""
    return sum(len(wet ^ (held & _own(work, card))) for card, wet in wet_by_card(work, laid).items())


def _own(work: Work, card: int) -> frozenset[int]:
    return frozenset(work.of_make[work.instance.cards[card - 1]])
