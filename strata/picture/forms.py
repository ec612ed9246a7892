"""Shading forms: how thick the ink lies at each point of a region, 0..1.

Each form is a function of the region's own geometry; the stencil's edge is cut
by the coverage mask, so that the only softness here is the brush's own.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import shapely
from shapely import MultiPolygon

from strata.picture.raster import Floats32, Raster, Window
from strata.plan.model import Form

_LEAST_SOFT = 0.8
# mm; no brush stops dead


@dataclass(frozen=True)
class Region:
    """What a form runs over: a shape in mm, its window, its mask, and over how many mm its edge fades."""

    shape: MultiPolygon
    at: Window
    raster: Raster
    mask: Floats32
    soft: float


Thickness = Callable[[Form, Region], Floats32]
FORMS: dict[str, Thickness] = {}


def form(kind: str) -> Callable[[Thickness], Thickness]:
    """Register a shading form under its kind."""

    def keep(function: Thickness) -> Thickness:
        FORMS[kind] = function
        return function

    return keep


def _eased(value: Floats32) -> Floats32:
    """Smoothstep of 0..1."""
    v = np.clip(value, 0, 1)
    return np.asarray(v * v * (3 - 2 * v), dtype=np.float32)


def _along(angle: float, region: Region) -> tuple[Floats32, float]:
    """Share 0..1 along a direction (1 where the ink comes from), and the run in mm."""
    dx, dy = math.cos(math.radians(angle)), math.sin(math.radians(angle))
    corners = shapely.get_coordinates(region.shape) @ np.array([dx, dy])
    low, high = float(corners.min()), float(corners.max())
    run = max(high - low, 1e-6)
    x, y = region.at.centres(region.raster)
    share = (x[None, :] * dx + y[:, None] * dy - low) / run
    return np.asarray(share, dtype=np.float32), run


def _faded(distance: Floats32, run: float, region: Region) -> Floats32:
    """1 where ``distance`` (shares of ``run`` past the form's edge) is well positive, 0 well before."""
    soft = min(max(region.soft, _LEAST_SOFT), 0.6 * run) / run
    return _eased(distance / np.float32(soft) + np.float32(0.5))


@form("all")
def all_over(form: Form, region: Region) -> Floats32:
    """The same everywhere."""
    return np.ones_like(region.mask)


@form("side")
def from_side(form: Form, region: Region) -> Floats32:
    """From one side, ``extent`` of the way to the other."""
    share, run = _along(form.angle, region)
    return _faded(share - np.float32(1 - form.extent), run, region)


def _own_base(region: Region) -> float:
    """The angle of a region's lower end along its own long axis, degrees."""
    box = shapely.minimum_rotated_rectangle(region.shape)
    corners = shapely.get_coordinates(box)
    if len(corners) < 4:
        return 90.0
    sides = np.diff(corners[:3], axis=0)
    dx, dy = sides[int(np.argmax(np.hypot(sides[:, 0], sides[:, 1])))]
    angle = math.degrees(math.atan2(dy, dx))
    return angle if math.sin(math.radians(angle)) >= 0 else angle + 180


@form("base")
def from_base(form: Form, region: Region) -> Floats32:
    """From the lower end along the shape's own long axis, as on a leaf."""
    share, run = _along(_own_base(region), region)
    return _faded(share - np.float32(1 - form.extent), run, region)


def _inwards(region: Region) -> tuple[Floats32, float]:
    """Share 0..1 from the rim (0) to the heart (1) of each separate shape, and its depth in mm."""
    from scipy.ndimage import distance_transform_edt

    padded = np.pad(region.mask > 0.5, 1)
    distance = distance_transform_edt(padded)[1:-1, 1:-1] / region.raster.scale
    deepest = float(distance.max())
    return np.asarray(distance / max(deepest, 1e-6), dtype=np.float32), max(deepest, 1e-6)


@form("centre")
def centre_out(form: Form, region: Region) -> Floats32:
    """From the heart outwards."""
    share, run = _inwards(region)
    return _faded(share - np.float32(1 - form.extent), run, region)


@form("edges")
def edges_in(form: Form, region: Region) -> Floats32:
    """From the rim inwards."""
    share, run = _inwards(region)
    return _faded(np.float32(form.extent) - share, run, region)


@form("band")
def band(form: Form, region: Region) -> Floats32:
    """A band across, ``extent`` wide, its middle at ``place``."""
    share, run = _along(form.angle, region)
    off = np.abs(share - np.float32(1 - form.place))
    return _faded(np.float32(form.extent / 2) - off, run, region)


@form("corner")
def from_corner(form: Form, region: Region) -> Floats32:
    """From the corner that lies towards the angle, ``extent`` of the way to the one opposite."""
    x0, y0, x1, y1 = region.shape.bounds
    cx = x1 if math.cos(math.radians(form.angle)) >= 0 else x0
    cy = y1 if math.sin(math.radians(form.angle)) >= 0 else y0
    run = max(math.hypot(x1 - x0, y1 - y0), 1e-6)
    x, y = region.at.centres(region.raster)
    off = np.hypot(x[None, :] - np.float32(cx), y[:, None] - np.float32(cy)) / np.float32(run)
    return _faded(np.float32(form.extent) - off, run, region)


@form("around")
def around_the_middle(form: Form, region: Region) -> Floats32:
    """Everywhere but around a pale middle, which is an oval; ``extent`` of the way in, its middle at ``place``."""
    x0, y0, x1, y1 = region.shape.bounds
    wide, tall = max(x1 - x0, 1e-6) / 2, max(y1 - y0, 1e-6) / 2
    x, y = region.at.centres(region.raster)
    across = (x[None, :] - np.float32((x0 + x1) / 2)) / np.float32(wide)
    down = (y[:, None] - np.float32(y0 + (y1 - y0) * (1 - form.place))) / np.float32(tall)
    share = np.hypot(across, down) / np.float32(math.sqrt(2))
    return _faded(share - np.float32(1 - form.extent), math.hypot(wide, tall), region)


@form("fade")
def faded_out(form: Form, region: Region) -> Floats32:
    """One ink from heavy to nothing: full at the side it comes from, none ``extent`` of the way across."""
    share, _ = _along(form.angle, region)
    return np.asarray(np.clip((share - np.float32(1 - form.extent)) / np.float32(form.extent), 0, 1))


def thickness(form: Form, region: Region) -> Floats32:
    """How thick the ink lies, 0..1; of a join, only around the form's border."""
    found = FORMS[form.kind](form, region)
    return np.asarray(4 * found * (1 - found)) if form.join else found
