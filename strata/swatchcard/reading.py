"""Reading a photographed swatch card: marks, light, fields, correction."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from strata.errors import BadFile
from strata.optics.colour import Lab, differences, linear_of_bytes
from strata.progress import Progress, quiet
from strata.swatchcard.correct import Correction, correction, linear_of, restored
from strata.swatchcard.layout import MARKS_A_CARD, Box, CardLayout
from strata.swatchcard.light import Light, light_of
from strata.swatchcard.marks import NOT_SHARP, Placed, find_marks, placed, refuse_unseen

Floats = NDArray[np.float64]
Floats32 = NDArray[np.float32]
PER_MM = 7.0
# samples a mm at which fields are read
LEAST_PER_MM = 3.0
INSET = 0.16
# share of a field's width and height left out along its edge, where ink thins or strays
BLOCK = 1.5
# mm; specks are smaller, blotches larger
BARE, BLOTCHY, DOUBTFUL = 1.5, 5.0, 9.0
# CIEDE2000: a field that is not inked, one that is not even, a known ink that is not itself
SOFT = 1.6
# mm over which the edge of a mark may go from paper to black


@dataclass(frozen=True)
class FieldReading:
    """One field: its colour, the spread (CIEDE2000, 90th percentile) and what was noticed.

    ``state`` is good, blotchy, bare, strong (a channel was beyond what a
    picture holds) or doubtful (a known ink that does not look like itself).
    """

    lab: Lab
    spread: float
    state: str
    off: float | None = None
    # CIEDE2000 from the known colour, for known inks


@dataclass(frozen=True)
class CardReading:
    """All fields in order; how uneven and how blue the light was; how well known inks were met."""

    fields: tuple[FieldReading, ...]
    uneven: float
    blue_to_red: float
    known: int
    error: float | None


@dataclass(frozen=True)
class _Picture:
    """The picture as light (h, w, 3) and the share of each pixel at the top of the scale, made smaller by ``scale``."""

    linear: Floats32
    clipped: Floats32
    scale: float
    fit: Placed

    def sampled(self, box: Box, per_mm: float) -> tuple[Floats, Floats32, Floats32]:
        """(points mm (h, w, 2), linear (h, w, 3), clipped (h, w)) over a box."""
        import cv2

        x, y, width, height = box
        columns, rows = max(2, round(width * per_mm)), max(2, round(height * per_mm))
        xs = x + (np.arange(columns) + 0.5) * width / columns
        ys = y + (np.arange(rows) + 0.5) * height / rows
        points = np.stack(np.meshgrid(xs, ys), axis=-1)
        px = (self.fit.project(points.reshape(-1, 2)) * self.scale - 0.5).astype(np.float32)
        at = px.reshape(rows, columns, 2)
        linear = cv2.remap(self.linear, at, None, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        clipped = cv2.remap(self.clipped, at, None, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        return points, linear, clipped


def _picture(rgb: NDArray[np.uint8], fit: Placed, per_mm: float) -> _Picture:
    import cv2

    scale = min(1.0, PER_MM / per_mm)
    linear = linear_of_bytes(rgb)
    clipped = (rgb.max(axis=2) >= 254).astype(np.float32)
    if scale < 1:
        linear = cv2.resize(linear, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
        clipped = cv2.resize(clipped, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA)
    return _Picture(linear, clipped, linear.shape[1] / rgb.shape[1], fit)


def _per_mm(fit: Placed, layout: CardLayout) -> float:
    """px a mm, where the card is smallest in the picture."""
    width, height = layout.size
    corners = fit.project(np.array([(0, 0), (width, 0), (width, height), (0, height)], float))
    sides = np.linalg.norm(np.roll(corners, -1, axis=0) - corners, axis=1)
    return float((sides / np.array([width, height, width, height])).min())


def _refuse_soft(picture: _Picture, layout: CardLayout) -> None:
    """The upper edges of the corner marks must be edges."""
    widths = []
    for corners in list(layout.marks.values())[:2]:
        x, y = corners[0]
        _, linear, _ = picture.sampled((x + 4, y - 2.0, 6.0, 4.0), 10.0)
        profile = linear.mean(axis=(1, 2))
        low, high = float(np.percentile(profile, 5)), float(np.percentile(profile, 95))
        between = (profile > low + 0.1 * (high - low)) & (profile < low + 0.9 * (high - low))
        widths.append(float(between.sum()) / 10.0)
    if min(widths) > SOFT:
        raise BadFile(NOT_SHARP, "not_sharp")


def _patches(picture: _Picture, layout: CardLayout) -> tuple[Floats, Floats]:
    values, clipped = [], []
    for box in layout.bare:
        _, linear, top = picture.sampled(box, 4.0)
        values.append(np.median(linear.reshape(-1, 3), axis=0))
        clipped.append(float(top.mean()))
    return np.array(values, float), np.array(clipped)


def _blocks(picture: _Picture, light: Light, box: Box) -> Floats:
    """Colours relative to the bare card (n, 3) of blocks of a field, each without its own extremes."""
    x, y, width, height = box
    inner = (x + INSET * width, y + INSET * height, (1 - 2 * INSET) * width, (1 - 2 * INSET) * height)
    points, linear, _ = picture.sampled(inner, PER_MM)
    relative = linear / light.at(points.reshape(-1, 2)).reshape(linear.shape)
    side = max(2, round(BLOCK * PER_MM))
    rows, columns = relative.shape[0] // side, relative.shape[1] // side
    cut = relative[: rows * side, : columns * side].reshape(rows, side, columns, side, 3)
    flat = np.sort(cut.transpose(0, 2, 1, 3, 4).reshape(rows * columns, side * side, 3), axis=1)
    trim = side * side // 10
    return np.asarray(flat[:, trim:-trim].mean(axis=1), float)


def _settled(blocks: Floats) -> Floats:
    """The mean (3,) of the blocks that agree: specks and bare spots are left out."""
    tone = np.cbrt(np.maximum(blocks, 0))
    middle = np.median(tone, axis=0)
    off = np.abs(tone - middle).max(axis=1)
    spread = max(1.4826 * float(np.median(off)), 0.004)
    return np.asarray(blocks[off <= 3 * spread].mean(axis=0))


def read_card(
    rgb: NDArray[np.uint8],
    layout: CardLayout,
    card: Lab,
    known: Mapping[int, Lab],
    progress: Progress = quiet,
) -> CardReading:
    """Every field of a photographed card.

    ``rgb`` (h, w, 3) sRGB; ``card`` the CIELAB of the bare stock; ``known``
    the colours of fields (by place) whose ink is known on it. Raises BadFile
    whose ``field`` is the reason: no_card, wrong_card, not_whole, not_flat,
    too_small, not_sharp, overexposed, too_dark, too_yellow, too_blue, shadowed, uneven.
    """
    progress(0.1, "Looking for the marks")
    marks = find_marks(rgb)
    if any(MARKS_A_CARD * layout.code + i not in marks for i in (0, 1, 4, 5)):
        refuse_unseen(rgb)
    fit = placed(marks, layout, rgb.shape[1], rgb.shape[0])
    per_mm = _per_mm(fit, layout)
    if per_mm < LEAST_PER_MM:
        raise BadFile(
            "The card is too small in the picture. Go nearer, until it fills the frame.", "too_small"
        )
    progress(0.4, "Looking at the light")
    picture = _picture(rgb, fit, per_mm)
    own = linear_of(np.array([card]))[0]
    patches, clipped = _patches(picture, layout)
    light = light_of(patches, clipped, layout, own)
    _refuse_soft(picture, layout)
    progress(0.6, "Reading the fields")
    blocks = [_blocks(picture, light, box) for box in layout.fields]
    settled, strong = restored(np.array([_settled(b) for b in blocks]))
    # a bare known field would pull everything with it
    inked = differences(Correction(np.eye(3), own).lab(settled), np.array([card])) > BARE
    usable = [i for i in known if i < layout.count and not strong[i] and inked[i]]
    wanted = np.array([known[i] for i in usable]).reshape(-1, 3)
    found = correction(settled[usable].reshape(-1, 3), wanted, own)
    labs = found.lab(settled)
    fields = tuple(
        _judged(labs[i], found.lab(blocks[i]), bool(strong[i]), np.array(card), known.get(i))
        for i in range(layout.count)
    )
    return CardReading(fields, light.uneven, light.blue_to_red, found.known, found.error)


def _judged(lab: Floats, blocks: Floats, strong: bool, card: Floats, known: Lab | None) -> FieldReading:
    spread = float(np.percentile(differences(blocks, np.broadcast_to(lab, blocks.shape)), 90))
    off = None if known is None else float(differences(lab[None], np.array([known]))[0])
    state = "good"
    if float(differences(lab[None], card[None])[0]) < BARE:
        state = "bare"
    elif off is not None and off > DOUBTFUL:
        state = "doubtful"
    elif strong:
        state = "strong"
    elif spread > BLOTCHY:
        state = "blotchy"
    lightness, a, b = (round(float(v), 2) for v in lab)
    return FieldReading((min(max(lightness, 0.0), 110.0), a, b), round(spread, 2), state, off)
