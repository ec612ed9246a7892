"""The most worth on every length up to one, of items taken as often as they fit (the unbounded knapsack)."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

Line = NDArray[np.float64]


def fill(line: Line, items: Iterable[tuple[int, float]]) -> None:
    """Raises ``line`` (worth by length) in place to what it can be with these items (length, worth) as well.

    Each item once, then twice as many at once, and so on: every number of it
    in as many strokes as that has binary digits.
    """
    for size, worth in items:
        step, value = size, worth
        while step < len(line):
            np.maximum(line[step:], line[:-step] + value, out=line[step:])
            step, value = 2 * step, 2 * value
