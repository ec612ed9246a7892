"""Light, lens and film: the picture that a camera takes of one sheet on a table."""

from __future__ import annotations

import io
from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from strata.camera.shot import Lens, Shot
from strata.camera.surfaces import beside, printed_on, rounded, stained, surface_of
from strata.optics.colour import encode_srgb
from strata.picture.raster import Raster, Window, coverage

Floats32 = NDArray[np.float32]
_STEP = 1.0
# mm between the points of a projected edge: lens and curl bend straight edges


def _projected(shape: Polygon, lens: Lens) -> Polygon:
    dense = shapely.segmentize(shape, _STEP)
    seen = shapely.transform(dense, lens.project)
    return seen if seen.is_valid else shapely.buffer(seen, 0)


def share_of(shapes: Sequence[Polygon], lens: Lens) -> Floats32:
    """The share of each pixel that shapes on the sheet cover, 0..1 (exact areas)."""
    shot = lens.shot
    seen = [p for s in shapes for p in shapely.get_parts(_projected(s, lens)) if isinstance(p, Polygon)]
    return coverage(seen, Window(0, 0, shot.width, shot.height), Raster(shot.width, shot.height, 1.0))


def _to_the_lamp(shot: Shot) -> tuple[np.float32, np.float32]:
    """The way (x, y) across the picture to the lamp, of length 1."""
    angle = float(np.random.default_rng(shot.seed).uniform(0, 2 * np.pi))
    return np.float32(np.cos(angle)), np.float32(np.sin(angle))


def light_on(shot: Shot) -> Floats32:
    """Light on the table: a lamp to one side, and the lens darker towards its corners."""
    x = np.linspace(-1, 1, shot.width, dtype=np.float32)[None, :]
    y = np.linspace(-1, 1, shot.height, dtype=np.float32)[:, None]
    right, down = _to_the_lamp(shot)
    side = (right * x + down * y) / np.float32(1.42)
    corner = (x * x + y * y) / 2
    fall = np.float32(shot.uneven)
    return np.asarray((1 - fall * (0.5 - 0.5 * side)) * (1 - 0.25 * fall * corner), np.float32)


def _shadow(shapes: Sequence[Polygon], lens: Lens) -> Floats32 | None:
    """What the raised edge throws on the table: soft, to the right of the sheet and in its openings."""
    if lens.shot.curl <= 0:
        return None
    import cv2

    sheet = Polygon(
        [(0, 0), (lens.sheet_width, 0), (lens.sheet_width, lens.sheet_height), (0, lens.sheet_height)]
    )
    moved = shapely.affinity.translate(sheet, 0.8 * lens.shot.curl, 0.3 * lens.shot.curl)
    share = share_of([moved], lens) - share_of(list(shapes), lens) * 0.7
    raised = np.linspace(0, 1, lens.shot.width, dtype=np.float32)[None, :] ** 2
    soft = cv2.GaussianBlur(np.clip(share, 0, 1), (0, 0), 4 + 3 * lens.shot.curl)
    return np.asarray(1 - 0.35 * soft * raised, np.float32)


_DEPTH, _RIM = 0.55, 0.2
# of the light that a sheet's own shadow takes (lamps are not all there is), and how wide its rim is, of how far it falls


def _own_shadow(covered: Floats32, lens: Lens) -> Floats32 | None:
    """The light that is left on the table beneath a sheet that stands off it: as far as that, its shadow falls."""
    if not lens.shot.lift:
        return None
    import cv2

    ends = lens.project(np.array([[0.0, 0.0], [lens.sheet_width, 0.0]]), flat=True)
    far = lens.shot.lift * float(np.hypot(*(ends[1] - ends[0]))) / lens.sheet_width
    right, down = _to_the_lamp(lens.shot)
    moved = np.array([[1, 0, -right * far], [0, 1, -down * far]], np.float32)
    size = (lens.shot.width, lens.shot.height)
    fallen = cv2.warpAffine(covered, moved, size, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(1 - _DEPTH * cv2.GaussianBlur(fallen, (0, 0), max(0.5, _RIM * far)), np.float32)


def table_of(shot: Shot) -> Floats32:
    """A plain table with a faint grain, mean 1."""
    import cv2

    rng = np.random.default_rng(shot.seed + 1)
    coarse = rng.normal(0, 1, (shot.height // 24 + 2, shot.width // 240 + 2)).astype(np.float32)
    grain = cv2.resize(coarse, (shot.width, shot.height), interpolation=cv2.INTER_CUBIC)
    return np.asarray(1 + 0.012 * grain, np.float32)


LINE, BOLD, EVERY = 0.22, 0.45, 5
# mm: lines of a mat, and every fifth one
FIGURE = (2.2, 3.4)
# mm, beside every fifth line


def mat_of(lens: Lens) -> Floats32 | None:
    """The share of each pixel that the lines and figures of a mat cover: askew to the sheet, as sheets are laid."""
    shot = lens.shot
    if shot.grid <= 0:
        return None
    middle = lens.sheet_width / 2, lens.sheet_height / 2
    reach = 2.2 * max(lens.sheet_width, lens.sheet_height) / shot.fills
    rng = np.random.default_rng(shot.seed + 3)
    start, count = rng.uniform(0, shot.grid, 2), int(reach / shot.grid)
    printed: list[Polygon] = []
    for n in range(-count, count + 1):
        wide = (BOLD if n % EVERY == 0 else LINE) / 2
        x, y = middle[0] + start[0] + n * shot.grid, middle[1] + start[1] + n * shot.grid
        printed += [
            shapely.box(x - wide, middle[1] - reach, x + wide, middle[1] + reach),
            shapely.box(middle[0] - reach, y - wide, middle[0] + reach, y + wide),
        ]
        if n % EVERY == 0:
            for m in range(-count, count + 1, EVERY):
                at = middle[1] + start[1] + m * shot.grid
                stroke = shapely.box(x + 1, at + 1, x + 1 + FIGURE[0], at + 1 + FIGURE[1])
                printed += [stroke.difference(shapely.buffer(stroke.centroid, 0.7))]
    askew = float(rng.uniform(-0.06, 0.06))
    laid = [shapely.affinity.rotate(p, askew, origin=middle, use_radians=True) for p in printed]
    frame = shapely.box(*(v - reach for v in middle), *(v + reach for v in middle))
    return np.clip(share_of([p for p in laid if p.intersects(frame)], lens), 0, 1)


def photograph(shapes: Sequence[Polygon], width: float, height: float, shot: Shot) -> NDArray[np.uint8]:
    """RGB (h, w, 3) of a sheet of ``width`` x ``height`` mm with the openings ``shapes`` (mm) on a table."""
    import cv2

    lens = Lens(shot, width, height)
    covered = np.clip(share_of([rounded(width, height, shot.corner)], lens) - share_of(shapes, lens), 0, 1)
    light, table, shadow, surface = light_on(shot), table_of(shot), _shadow(shapes, lens), surface_of(lens)
    for factor in (shadow, surface, _own_shadow(covered, lens)):
        if factor is not None:
            table = table * factor
    printed = mat_of(lens)
    named = share_of(printed_on(width, height), lens) * np.float32(0.8) if shot.printed else None
    ink = stained(lens, shot.seed + 24) if shot.stains else None
    things = [(share_of([Polygon(outline)], lens), colour) for outline, colour in beside(lens)]
    rng = np.random.default_rng(shot.seed + 2)
    tint = (1 + shot.warmth, 1.0, 1 - shot.warmth)
    picture = np.empty((shot.height, shot.width, 3), np.uint8)
    for channel in range(3):
        plastic, plain = np.float32(shot.plastic[channel]), np.float32(shot.table[channel])
        below = plain if printed is None else plain + printed * (np.float32(shot.ink[channel]) - plain)
        ground = below * table
        for share, colour in things:
            ground = ground + share * (np.float32(colour[channel]) - ground)
        sheet = _sheet(plastic, ground, shot, None if ink is None else (ink[0], ink[1][..., channel]), named)
        value = (covered * sheet + (1 - covered) * ground) * light * np.float32(tint[channel])
        if shot.blur:
            value = cv2.GaussianBlur(value, (0, 0), shot.blur)
        if shot.noise:
            # photons and the sensor: the spread grows with the root of the light
            spread = np.float32(shot.noise) * np.sqrt(np.clip(value, 0, 1) + 0.02)
            value = value + spread * rng.standard_normal(value.shape, dtype=np.float32)
        picture[..., channel] = encoded(value)
    return picture


def _sheet(
    plastic: np.float32,
    ground: Floats32,
    shot: Shot,
    ink: tuple[Floats32, Floats32] | None,
    named: Floats32 | None,
) -> np.float32 | Floats32:
    """One channel of the sheet's own colour: what shows through it, ink left on it, its maker's name."""
    colour: np.float32 | Floats32 = plastic
    if shot.clear:
        colour = plastic + np.float32(shot.clear) * (ground - plastic)
    if ink is not None:
        colour = colour + np.float32(shot.stains) * ink[0] * (ink[1] * np.float32(0.6) - colour)
    if named is not None:
        lettering = np.float32(0.7 if float(np.mean(plastic)) < 0.3 else 0.05)
        colour = colour + named * (lettering - colour)
    return colour


def encoded(linear: Floats32) -> NDArray[np.uint8]:
    """sRGB (IEC 61966-2-1), 8 bits, by a table of 4096 steps."""
    table = np.rint(255 * encode_srgb(np.linspace(0, 1, 4097))).astype(np.uint8)
    return np.asarray(table[(np.clip(linear, 0, 1) * 4096).astype(np.int32)])


def jpeg(picture: NDArray[np.uint8], quality: int) -> bytes:
    """The picture as a JPEG file."""
    from PIL import Image

    out = io.BytesIO()
    Image.fromarray(picture).save(out, "JPEG", quality=quality)
    return out.getvalue()
