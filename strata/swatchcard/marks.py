"""Finding a card's marks in a photograph, and the way from millimetres on the card to pixels."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from strata.errors import BadFile
from strata.swatchcard.layout import CORNERS, MARKS_A_CARD, MOST_CARDS, CardLayout, code_of

Floats = NDArray[np.float64]
LOOKED_AT = (2600, 1300, 800)
# px of the longer side: marks are looked for on the picture made so small, one after another
DIM, BURNT, STEEP = 48.0, 0.45, 0.22
# grey 0..255 of the lights of a picture too dark, share of one burnt out, steepest step a pixel of a sharp one
TOO_DARK = "The picture is too dark to measure by. Go nearer to a window, or use a longer exposure."
OVEREXPOSED = "The picture is overexposed: the bare card has burnt out. Make it darker (press on the card and pull the brightness down), or step out of the sun."
NOT_SHARP = "The picture is not sharp. Hold still, or lean the camera on something."
FLAT = 0.9
# mm by which the marks may leave the plane and lens that fit them best (root mean square)


def dictionary() -> Any:
    """The marks' dictionary (OpenCV)."""
    import cv2

    return cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_5X5_1000)


@dataclass(frozen=True)
class Placed:
    """How a card lies in a picture: a homography from mm to ideal px, and the lens that bends them.

    ``k1`` is the first radial coefficient (Brown 1966) for radii in half
    diagonals about ``middle`` px; ``residual`` mm, root mean square.
    """

    homography: Floats
    k1: float
    middle: Floats
    half: float
    residual: float

    def project(self, points: Floats) -> Floats:
        """mm (n, 2) to px (n, 2)."""
        flat = np.column_stack([points, np.ones(len(points))]) @ self.homography.T
        ideal = (flat[:, :2] / flat[:, 2:]) - self.middle
        square = (ideal**2).sum(axis=1) / self.half**2
        return np.asarray(ideal * (1 + self.k1 * square)[:, None] + self.middle)

    def per_mm(self, x: float, y: float) -> float:
        """px a mm at a place (mm), across."""
        return float(np.linalg.norm(np.diff(self.project(np.array([(x, y), (x + 1, y)])), axis=0)))


def find_marks(rgb: NDArray[np.uint8]) -> dict[int, Floats]:
    """Corners (4, 2) px of every mark in a picture (h, w, 3), by number.

    A soft picture shows its marks better made smaller: what the finest look
    does not find, the coarser ones may.
    """
    import cv2

    grey = cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY)
    asked = cv2.aruco.DetectorParameters()
    asked.cornerRefinementMethod = cv2.aruco.CORNER_REFINE_SUBPIX
    asked.minMarkerPerimeterRate = 0.01
    # a soft mark is told by the middle of its modules, under wide windows: six found of six where the
    # defaults find two, at a blur of 3 px
    asked.adaptiveThreshWinSizeMax = 73
    asked.perspectiveRemovePixelPerCell, asked.perspectiveRemoveIgnoredMarginPerCell = 8, 0.33
    detector = cv2.aruco.ArucoDetector(dictionary(), asked)
    found: dict[int, Floats] = {}
    for side in LOOKED_AT:
        scale = min(1.0, side / max(grey.shape))
        small = (
            cv2.resize(grey, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA) if scale < 1 else grey
        )
        corners, numbers, _ = detector.detectMarkers(small)
        for n, c in zip([] if numbers is None else numbers.ravel(), corners, strict=True):
            # the centre of pixel (0, 0) is (0.5, 0.5) here
            found.setdefault(int(n), (np.asarray(c, float).reshape(4, 2) + 0.5) / scale)
        if len(found) >= MARKS_A_CARD:
            break
    return found


def refuse_unseen(rgb: NDArray[np.uint8]) -> None:
    """Why marks may not be seen: raises BadFile for a picture too dark, burnt out, or not sharp."""
    import cv2

    grey = cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY)
    scale = min(1.0, LOOKED_AT[1] / max(grey.shape))
    small = cv2.resize(grey, None, fx=scale, fy=scale, interpolation=cv2.INTER_AREA).astype(np.float32)
    low, high = (float(v) for v in np.percentile(small, (1, 98)))
    if high < DIM:
        raise BadFile(TOO_DARK, "too_dark")
    if float((small >= 253).mean()) > BURNT:
        raise BadFile(OVEREXPOSED, "overexposed")
    steep = float(np.percentile(np.abs(np.diff(small, axis=1)), 99.9)) / max(high - low, 1.0)
    if steep < STEEP:
        raise BadFile(NOT_SHARP, "not_sharp")


def placed(found: dict[int, Floats], layout: CardLayout, width: int, height: int) -> Placed:
    """Where the card lies; raises BadFile (its ``field`` is the reason) for another card, or one not whole or flat."""
    own = {n: c for n, c in found.items() if n in layout.marks}
    others = sorted({code_of(n)[0] for n in found if n not in layout.marks and n < MARKS_A_CARD * MOST_CARDS})
    if not own and not others:
        raise BadFile(
            "No swatch card can be seen: all four corner marks must be in the picture, sharp and unshaded.",
            "no_card",
        )
    if len(own) < 3 and others:
        said = " and ".join(str(o + 1) for o in others[:3])
        raise BadFile(
            f"This is card {said}, not card {layout.code + 1}. Photograph card {layout.code + 1}, or open card {others[0] + 1} instead.",
            "wrong_card",
        )
    missing = [CORNERS[i] for i in (0, 1, 4, 5) if MARKS_A_CARD * layout.code + i not in own]
    if missing:
        raise BadFile(
            f"The {' and '.join(missing)} mark cannot be seen. Take the whole card into the picture, with nothing lying on its marks.",
            "not_whole",
        )
    flat, seen = np.vstack([layout.marks[n] for n in own]), np.vstack(list(own.values()))
    fit = fitted(flat, seen, width, height)
    if fit.residual > FLAT:
        raise BadFile(
            "The card is not lying flat. Weigh its edges down, or put it under glass, and photograph it again.",
            "not_flat",
        )
    return fit


def fitted(flat: Floats, seen: Floats, width: int, height: int) -> Placed:
    """Plane and lens by least squares over points (n, 2) mm seen at (n, 2) px of a picture ``width`` x ``height``."""
    import cv2
    from scipy.optimize import minimize_scalar

    middle, half = np.array([width / 2, height / 2]), float(np.hypot(width, height) / 2)

    def attempt(k1: float) -> Placed:
        bent = seen - middle
        straight = bent.copy()
        for _ in range(6):
            straight = bent / (1 + k1 * (straight**2).sum(axis=1) / half**2)[:, None]
        homography, _ = cv2.findHomography(flat, straight + middle)
        fit = Placed(np.asarray(homography, float), k1, middle, half, 0.0)
        px = float(np.sqrt(((fit.project(flat) - seen) ** 2).sum(axis=1).mean()))
        scale = float(np.linalg.norm(seen[1] - seen[0]) / np.linalg.norm(flat[1] - flat[0]))
        return Placed(fit.homography, k1, middle, half, px / scale)

    best = minimize_scalar(lambda k: attempt(k).residual, bounds=(-0.15, 0.15), method="bounded")
    plain, bent = attempt(0.0), attempt(float(best.x))
    # a lens is believed only where it explains the marks clearly better than none
    return bent if bent.residual < 0.7 * plain.residual else plain
