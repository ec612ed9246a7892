"""A change to a set as it was asked for, before it is written down: said in the set's own names, refused where it is a slip.

What is written down is replayed as it stands for as long as there are builds
of the set; so what is asked here is not asked in ``strata.sheets.edits``.
"""

from __future__ import annotations

from typing import Any

import shapely

from strata.errors import BadValue
from strata.sheets.edit_values import Values
from strata.sheets.model import LayerSet

NAMED = {"move": "element", "rename": "to"}


def as_asked(layer_set: LayerSet, kind: str, values: Values) -> dict[str, Any]:
    """The values of a change with a part's name as the set has it already: LANTERN is lantern."""
    field = NAMED.get(kind)
    wanted = values.get(field) if field else None
    if not isinstance(wanted, str) or field is None:
        return dict(values)
    tidy = " ".join(wanted.split())
    others = [e for e in layer_set.elements if kind != "rename" or e != values.get("element")]
    known = next((e for e in others if e.casefold() == tidy.casefold()), wanted)
    return {**values, field: known}


def refuse_slips(before: LayerSet, after: LayerSet) -> None:
    """Raise BadValue where a change took a sheet off the panel altogether."""
    panel = shapely.box(0, 0, after.width, after.height)

    def gone(layer_set: LayerSet) -> set[int]:
        return {
            s.number
            for s in layer_set.sheets
            if s.openings and not any(o.polygon.intersects(panel) for o in s.openings)
        }

    for number in sorted(gone(after) - gone(before)):
        raise BadValue(f"Then nothing of sheet {number} would lie on the panel any more.", "sheet")
