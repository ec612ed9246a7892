"""The order of work of a plan: what is to be done, the order at once, a better one, the one that is worked by, in words."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import Any

from strata.errors import StrataError
from strata.order.explain import Explained, explain
from strata.order.found import Found, read_found
from strata.order.narration import narrate
from strata.order.planning import at_once
from strata.order.schedule import Schedule
from strata.order.scheduled import scheduled
from strata.order.steps import Sequence
from strata.order.ticks import Work
from strata.order.wishes import work_for
from strata.plan.scene import Scene


class Ordering:
    """So many cards of a plan, by its maker's wishes; each part is found when it is first asked for.

    ``better``: an order of the same work that was searched for, as
    ``write_found`` keeps it; passed over where it is of other work. ``taken``:
    whether it is worked by.
    """

    def __init__(
        self, scene: Scene, cards: int = 1, better: Mapping[str, Any] | None = None, taken: bool = False
    ) -> None:
        self.scene, self.cards = scene, cards
        self._better, self._taken = better, taken

    def with_better(self, better: Mapping[str, Any] | None, taken: bool) -> Ordering:
        """The same work with another better order; what was found of the work is kept."""
        other = Ordering(self.scene, self.cards, better, taken)
        other.__dict__.update(work=self.work, plain=self.plain)
        return other

    @cached_property
    def work(self) -> Work:
        """What is to be done."""
        return Work(work_for(self.scene, self.cards))

    @cached_property
    def plain(self) -> Found:
        """The order at once."""
        return at_once(self.work)

    @cached_property
    def searched(self) -> Found | None:
        """The better order; None where there is none, or it is of other work."""
        if self._better is None:
            return None
        try:
            return read_found(self.work, self._better)
        except StrataError:
            return None  # the plan has moved on under it: the order at once is as good as new

    @property
    def taken(self) -> bool:
        """Whether the better order is worked by."""
        return self._taken and self.searched is not None

    @property
    def found(self) -> Found:
        """The order that is worked by."""
        return self.searched if self._taken and self.searched is not None else self.plain

    @cached_property
    def schedule(self) -> Schedule:
        """That order in minutes."""
        return scheduled(self.work, self.found)

    @cached_property
    def sequence(self) -> Sequence:
        """That order in words."""
        return narrate(self.scene, self.work.instance, self.schedule)

    @property
    def said(self) -> str:
        """What can honestly be said of how short it is."""
        schedule = self.schedule
        if schedule.proven:
            return "The shortest possible."
        # nothing was searched for yet: how far it is from the best is not known to any use
        if self.found.by == "greedy" or not schedule.bound or not schedule.minutes:
            return ""
        share = 100 * (schedule.minutes - schedule.bound) / schedule.bound
        return f"Within {max(1, round(share))} % of the shortest possible."

    @cached_property
    def one_by_one(self) -> float:
        """Minutes for all cards made one after another, by the order at once for one."""
        if self.cards == 1:
            return self.schedule.minutes
        return self.cards * Ordering(self.scene).plain.minutes

    def explained(self, place: int) -> Explained:
        """Why a step stands where it does; raises IndexError for one that is not there."""
        return explain(self.scene, self.work, self.found, place)


def dispatch(scene: Scene) -> Sequence:
    """The order at once for one card, in words; an empty plan gives an empty sequence."""
    return Ordering(scene).sequence
