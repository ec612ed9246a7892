"""What spoils photographs at a real table: shadows, glare, a finger, no focus, a shaken hand, too much light; and what
telephones and messengers do to them."""

from __future__ import annotations

import io
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from strata.camera.photograph import encoded, jpeg
from strata.optics.colour import linear_of_bytes

Rgb = NDArray[np.uint8]
Point = tuple[float, float]
_SKIN = (205, 150, 125)
# encoded RGB


def shadow(picture: Rgb, outline: Sequence[Point], depth: float = 0.5, soft: float = 4.0) -> Rgb:
    """A hand's or telephone's shadow: an outline (shares of width and height), how much light it takes (0..1), px of its rim."""
    import cv2

    mask = np.zeros(picture.shape[:2], np.float32)
    size = np.array([picture.shape[1], picture.shape[0]])
    cv2.fillPoly(mask, [np.rint(np.array(outline) * size).astype(np.int32)], 1.0)
    mask = cv2.GaussianBlur(mask, (0, 0), soft)
    return np.asarray(np.clip(picture * (1 - depth * mask[..., None]), 0, 255), np.uint8)


def glare(picture: Rgb, spots: Sequence[tuple[float, float, float]], soft: float = 50.0) -> Rgb:
    """Lamps mirrored in the plastic: (x, y, radius) of each, shares of the picture's width and height, radius of its width."""
    import cv2

    height, width = picture.shape[:2]
    mask = np.zeros((height, width), np.float32)
    for x, y, radius in spots:
        cv2.circle(mask, (round(x * width), round(y * height)), round(radius * width), 1.0, -1)
    mask = cv2.GaussianBlur(mask, (0, 0), soft)[..., None]
    return np.asarray(np.clip(picture + (255.0 - picture) * 0.95 * mask, 0, 255), np.uint8)


def finger(picture: Rgb, at: Point, length: float = 0.08, angle: float = 20.0) -> Rgb:
    """A finger that holds the sheet down: where its tip's middle lies and how long it is, shares of the picture."""
    import cv2

    height, width = picture.shape[:2]
    axes = round(length * width), round(0.55 * length * width)
    found = picture.copy()
    cv2.ellipse(found, (round(at[0] * width), round(at[1] * height)), axes, angle, 0, 360, _SKIN, -1)
    return found


def out_of_focus(picture: Rgb, sigma: float) -> Rgb:
    """Blurred by ``sigma`` px: what a lens spreads is light, not encoded values."""
    import cv2

    return encoded(np.asarray(cv2.GaussianBlur(linear_of_bytes(picture), (0, 0), sigma), np.float32))


def in_focus_at(picture: Rgb, at: Point, sigma: float) -> Rgb:
    """In focus at a point (shares of the picture) only: blurred the more the further from there, by ``sigma`` px at its
    furthest corner. So is what lies nearer to the lens than it is sharp at or further away, and all lenses' corners are."""
    import cv2

    height, width = picture.shape[:2]
    y, x = np.mgrid[:height, :width].astype(np.float32)
    away = np.hypot(x - np.float32(at[0] * width), y - np.float32(at[1] * height))
    steps = max(2, round(2 * sigma))
    # between two blurs that differ by half a pixel what lies between is their mixture
    level = away * np.float32(steps / away.max())
    light = linear_of_bytes(picture)
    total = light * np.clip(1 - level, 0, 1)[..., None]
    for n in range(1, steps + 1):
        blurred = cv2.GaussianBlur(light, (0, 0), sigma * n / steps)
        total += blurred * np.clip(1 - np.abs(level - n), 0, 1)[..., None]
    return encoded(np.asarray(total, np.float32))


def shaken(picture: Rgb, right: int, down: int) -> Rgb:
    """Moved so many px while it was taken; it is light that smears."""
    import cv2

    size = 2 * max(abs(right), abs(down)) + 1
    way = np.zeros((size, size), np.float32)
    middle = size // 2
    ends = [(middle + s * right // 2, middle + s * down // 2) for s in (-1, 1)]
    cv2.line(way, ends[0], ends[1], 1.0, 1)
    return encoded(np.asarray(cv2.filter2D(linear_of_bytes(picture), -1, way / way.sum()), np.float32))


def sharpened(picture: Rgb, amount: float = 0.9, radius: float = 2.0) -> Rgb:
    """What telephones do to edges: an unsharp mask with its halos; ``radius`` px."""
    import cv2

    soft = cv2.GaussianBlur(picture, (0, 0), radius).astype(np.float32)
    return np.asarray(np.clip(picture + amount * (picture - soft), 0, 255), np.uint8)


def lamps(picture: Rgb, lights: Sequence[tuple[float, float, tuple[float, float, float]]]) -> Rgb:
    """Light of several lamps: (x, y) shares of the picture where each is nearest, and its colour (of 1)."""
    height, width = picture.shape[:2]
    y, x = np.mgrid[:height, :width].astype(np.float32)
    total = np.zeros((height, width, 3), np.float32)
    for at_x, at_y, colour in lights:
        far = ((x / width - at_x) ** 2 + (y / height - at_y) ** 2) / np.float32(0.6)
        total += (1 / (1 + far))[..., None] * np.array(colour, np.float32)
    # lamps add up as light; the picture is of encoded values
    return np.asarray(np.clip(picture * np.clip(total, 0, 1.4) ** np.float32(1 / 2.2), 0, 255), np.uint8)


def dusty(picture: Rgb, seed: int = 7, count: int = 900) -> Rgb:
    """Grains and hairs of a light grey, up to a few pixels wide, over all of the picture."""
    import cv2

    rng = np.random.default_rng(seed)
    height, width = picture.shape[:2]
    found = picture.copy()
    for x, y, angle, length in zip(
        rng.uniform(0, width, count),
        rng.uniform(0, height, count),
        rng.uniform(0, 6.3, count),
        rng.exponential(6, count),
        strict=True,
    ):
        end = (round(x + length * np.cos(angle)), round(y + length * np.sin(angle)))
        cv2.line(found, (round(x), round(y)), end, (150, 150, 146), int(rng.integers(1, 3)))
    return found


def overexposed(picture: Rgb, times: float = 2.4) -> Rgb:
    """So many times as much light; what is more than white is cut off."""
    return encoded(np.asarray(np.minimum(1, linear_of_bytes(picture) * times), np.float32))


def made_smaller(picture: Rgb, longer: int = 1600, quality: int = 70) -> Rgb:
    """As messengers send it: its longer side so many px, encoded values mixed, compressed once more."""
    import cv2

    by = longer / max(picture.shape[:2])
    small = cv2.resize(picture, None, fx=by, fy=by, interpolation=cv2.INTER_AREA)
    return np.asarray(Image.open(io.BytesIO(jpeg(small, quality))), np.uint8)


def freed_of_noise(picture: Rgb, grain: float = 14.0, seed: int = 3) -> Rgb:
    """As telephones do it at dusk: grain (encoded, standard deviation) painted over, edges kept."""
    import cv2

    noise = np.random.default_rng(seed).normal(0, grain, picture.shape)
    grainy = np.clip(picture + noise, 0, 255).astype(np.uint8)
    return np.asarray(cv2.bilateralFilter(cv2.medianBlur(grainy, 5), 9, 40, 5), np.uint8)
