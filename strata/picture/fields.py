"""Coverage fields: how thick a pass lies at every pixel, cropped to its openings."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from shapely import MultiPolygon

from strata.kept import Kept
from strata.picture.forms import FORMS, SOFTNESS, Region
from strata.picture.raster import Floats32, Raster, Window, coverage, window
from strata.plan.model import Form
from strata.sheets.model import Group


@dataclass(frozen=True)
class Field:
    """Thickness shares 0..1 in a window of the grid; zero outside it."""

    at: Window
    values: Floats32

    @cached_property
    def inked(self) -> int:
        """How many pixels get any ink."""
        return int(np.count_nonzero(self.values))


def field_of(group: Group, form: Form, brush_diameter: float, raster: Raster) -> Field:
    """The coverage field of one pass on a grid."""
    at = window(group.shape.bounds, raster)
    values = np.zeros((max(0, at.y1 - at.y0), max(0, at.x1 - at.x0)), np.float32)
    if at.empty:
        return Field(at, values)
    soft = SOFTNESS * brush_diameter
    if form.kind == "all" or form.span == "element":
        mask = coverage(group.shape.geoms, at, raster)
        region = Region(group.shape, at, raster, mask, soft)
        return Field(at, mask * FORMS[form.kind](form, region))
    for polygon in group.shape.geoms:
        near = window(polygon.bounds, raster)
        if near.empty:
            continue
        mask = coverage([polygon], near, raster)
        shape = MultiPolygon([polygon])
        part = mask * FORMS[form.kind](form, Region(shape, near, raster, mask, soft))
        inner = values[near.y0 - at.y0 : near.y1 - at.y0, near.x0 - at.x0 : near.x1 - at.x0]
        np.maximum(inner, part, out=inner)
    return Field(at, values)


_FIELDS: Kept[object, Field] = Kept(160_000_000, lambda field: field.values.nbytes + 500)
# kept by shape, form, brush and grid: a change of ink, coats or hand needs no new field


def kept_field(group: Group, form: Form, diameter: float, raster: Raster) -> Field:
    """The field of a pass, computed when it is not kept."""
    wanted = form if form.kind != "all" else Form()
    width = diameter if form.kind != "all" else 0.0

    def make() -> Field:
        found = field_of(group, form, diameter, raster)
        found.values.setflags(write=False)
        return found

    return _FIELDS.get((shape_key(group), wanted, width, raster), make)


def shape_key(group: Group) -> object:
    """A key for a group's shape that survives reloading the set."""
    key = group.__dict__.get("_shape_key")
    if key is None:
        key = hash(shapely.to_wkb(group.shape))
        group.__dict__["_shape_key"] = key
    return key
