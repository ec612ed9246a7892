"""The colours of a picture of one's own: a photograph, a mat, a ribbon."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from strata.optics.colour import Lab, lab_of_rgb

WANTED = 6
SIDE = 96
# px along the longer side: enough for shares, and colours average over the grain
_TRIES = 3
NEAR = 9.0
# CIELAB distance under which two of the colours found are one


def colours_of(picture: NDArray[np.uint8], wanted: int = WANTED) -> list[tuple[Lab, float]]:
    """Up to ``wanted`` colours of an RGB picture (h, w, 3) with their shares, the largest first.

    k-means in CIELAB (Lloyd 1982) from a fixed seed: the same picture gives
    the same colours. They are as true as the picture's light.
    """
    from scipy.cluster.vq import kmeans2

    step = max(1, max(picture.shape[:2]) // SIDE)
    labs = lab_of_rgb(picture[::step, ::step].reshape(-1, 3))
    count = min(wanted, len(np.unique(labs.round(0), axis=0)))
    middles, which = kmeans2(labs, count, minit="++", seed=7, iter=20 * _TRIES)
    shares = np.bincount(which, minlength=count) / len(which)
    found: list[tuple[Lab, float]] = []
    for at in np.argsort(-shares, kind="stable"):
        near = next(
            (i for i, (lab, _) in enumerate(found) if np.linalg.norm(np.array(lab) - middles[at]) < NEAR),
            None,
        )
        if near is not None:
            found[near] = (found[near][0], found[near][1] + float(shares[at]))
        elif shares[at] > 0.01:
            lightness, a, b = (round(float(v), 2) for v in middles[at])
            found.append(((lightness, a, b), float(shares[at])))
    return sorted(found, key=lambda f: -f[1])
