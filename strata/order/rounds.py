"""Many cards at once: rounds, in each of which one sheet goes from card to card, and the visits that come of them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from strata.order.begun import OUT
from strata.order.ticks import Work
from strata.order.visits import Visit, runs_of, washes_noted


@dataclass(frozen=True)
class Round:
    """Passes through one sheet, done card after card before the next round begins."""

    sheet: int
    passes: tuple[int, ...]


def rounds_of(work: Work, order: Iterable[int], split: frozenset[int] = frozenset()) -> list[Round]:
    """An order of passes as rounds: a new one for another sheet, where two are not done in one seating, and at the passes in ``split``."""
    found: list[Round] = []
    held = 0
    for i in order:
        sheet = work.sheet[i]
        if found and found[-1].sheet == sheet and i not in split and not work.split[i] & held:
            found[-1] = Round(sheet, (*found[-1].passes, i))
            held |= 1 << i
        else:
            found.append(Round(sheet, (i,)))
            held = 1 << i
    return found


def led_by_one(work: Work) -> list[list[int]]:
    """The cards in the lots in which they are worked: one of each make first where that is the rule of the house."""
    cards = list(range(1, len(work.instance.cards) + 1))
    if not work.instance.rules.first_card or len(cards) == 1:
        return [cards]
    lead = [work.instance.cards.index(m) + 1 for m in sorted(set(work.instance.cards) - {OUT})]
    rest = [c for c in cards if c not in lead]
    return [lead, rest] if rest else [cards]


def lots_of(work: Work) -> list[list[list[int]]]:
    """Ways to divide the cards into lots: as few as can be; and, where the rack is smaller, so many as it takes
    with one in the hands."""
    lots = led_by_one(work)
    places = work.instance.rules.rack
    if not places or max(len(lot) for lot in lots) <= places + 1:
        return [lots]
    size = places + 1
    return [lots, [lot[n : n + size] for lot in lots for n in range(0, len(lot), size)]]


def visits_in(work: Work, rounds: Sequence[Round], lots: Sequence[Sequence[int]]) -> list[Visit]:
    """Visits of all cards: each lot goes through all rounds.

    Where masks stay on their sheet, all cards of a lot go behind one mask
    before the next is laid; else, and on a card by itself, each has its masks
    while it is there.
    """
    make = work.instance.cards
    visits: list[Visit] = []
    for lot in lots:
        stay = work.instance.rules.masks_stay and len(lot) > 1
        for one in rounds:
            runs = runs_of(work, one.passes)
            for outer in [(run,) for run in runs] if stay else [runs]:
                for card in lot:
                    own = [
                        (cover, tuple(i for i in passes if work.make[i] == make[card - 1]))
                        for cover, passes in outer
                    ]
                    own = [(cover, passes) for cover, passes in own if passes]
                    if own:
                        visits.append(Visit(card, one.sheet, tuple(own)))
    return washes_noted(work, visits)
