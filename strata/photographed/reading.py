"""Reading a photograph of a finished panel: where it lies, its light, and what each region came out like."""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from itertools import pairwise
from typing import Any
from zipfile import BadZipFile

import numpy as np
from numpy.typing import NDArray

from strata.errors import BadFile
from strata.optics.colour import Lab, differences, encode_srgb, linear_of_bytes
from strata.photographed.edges import sampled
from strata.photographed.light import around_the_panel, light_of, on_the_panel
from strata.photographed.regions import Predicted
from strata.photographed.register import Registered, register
from strata.picture.raster import Floats32
from strata.progress import Progress, quiet
from strata.swatchcard.correct import lab_of, linear_of, restored

Floats = NDArray[np.float64]
TOP = 254
# of 255: at the top of the scale, a pixel says nothing
MOST_CLIPPED, PATCHY = 0.2, 9.0
# share of a region at the top of the scale (glare), and CIEDE2000 between its blocks, past which it is not gone by
BLOCKS = 40
# px of a region that are taken together


@dataclass(frozen=True)
class RegionReading:
    """What a region came out like: CIELAB, spread (CIEDE2000, 90th percentile of its blocks), and whether it counts.

    ``state``: good, patchy, glare, or strong (a channel was beyond what a picture holds).
    """

    lab: Lab
    spread: float
    state: str


@dataclass(frozen=True)
class Reading:
    """Regions in order; how well outlines agreed, mm they lie off, what the light was like; corners (4, 2) px."""

    regions: tuple[RegionReading, ...]
    alike: float
    off_mm: float
    uneven: float
    blue_to_red: float
    patches: int
    corners: tuple[tuple[float, float], ...]


def read_panel(
    rgb: NDArray[np.uint8],
    own: Predicted,
    around: Lab | None = None,
    corners: Floats | None = None,
    progress: Progress = quiet,
) -> tuple[Reading, NDArray[np.uint8]]:
    """What a photograph ``rgb`` (h, w, 3) shows of a panel, and the panel (h, w, 3) straightened and evened.

    ``around``: the CIELAB of the card that it lies on, where it lies on one;
    ``corners`` (4, 2) px where somebody has shown them. Raises BadFile whose
    ``field`` is the reason (``register``, ``light_of``).
    """
    linear = linear_of_bytes(rgb)
    progress(0.15, "Looking for the card")
    lying = register(linear, rgb, own, corners)
    progress(0.6, "Looking at the light")
    seen, clipped = _straightened(linear, rgb, lying, own)
    patches = on_the_panel(seen, clipped, own)
    if around is not None:
        patches = around_the_panel(linear, lying.placed, own, linear_of(np.array([around]))[0])
    light = light_of(patches, own)
    progress(0.8, "Reading the colours")
    even = np.asarray(seen / light.at(own.grid(*own.labels.shape)), np.float32)
    regions = tuple(_regions(even, clipped, own))
    at = lying.placed.project(own.corners)
    told = tuple((round(float(x), 1), round(float(y), 1)) for x, y in at)
    shown = np.rint(255 * encode_srgb(np.clip(even, 0, 1))).astype(np.uint8)
    return (
        Reading(
            regions,
            round(lying.alike, 3),
            round(lying.off, 3),
            round(light.uneven, 2),
            round(light.blue_to_red, 3),
            light.patches,
            told,
        ),
        shown,
    )


def _straightened(
    linear: Floats32, rgb: NDArray[np.uint8], lying: Registered, own: Predicted
) -> tuple[Floats32, Floats32]:
    """Light (h, w, 3) on the panel's own grid, each the mean of what its square millimetre share shows; clipped (h, w)."""
    import cv2

    points = own.grid(*own.labels.shape)
    fine = lying.placed.per_mm(own.width / 2, own.height / 2) / own.per_mm
    if fine > 1.5:
        linear = cv2.GaussianBlur(linear, (0, 0), 0.35 * fine)
    top = (rgb.max(axis=2) >= TOP).astype(np.float32)
    return sampled(linear, lying.placed, points), sampled(top, lying.placed, points)


def _regions(even: Floats32, clipped: Floats32, own: Predicted) -> Sequence[RegionReading]:
    flat, labels, top = even.reshape(-1, 3), own.labels.ravel(), clipped.ravel()
    order = np.argsort(labels, kind="stable")
    starts = np.searchsorted(labels[order], np.arange(1, int(labels.max()) + 2))
    found = []
    for low, high in pairwise(starts.tolist()):
        rows = order[low:high]
        found.append(_region(flat[rows].astype(float), float(top[rows].mean())))
    return found


def _region(values: Floats, clipped: float) -> RegionReading:
    """The mean of the pixels that agree, and how far its blocks lie apart: pixels come row by row, so a block is a place."""
    tone = np.cbrt(np.maximum(values, 0))
    off = np.abs(tone - np.median(tone, axis=0)).max(axis=1)
    limit = max(3 * 1.4826 * float(np.median(off)), 0.012)
    mean = values[off <= limit].mean(axis=0)
    put, lost = restored(mean[None])
    lab = lab_of(put)[0]
    count = max(1, len(values) // BLOCKS)
    blocks = np.array([b.mean(axis=0) for b in np.array_split(values, count)])
    labs = lab_of(blocks)
    spread = float(np.percentile(differences(labs, np.broadcast_to(lab_of(mean[None])[0], labs.shape)), 90))
    state = "good"
    if clipped > MOST_CLIPPED:
        state = "glare"
    elif bool(lost[0]):
        state = "strong"
    elif spread > PATCHY:
        state = "patchy"
    lightness, a, b = (round(float(v), 2) for v in lab)
    return RegionReading((min(max(lightness, 0.0), 110.0), a, b), round(spread, 2), state)


def write_reading(found: Reading) -> dict[str, Any]:
    """JSON values of a reading."""
    return asdict(found)


def read_reading(value: Mapping[str, Any]) -> Reading:
    """A reading as ``write_reading`` wrote it."""
    regions = tuple(
        RegionReading((r["lab"][0], r["lab"][1], r["lab"][2]), r["spread"], r["state"])
        for r in value["regions"]
    )
    rest = {k: v for k, v in value.items() if k not in ("regions", "corners")}
    return Reading(regions, corners=tuple((x, y) for x, y in value["corners"]), **rest)


def packed(own: Predicted) -> bytes:
    """A predicted panel as bytes, for a reader that knows nothing of builds."""
    file = io.BytesIO()
    np.savez_compressed(
        file,
        size=np.array([own.width, own.height]),
        linear=own.linear.astype(np.float16),
        bare=own.bare,
        labels=own.labels,
    )
    return file.getvalue()


def unpacked(data: bytes) -> Predicted:
    """A predicted panel from ``packed`` bytes; raises BadFile."""
    try:
        with np.load(io.BytesIO(data), allow_pickle=False) as found:
            width, height = (float(v) for v in found["size"])
            return Predicted(
                width, height, found["linear"].astype(np.float32), found["bare"], found["labels"]
            )
    except (ValueError, KeyError, OSError, EOFError, BadZipFile) as error:
        raise BadFile("That is no predicted panel.") from error
