"""How a table is taken to be: what wet ink blocks, what is masked and washed, who helps."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass, fields, replace
from typing import Any

from strata.errors import BadValue, UnknownName, finite
from strata.plan.wishes import MOST_BRUSH_DRY, MOST_RACK

WET_BLOCKS = ("panel", "piece", "touching", "kind")
WASH_BY = ("opening", "place")
PARTED_BY = ("mask", "weighed")
BY_KIND: Mapping[str, str] = {"stamp set": "touching", "die-cut": "piece"}
# a stencil and a hand on the bare panel lie on all of it; a stamp only where it prints; a piece lies apart


@dataclass(frozen=True)
class TableRules:
    """The rules a plan is made by and judged by; ``docs/formats/order.md`` tells each.

    ``wet_blocks``: what wet ink forbids, ``kind`` for each sheet by how it is
    worked. ``brush_dry``: minutes. ``wash_by``: whether ink left on a sheet is
    judged by its opening or by the place in it. ``parted_by``: whether every
    neighbour is masked, or a lighter hand weighed against it. ``heat``: whether a heat tool
    may shorten a wait. ``first_card``: one card is made and looked at before
    the rest. ``hold_wet``: what lies on wet ink stays as in the plain plan.
    ``hands``: pairs of hands, the second one helping with what needs no seat.
    ``damp_wipe``: a damp wipe is enough for thin ink that comes off with it.
    ``rack``: how many other cards may lie wet when a sheet is seated; 0: as many as there are.
    """

    wet_blocks: str = "panel"
    masks_stay: bool = False
    brush_dry: float = 0.0
    pieces_ordered: bool = False
    mask_pieces: bool = False
    lift_cleans: bool = True
    wash_by: str = "opening"
    parted_by: str = "mask"
    heat: bool = False
    first_card: bool = False
    hold_wet: bool = False
    hands: int = 1
    rack: int = 0
    damp_wipe: bool = False

    def __post_init__(self) -> None:
        if self.wet_blocks not in WET_BLOCKS:
            raise BadValue(f"wet_blocks must be one of {', '.join(WET_BLOCKS)}.", "rules")
        if self.wash_by not in WASH_BY:
            raise BadValue(f"wash_by must be one of {', '.join(WASH_BY)}.", "rules")
        if self.parted_by not in PARTED_BY:
            raise BadValue(f"parted_by must be one of {', '.join(PARTED_BY)}.", "rules")
        for field in fields(self):
            if field.type == "bool" and not isinstance(getattr(self, field.name), bool):
                raise BadValue(f"{field.name} must be true or false.", "rules")
        finite(self.brush_dry, "brush_dry", 0, MOST_BRUSH_DRY)
        if isinstance(self.hands, bool) or self.hands not in (1, 2):
            raise BadValue("There are one or two pairs of hands.", "rules")
        if isinstance(self.rack, bool) or not isinstance(self.rack, int) or not 0 <= self.rack <= MOST_RACK:
            raise BadValue(f"A rack has 1 to {MOST_RACK} places, or 0 for enough.", "rules")

    def blocks(self, kind: str) -> str:
        """What wet ink forbids to a sheet that is worked as ``kind``."""
        return BY_KIND.get(kind, "panel") if self.wet_blocks == "kind" else self.wet_blocks

    def for_kinds(self, kinds: Iterable[str]) -> TableRules:
        """The same rules with ``kind`` resolved where all sheets are worked alike."""
        ways = {BY_KIND.get(k, "panel") for k in kinds}
        return replace(self, wet_blocks=ways.pop()) if self.wet_blocks == "kind" and len(ways) == 1 else self

    def as_facts(self) -> dict[str, Any]:
        """As JSON values."""
        return asdict(self)


PLAIN = TableRules("kind", True)
# as a request from outside is planned where it says nothing else
TODAY = TableRules("panel", False, 0.0, True, True, False)
# as the first planner took the table: what others are measured against
AT_THE_TABLE = replace(
    PLAIN,
    brush_dry=1.0,
    wash_by="place",
    parted_by="weighed",
    first_card=True,
    hold_wet=True,
    damp_wipe=True,
)
# as the application plans, until a maker says otherwise


def read_rules(asked: Mapping[str, Any], otherwise: TableRules) -> TableRules:
    """Rules as asked for, the rest as ``otherwise``; raises UnknownName and BadValue."""
    names = {f.name for f in fields(TableRules)}
    for name in asked:
        if name not in names:
            raise UnknownName(f"“{name}” is not a rule; the rules are {', '.join(sorted(names))}.", "rules")
    return replace(otherwise, **asked)
