"""What happens when one ink meets another on a brush, on a sheet or on the panel."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from strata.optics.colour import Lab, chroma, differences, hue_apart
from strata.optics.inks import Ink

OPPOSITE_DEGREES = 125.0
# hues further apart than this cancel towards brown or grey
LEAST_CHROMA = 18.0
# below it an ink is too grey to spoil another's hue
SAME_TO_THE_EYE = 4.0
# CIEDE2000 under which two inks may run into each other unseen


@dataclass(frozen=True)
class Meeting:
    """What a brush needs between two inks: nothing, a wipe or a clean; and why."""

    care: str
    why: str


def near_opposite(first: Lab, second: Lab) -> bool:
    """True when two colours have hue enough, and hues far enough apart, to make brown."""
    strong = chroma(first) >= LEAST_CHROMA and chroma(second) >= LEAST_CHROMA
    return strong and hue_apart(first, second) >= OPPOSITE_DEGREES


def on_brush(last: Ink, last_lab: Lab, following: Ink, lab: Lab) -> Meeting:
    """What a brush that carries ``last`` needs before it takes ``following``."""
    kin = bool(last.family) and last.family == following.family and last.line == following.line
    harmless = [
        (last.key == following.key, "it carries this ink already"),
        (kin and lab[0] <= last_lab[0], "light to deeper in one family does the pad no harm"),
    ]
    harmful = [
        (
            last.chemistry.key != following.chemistry.key,
            f"{last.chemistry.label} and {following.chemistry.label} ink must not mix",
        ),
        (near_opposite(last_lab, lab), f"{last.name} and {following.name} together make brown"),
        (lab[0] > last_lab[0] + 3, f"the deeper {last.name} would spoil the paler pad of {following.name}"),
        (
            last.character != following.character,
            f"{last.name} would grey or dirty the {following.character} {following.name}",
        ),
    ]
    for care, cases in (("nothing", harmless), ("clean", harmful)):
        for applies, why in cases:
            if applies:
                return Meeting(care, why)
    return Meeting("wipe", f"{last.name} is still in the bristles")


def alike_to_the_eye(pairs: Sequence[tuple[Lab, Lab]]) -> list[bool]:
    """For each pair of inks, whether they may run into each other at an edge without anyone seeing it."""
    if not pairs:
        return []
    off = differences(np.array([a for a, _ in pairs]), np.array([b for _, b in pairs]))
    return [bool(d < SAME_TO_THE_EYE) for d in off]
