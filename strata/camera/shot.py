"""How a photograph is taken: where the camera stands, what light there is, how the sheet lies."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from strata.errors import BadValue, finite

Floats = NDArray[np.float64]
Colour = tuple[float, float, float]


@dataclass(frozen=True)
class Shot:
    """One simulated photograph.

    ``width`` and ``height`` in px; ``tilt_x``, ``tilt_y`` and ``roll`` in
    radians; ``fills`` is the share of the frame's shorter side that the
    sheet takes; ``k1`` the first radial coefficient of the lens (Brown 1966)
    for radii in units of half the diagonal; ``curl`` the height in mm by
    which one edge stands off the table; ``uneven`` the loss of light from
    the bright to the dark side, 0..0.8; ``blur`` the standard deviation of
    the lens in px; ``noise`` the standard deviation at full white, of 1;
    ``quality`` of the JPEG. ``plastic`` and ``table`` are linear RGB, 0..1.
    ``grid``: mm between the lines printed on the table, as a cutting mat has
    them; 0 for none. ``ink``: what they are printed in, linear RGB.
    ``surface``: what the table is made of (``surfaces.SURFACES``);
    ``beside``: what lies beside the sheet; ``corner`` mm by which its
    corners are rounded; ``clear`` 0..1 how much of the table shows through
    its plastic; ``printed`` whether it bears its maker's name; ``stains``
    0..1 ink left on it; ``lift`` mm by which all of it stands off the
    table, where its own shadow falls away from a lamp half-way up; ``shift``: where its middle lies, shares of the
    picture from the picture's middle.
    """

    width: int = 4000
    height: int = 3000
    tilt_x: float = 0.0
    tilt_y: float = 0.0
    roll: float = 0.0
    fills: float = 0.82
    k1: float = 0.0
    curl: float = 0.0
    uneven: float = 0.2
    warmth: float = 0.0
    blur: float = 0.9
    noise: float = 0.01
    quality: int = 85
    plastic: Colour = (0.035, 0.045, 0.06)
    table: Colour = (0.72, 0.69, 0.63)
    grid: float = 0.0
    ink: Colour = (0.62, 0.66, 0.5)
    surface: str = "plain"
    beside: tuple[str, ...] = ()
    corner: float = 0.0
    clear: float = 0.0
    printed: bool = False
    stains: float = 0.0
    lift: float = 0.0
    shift: tuple[float, float] = (0.0, 0.0)
    seed: int = 1

    def __post_init__(self) -> None:
        for name, low, high in (
            ("width", 200, 9000),
            ("height", 200, 9000),
            ("tilt_x", -0.6, 0.6),
            ("tilt_y", -0.6, 0.6),
            ("roll", -math.pi, math.pi),
            ("fills", 0.1, 0.98),
            ("k1", -0.2, 0.2),
            ("curl", 0, 10),
            ("uneven", 0, 0.8),
            ("warmth", -0.3, 0.3),
            ("blur", 0, 6),
            ("noise", 0, 0.2),
            ("quality", 10, 100),
            ("grid", 0, 100),
            ("corner", 0, 30),
            ("clear", 0, 1),
            ("stains", 0, 1),
            ("lift", 0, 5),
        ):
            finite(getattr(self, name), name, low, high)
        if self.width * self.height > 40_000_000:
            raise BadValue("The simulated camera has 40 megapixels at most.", "width")


@dataclass(frozen=True)
class Lens:
    """The way from millimetres on the sheet to pixels of the picture."""

    shot: Shot
    sheet_width: float
    sheet_height: float

    @property
    def focal(self) -> float:
        """px; a mild wide angle, as telephones have."""
        return 1.05 * max(self.shot.width, self.shot.height)

    @property
    def distance(self) -> float:
        """mm from the camera to the middle of the sheet."""
        shot = self.shot
        spans = (self.sheet_width, self.sheet_height)
        turned = abs(math.sin(shot.roll)), abs(math.cos(shot.roll))
        wide = spans[0] * turned[1] + spans[1] * turned[0]
        high = spans[0] * turned[0] + spans[1] * turned[1]
        return self.focal * max(wide / shot.width, high / shot.height) / shot.fills

    def _turned(self, points: Floats) -> Floats:
        shot = self.shot
        cx, sx = math.cos(shot.tilt_x), math.sin(shot.tilt_x)
        cy, sy = math.cos(shot.tilt_y), math.sin(shot.tilt_y)
        cr, sr = math.cos(shot.roll), math.sin(shot.roll)
        about_x = np.array([[1, 0, 0], [0, cx, -sx], [0, sx, cx]])
        about_y = np.array([[cy, 0, sy], [0, 1, 0], [-sy, 0, cy]])
        about_z = np.array([[cr, -sr, 0], [sr, cr, 0], [0, 0, 1]])
        return np.asarray(points @ (about_x @ about_y @ about_z).T)

    def lift(self, points: Floats) -> Floats:
        """mm by which the sheet stands off the table: the right-hand edge rises as a parabola."""
        x = np.clip(points[:, 0] / self.sheet_width, 0, 1)
        return np.asarray(self.shot.curl * np.clip((x - 0.55) / 0.45, 0, 1) ** 2)

    def project(self, points: Floats, flat: bool = False) -> Floats:
        """mm (n, 2) to px (n, 2). ``flat`` ignores the curl: for what lies on the table."""
        z = np.zeros(len(points)) if flat else -self.lift(points)
        middle = np.array([self.sheet_width / 2, self.sheet_height / 2, 0])
        turned = self._turned(np.column_stack([points, z]) - middle)
        depth = turned[:, 2] + self.distance
        middle = np.array([self.shot.width / 2, self.shot.height / 2])
        centred = self.focal * turned[:, :2] / depth[:, None] + 2 * middle * np.array(self.shot.shift)
        half = math.hypot(*middle)
        square = (centred**2).sum(axis=1) / half**2
        return np.asarray(middle + centred * (1 + self.shot.k1 * square)[:, None])
