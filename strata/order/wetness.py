"""Which passes lie on wet ink in a plan in time."""

from __future__ import annotations

from strata.order.done import Timed
from strata.order.ticks import Work


def wet_by_card(work: Work, laid: Timed) -> dict[int, frozenset[int]]:
    """For each card, the passes that are laid while ink they share ground with is still wet."""
    wet: dict[int, set[int]] = {}
    dry_at: dict[int, list[tuple[int, int]]] = {}
    for did in laid.did:
        if did.kind != "ink":
            continue
        card = dry_at.setdefault(did.card, [])
        own = wet.setdefault(did.card, set())
        touching = work.touching[did.i]
        if any(touching >> j & 1 and at > did.start + work.minutes.enough for j, at in card):
            own.add(did.i)
        card.append((did.i, did.start + did.length + work.dry[did.i]))
    return {card: frozenset(own) for card, own in wet.items()}


def off_hold(work: Work, laid: Timed, held: frozenset[int]) -> int:
    """How many passes lie on wet ink where they are to lie on dry, or the reverse; over all cards."""
    return sum(len(wet ^ (held & _own(work, card))) for card, wet in wet_by_card(work, laid).items())


def _own(work: Work, card: int) -> frozenset[int]:
    return frozenset(work.of_make[work.instance.cards[card - 1]])
