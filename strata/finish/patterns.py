"""Whole sheets chosen together: patterns of cuts are found one by one by what they are worth, then as few as do.

Column generation (Gilmore and Gomory, Operations Research 13, 1965): the
linear program over the known patterns gives each piece a worth; the best
pattern by that worth is looked for among all in three turns of the sheet
(strips, columns of strips, pieces of columns), and added. What is chosen of
all patterns in whole numbers covers what is wanted; what is too much is left
out of the last sheets.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from strata.finish.floor import Wanted
from strata.finish.knapsack import Line, fill

ROUNDS = 24
MOST_CELLS = 3600
COARSE = 8
# units: a tenth of a millimetre, where sizes have no larger measure in common
MOST_PATTERNS = 900
MOST_CHOICES, MOST_NODES = 250, 400
ENOUGH = 1e-6

Spot = tuple[int, int, int, bool]
# which piece, its left upper corner (units), whether it is turned


@dataclass(frozen=True)
class Pattern:
    """Pieces on one sheet."""

    spots: tuple[Spot, ...]

    def counts(self, kinds: int) -> tuple[int, ...]:
        """How many of each."""
        found = [0] * kinds
        for i, _, _, _ in self.spots:
            found[i] += 1
        return tuple(found)


@dataclass(frozen=True)
class Chosen:
    """Patterns, one for each sheet; and what one sheet's worth of each piece is (the linear program's duals)."""

    sheets: tuple[Pattern, ...]
    worth: tuple[float, ...]


def chosen(wanted: Sequence[Wanted], sheet: tuple[int, int], known: Sequence[Pattern]) -> Chosen:
    """As few sheets as are found; ``known``: patterns to begin with, which cover all that is wanted."""
    from scipy.optimize import linprog

    kinds = len(wanted)
    demand = np.array([n for _, _, n, _ in wanted], dtype=float)
    pool = {p.counts(kinds): p for p in known[:MOST_PATTERNS]}
    worth = np.zeros(kinds)
    for _ in range(ROUNDS):
        columns = np.array(list(pool), dtype=float).T
        solved = linprog(np.ones(columns.shape[1]), A_ub=-columns, b_ub=-demand, method="highs-ds")
        worth = np.maximum(0.0, -np.asarray(solved.ineqlin.marginals))
        best = max((_best(wanted, worth, sheet, across) for across in (True, False)), key=lambda f: f[0])
        counts = best[1].counts(kinds)
        if best[0] <= 1 + ENOUGH or counts in pool:
            break
        pool[counts] = best[1]
    return Chosen(_in_whole(wanted, list(pool), list(pool.values()), worth), tuple(float(w) for w in worth))


def _in_whole(
    wanted: Sequence[Wanted], columns: Sequence[tuple[int, ...]], patterns: Sequence[Pattern], worth: Line
) -> tuple[Pattern, ...]:
    """The fewest patterns that cover what is wanted, less what is too much."""
    from scipy.optimize import LinearConstraint, milp

    # what is worth least by the linear program's own measure is hardly ever chosen
    order = sorted(range(len(columns)), key=lambda k: (1 - float(np.dot(worth, columns[k])), k))[
        :MOST_CHOICES
    ]
    table = np.array([columns[k] for k in order], dtype=float).T
    demand = np.array([n for _, _, n, _ in wanted], dtype=float)
    solved = milp(
        np.ones(len(order)),
        integrality=np.ones(len(order)),
        constraints=LinearConstraint(table, lb=demand),
        options={"node_limit": MOST_NODES},
    )
    if solved.x is None:
        return ()
    left = [n for _, _, n, _ in wanted]
    sheets = []
    taken = [patterns[k] for k, v in zip(order, solved.x, strict=True) for _ in range(round(v))]
    for pattern in taken:
        spots = []
        for spot in pattern.spots:
            if left[spot[0]]:
                left[spot[0]] -= 1
                spots.append(spot)
        if spots:
            sheets.append(Pattern(tuple(spots)))
    return tuple(sheets)


def _best(
    wanted: Sequence[Wanted], worth: Line, sheet: tuple[int, int], across: bool
) -> tuple[float, Pattern]:
    """The sheet that is worth most, its first cuts ``across`` it or down."""
    way = _Way.of(wanted, worth, sheet, across)
    width, height = way.sheet
    stacks = [(w, [p for p in way.pieces if p.width <= w]) for w in sorted({p.width for p in way.pieces})]
    columns = [_line([(p.height, p.worth) for p in own], height) for _, own in stacks]
    heights = sorted({p.height for p in way.pieces})
    in_row = [
        [(w, float(column[h])) for (w, _), column in zip(stacks, columns, strict=True)] for h in heights
    ]
    rows = [_line(items, width) for items in in_row]
    strips = [(h, float(row[width])) for h, row in zip(heights, rows, strict=True)]
    whole = _line(strips, height)
    spots: list[Spot] = []
    y = 0
    for r in _steps(whole, strips, height):
        x, high = 0, 0
        for c in _steps(rows[r], in_row[r], width):
            at, broad, own = y, 0, stacks[c][1]
            for p in _steps(columns[c], [(p.height, p.worth) for p in own], heights[r]):
                spots.append(way.spot(own[p], x, at))
                at, broad = at + own[p].exact[1], max(broad, own[p].exact[0])
            x, high = x + broad, max(high, at - y)
        y += high
    return float(whole[height]), Pattern(tuple(spots))


@dataclass(frozen=True)
class _Piece:
    """A piece in cells, as it lies in the way; ``exact``: its width and height in units."""

    i: int
    width: int
    height: int
    worth: float
    turned: bool
    exact: tuple[int, int]


@dataclass(frozen=True)
class _Way:
    """Pieces and sheet in cells, turned so that the first cuts run across."""

    pieces: list[_Piece]
    sheet: tuple[int, int]
    across: bool

    @classmethod
    def of(cls, wanted: Sequence[Wanted], worth: Line, sheet: tuple[int, int], across: bool) -> _Way:
        sides = [s for w, h, _, _ in wanted for s in (w, h)]
        cell = math.gcd(*sides, *sheet)
        if max(sheet) // cell > MOST_CELLS:
            cell = COARSE
        size = (sheet[0] // cell, sheet[1] // cell) if across else (sheet[1] // cell, sheet[0] // cell)
        pieces = []
        for i, (w, h, _, turns) in enumerate(wanted):
            for turned in (False, True) if turns and w != h else (False,):
                a, b = (h, w) if turned else (w, h)
                a, b = (a, b) if across else (b, a)
                wide, high = math.ceil(a / cell), math.ceil(b / cell)
                if worth[i] > 0 and wide <= size[0] and high <= size[1]:
                    pieces.append(_Piece(i, wide, high, float(worth[i]), turned, (a, b)))
        return cls(pieces, size, across)

    def spot(self, piece: _Piece, x: int, y: int) -> Spot:
        a, b = (x, y) if self.across else (y, x)
        return piece.i, a, b, piece.turned


def _line(items: Sequence[tuple[int, float]], length: int) -> Line:
    """The most worth on every length up to one, of items as often as they fit."""
    best: dict[int, float] = {}
    for size, value in items:
        if value > 0:
            best[size] = max(best.get(size, 0.0), value)
    found = np.zeros(length + 1)
    fill(found, sorted(best.items()))
    return np.maximum.accumulate(found)


def _steps(line: Line, items: Sequence[tuple[int, float]], length: int) -> list[int]:
    """Which of the items make up the worth of a length, by their places; one after another."""
    found = []
    at = length
    while line[at] > ENOUGH:
        for n, (size, value) in enumerate(items):
            if value > 0 and size <= at and line[at - size] + value >= line[at] - ENOUGH / 2:
                found.append(n)
                at -= size
                break
        else:
            at -= 1
    return found
