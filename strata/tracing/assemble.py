"""Traced sheets to a set: register marks found by their coming back, sheets laid on one another by them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from strata.sheets.model import Seat
from strata.sheets.seats import moved

Floats = NDArray[np.float64]
NEAR = 2.0
# mm by which a mark may lie elsewhere on another sheet
ALIKE = 0.15
# share by which its area may differ
LARGEST_MARK = 60.0
# mm2
MOST_SHIFT = 4.0
# mm: sheets further apart than this are not laid by their marks


@dataclass(frozen=True)
class Laid:
    """Openings and marks of one sheet (mm) after laying it; ``shift`` mm by which it was moved."""

    openings: tuple[Polygon, ...]
    marks: tuple[Polygon, ...]
    shift: float


def find_marks(sheets: Sequence[Sequence[Polygon]]) -> list[list[int]]:
    """For each sheet the indices of its marks, in one order for all.

    A mark is a small opening of the first sheet that comes back at the same
    place, of the same size and shape, on every other one.
    """
    if len(sheets) < 2:
        return [[] for _ in sheets]
    found: list[list[int]] = [[] for _ in sheets]
    trees = [shapely.STRtree([shapely.centroid(p) for p in sheet]) for sheet in sheets]
    for i, shape in enumerate(sheets[0]):
        if shape.area > LARGEST_MARK:
            continue
        matches = [_match(shape, sheet, tree) for sheet, tree in zip(sheets[1:], trees[1:], strict=True)]
        if all(m is not None for m in matches):
            for k, index in enumerate([i, *matches]):
                found[k].append(int(index))  # type: ignore[arg-type]
    return found


def _match(shape: Polygon, sheet: Sequence[Polygon], tree: shapely.STRtree) -> int | None:
    near = tree.query(shapely.centroid(shape), predicate="dwithin", distance=NEAR).tolist()
    best, least = None, 0.45
    for j in near:
        other = sheet[j]
        if abs(other.area / shape.area - 1) > ALIKE:
            continue
        dx, dy = shape.centroid.x - other.centroid.x, shape.centroid.y - other.centroid.y
        laid = shapely.affinity.translate(other, dx, dy)
        off = 1 - laid.intersection(shape).area / laid.union(shape).area
        if off < least:
            best, least = int(j), float(off)
    return best


Way = tuple[int, bool]
# (degrees, mirrored)
AS_IT_LIES: Way = (0, False)


def ways_up(sheets: Sequence[Sequence[Polygon]], width: float, height: float) -> list[Way]:
    """How each sheet (mm) must be turned or turned over so that its marks lie on those of the others.

    ``AS_IT_LIES`` where the marks do not clearly ask for another way: where
    they are symmetric, or there are none.
    """
    found = [AS_IT_LIES, *(_way_onto(sheets[0], s, width, height) for s in sheets[1:])]
    for way in set(found[1:]) - {AS_IT_LIES}:
        # all ways but a quarter turn are their own way back: where most sheets lie alike, it is the first that does not
        if found[1:].count(way) * 2 > len(found) and way[0] in (0, 180):
            return [way, *(AS_IT_LIES if w == way else way if w == AS_IT_LIES else w for w in found[1:])]
    return found


def _way_onto(first: Sequence[Polygon], sheet: Sequence[Polygon], width: float, height: float) -> Way:
    small = [p for p in first if p.area <= LARGEST_MARK]
    turns = (0, 180, 90, 270) if abs(width - height) < NEAR else (0, 180)
    matched: dict[Way, int] = {}
    for mirrored in (False, True):
        for turn in turns:
            place = Seat(0, turn=float(turn), mirrored=mirrored)
            own = [moved(p, place, width, height) for p in sheet if p.area <= LARGEST_MARK * (1 + ALIKE)]
            tree = shapely.STRtree([shapely.centroid(p) for p in own])
            matched[turn, mirrored] = sum(_match(p, own, tree) is not None for p in small)
    best = max(matched, key=lambda way: (matched[way], way == AS_IT_LIES))
    clear = matched[best] >= 3 or (matched[best] == 2 and not matched[AS_IT_LIES])
    return best if clear and matched[best] > matched[AS_IT_LIES] else AS_IT_LIES


def assemble(sheets: Sequence[Sequence[Polygon]]) -> list[Laid]:
    """Every sheet laid on the first by its marks; without marks it keeps the place its corners gave it."""
    marks = find_marks(sheets)
    laid = []
    for index, sheet in enumerate(sheets):
        chosen = set(marks[index])
        openings, own = [p for i, p in enumerate(sheet) if i not in chosen], [sheet[i] for i in marks[index]]
        shift = 0.0
        if index and len(own) >= 2:
            matrix = _similarity(_centres(own), _centres([sheets[0][i] for i in marks[0]]))
            moved = np.abs(_apply(matrix, _centres(own)) - _centres(own)).max()
            if moved <= MOST_SHIFT:
                shift = float(moved)
                openings = [shapely.transform(p, lambda q, m=matrix: _apply(m, q)) for p in openings]
                own = [shapely.transform(p, lambda q, m=matrix: _apply(m, q)) for p in own]
        laid.append(Laid(tuple(openings), tuple(own), shift))
    return laid


def _centres(shapes: Sequence[Polygon]) -> Floats:
    return np.asarray(shapely.get_coordinates([shapely.centroid(s) for s in shapes]))


def _similarity(start: Floats, end: Floats) -> Floats:
    """(2, 3): turn, scale and shift that lay points on others best (Umeyama 1991)."""
    a, b = start.mean(axis=0), end.mean(axis=0)
    u, s, vt = np.linalg.svd((end - b).T @ (start - a))
    flip = np.diag([1.0, float(np.sign(np.linalg.det(u @ vt)))])
    turn = u @ flip @ vt
    scale = float((s * np.diag(flip)).sum() / max(1e-9, ((start - a) ** 2).sum()))
    linear = scale * turn
    return np.column_stack([linear, b - linear @ a])


def _apply(matrix: Floats, points: Floats) -> Floats:
    return np.asarray(points @ matrix[:, :2].T + matrix[:, 2])
