"""A plan with everything it refers to: the set, the stock, the inks."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property

from strata.errors import UnknownName
from strata.optics.colour import Lab
from strata.optics.inks import Ink
from strata.optics.stack import Coat, Stock, predict
from strata.plan.model import Pass, Plan
from strata.plan.tools import UNRECORDED, Brush, Tools, brush
from strata.sheets.model import Group, LayerSet


@dataclass(frozen=True, eq=False)
class Scene:
    """Raises UnknownName when the plan names an ink, stock, element or sheet that is not there."""

    layer_set: LayerSet
    plan: Plan
    stocks: Mapping[str, Stock]
    inks: Mapping[str, Ink]
    tools: Tools = UNRECORDED

    def __post_init__(self) -> None:
        if self.plan.stock not in self.stocks:
            raise UnknownName("That card is not in the house.", "stock")
        for item in self.plan.passes:
            self.layer_set.group(item.element, item.sheet)
            if item.ink not in self.inks:
                raise UnknownName("That ink is not in the drawer.", "ink")

    @property
    def stock(self) -> Stock:
        return self.stocks[self.plan.stock]

    def with_plan(self, plan: Plan) -> Scene:
        """The same world with another plan."""
        return replace(self, plan=plan)

    def ink(self, item: Pass) -> Ink:
        return self.inks[item.ink]

    def group(self, item: Pass) -> Group:
        return self.layer_set.group(item.element, item.sheet)

    def brush(self, item: Pass) -> Brush:
        """The chosen brush, or the largest of the house that the openings can take."""
        return brush(item.brush) if item.brush else self.tools.fitting(self.group(item).typical_width)

    def thickness(self, item: Pass) -> float:
        """Measured coats of a pass: fewer where a stamp is printed again without inking it afresh."""
        seat = self.layer_set.sheet(item.sheet).seat
        return item.thickness * (seat.strength if seat else 1.0)

    @cached_property
    def alone(self) -> dict[str, Lab]:
        """Each pass's ink by itself on this stock, at its own thickness, by pass key."""
        return {p.key: self.on_stock(p.ink, self.thickness(p)) for p in self.plan.passes}

    def on_stock(self, ink: str, coats: float = 1.0) -> Lab:
        """The colour of an ink alone on the build's stock."""
        return _alone(self.stock, self.inks[ink], coats)

    def depth(self, ink: str) -> float:
        """How deep an ink is: 100 - L* of one coat on white-most stock known to its swatches."""
        swatches = self.inks[ink].swatches
        lightest = max(s.on[0] for s in swatches)
        single = min((s for s in swatches if s.on[0] == lightest), key=lambda s: abs(s.coats - 1))
        return 100.0 - single.lab[0]

    def family(self, ink: str) -> list[str]:
        """The inks of the same family and line, lightest to deepest."""
        own = self.inks[ink]
        if not own.family:
            return [ink]
        kin = [k for k, i in self.inks.items() if i.family == own.family and i.line == own.line]
        return sorted(kin, key=lambda k: (self.inks[k].depth, self.depth(k)))


def _alone(stock: Stock, ink: Ink, coats: float) -> Lab:
    return predict(stock, [Coat(ink, coats)])
