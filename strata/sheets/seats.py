"""Sheets used again in another place: their openings follow those of the sheet itself."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from strata.sheets.model import LayerSet, Opening, Seat, Sheet


def moved(shape: Polygon, seat: Seat, width: float, height: float) -> Polygon:
    """A shape (mm) in its second seat on a panel of ``width`` x ``height`` mm."""
    angle = math.radians(seat.turn)
    flip = -1.0 if seat.mirrored else 1.0
    middle = np.array([width / 2, height / 2])
    turn = np.array([[math.cos(angle) * flip, -math.sin(angle)], [math.sin(angle) * flip, math.cos(angle)]])

    def carried(points: NDArray[np.float64]) -> NDArray[np.float64]:
        return np.asarray((points - middle) @ turn.T + middle + (seat.dx, seat.dy))

    return shapely.transform(shape, carried)


def seated(base: Sheet, seat: Seat, number: int, name: str, layer_set: LayerSet, old: Sheet | None) -> Sheet:
    """The sheet ``base`` in a seat, as sheet ``number``.

    Openings keep the element and role that ``old``, the same seat before a
    change, gave them; new ones belong to an element of their own, as a
    second print is for another thing.
    """
    known = {o.key: o for o in old.openings} if old else {}
    openings = []
    for opening in base.openings:
        key = f"{number}~{opening.key}"
        before = known.get(key)
        element = before.element if before else f"{opening.element} again"[:120]
        role = before.role if before else opening.role
        shape = moved(opening.polygon, seat, layer_set.width, layer_set.height)
        openings.append(Opening(key, number, element, shape, role))
    marks = tuple(moved(m, seat, layer_set.width, layer_set.height) for m in base.marks)
    made = Sheet(number, name, tuple(openings), marks, seat)
    return replace(made, copies=old.copies, loose=old.loose) if old else made


def follow(layer_set: LayerSet) -> LayerSet:
    """The set with every second seat laid anew from its sheet."""
    by_number = {s.number: s for s in layer_set.sheets}
    sheets = tuple(
        seated(by_number[s.seat.of], s.seat, s.number, s.name, layer_set, s)
        if s.seat and s.seat.of in by_number
        else s
        for s in layer_set.sheets
    )
    return replace(layer_set, sheets=sheets)
