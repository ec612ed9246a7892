"""How many sheets no layout can do without: a floor under every guillotine layout.

The most that one sheet can hold, by any worth given to the pieces, is found
by the recursion of Gilmore and Gomory ("Multistage cutting stock problems of
two and more dimensions", Operations Research 13, 1965); all the worth that is
wanted, divided by it, is a floor (Farley, "A note on bounding a class of
linear programming problems", Operations Research 38, 1990). On a grid, with
sizes rounded down, which only lets more fit: the floor stays one.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from itertools import product

import numpy as np

from strata.finish.knapsack import fill

GRIDS = (127, 80)
# units of 1/80 mm: a sixteenth of an inch and a millimetre, so that most sizes lose nothing
MOST_CELLS = 420
Wanted = tuple[int, int, int, bool]
# width, height, how many, whether it may be turned
ROUNDED = 1e-9


def fewest(wanted: Sequence[Wanted], sheet: tuple[int, int], more: Sequence[Sequence[float]] = ()) -> int:
    """Sheets needed at the least, lengths in units of 1/80 mm; 0 for nothing. ``more``: further worths to try."""
    if not wanted:
        return 0
    total = sum(w * h * n for w, h, n, _ in wanted)
    best = math.ceil(total / (sheet[0] * sheet[1]) - ROUNDED)
    for usual, worth in product(GRIDS, (*_worths(wanted), *more)):
        grid = max(usual, math.ceil(max(sheet) / MOST_CELLS))
        # what is smaller than the grid counts for nothing: the floor stays one
        own = [v if min(w, h) >= grid else 0.0 for v, (w, h, _, _) in zip(worth, wanted, strict=True)]
        most = most_worth(wanted, own, sheet, grid)
        if most > 0:
            whole = sum(v * n for v, (_, _, n, _) in zip(own, wanted, strict=True))
            best = max(best, math.ceil(whole / most - ROUNDED))
    return best


def _worths(wanted: Sequence[Wanted]) -> Iterator[list[float]]:
    """Worths to try: the area of each, and what grows slower than it (large pieces leave room that only small ones use)."""
    areas = [float(w * h) for w, h, _, _ in wanted]
    largest = max(areas)
    yield areas
    yield [a if a > largest / 4 else 0.0 for a in areas]
    yield [1.0 if a > largest / 2 else 0.0 for a in areas]


def most_worth(wanted: Sequence[Wanted], worth: Sequence[float], sheet: tuple[int, int], grid: int) -> float:
    """The most that one sheet holds of pieces of a worth, each as often as it fits; rounded in favour of more."""
    across, down = sheet[0] // grid, sheet[1] // grid
    found = np.zeros((across + 1, down + 1))
    for (w, h, _, turns), value in zip(wanted, worth, strict=True):
        for a, b in {(w // grid, h // grid), *([(h // grid, w // grid)] if turns else [])}:
            if value > 0 and a <= across and b <= down:
                found[a:, b:] = np.maximum(found[a:, b:], value)
    steps: list[int] = []
    for x in range(1, across + 1):
        row = np.maximum(found[x], found[x - 1])
        # cut down where one part holds more than any narrower one; the other part is the wider one
        for cut in steps:
            if 2 * cut > x:
                break
            np.maximum(row, found[cut] + found[x - cut], out=row)
        if not np.array_equal(row, found[x - 1]):
            # cut across: strips one above the other, each as high as what it holds needs it
            rises = np.nonzero(np.diff(row) > 0)[0] + 1
            fill(row, [(int(y), float(row[y])) for y in rises])
            steps.append(x)
        found[x] = row
    return float(found[across, down])
