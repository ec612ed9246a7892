"""The greedy planner: at each turn the ready pass that costs least to begin.

A sound order at once for any size, from which others go on.
"""

from __future__ import annotations

from collections.abc import Iterable

from strata.order.ticks import CLEANED, NOTHING, WIPED, Work

_COST = {NOTHING: 0.0, WIPED: 0.3, CLEANED: 1.5}


class _Chooser:
    """Passes one after another."""

    def __init__(self, work: Work, waiting: Iterable[int], sheet: int | None) -> None:
        self.work = work
        self.waiting = set(waiting)
        self.sheet = sheet
        self.cover: frozenset[str] = frozenset()
        self.carries: dict[str, list[int]] = {}

    def order(self) -> list[int]:
        found = []
        while self.waiting:
            ready = [i for i in self.waiting if not any(j in self.waiting for j, _ in self.work.before[i])]
            chosen = min(ready, key=self._rank)
            found.append(chosen)
            self._take(chosen)
        return found

    def _rank(self, i: int) -> tuple[float, ...]:
        """Cheapest set-up first; a sheet that would have to come back is put off."""
        work, task = self.work, self.work.tasks[i]
        stays = task.sheet == self.sheet
        blocked = not stays and any(
            j in self.waiting and work.sheet[j] != task.sheet
            for mate in self.waiting
            if work.sheet[mate] == task.sheet
            for j, _ in work.before[mate]
        )
        masks = float(work.needs[i] != self.cover)
        return (
            0.0 if stays else 1.0,
            float(blocked),
            float(task.sheet),
            self._care(i) + masks,
            -task.lightness if task.light_first else task.lightness,
            float(task.place),
        )

    def _care(self, i: int) -> float:
        size = self.work.size[i]
        if not size:
            return 0.0
        out = self.carries.get(size, [])
        if len(out) < len(self.work.pools[size]):
            return 0.0
        return min(_COST[self.work.care[j][i]] for j in out)

    def _take(self, i: int) -> None:
        self.waiting.discard(i)
        self.sheet, self.cover = self.work.sheet[i], self.work.needs[i]
        size = self.work.size[i]
        if not size:
            return
        out = self.carries.setdefault(size, [])
        best = min(range(len(out)), key=lambda n: self.work.care[out[n]][i], default=None)
        if best is None or (
            self.work.care[out[best]][i] != NOTHING and len(out) < len(self.work.pools[size])
        ):
            out.append(i)
        else:
            out[best] = i


def greedy_order(work: Work, makes: Iterable[int] = (0,)) -> list[int]:
    """The passes of these makes in a sound order."""
    return _Chooser(work, (i for m in makes for i in work.of_make[m]), None).order()


def rest_in_order(work: Work, waiting: Iterable[int], sheet: int | None) -> list[int]:
    """Passes that are still to be done in a sound order, while ``sheet`` is seated."""
    return _Chooser(work, waiting, sheet).order()
