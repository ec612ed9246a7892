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

import numpy as np

GRIDS = (254, 200)
# units of 1/80 mm: an eighth of an inch and 2.5 mm, so that most sizes lose nothing
FINE = (127, 80)
# a sixteenth of an inch and a millimetre, where one worth is tried only
MOST_CELLS = 300
Wanted = tuple[int, int, int, bool]
# width, height, how many, whether it may be turned
ROUNDED = 1e-9


def fewest(wanted: Sequence[Wanted], sheet: tuple[int, int], more: Sequence[Sequence[float]] = ()) -> int:
    """Sheets needed at the least, lengths in units of 1/80 mm; 0 for nothing. ``more``: further worths to try."""
    if not wanted:
        return 0
    total = sum(w * h * n for w, h, n, _ in wanted)
    best = math.ceil(total / (sheet[0] * sheet[1]) - ROUNDED)
    tried = [(grid, worth) for grid in GRIDS for worth in _worths(wanted)]
    tried += [(grid, list(worth)) for grid in FINE for worth in more]
    for usual, worth in tried:
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
    for x in range(1, across + 1):
        if x > 1:
            half = x // 2
            cut = found[1 : half + 1] + found[x - 1 : x - half - 1 : -1]
            found[x] = np.maximum(found[x], cut.max(axis=0))
        row = found[x]
        for y in range(2, down + 1):
            half = y // 2
            best = (row[1 : half + 1] + row[y - 1 : y - half - 1 : -1]).max()
            row[y] = max(row[y], best)
    return float(found[across, down])
