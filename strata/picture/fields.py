"""Coverage fields: how thick a pass lies at every pixel, cropped to what it inks."""

from __future__ import annotations

import hashlib
import zlib
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
from shapely import MultiPolygon

from strata.kept import Kept
from strata.picture.forms import Region, thickness
from strata.picture.raster import Floats32, Raster, Window, coverage, window
from strata.picture.textures import drops, dry_brush, stripe
from strata.plan.model import Form

STRIPES_RUN = 6.0
# mm over which the colours of one pad run into each other


@dataclass(frozen=True)
class Field:
    """Thickness shares 0..1 in a window of the grid; zero outside it."""

    at: Window
    values: Floats32

    @cached_property
    def inked(self) -> int:
        """How many pixels get any ink."""
        return int(np.count_nonzero(self.values))


@dataclass(frozen=True)
class Stencilled:
    """A mask as a field sees it: its area (mm), whether ink passes inside or outside, and how soft its edge is (mm)."""

    area: MultiPolygon
    window: bool
    soft: float

    @cached_property
    def key(self) -> object:
        return shape_key(self.area), self.window, self.soft


@dataclass(frozen=True)
class Way:
    """What decides a field besides its shape: the form, its softness (mm), texture, masks, and the card that cuts it.

    ``stripe``: (which colour, of how many). ``seed`` and ``width`` (mm) of drops and strokes.
    """

    form: Form
    soft: float
    texture: str = ""
    seed: int = 0
    width: float = 1.0
    stripe: tuple[int, int] = (0, 1)
    masks: tuple[Stencilled, ...] = ()
    card: MultiPolygon | None = None

    @cached_property
    def key(self) -> object:
        plain = self.form.kind == "all" and self.stripe[1] == 1  # stripes run along the form's angle
        form, soft = (Form(), 0.0) if plain else (self.form, self.soft)
        own = (self.texture, self.seed, self.width) if self.texture else ()
        card = None if self.card is None else shape_key(self.card)
        return form, soft, own, self.stripe, tuple(m.key for m in self.masks), card


def field_of(shape: MultiPolygon, form: Form, soft: float, raster: Raster) -> Field:
    """The coverage field of a form on a shape, its edges fading over ``soft`` mm, on a grid."""
    at = window(shape.bounds, raster) if not shape.is_empty else Window(0, 0, 0, 0)
    values = np.zeros((max(0, at.y1 - at.y0), max(0, at.x1 - at.x0)), np.float32)
    if at.empty:
        return Field(at, values)
    if form.kind == "all" or form.span == "element":
        mask = coverage(shape.geoms, at, raster)
        return Field(at, mask * thickness(form, Region(shape, at, raster, mask, soft)))
    for polygon in shape.geoms:
        near = window(polygon.bounds, raster)
        if near.empty:
            continue
        mask = coverage([polygon], near, raster)
        one = MultiPolygon([polygon])
        part = mask * thickness(form, Region(one, near, raster, mask, soft))
        inner = values[near.y0 - at.y0 : near.y1 - at.y0, near.x0 - at.x0 : near.x1 - at.x0]
        np.maximum(inner, part, out=inner)
    return Field(at, values)


def worked(shape: MultiPolygon, way: Way, raster: Raster) -> Field:
    """The field with its texture, behind its masks, cut by its card."""
    plain = field_of(shape, way.form, way.soft, raster)
    if plain.at.empty:
        return plain
    values, at = plain.values, plain.at
    if way.texture == "spatter":
        values = values * drops(at, raster, way.seed, way.width)
    elif way.texture == "dry brush":
        values = values * dry_brush(at, raster, way.seed)
    if way.stripe[1] > 1:
        values = values * stripe(shape, at, raster, way.form.angle, way.stripe, STRIPES_RUN)
    for mask in way.masks:
        through = _mask_field(mask, at, raster)
        values = values * (through if mask.window else 1 - through)
    if way.card is not None:
        alpha = coverage(way.card.geoms, at, raster)
        # at the card's edge the pixel is shared with what lies below, the ink on the card is not thinner there
        values = np.where(alpha > 0.02, np.minimum(1, values / np.maximum(alpha, 0.02)), 0).astype(np.float32)
    return Field(at, values)


def _mask_field(mask: Stencilled, at: Window, raster: Raster) -> Floats32:
    found = coverage(mask.area.geoms, at, raster)
    if mask.soft > 0:
        from scipy.ndimage import gaussian_filter

        found = gaussian_filter(found, mask.soft * raster.scale / 2, mode="nearest")
    return found


_FIELDS: Kept[object, Field] = Kept(240_000_000, lambda field: field.values.nbytes + 500)
# kept by shape, way and grid: a change of ink, coats or hand needs no new field


def kept_field(shape: MultiPolygon, way: Way, raster: Raster) -> Field:
    """The field of a pass, computed when it is not kept."""

    def make() -> Field:
        found = worked(shape, way, raster)
        found.values.setflags(write=False)
        return found

    return _FIELDS.get((shape_key(shape), way.key, raster), make)


_KEYS: dict[int, tuple[MultiPolygon, int]] = {}


def shape_key(shape: MultiPolygon) -> int:
    """A key for a shape that survives reloading the set, and is the same in every process."""
    known = _KEYS.get(id(shape))
    if known is not None and known[0] is shape:
        return known[1]
    found = int.from_bytes(hashlib.blake2b(shapely.to_wkb(shape), digest_size=8).digest())
    if len(_KEYS) > 4000:
        _KEYS.clear()
    _KEYS[id(shape)] = (shape, found)
    return found


def seed_of(key: str) -> int:
    """A number that is the same for the same pass at every look."""
    return zlib.crc32(key.encode())
