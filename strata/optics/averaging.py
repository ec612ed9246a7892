"""Several readings of one dab to one colour, with those named that do not belong.

The spatial median (Weiszfeld's iteration, after Y. Vardi and C.-H. Zhang, PNAS
97, 2000) is not moved by a reading gone astray; what lies further from it
than chance explains is left out, and the rest is averaged.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from strata.errors import BadValue
from strata.optics.colour import Floats, Lab, differences

LEAST_FAR, FAR = 1.0, 4.0
# CIEDE2000 that is always forgiven, and how many typical distances make an outlier
DISAGREE = 2.0
# CIEDE2000 between two readings that make a third needed
MOST = 200


@dataclass(frozen=True)
class Averaged:
    """The colour, how far readings lie from it (CIEDE2000, root mean square), which were left out, and what to say."""

    lab: Lab
    spread: float
    left_out: tuple[int, ...]
    off: tuple[float, ...]
    remarks: tuple[str, ...]


def _median(labs: Floats) -> Floats:
    at = np.median(labs, axis=0)
    for _ in range(60):
        far = np.maximum(np.linalg.norm(labs - at, axis=1), 1e-6)
        following = (labs / far[:, None]).sum(axis=0) / (1 / far).sum()
        if float(np.abs(following - at).max()) < 1e-7:
            break
        at = following
    return np.asarray(at)


def averaged(readings: Sequence[Lab]) -> Averaged:
    """One colour of readings of one dab; raises BadValue without any."""
    if not readings:
        raise BadValue("There is no reading yet.", "readings")
    if len(readings) > MOST:
        raise BadValue(f"{MOST} readings of one dab are enough.", "readings")
    labs = np.array(readings, float)
    middle = _median(labs)
    away = differences(labs, np.broadcast_to(middle, labs.shape))
    usual = 1.4826 * float(np.median(away))
    astray = away > max(LEAST_FAR, FAR * usual)
    if len(readings) < 3:
        astray[:] = False
    mean = labs[~astray].mean(axis=0)
    off = differences(labs, np.broadcast_to(mean, labs.shape))
    lightness, a, b = (round(float(v), 3) for v in mean)
    spread = float(np.sqrt((off[~astray] ** 2).mean()))
    return Averaged(
        (lightness, a, b),
        round(spread, 3),
        tuple(np.flatnonzero(astray).tolist()),
        tuple(round(float(v), 2) for v in off),
        tuple(_remarks(off, astray, spread)),
    )


def _remarks(off: Floats, astray: NDArray[np.bool_], spread: float) -> list[str]:
    found = [
        f"Reading {i + 1} is {off[i]:.1f} away from the others and is left out: a speck, an edge, or a slip."
        for i in np.flatnonzero(astray)
    ]
    kept = int((~astray).sum())
    if len(off) == 1:
        found.append("One reading only: take two more, at other places of the dab.")
    elif len(off) == 2 and float(off.max()) > DISAGREE / 2:
        found.append("The two readings do not agree: take a third.")
    elif spread > DISAGREE:
        found.append(f"The {kept} readings lie {spread:.1f} apart: the dab is blotchy, or not dry.")
    return found
