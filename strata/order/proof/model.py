"""The variables that all parts of the model speak of: passes, seatings, hands."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass

from ortools.sat.python import cp_model, cp_model_helper

from strata.order.ticks import Work

Var = cp_model.IntVar
Expr = cp_model.LinearExprT
Literal = cp_model_helper.Literal


@dataclass(frozen=True)
class Seating:
    """One time that a sheet is seated, from placing to lifting or cleaning, ``cleaned`` by each way of it; perhaps not needed at all."""

    sheet: int
    nth: int
    there: Var
    place: Var
    off: Var
    end: Var
    cleaned: Mapping[str, Var]


class Model:
    """The passes of one card in time on one pair of hands, within a horizon (ticks)."""

    def __init__(self, work: Work, horizon: int) -> None:
        self.work, self.horizon = work, horizon
        self.cp = cp_model.CpModel()
        self.starts = [self.tick(f"start {i}") for i in range(work.count)]
        self.ends = [self.starts[i] + work.length[i] for i in range(work.count)]
        self.hands: list[cp_model.IntervalVar] = [
            self.cp.new_fixed_size_interval_var(self.starts[i], work.length[i], f"ink {i}")
            for i in range(work.count)
        ]
        # minutes of hands that may or may not be needed, as linear expressions
        self.effort: list[Expr] = [sum(work.length)]
        self.seatings: dict[int, list[Seating]] = defaultdict(list)
        self.within: dict[tuple[int, int], Var] = {}
        self.on_sheet: dict[int, list[int]] = defaultdict(list)
        for i, sheet in enumerate(work.sheet):
            self.on_sheet[sheet].append(i)
        # whether one seating comes before another, by (sheet, nth, sheet, nth)
        self.orders: dict[tuple[int, int, int, int], Var] = {}
        self.end = self.tick("end")
        self.washes: list[Var] = []
        self.cleans: list[Expr] = []
        self.masks: list[Expr] = []
        # masks laid in each seating
        self.masked: dict[tuple[int, int], list[Var]] = {}

    def tick(self, name: str) -> Var:
        """A moment."""
        return self.cp.new_int_var(0, self.horizon, name)

    def flag(self, name: str) -> Var:
        """Something that is so or not."""
        return self.cp.new_bool_var(name)

    def handled(self, start: Var, length: int, there: Var, name: str) -> None:
        """Something that the hands do if it is needed."""
        self.hands.append(self.cp.new_optional_fixed_size_interval_var(start, length, there, name))
        self.effort.append(length * there)
