"""The greedy planner: at each turn the ready pass that costs least to begin.

A sound schedule at once for any size; an optimiser can later fill the same
types. One pair of hands, one card after another; inks dry while the hands work.
"""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, field, replace

from strata.order import times
from strata.order.cup import Cup
from strata.order.instance import Instance, Task
from strata.order.meeting import Meeting
from strata.order.schedule import Action, Schedule, Why

_COST = {"nothing": 0.0, "wipe": 0.3, "clean": 1.5}


@dataclass
class _Table:
    """What lies on the table now."""

    clock: float = 0.0
    card: int = 1
    sheet: int | None = None
    masks: tuple[str, ...] = ()
    dry_at: dict[str, float] = field(default_factory=dict)
    sheet_dry_at: dict[int, float] = field(default_factory=dict)
    residues: dict[int, list[str]] = field(default_factory=lambda: defaultdict(list))
    actions: list[Action] = field(default_factory=list)

    def add(self, action: Action) -> None:
        self.actions.append(replace(action, starts=self.clock, card=self.card))
        self.clock += action.minutes


class _Planner:
    def __init__(self, work: Instance) -> None:
        self.work = work
        self.table = _Table()
        self.cup = Cup(work)

    def run(self) -> Schedule:
        for card in range(1, self.work.cards + 1):
            self.table.card, self.table.dry_at = card, {}
            waiting = {t.key: t for t in self.work.tasks}
            while waiting:
                before = self.work.before
                ready = [t for t in waiting.values() if all(r.before not in waiting for r in before[t.key])]
                chosen = min(ready, key=lambda t: self._rank(t, waiting))
                self._work(chosen)
                del waiting[chosen.key]
            self._finish()
        return Schedule(tuple(self.table.actions))

    def _rank(self, task: Task, waiting: dict[str, Task]) -> tuple[float, ...]:
        """Cheapest set-up first; a sheet that would have to come back is put off."""
        stays = task.sheet == self.table.sheet
        blocked = 0
        if not stays:
            mates = [t for t in waiting.values() if t.sheet == task.sheet]
            blocked = sum(
                any(
                    r.before in waiting and waiting[r.before].sheet != task.sheet
                    for r in self.work.before[t.key]
                )
                for t in mates
            )
        masks = float(self.work.masks[task.key] != self.table.masks)
        care = _COST[self.cup.best(task)[1].care]
        return (
            0.0 if stays else 1.0,
            float(min(blocked, 1)),
            float(task.sheet),
            care + masks,
            -task.lightness if task.light_first else task.lightness,
            float(task.place),
        )

    def _work(self, task: Task) -> None:
        table = self.table
        self._seat(task)
        self._wait_for_dry_ground(task)
        self._keep_apart(task)
        brush, meeting = self._take_brush(task)
        why = Why(serves=task.key, meeting=meeting)
        minutes = round(task.minutes, 3)
        table.add(Action("ink", 0, minutes, 1, task.sheet, task.key, brush, table.masks, why))
        table.dry_at[task.key] = table.clock + task.dry
        table.residues[task.sheet].append(task.key)

    def _seat(self, task: Task) -> None:
        table = self.table
        if table.sheet == task.sheet:
            return
        self._unmask()
        if table.sheet is not None:
            table.add(Action("lift", 0, times.LIFT, sheet=table.sheet))
        self._wait_until_dry(task)
        table.add(Action("place", 0, self.work.place_minutes, sheet=task.sheet, why=Why(serves=task.key)))
        table.sheet = task.sheet

    def _wait_until_dry(self, task: Task) -> None:
        """Nothing wet may lie under a sheet, and a washed sheet must be dry."""
        table = self.table
        wet = [k for k, at in table.dry_at.items() if at > table.clock + 1e-9]
        sheet_at = table.sheet_dry_at.get(task.sheet, 0.0)
        until = max([sheet_at, *(table.dry_at[k] for k in wet)], default=0.0)
        if until <= table.clock + times.DRY_ENOUGH:
            return
        slowest = max(wet, key=lambda k: table.dry_at[k], default=None)
        if slowest is None or sheet_at >= until:
            self._wait(until, Why("sheet", serves=task.key), task.sheet)
        else:
            self._wait(until, Why("ink", slowest, task.key))

    def _wait_for_dry_ground(self, task: Task) -> None:
        table = self.table
        for rule in self.work.before[task.key]:
            if rule.dry and table.dry_at[rule.before] > table.clock + times.DRY_ENOUGH:
                self._wait(table.dry_at[rule.before], Why("ground", rule.before, task.key))

    def _wait(self, until: float, why: Why, sheet: int | None = None) -> None:
        length = round(until - self.table.clock, 3)
        self.table.add(Action("wait", 0, length, sheet=sheet, why=why))

    def _unmask(self) -> None:
        table = self.table
        if table.masks:
            table.add(Action("unmask", 0, times.UNMASK, sheet=table.sheet, masks=table.masks))
            table.masks = ()

    def _keep_apart(self, task: Task) -> None:
        """Masks against neighbours; a wash when a residue in the same openings would spoil the ink."""
        table = self.table
        clash = next((k for k in table.residues[task.sheet] if k in self.work.clashes[task.key]), None)
        if clash is not None:
            self._wash(task, clash)
        wanted = self.work.masks[task.key]
        if wanted == table.masks:
            return
        self._unmask()
        if wanted:
            why = Why(serves=task.key)
            table.add(Action("mask", 0, times.MASK, sheet=task.sheet, masks=wanted, why=why))
            table.masks = wanted

    def _wash(self, task: Task, clash: str) -> None:
        table = self.table
        self._unmask()
        table.add(Action("wash", 0, times.WASH, sheet=task.sheet, why=Why(of=clash, serves=task.key)))
        table.residues[task.sheet].clear()
        table.sheet_dry_at[task.sheet] = table.clock + times.WASH_DRY
        table.sheet = None
        self._seat(task)

    def _take_brush(self, task: Task) -> tuple[tuple[str, int] | None, Meeting]:
        index, meeting = self.cup.best(task)
        if task.brush is None:
            return None, meeting
        carried = self.cup.carried(task, index)
        which = self.cup.take(task, index)
        brush = (task.brush.key, which)
        if meeting.care != "nothing":
            minutes = times.WIPE if meeting.care == "wipe" else times.CLEAN
            why = Why(of=carried, serves=task.key, meeting=meeting)
            self.table.add(Action(meeting.care, 0, minutes, sheet=task.sheet, brush=brush, why=why))
        return brush, meeting

    def _finish(self) -> None:
        table = self.table
        if table.sheet is None:
            return
        self._unmask()
        table.add(Action("lift", 0, times.LIFT, sheet=table.sheet))
        table.sheet = None
        slowest = max(table.dry_at, key=lambda k: table.dry_at[k])
        if table.dry_at[slowest] > table.clock:
            self._wait(table.dry_at[slowest], Why("panel", slowest))
        sealed = next((t.key for t in self.work.tasks if t.seal), None)
        if sealed is not None:
            table.add(Action("seal", 0, times.SEAL, why=Why(of=sealed)))
            self._wait(table.clock + times.SEAL_DRY, Why("seal"))
        for piece in self.work.pieces:
            table.add(Action("glue", 0, times.GLUE, sheet=piece.sheet))


def plan_greedily(work: Instance) -> Schedule:
    """A sound schedule; an empty instance gives an empty one."""
    return _Planner(work).run() if work.tasks else Schedule(())
