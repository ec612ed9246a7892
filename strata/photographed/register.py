"""Where a panel lies in a photograph: its corners, which way up, then by its own outlines to a tenth of a millimetre.

The outlines are brought together by compositional Gauss-Newton on what is
left of both pictures when slow changes of light are taken away (S. Baker and
I. Matthews, "Lucas-Kanade 20 years on", IJCV 56, 2004), for a plane seen by a
lens (swatchcard.marks.Placed). Outlines that are not where they should be (a
sheet that slipped, an inked edge that strayed) lose their say.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from strata.errors import BadFile
from strata.photographed.edges import cut_edges, sampled
from strata.photographed.regions import Predicted
from strata.photographed.spots import like_spots
from strata.picture.raster import Floats32
from strata.swatchcard.marks import NOT_SHARP, Placed, fitted, refuse_unseen
from strata.tracing.corners import find_corners

Floats = NDArray[np.float64]
FLOOR = 0.012
# linear; added before the logarithm, so that the noise of darks does not count
SLOW = 2.5
# mm over which a change is slow
NESTED = 3
# how deep a panel may lie: on a card, on a sheet of paper, on a table
INSET = 0.012
# share of a quad's sides left out where something is looked for within it
ALIKE, SURE = 0.5, 0.6
# correlation of outlines below which it is another card, and above which one way up need not be tried further
SOFTEST = 0.4
# mm (standard deviation) over which a sharp outline may be drawn out
BENT = 0.7
ASTRAY = 0.27
# mm by which parts of it may lie elsewhere than plane and lens say (90th percentile, and median)
CUT_OFF = 0.006
# of the picture's width and height by which a corner may lie outside
EDGES = 0.1
# what the cut edges say, as a share of what the outlines say: they may be trimmed a little off
COARSE, FINE = 1.5, 4.0
# px a mm at which outlines are brought together, one after the other


@dataclass(frozen=True)
class Registered:
    """How the panel lies; the correlation of outlines; mm that its parts lie off (median); mm its edges are soft."""

    placed: Placed
    alike: float
    off: float
    soft: float


def register(
    linear: Floats32, rgb: NDArray[np.uint8], own: Predicted, corners: Floats | None = None
) -> Registered:
    """Find the panel in a picture: ``rgb`` (h, w, 3) bytes and ``linear`` the same as light.

    ``corners`` (4, 2) px, clockwise from where the panel's top left is, where
    somebody has shown them. Raises BadFile whose ``field`` is the reason:
    no_panel, wrong_card, not_sharp, not_flat, and what ``refuse_unseen`` says.
    """
    height, width = rgb.shape[:2]
    first = _best_way_up(linear, own, _ways(rgb, own, corners), (width, height))
    if first is None:
        refuse_unseen(rgb)
        raise BadFile(
            "No card stands out from the table. Lay it on something plain of another colour, all four corners in the picture.",
            "no_panel",
        )
    at = first
    for per_mm in (COARSE, FINE):
        at = _brought_together(linear, own, at, per_mm, edges=True)
    return _judged(linear, rgb, own, at)


def _ways(rgb: NDArray[np.uint8], own: Predicted, corners: Floats | None) -> Iterator[Floats]:
    """Four corners each, in the order in which they are likely: by like spots, then every turn of what stands out."""
    if corners is not None:
        yield np.asarray(corners, float)
        return
    by_spots = like_spots(rgb, own)
    if by_spots is not None:
        yield by_spots
    for quad in _quads(rgb):
        for turn in range(4):
            yield np.roll(quad, -turn, axis=0)


def _quads(rgb: NDArray[np.uint8]) -> Iterator[Floats]:
    """What stands out from the table, then what stands out from that."""
    import cv2

    back = np.eye(3)
    picture = rgb
    for _ in range(NESTED):
        found = find_corners(picture, windowed=False)
        if found.whole:
            return
        flat = np.column_stack([found.corners, np.ones(4)]) @ back.T
        quad = flat[:, :2] / flat[:, 2:]
        yield quad
        wide = float(np.linalg.norm(quad[1] - quad[0]) + np.linalg.norm(quad[2] - quad[3])) / 2
        high = float(np.linalg.norm(quad[3] - quad[0]) + np.linalg.norm(quad[2] - quad[1])) / 2
        scale = min(1.0, 1200 / max(wide, high))
        size = max(60, round(wide * scale)), max(60, round(high * scale))
        unit = np.array([(0, 0), (1, 0), (1, 1), (0, 1)], np.float32)
        whole = cv2.getPerspectiveTransform(unit, quad.astype(np.float32))
        # a little within its edge: what lies around it is no part of it
        inner = cv2.perspectiveTransform((INSET + (1 - 2 * INSET) * unit)[None].astype(np.float32), whole)[0]
        back = cv2.getPerspectiveTransform(unit * np.array(size, np.float32), inner)
        picture = np.asarray(
            cv2.warpPerspective(rgb, back, size, flags=cv2.INTER_AREA | cv2.WARP_INVERSE_MAP), np.uint8
        )


def _best_way_up(
    linear: Floats32, own: Predicted, ways: Iterator[Floats], size: tuple[int, int]
) -> Placed | None:
    """How it lies by the four corners under which panel and photograph are most alike."""
    best, most = None, -1.0
    for quad in ways:
        # four points tell a plane and no lens
        at = replace(fitted(own.corners, quad, *size), k1=0.0)
        nearer = _brought_together(linear, own, at, COARSE, rounds=4)
        score = _alike(_seen(linear, own, nearer, COARSE), _target(own, COARSE))
        if score > most:
            best, most = at, score
        if score > SURE:
            break
    return best


def _grid(own: Predicted, per_mm: float) -> Floats:
    return own.grid(max(8, round(own.height * per_mm)), max(8, round(own.width * per_mm)))


def _blurred(linear: Floats32, at: Placed, own: Predicted, per_mm: float) -> Floats32:
    """The photograph blurred so that ``per_mm`` samples a mm miss nothing: what lies between them counts."""
    import cv2

    sigma = 0.4 * at.per_mm(own.width / 2, own.height / 2) / per_mm
    return np.asarray(cv2.GaussianBlur(linear, (0, 0), sigma) if sigma > 0.6 else linear, np.float32)


def _seen(linear: Floats32, own: Predicted, at: Placed, per_mm: float) -> Floats32:
    """The features of the photograph on the panel's grid."""
    return _features(sampled(_blurred(linear, at, own, per_mm), at, _grid(own, per_mm)), per_mm)


def _features(light: Floats32, per_mm: float) -> Floats32:
    """What a change of light, exposure or white balance leaves alone."""
    import cv2

    tone = np.log(np.maximum(light, 0) + np.float32(FLOOR))
    return np.asarray(tone - cv2.GaussianBlur(tone, (0, 0), SLOW * per_mm), np.float32)


def _target(own: Predicted, per_mm: float) -> Floats32:
    import cv2

    points = _grid(own, per_mm)
    size = (points.shape[1], points.shape[0])
    return _features(np.asarray(cv2.resize(own.linear, size, interpolation=cv2.INTER_AREA)), per_mm)


def _alike(found: Floats32, wanted: Floats32) -> float:
    a, b = np.clip(found, -1.5, 1.5).ravel(), np.clip(wanted, -1.5, 1.5).ravel()
    return float(a @ b / max(np.sqrt(float(a @ a) * float(b @ b)), 1e-9))


def _brought_together(
    linear: Floats32, own: Predicted, at: Placed, per_mm: float, rounds: int = 14, edges: bool = False
) -> Placed:
    """Gauss-Newton from where it seems to lie; each round a small bend of the panel's plane, and the lens fitted anew."""
    points = _grid(own, per_mm)
    wanted = _target(own, per_mm)
    blurred = _blurred(linear, at, own, per_mm)
    height, width = linear.shape[:2]
    bends = _bends(points, own)
    knots = points[:: max(1, points.shape[0] // 24), :: max(1, points.shape[1] // 24)].reshape(-1, 2)
    at_knots = _bends(knots[None], own)
    for _ in range(rounds):
        found = _features(sampled(blurred, at, points), per_mm)
        move = _step(found, wanted, bends, per_mm, _edge_terms(blurred, at, own) if edges else None)
        moved = knots + np.einsum("k,nkc->nc", move, at_knots[0])
        at = fitted(knots, at.project(moved), width, height)
        if float(np.abs(moved - knots).max()) < 0.01:
            break
    return at


def _bends(points: Floats, own: Predicted) -> Floats:
    """Small movements (rows, columns, 9, 2) that a plane seen by a lens can make, for points mm."""
    scale = max(own.width, own.height) / 2
    x = (points[..., 0] - own.width / 2) / scale
    y = (points[..., 1] - own.height / 2) / scale
    none = np.zeros_like(x)
    square = x * x + y * y
    pairs = [
        (np.ones_like(x), none), (none, np.ones_like(x)), (x, none), (none, x), (y, none), (none, y),
        (x * x, x * y), (x * y, y * y), (x * square, y * square),
    ]  # fmt: skip
    return np.stack([np.stack(p, axis=-1) for p in pairs], axis=-2)


def _edge_terms(linear: Floats32, at: Placed, own: Predicted) -> tuple[Floats, Floats] | None:
    """Rows (n, 9) and mm (n,): how the cut edges of the panel would have it, which lie where no outline may be."""
    spots, away, off = cut_edges(linear, at, own)
    if not len(off):
        return None
    bends = _bends(spots[None], own)[0]
    return np.einsum("nkc,nc->nk", bends, away), off


def _step(
    found: Floats32, wanted: Floats32, bends: Floats, per_mm: float, edges: tuple[Floats, Floats] | None
) -> Floats:
    """The movement (9,) in mm along the bends that brings the photograph nearer."""
    gy, gx = (np.asarray(g, np.float32) for g in np.gradient(found, axis=(0, 1)))
    off = (wanted - found).astype(float)
    rows = gx[..., None] * per_mm * bends[:, :, None, :, 0] + gy[..., None] * per_mm * bends[:, :, None, :, 1]
    strong = (np.abs(gx) + np.abs(gy)) > 0.04
    rows, off = rows[strong], off[strong]
    if len(off) < 60:
        return np.zeros(bends.shape[2])
    limit = 1.4826 * float(np.median(np.abs(off))) * 3 + 0.03
    weights = np.clip(1 - (off / limit) ** 2, 0, 1)
    a = rows * weights[:, None]
    normal, right = a.T @ rows, a.T @ off
    if edges is not None:
        share = EDGES * float(np.trace(normal)) / max(float((edges[0] ** 2).sum()), 1e-9)
        normal, right = normal + share * edges[0].T @ edges[0], right + share * edges[0].T @ edges[1]
    normal += 1e-5 * float(np.trace(normal)) * np.eye(rows.shape[1])
    found_step = np.linalg.solve(normal, right)
    return np.asarray(np.clip(found_step, -2.0, 2.0))


def _judged(linear: Floats32, rgb: NDArray[np.uint8], own: Predicted, at: Placed) -> Registered:
    size = np.array(rgb.shape[1::-1], float)
    corners = at.project(own.corners)
    if (corners < -CUT_OFF * size).any() or (corners > (1 + CUT_OFF) * size).any():
        raise BadFile(
            "Part of the card is outside the picture. Take all of it in, with a little of the table around it.",
            "not_whole",
        )
    found, wanted = _seen(linear, own, at, FINE), _target(own, FINE)
    soft = _softness(found, wanted)
    alike = _alike(found, _soft(wanted, soft))
    if alike < ALIKE:
        refuse_unseen(rgb)
        raise BadFile(
            "This does not look like the card that was planned here: its outlines are not where they should be. Another card, or one half made?",
            "wrong_card",
        )
    off = _left_over(found, _soft(wanted, soft))
    bent = float(np.percentile(off, 90)) > BENT or float(np.median(off)) > ASTRAY
    # what lies elsewhere in parts looks a little soft as a whole; what is very soft tells nothing of where it lies
    if soft > (2 * SOFTEST if bent else SOFTEST):
        raise BadFile(NOT_SHARP, "not_sharp")
    if bent:
        raise BadFile(
            "The card is not lying flat. Weigh its edges down, or put it under glass, and photograph it again.",
            "not_flat",
        )
    return Registered(at, alike, float(np.median(off)), soft)


def _soft(wanted: Floats32, soft: float) -> Floats32:
    import cv2

    return np.asarray(cv2.GaussianBlur(wanted, (0, 0), soft * FINE) if soft > 0.05 else wanted, np.float32)


def _softness(found: Floats32, wanted: Floats32) -> float:
    """mm by which what was predicted must be blurred to be most like the photograph."""
    tried = (0.05, 0.15, 0.3, 0.45, 0.6, 0.8, 1.0, 1.3, 1.7)
    scores = [_alike(found, _soft(wanted, s)) for s in tried]
    return tried[int(np.argmax(scores))]


def _left_over(found: Floats32, wanted: Floats32) -> Floats:
    """mm by which blocks of the panel still lie elsewhere: one step of each by itself, where it has outlines both ways."""
    side = round(12 * FINE)
    gy, gx = (np.asarray(g, np.float32) for g in np.gradient(wanted, axis=(0, 1)))
    off = []
    for top in range(0, found.shape[0] - side // 2, side):
        for left in range(0, found.shape[1] - side // 2, side):
            part = np.s_[top : top + side, left : left + side]
            a = np.stack([gx[part].ravel(), gy[part].ravel()], axis=1).astype(float)
            normal = a.T @ a
            low, high = np.linalg.eigvalsh(normal)
            if low < 0.5 or low < 0.03 * high:
                continue
            difference = (found[part] - wanted[part]).ravel().astype(float)
            off.append(float(np.hypot(*np.linalg.solve(normal, a.T @ difference))) / FINE)
    return np.asarray(off or [0.0])
