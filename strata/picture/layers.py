"""What lies on a panel as layers of the picture: inks and what is done to them, cards of pieces, shadows of foam."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np
import shapely
import shapely.affinity
from shapely import MultiPolygon

from strata.kept import Kept
from strata.optics.inks import Ink
from strata.optics.stack import Stock
from strata.panel.laid import PANEL, Surface
from strata.panel.shapes import polygons
from strata.picture.fields import Field, Stencilled, Way, kept_field, seed_of, shape_key
from strata.picture.raster import Raster, coverage, window
from strata.plan.media import LIFTS, MEDIA, WATER
from strata.plan.model import Form, Pass
from strata.plan.scene import Scene

SHADE = 0.34
# share of the light that the middle of a foam shadow takes
SHADE_STEPS = 24
# levels of a shadow that are told apart: half a step is 0.3 L*
LIFTED = ("dye", "hybrid", "marker")
# chemistries that water takes off


@dataclass(frozen=True, eq=False)
class Layer:
    """One layer as the picture sees it; two with the same ``key`` look the same, with the same ``spot`` lie alike.

    ``lay`` finds its field: that is the larger part of it by far, and only
    making a map of stacks asks for it.

    ``kind``: ``ink``; ``lift`` (``strength``: share of the dye below that goes);
    ``gloss``; ``card`` (a piece: ``stock`` covers all below, and the layers of
    its ``surface`` that follow lie on it); ``shade`` (a piece's shadow).
    """

    kind: str
    lay: Callable[[], Field]
    spot: object
    key: tuple[object, ...]
    surface: str = PANEL
    ink: Ink | None = None
    thickness: float = 1.0
    wet: bool = False
    strength: float = 0.0
    stock: Stock | None = None
    pass_key: str = ""

    @property
    def field(self) -> Field:
        """How thick it lies where, as it is kept or found anew; whoever asks twice holds it."""
        return self.lay()


def layers_of(
    scene: Scene,
    passes: Sequence[Pass],
    wet: frozenset[str],
    raster: Raster,
    fresh: str = "",
    pieces: bool = True,
) -> list[Layer]:
    """The layers of passes (in the plan's order) on a grid, the panel first, then piece by piece.

    ``wet``: keys of passes that go onto wet ink. ``fresh``: the pass shown
    before it has dried back. ``pieces``: all pieces lie there; else only those
    that one of the passes inks.
    """
    by_surface: dict[str, list[Layer]] = {}
    for item in passes:
        made = _of_pass(scene, item, item.key in wet, item.key == fresh, raster)
        by_surface.setdefault(scene.surface(item), []).extend(made)
    found = by_surface.pop(PANEL, [])
    for surface in scene.layer_set.surfaces:
        if pieces or surface.key in by_surface:
            found.extend(_of_piece(scene, surface, raster))
            found.extend(by_surface.get(surface.key, []))
    return found


def _of_pass(scene: Scene, item: Pass, wet: bool, fresh: bool, raster: Raster) -> list[Layer]:
    if item.medium == "seal":
        return []  # it changes no colour
    surface, shape = scene.surface(item), scene.shape(item)
    laid = scene.layer_set
    masks = tuple(
        Stencilled(laid.masks[m.key], m.wear.way == "window", m.wear.soft)
        for m in scene.masks(item)
        if m.wear is not None
    )
    card = laid.surface_by_key[surface].outline if surface != PANEL else None
    inks = [scene.ink_of(key) for key in item.stripes]
    kind = "gloss" if item.medium == "gloss" else "ink"
    strength = 0.0
    if item.medium == "lift" or (item.medium == "spatter" and item.ink == WATER):
        kind, strength = "lift", LIFTS[item.hand]
    found = []
    for i, ink in enumerate(inks):
        form = Form() if MEDIA[item.medium].touch else item.form
        texture = item.medium if item.medium in ("spatter", "dry brush") else ""
        way = Way(
            form, scene.blend(item), texture, seed_of(item.key), item.width, (i, len(inks)), masks, card
        )
        thickness = scene.thickness(item) * (ink.chemistry.dry_back if fresh else 1.0)
        spot = (kind, surface, shape_key(shape), way.key)
        key = (spot, ink, thickness, wet, strength)
        lay = partial(kept_field, shape, way, raster)
        found.append(Layer(kind, lay, spot, key, surface, ink, thickness, wet, strength, None, item.key))
    return found


_PIECES: Kept[object, Field] = Kept(60_000_000, lambda field: field.values.nbytes + 500)


def _of_piece(scene: Scene, surface: Surface, raster: Raster) -> list[Layer]:
    stock = scene.stocks[surface.card.stock]
    light, foam = scene.plan.materials.light, surface.card.foam
    found = []
    spot: tuple[object, ...]
    if foam > 0:
        spot = ("shade", shape_key(surface.outline), foam, light)
        shaded = partial(_shade, surface.outline, foam, light, raster)
        lay = partial(_PIECES.get, (spot, raster), shaded)
        found.append(Layer("shade", lay, spot, (spot,), surface.key, strength=SHADE))
    spot = ("card", shape_key(surface.outline), surface.on)
    lay = partial(_PIECES.get, (spot, raster), partial(_cut, surface.outline, raster))
    found.append(Layer("card", lay, spot, (spot, stock), surface.key, stock=stock))
    return found


def _cut(outline: MultiPolygon, raster: Raster) -> Field:
    at = window(outline.bounds, raster)
    return Field(at, coverage(outline.geoms, at, raster))


def _shade(outline: MultiPolygon, foam: float, angle: float, raster: Raster) -> Field:
    """A soft shadow: the outline moved by the foam's height, blurred with it; in few levels, since it is only soft."""
    from scipy.ndimage import gaussian_filter

    away = 0.75 * foam
    dx, dy = away * math.cos(math.radians(angle)), away * math.sin(math.radians(angle))
    moved = MultiPolygon(polygons(shapely.affinity.translate(outline, dx, dy)))
    sigma = 0.35 + 0.4 * foam
    x0, y0, x1, y1 = moved.bounds
    room = 3 * sigma
    at = window((x0 - room, y0 - room, x1 + room, y1 + room), raster)
    values = gaussian_filter(coverage(moved.geoms, at, raster), sigma * raster.scale, mode="constant")
    return Field(at, (np.round(values * SHADE_STEPS) / SHADE_STEPS).astype(np.float32))
