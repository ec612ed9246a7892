"""What a sheet lies on at a real table: wood, plaid cloth, newsprint, paper beneath; and what lies beside it."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from strata.camera.shot import Colour, Lens
from strata.errors import BadValue
from strata.units import MM_PER_INCH

Floats32 = NDArray[np.float32]
_TILE, _PER_MM = 1024, 4.0
# px of a repeating patch of noise, px a mm of it
_STRIPE, _LINE, _ROW = 9.0, 4.2, 2.6
# mm: plaid; newsprint's lines and the height of a row of letters


def over_the_table(lens: Lens) -> tuple[Floats32, Floats32]:
    """(x, y) mm on the table for each pixel (h, w), without the lens's bow; the sheet's top left is (0, 0)."""
    import cv2

    shot, w, h = lens.shot, lens.sheet_width, lens.sheet_height
    own = np.array([[0, 0], [w, 0], [w, h], [0, h]], np.float32)
    seen = lens.project(own.astype(float), flat=True).astype(np.float32)
    back = cv2.getPerspectiveTransform(seen, own)
    x, y = np.meshgrid(
        np.arange(shot.width, dtype=np.float32) + 0.5, np.arange(shot.height, dtype=np.float32) + 0.5
    )
    depth = back[2, 0] * x + back[2, 1] * y + back[2, 2]
    return (
        np.asarray((back[0, 0] * x + back[0, 1] * y + back[0, 2]) / depth, np.float32),
        np.asarray((back[1, 0] * x + back[1, 1] * y + back[1, 2]) / depth, np.float32),
    )


def _patch(noise: Floats32, x: Floats32, y: Floats32) -> Floats32:
    import cv2

    return np.asarray(
        cv2.remap(
            noise,
            (x * np.float32(_PER_MM)) % np.float32(_TILE),
            (y * np.float32(_PER_MM)) % np.float32(_TILE),
            cv2.INTER_LINEAR,
            borderMode=cv2.BORDER_WRAP,
        ),
        np.float32,
    )


def wood(lens: Lens) -> Floats32:
    """(h, w) about 1: grain that runs along, darker streaks of a few tenths of a millimetre, broad bands."""
    from scipy.ndimage import gaussian_filter

    rng = np.random.default_rng(lens.shot.seed + 21)
    raw = rng.normal(0, 1, (_TILE, _TILE)).astype(np.float32)
    fine, broad = gaussian_filter(raw, (1.0, 60), mode="wrap"), gaussian_filter(raw, (14, 200), mode="wrap")
    grain = 0.11 * fine / fine.std() + 0.10 * broad / broad.std()
    x, y = over_the_table(lens)
    return np.asarray(np.clip(1 + _patch(np.asarray(grain, np.float32), x, y), 0.35, 1.5), np.float32)


def plaid(lens: Lens) -> Floats32:
    """(h, w) about 1: woven stripes both ways, some dark, some light."""
    x, y = over_the_table(lens)
    rng = np.random.default_rng(lens.shot.seed + 22)
    tones = rng.choice([0.45, 0.6, 0.8, 1.0, 1.15], 64).astype(np.float32)
    found = [tones[np.floor(v / _STRIPE + 0.5 * k).astype(np.int32) % 64] for k, v in enumerate((x, y))]
    return np.asarray(np.sqrt(found[0] * found[1]), np.float32)


def newsprint(lens: Lens) -> Floats32:
    """(h, w) 0..1: columns of letters, as dark marks in rows."""
    import cv2

    rng = np.random.default_rng(lens.shot.seed + 23)
    marks = (rng.random((_TILE // 2, _TILE // 2)) < 0.5).astype(np.float32)
    marks = cv2.resize(marks, (_TILE, _TILE), interpolation=cv2.INTER_NEAREST)
    x, y = over_the_table(lens)
    row = (y % np.float32(_LINE)) < np.float32(_ROW)
    column = (x % np.float32(48)) > np.float32(4)
    return np.asarray(1 - 0.75 * _patch(marks, x, y) * row * column, np.float32)


SURFACES: dict[str, Callable[[Lens], Floats32]] = {"wood": wood, "plaid": plaid, "newsprint": newsprint}


def surface_of(lens: Lens) -> Floats32 | None:
    """(h, w) by which the table's colour is multiplied, None for a plain one. Raises BadValue."""
    name = lens.shot.surface
    if name == "plain":
        return None
    if name not in SURFACES:
        raise BadValue(f"No table is called {name!r}.", "surface")
    return SURFACES[name](lens)


_SIXTEENTH, _OF_AN_INCH = MM_PER_INCH / 16, ((16, 10.0), (8, 8.0), (4, 6.5), (2, 5.0), (1, 3.5))
# mm; every so many strokes so long
Thing = tuple[Sequence[tuple[float, float]], Colour]
# outline in mm from the sheet's top left, linear RGB


def beside(lens: Lens) -> list[Thing]:
    """What lies beside the sheet: a ruler with its strokes along its left side, one in inches above it, a second sheet,
    paper beneath both."""
    w, h = lens.sheet_width, lens.sheet_height
    found: list[Thing] = []
    for thing in lens.shot.beside:
        if thing == "ruler":
            found.append((_box(-26, -8, 0, h * 0.9), (0.62, 0.60, 0.52)))
            for n in range(int(h * 0.9)):
                long = 9 if n % 10 == 0 else 6 if n % 5 == 0 else 4
                found.append((_box(-long, n, -0.2, n + 0.18), (0.05, 0.05, 0.05)))
        elif thing == "inch ruler":
            found.append((_box(-6, -30, w * 0.95, -3), (0.45, 0.46, 0.47)))
            for n in range(int((w * 0.95 + 4) / _SIXTEENTH)):
                tall = next(tall for step, tall in _OF_AN_INCH if n % step == 0)
                x = n * _SIXTEENTH - 4
                found.append((_box(x, -3.2 - tall, x + 0.2, -3.2), (0.04, 0.04, 0.04)))
        elif thing == "second sheet":
            found.append((_box(w * 0.35, -h * 0.9, w * 1.3, -0.4), lens.shot.plastic))
        elif thing == "paper":
            found.append((_box(-18, -22, w + 24, h + 15), (0.82, 0.82, 0.80)))
        else:
            raise BadValue(f"Nothing beside a sheet is called {thing!r}.", "beside")
    return found


def _box(x0: float, y0: float, x1: float, y1: float) -> list[tuple[float, float]]:
    return [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]


def rounded(width: float, height: float, radius: float) -> Polygon:
    """The outline (mm) of a sheet with rounded corners."""
    sheet = shapely.box(0, 0, width, height)
    return shapely.buffer(shapely.buffer(sheet, -radius), radius) if radius > 0 else sheet


_STROKES = ((0, 3, 4), (0, 1, 2, 3, 4), (0, 1), (0, 2, 4), (0, 1, 2), (1, 2, 3, 4), (0, 4))
# of each letter: left bar, top, middle, bottom, right bar


def printed_on(width: float, height: float) -> list[Polygon]:
    """A maker's own print along a sheet's lower edge (mm): capitals in a row."""
    found, x, top, low = [], width * 0.3, height - 3.6, height - 1.5
    for n in range(16):
        if n % 6 == 5:
            x += 1.2
            continue
        wide = 0.9 + 0.25 * (n * 5 % 4)
        bars = (
            shapely.box(x, top, x + 0.4, low),
            shapely.box(x, top, x + wide, top + 0.4),
            shapely.box(x, (top + low - 0.4) / 2, x + wide, (top + low + 0.4) / 2),
            shapely.box(x, low - 0.4, x + wide, low),
            shapely.box(x + wide - 0.4, top, x + wide, low),
        )
        letter = shapely.union_all([bars[k] for k in (0, *_STROKES[n % len(_STROKES)])])
        found += [p for p in shapely.get_parts(letter) if isinstance(p, Polygon)]
        x += wide + 0.7
    return found


def stained(lens: Lens, seed: int) -> tuple[Floats32, Floats32]:
    """Ink left on a sheet from use: how much of it (h, w) 0..1, and its colour (h, w, 3) linear."""
    from scipy.ndimage import gaussian_filter

    rng = np.random.default_rng(seed)
    raw = rng.normal(0, 1, (_TILE, _TILE)).astype(np.float32)
    soft = gaussian_filter(raw, 22, mode="wrap")
    x, y = over_the_table(lens)
    amount = np.clip(_patch(np.asarray(soft / soft.std(), np.float32), x, y) - 0.3, 0, 1)
    inks = np.array(
        [(0.5, 0.05, 0.12), (0.04, 0.22, 0.45), (0.6, 0.35, 0.03), (0.05, 0.28, 0.12)], np.float32
    )
    which = gaussian_filter(raw[::-1], 60, mode="wrap")
    pick = np.digitize(_patch(np.asarray(which / which.std(), np.float32), x, y), [-0.7, 0.0, 0.7])
    return np.asarray(amount, np.float32), inks[pick]
