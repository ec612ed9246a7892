"""Spots of the predicted panel met again in the photograph: roughly where it lies, whatever it lies on.

Scale-invariant spots (D. Lowe, IJCV 60, 2004) are matched both ways and agreed
on by random samples (M. Fischler and R. Bolles, CACM 24, 1981); OpenCV has both.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from strata.optics.colour import encode_srgb
from strata.photographed.regions import Predicted

Floats = NDArray[np.float64]
SIDE, MOST = 1500, 4000
# px of the longer side of the photograph in which spots are looked for, and how many
BETTER = 0.8
# how much nearer the best match must be than the second
LEAST, WITHIN = 14, 6.0
# matches that agree, and px within which they do


def like_spots(rgb: NDArray[np.uint8], own: Predicted) -> Floats | None:
    """Corners (4, 2) px of the panel, clockwise from its top left; None where too few spots are met again."""
    import cv2

    scale = min(1.0, SIDE / max(rgb.shape[:2]))
    small = cv2.resize(rgb, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA) if scale < 1 else rgb
    shown = np.rint(255 * encode_srgb(np.clip(own.linear, 0, 1))).astype(np.uint8)
    # the package's own types forget it
    detector = cv2.SIFT_create(MOST, contrastThreshold=0.02)  # type: ignore[attr-defined]
    wanted, told = detector.detectAndCompute(_grey(shown), None)
    found, said = detector.detectAndCompute(_grey(small), None)
    if told is None or said is None or len(told) < LEAST or len(said) < LEAST:
        return None
    pairs = cv2.BFMatcher().knnMatch(told, said, k=2)
    good = [p[0] for p in pairs if len(p) == 2 and p[0].distance < BETTER * p[1].distance]
    if len(good) < LEAST:
        return None
    a = np.array([wanted[m.queryIdx].pt for m in good]) + 0.5
    b = (np.array([found[m.trainIdx].pt for m in good]) + 0.5) / scale
    cv2.setRNGSeed(7)
    homography, inliers = cv2.findHomography(a / own.per_mm, b, cv2.RANSAC, WITHIN / scale)
    if homography is None or int(inliers.sum()) < LEAST:
        return None
    return np.asarray(cv2.perspectiveTransform(own.corners[None], homography)[0], float)


def _grey(rgb: NDArray[np.uint8]) -> NDArray[np.uint8]:
    """Evened out, so that dark cards have spots as well."""
    import cv2

    return np.asarray(cv2.createCLAHE(2.0, (8, 8)).apply(cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY)), np.uint8)
