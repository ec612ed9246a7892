"""Openings drawn roughly by hand on photographs of every condition, and fitted to their edges. Run by
``make conditions DRAWN=1``; prints the table of docs/decisions/0036."""

from __future__ import annotations

import statistics
import sys
from concurrent.futures import ProcessPoolExecutor
from typing import Any

import conditions
import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from strata.camera import Shot
from strata.camera.shot import Lens as Way
from strata.errors import BadValue
from strata.formats.photo_set import as_shown
from strata.tracing.fitted import fitted
from strata.tracing.photo import open_photo

LEAST, MISS = 2.0, 0.35
# mm2 of an opening that a hand goes around; mm by which it misses
Found = tuple[str, int, int, list[float], list[float]]


def rough(shape: Polygon, chance: np.random.Generator) -> Polygon:
    """A shape (mm) as a hand goes around it: a few points, each a little beside it."""
    points = shapely.get_coordinates(shapely.simplify(shape.exterior, 0.4))[:-1]
    return Polygon(points + chance.normal(0, MISS, points.shape))


def one(name: str) -> Found:
    """(condition, how many were drawn, how many refused, likeness before, after) over both sheets."""
    koi, chance = conditions._koi(), np.random.default_rng(3)
    refused, before, after, drawn = 0, [], [], 0
    for number in conditions.SHEETS.values():
        shapes = [o.polygon for o in koi.sheet(number).openings]
        data = conditions.picture(conditions.EVERY[name], shapes, (koi.width, koi.height), number)
        whole = open_photo(data)
        shown = open_photo(as_shown(whole))
        values: dict[str, Any] = {**conditions.USUAL, "seed": number, **conditions.EVERY[name][0]}
        way, scale = Way(Shot(**values), koi.width, koi.height), shown.shape[1] / whole.shape[1]

        def seen(points: NDArray[np.float64], way: Way = way, scale: float = scale) -> NDArray[np.float64]:
            return np.asarray(way.project(points) * scale)

        for shape in shapes:
            outline = rough(shape, chance)
            if shape.area < LEAST or shape.interiors or not outline.is_valid:
                continue
            truth, by_hand = (shapely.transform(s, seen) for s in (shape, outline))
            drawn += 1
            try:
                found = Polygon(fitted(shown, shapely.get_coordinates(by_hand.exterior)[:-1]))
            except BadValue:
                refused += 1
                continue
            before.append(_alike(by_hand, truth))
            after.append(_alike(shapely.make_valid(found), truth))
    return name, drawn, refused, before, after


def _alike(one: shapely.Geometry, other: shapely.Geometry) -> float:
    return float(shapely.area(one & other) / shapely.area(one | other))


def main() -> None:
    """The table."""
    print(
        "| condition | drawn | no edge seen | likeness: drawn | fitted | a tenth below |\n|---|---|---|---|---|---|"
    )
    every: list[Found] = []
    with ProcessPoolExecutor(2) as pool:
        for found in pool.map(one, sys.argv[1:] or conditions.EVERY):
            name, drawn, refused, before, after = found
            every.append(found)
            if after:
                low = float(np.percentile(after, 10))
                print(f"| {name} | {drawn} | {refused} | {statistics.median(before):.3f} | {statistics.median(after):.3f} | {low:.3f} |", flush=True)  # fmt: skip
            else:
                print(f"| {name} | {drawn} | {refused} | | | |", flush=True)
    both = [
        list(v) for v in zip(*((b, a) for f in every for b, a in zip(f[3], f[4], strict=True)), strict=True)
    ]
    worse = sum(a < b for b, a in zip(*both, strict=True))
    print(f"all: drawn {sum(f[1] for f in every)}, no edge {sum(f[2] for f in every)}, likeness {statistics.median(both[0]):.3f} to {statistics.median(both[1]):.3f}, {worse} less alike than drawn")  # fmt: skip


if __name__ == "__main__":
    main()
