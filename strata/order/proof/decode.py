"""The plan that the solver found, read off its variables."""

from __future__ import annotations

from ortools.sat.python import cp_model

from strata.order.done import Did, Timed
from strata.order.proof.cares import Cares
from strata.order.proof.masks import Mask
from strata.order.proof.model import Model
from strata.order.shift import pushed_left
from strata.order.ticks import CLEANED, NOTHING
from strata.order.visits import BARE, Cover
from strata.order.wetness import off_hold


def decoded(
    model: Model,
    masks: dict[int, list[Mask]],
    cares: Cares,
    solver: cp_model.CpSolver,
    held: frozenset[int] | None,
) -> Timed:
    """What the hands do and when, everything as early as its order and what is ``held`` wet allow."""
    reader = _Reader(model, solver)
    reader.seatings()
    covers = reader.masks(masks)
    reader.inks(covers, cares)
    reader.did.sort(key=lambda d: (d.start, d.length))
    early = pushed_left(model.work, [*reader.did, *reader.closing()])
    if held is None or not off_hold(model.work, early, held):
        return early
    # what must lie on dry ink would lie on wet if it were done as soon as it can be
    return pushed_left(model.work, [*reader.did, *reader.closing()], keep=True)


class _Reader:
    def __init__(self, model: Model, solver: cp_model.CpSolver) -> None:
        self.model, self.work, self.solver = model, model.work, solver
        self.did: list[Did] = []

    def seatings(self) -> None:
        minutes = self.work.minutes
        for sheet, seatings in self.model.seatings.items():
            for s in seatings:
                if not self.solver.boolean_value(s.there):
                    continue
                inside = [
                    i
                    for i in self.model.on_sheet[sheet]
                    if self.solver.boolean_value(self.model.within[i, s.nth])
                ]
                inside.sort(key=lambda i: self.solver.value(self.model.starts[i]))
                kind = next((how for how, f in s.cleaned.items() if self.solver.boolean_value(f)), "lift")
                self._add("place", self.solver.value(s.place), minutes.place, sheet, i=inside[0])
                last = inside[-1] if kind != "lift" else -1
                self._add(kind, self.solver.value(s.off), minutes.off[kind], sheet, i=last)

    def masks(self, masks: dict[int, list[Mask]]) -> dict[int, Cover]:
        """Lays the masks; what is covered at each pass."""
        covers: dict[int, Cover] = {}
        for sheet, laid in masks.items():
            for mask in laid:
                if not self.solver.boolean_value(mask.there):
                    continue
                behind = [i for i, flag in mask.behind.items() if self.solver.boolean_value(flag)]
                cover = frozenset(e for i in behind for e in self.work.needs[i])
                behind.sort(key=lambda i: self.solver.value(self.model.starts[i]))
                minutes = self.work.minutes
                at, off = self.solver.value(mask.laid), self.solver.value(mask.lifted)
                self._add("mask", at, minutes.mask, sheet, i=behind[0], cover=cover)
                self._add("unmask", off, minutes.unmask, sheet, cover=cover)
                covers |= dict.fromkeys(behind, cover)
        return covers

    def inks(self, covers: dict[int, Cover], cares: Cares) -> None:
        work, solver = self.work, self.solver
        carried, which = self._brushes(cares)
        for i in range(work.count):
            at = solver.value(self.model.starts[i])
            brush = which.get(i, -1)
            cover = covers.get(i, BARE)
            last = carried.get(i)
            of = -1 if last is None else last
            self._add("ink", at, work.length[i], work.sheet[i], i=i, brush=brush, cover=cover, of=of)
            care = NOTHING if last is None else work.care[last][i]
            if care != NOTHING and last is not None:
                kind = "clean" if care == CLEANED else "wipe"
                begins = solver.value(cares.begins[i])
                did = Did(kind, begins, work.care_ticks[care], 0, work.sheet[i], i, brush, BARE, last)
                self.did.append(did)

    def _brushes(self, cares: Cares) -> tuple[dict[int, int], dict[int, int]]:
        """For each pass the one whose ink its brush carries, and which brush of its size it is."""
        carried: dict[int, int] = {}
        which: dict[int, int] = {}
        for path in cares.paths:
            following = {i: j for (i, j), flag in path.arcs.items() if self.solver.boolean_value(flag)}
            carried |= {j: i for i, j in following.items()}
            firsts = [i for i, flag in path.firsts.items() if self.solver.boolean_value(flag)]
            firsts.sort(key=lambda i: self.solver.value(self.model.starts[i]))
            for brush, first in zip(path.which, firsts, strict=False):
                i: int | None = first
                while i is not None:
                    which[i] = brush
                    i = following.get(i)
        return carried, which

    def closing(self) -> list[Did]:
        """Sealing, and gluing on what was inked apart."""
        minutes, far = self.work.minutes, self.model.horizon
        found = [Did("seal", far, minutes.seal, 1, 0)] if self.work.sealed else []
        return found + [Did("glue", far, minutes.glue, 1, p.sheet) for p in self.work.instance.pieces]

    def _add(self, kind: str, at: int, length: int, sheet: int, **more: object) -> None:
        self.did.append(Did(kind, at, length, 1, sheet, **more))  # type: ignore[arg-type]
