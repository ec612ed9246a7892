"""What was done at the table as the planner counts it: in ticks, by index, one thing after another."""

from __future__ import annotations

from collections.abc import Sequence

from strata.making.events import Event
from strata.order.begun import OUT, Begun
from strata.order.done import Did
from strata.order.evening import Evening
from strata.order.second_copy import copied
from strata.order.ticks import A_MINUTE, Work, ticks

SECOND = A_MINUTE // 60


class Past:
    """Turns steps done (each once, in their order) into what the planner goes on from.

    Time is the table's own: a wait that was called dry is over, however short it was.
    """

    def __init__(self, evening: Evening, work: Work, done: Sequence[Event]) -> None:
        self.evening, self.work, self.done = evening, work, done

    def begun(self) -> Begun:
        """Things done and the moment at which the rest begins."""
        clock, last = 0, None
        did: list[Did] = []
        for event in self.done:
            passed = 0 if last is None else max(0, round((event.at - last) * SECOND))
            last = event.at
            length = ticks(event.body["minutes"])
            if event.body["kind"] == "wait" or not did:
                passed = max(passed, length)
            now = clock + passed
            one = self._did(event, max(clock, now - length), now)
            if one is not None:
                did.append(one)
            clock = now
        return Begun(tuple(did), clock)

    def _did(self, event: Event, start: int, end: int) -> Did | None:
        kind, body = event.body["kind"], event.body
        make = self._make(body["card"])
        sheet = 0 if body.get("sheet") is None else self.evening.sheet(make, body["sheet"])
        sheet = copied(sheet, body.get("copy", 1))
        i = self._index(make, body.get("pass") or body.get("serves"))
        if kind == "ink" and i < 0:
            return None  # its thing is no longer on the panel
        if kind == "ink":
            sheet = copied(self.work.sheet[i], body.get("copy", 1))
        if kind in ("wipe", "clean") and i < 0:
            i = self._any_of_size(body.get("size", ""))
        cover = frozenset(body["masks"])
        of = self._job(body.get("job")) if kind == "prep" else -1
        if kind == "prep" and of < 0:
            return None
        which = body.get("which", -1)
        return Did(kind, start, end - start, body["card"], sheet, i, which, cover, of, body.get("who", 1))

    def _make(self, card: int) -> int:
        """The make of a card; of a spoilt one, and of none, the first."""
        make = self.evening.cards[card - 1] if 0 < card <= len(self.evening.cards) else 0
        return 0 if make == OUT else make

    def _index(self, make: int, key: str | None) -> int:
        if key is None:
            return -1
        for m in (make, *range(len(self.evening.makes))):
            found = self.work.index.get(self.evening.key(m, key))
            if found is not None:
                return found
        return -1

    def _any_of_size(self, size: str) -> int:
        return next((i for i, own in enumerate(self.work.size) if own == size), -1)

    def _job(self, key: str | None) -> int:
        return next((n for n, j in enumerate(self.work.instance.jobs) if j.key == key), -1)
