"""The brushes in the cup: what each carries, for whom it is kept, and which is best for a pass."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, replace

from strata.order.instance import Instance, Task
from strata.order.meeting import Meeting

_WEIGHT = {"nothing": 0, "wipe": 2, "clean": 3}
FROM_PAD = Meeting("nothing", "a stamp is inked from its pad")
UNUSED = Meeting("nothing", "a clean brush is free")
CARRIED = Meeting("nothing", "it carries this ink already")


@dataclass(frozen=True)
class InUse:
    """A brush on the table: the pass whose ink it carries, and the family it is kept for, if any."""

    carries: str
    kept_for: tuple[str, str] | None


class Cup:
    """The brushes of a table as the work goes on."""

    def __init__(self, work: Instance) -> None:
        self._work = work
        self._out: dict[str, list[InUse]] = defaultdict(list)

    def best(self, task: Task) -> tuple[int | None, Meeting]:
        """Which brush of the right size needs the least care: its index (None for an unused one)."""
        if task.brush is None:
            return None, FROM_PAD
        out = self._out[task.brush.key]
        meetings: list[tuple[int | None, Meeting]] = []
        # a brush kept for another family is left alone while there is any other
        others = {i for i, used in enumerate(out) if used.kept_for not in (None, task.family)}
        for i, used in enumerate(out):
            if i in others and len(others) < len(out):
                continue
            meetings.append((i, self._meeting(used.carries, task)))
        if self._free(task.brush.key, task.family) is not None:
            meetings.append((None, UNUSED))
        return min(meetings, key=lambda found: _WEIGHT[found[1].care])

    def _meeting(self, carries: str, task: Task) -> Meeting:
        # the same pass again: the next card
        return CARRIED if carries == task.key else self._work.care[carries, task.key]

    def carried(self, task: Task, index: int | None) -> str | None:
        """The pass whose ink a brush carries, None for an unused one."""
        if index is None or task.brush is None:
            return None
        return self._out[task.brush.key][index].carries

    def take(self, task: Task, index: int | None) -> int:
        """From now on that brush (None: an unused one) carries the pass's ink; which it is."""
        assert task.brush is not None  # noqa: S101 - a stamp takes none
        out = self._out[task.brush.key]
        if index is None:
            fresh = self._free(task.brush.key, task.family) or InUse("", None)
            out.append(replace(fresh, carries=task.key))
            return len(out) - 1
        out[index] = replace(out[index], carries=task.key)
        return index

    def _free(self, size: str, family: tuple[str, str]) -> InUse | None:
        """An unused brush of a size that a family may have: one kept for it, else one kept for none."""
        out, kept = self._out[size], self._work.kept[size]
        if sum(u.kept_for == family for u in out) < kept.get(family, 0):
            return InUse("", family)
        common = self._work.brushes[size] - sum(kept.values())
        if sum(u.kept_for is None for u in out) < common:
            return InUse("", None)
        # every brush is kept for another family: one of them has to serve, or nothing could be inked
        return InUse("", None) if not out and common <= 0 else None
