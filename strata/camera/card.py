"""The simulated camera over a swatch card that somebody has inked by hand."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from strata.camera.photograph import encoded, light_on, table_of
from strata.camera.shot import Lens, Shot
from strata.camera.spectral import Eye
from strata.errors import finite
from strata.optics.colour import Lab
from strata.optics.spectrum import reflectance

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
Box = tuple[float, float, float, float]
TONER = (18.0, 0.0, 0.0)
# CIELAB of printed black
_STRENGTHS = (0.0, 0.55, 0.8, 1.0, 1.2, 1.6)
# of a coat, at which a field's colour is worked out; between them it is interpolated

Laid = Callable[[float], Floats]
# internal reflectance (36,) of a field's passes at a strength


@dataclass(frozen=True)
class CardShot(Shot):
    """A shot of a swatch card.

    ``kelvin`` of the light and how much of it the camera balances out;
    ``exposure`` 1 puts the bare card at 0.8 of the scale; ``shadow`` is the
    share of light that a hand takes from a part of the card; ``blotches`` the
    standard deviation of the ink, of its mean; ``specks`` bare spots a field.
    """

    kelvin: float = 5000.0
    balance: float = 0.8
    exposure: float = 1.0
    shadow: float = 0.0
    blotches: float = 0.06
    specks: int = 2

    def __post_init__(self) -> None:
        super().__post_init__()
        for name, low, high in (
            ("kelvin", 1500, 20000),
            ("balance", 0, 1),
            ("exposure", 0.01, 20),
            ("shadow", 0, 0.95),
            ("blotches", 0, 0.5),
            ("specks", 0, 40),
        ):
            finite(getattr(self, name), name, low, high)


def card_shot(seed: int, upright: bool = True) -> CardShot:
    """A shot as a maker takes it at a window or under a lamp: never twice the same."""
    rng = np.random.default_rng(seed)
    return CardShot(
        width=2250 if upright else 3000,
        height=3000 if upright else 2250,
        tilt_x=float(rng.uniform(-0.18, 0.18)),
        tilt_y=float(rng.uniform(-0.14, 0.14)),
        roll=float(rng.uniform(-0.08, 0.08)),
        fills=0.9,
        k1=float(rng.uniform(-0.02, 0.005)),
        uneven=float(rng.uniform(0.15, 0.5)),
        noise=float(rng.uniform(0.006, 0.018)),
        quality=int(rng.integers(70, 93)),
        kelvin=float(rng.uniform(3000, 6500)),
        balance=float(rng.uniform(0.55, 1.0)),
        table=(0.33, 0.29, 0.24),
        seed=seed,
    )


def _noise(rng: np.random.Generator, rows: int, columns: int, cell: int) -> Floats32:
    """Smooth noise, mean 0, standard deviation about 1, with spots of ``cell`` px."""
    import cv2

    coarse = rng.normal(0, 1, (rows // cell + 3, columns // cell + 3)).astype(np.float32)
    fine = cv2.resize(coarse, (columns, rows), interpolation=cv2.INTER_CUBIC)
    return np.asarray((fine - fine.mean()) / max(float(fine.std()), 1e-6), np.float32)


def _inked(
    flat: Floats32,
    box: Box,
    tones: NDArray[np.floating],
    shot: CardShot,
    rng: np.random.Generator,
    per_mm: float,
) -> None:
    """Lay one field's ink on the flat card: uneven, thin towards the edge, a little over the line."""
    x, y, width, height = (v * per_mm for v in box)
    over = 0.8 * per_mm
    left, top, right, bottom = (round(v) for v in (x - over, y - over, x + width + over, y + height + over))
    rows, columns = bottom - top, right - left
    strength = 1 + np.float32(shot.blotches) * _noise(rng, rows, columns, max(2, round(3 * per_mm)))
    across, down = np.arange(columns, dtype=np.float32), np.arange(rows, dtype=np.float32)
    edge = np.minimum.outer(np.minimum(down, down[::-1]), np.minimum(across, across[::-1]))
    wander = _noise(rng, rows, columns, max(2, round(5 * per_mm))) * np.float32(0.5 * per_mm)
    strength = strength * np.clip((edge + wander) / np.float32(1.2 * per_mm), 0, 1)
    for _ in range(shot.specks):
        cx, cy, radius = rng.uniform(0, columns), rng.uniform(0, rows), rng.uniform(0.15, 0.5) * per_mm
        spot = (across[None] - cx) ** 2 + (down[:, None] - cy) ** 2 < radius**2
        strength = np.where(spot, np.float32(rng.choice([0.0, 1.6])), strength)
    at = np.clip(strength, 0, _STRENGTHS[-1])
    part = flat[top:bottom, left:right]
    for c in range(3):
        colour = np.interp(at, _STRENGTHS, tones[:, c]).astype(np.float32)
        # the print shows through where there is no ink
        part[..., c] = np.where(at > 0.02, colour, part[..., c])


def _shadowed(shot: CardShot) -> Floats32 | None:
    """A hand between the lamp and the card: a band with a soft edge from one side."""
    if shot.shadow <= 0:
        return None
    import cv2

    rng = np.random.default_rng(shot.seed + 7)
    light = np.ones((shot.height, shot.width), np.float32)
    x, y = rng.uniform(0.25, 0.6) * shot.width, rng.uniform(0.35, 0.6) * shot.height
    hand = np.array([[x, y], [x + 0.25 * shot.width, y - 60], [shot.width, y + 0.3 * shot.height],
                     [shot.width, shot.height], [x + 0.1 * shot.width, shot.height]], np.int32)  # fmt: skip
    cv2.fillPoly(light, [hand], 1 - shot.shadow)
    return np.asarray(cv2.GaussianBlur(light, (0, 0), 0.012 * shot.width), np.float32)


def photograph_card(
    page: NDArray[np.uint8],
    size: tuple[float, float],
    fields: Sequence[tuple[Box, Laid]],
    card: Lab,
    shot: CardShot,
) -> NDArray[np.uint8]:
    """RGB (h, w, 3) of a card on a table.

    ``page`` (h, w) is the print, 0 black to 255 bare, over ``size`` mm; each
    field is a box in mm and how its passes are seen (36,) at a strength; ``card`` the
    CIELAB of the stock.
    """
    eye = Eye(shot.kelvin, shot.balance)
    per_mm = page.shape[1] / size[0]
    white = np.asarray(eye.sees(np.asarray(reflectance(card), float)), np.float32)
    toner = np.asarray(eye.sees(np.asarray(reflectance(TONER), float)), np.float32)
    print_ = (page.astype(np.float32) / 255)[..., None]
    flat = np.asarray(print_ * white + (1 - print_) * toner, np.float32)
    rng = np.random.default_rng(shot.seed + 3)
    for box, laid in fields:
        seen = [eye.sees(np.asarray(laid(s), float)) for s in _STRENGTHS]
        _inked(flat, box, np.array(seen), shot, rng, per_mm)
    return taken(flat, per_mm, float(white.max()), shot)


def taken(flat: Floats32, per_mm: float, white: float, shot: CardShot) -> NDArray[np.uint8]:
    """RGB (h, w, 3) of something flat (h, w, 3; linear, as the camera sees it) on a table; ``white`` is exposed for."""
    import cv2

    rows, columns = flat.shape[:2]
    at = _map(Lens(shot, columns / per_mm, rows / per_mm), per_mm)
    picture = cv2.remap(flat, at, None, cv2.INTER_AREA, borderMode=cv2.BORDER_REPLICATE)
    inside = ((at > 0) & (at < np.array([columns, rows], np.float32))).all(axis=2)
    share = cv2.GaussianBlur(inside.astype(np.float32), (0, 0), 0.7)[..., None]
    table = np.asarray(shot.table, np.float32) * table_of(shot)[..., None]
    light, shade = light_on(shot), _shadowed(shot)
    light = light if shade is None else light * shade
    lit = (share * picture + (1 - share) * table) * light[..., None]
    return _developed(lit, white, shot)


def _map(lens: Lens, per_mm: float) -> Floats32:
    """For every pixel of the picture (h, w, 2) where it lies on the flat print: worked out for every eighth."""
    import cv2

    shot, step = lens.shot, 8
    columns, rows = -(-shot.width // step), -(-shot.height // step)
    x, y = np.meshgrid((np.arange(columns) + 0.5) * step, (np.arange(rows) + 0.5) * step)
    back = _back(np.column_stack([x.ravel(), y.ravel()]), lens) * per_mm - 0.5
    coarse = back.astype(np.float32).reshape(rows, columns, 2)
    whole = cv2.resize(coarse, (columns * step, rows * step), interpolation=cv2.INTER_LINEAR)
    return np.asarray(whole[: shot.height, : shot.width], np.float32)


def _back(px: Floats, lens: Lens) -> Floats:
    """px (n, 2) to mm on the flat card, the inverse of ``Lens.project``."""
    import cv2

    shot = lens.shot
    middle, half = np.array([shot.width / 2, shot.height / 2]), float(np.hypot(shot.width, shot.height) / 2)
    bent = px - middle
    straight = bent.copy()
    for _ in range(5):
        straight = bent / (1 + shot.k1 * (straight**2).sum(axis=1) / half**2)[:, None]
    w, h = lens.sheet_width, lens.sheet_height
    corners = np.array([(0, 0), (w, 0), (w, h), (0, h)], float)
    plain = Lens(_plain(shot), w, h)
    homography, _ = cv2.findHomography(plain.project(corners, flat=True), corners)
    flat = np.column_stack([straight + middle, np.ones(len(px))]) @ homography.T
    return np.asarray(flat[:, :2] / flat[:, 2:])


def _plain(shot: Shot) -> Shot:
    """The same camera with a lens that bends nothing."""
    return Shot(
        width=shot.width,
        height=shot.height,
        tilt_x=shot.tilt_x,
        tilt_y=shot.tilt_y,
        roll=shot.roll,
        fills=shot.fills,
        k1=0.0,
    )


def _developed(linear: Floats32, white: float, shot: CardShot) -> NDArray[np.uint8]:
    """Exposure, lens blur, noise of photons and sensor, eight bits."""
    import cv2

    value = linear * np.float32(0.8 * shot.exposure / white)
    if shot.blur:
        value = cv2.GaussianBlur(value, (0, 0), shot.blur)
    rng = np.random.default_rng(shot.seed + 2)
    if shot.noise:
        spread = np.float32(shot.noise) * np.sqrt(np.clip(value, 0, 1) + 0.02)
        value = value + spread * rng.standard_normal(value.shape, dtype=np.float32)
    return encoded(value)
