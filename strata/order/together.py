"""Several builds made in one evening: what they share is seated, carried and dried together; told in their own words."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from functools import cached_property

from strata.order.evening import Evening
from strata.order.found import Found
from strata.order.gather import work_of
from strata.order.narration import narrate_evening
from strata.order.ordering import Ordering
from strata.order.planning import search
from strata.order.scheduled import scheduled
from strata.order.steps import Sequence as Steps
from strata.order.ticks import Work
from strata.order.wishes import jobs_of, make_of, rules_of, wish_of

BUDGET = 2.0
# seconds of annealing: a plan of an evening is asked for and waited for


class Together:
    """The cards of several orderings in one evening, by the wishes of the first one for the table.

    Scenes must hold the very same sets where these are the same plastic.
    Raises TooLarge past what an evening holds.
    """

    def __init__(self, apart: Sequence[Ordering]) -> None:
        self.orderings = tuple(apart)
        self.evening = Evening([make_of(o.scene, o.cards) for o in apart])

    @cached_property
    def work(self) -> Work:
        """What is to be done, with the other work of all of them."""
        jobs = [
            replace(j, key=f"{m}/{j.key}", after=None if j.after is None else f"{m}/{j.after}")
            for m, o in enumerate(self.orderings, 1)
            for j in jobs_of(o.scene)
        ]
        return Work(work_of(self.evening, rules_of(self.orderings[0].scene), jobs))

    @cached_property
    def found(self) -> Found:
        """An order of it."""
        return search(self.work, wish_of(self.orderings[0].scene, BUDGET))

    @cached_property
    def sequence(self) -> Steps:
        """That order, each step in the words of its own build."""
        schedule = scheduled(self.work, self.found)
        return narrate_evening(self.evening, self.work.instance, schedule)

    @property
    def apart(self) -> float:
        """Minutes if the builds were made one after another, by the orders that they have now."""
        return sum(o.schedule.minutes for o in self.orderings)

    def build_of(self, card: int) -> tuple[int, int]:
        """Which of the builds a card belongs to (from 0), and which of its cards it is (from 1)."""
        make = self.evening.cards[card - 1]
        return make, self.evening.cards[:card].count(make)
