"""Sheets of stock for batches drawn at random: how far over the floor, how long; and a plan on paper."""

from __future__ import annotations

import random
import statistics
import time
from collections import Counter


def figures() -> None:
    """Eighty batches as people make them, on letter, A4 and 12 x 12 in."""
    from strata.finish.lay import laid
    from tests.strata.test_finish import some_batch

    rng, over = random.Random(80), Counter[int]()
    times, few = [], 0
    for _ in range(80):
        sizes, sheet = some_batch(rng)
        if not sizes:
            continue
        began = time.perf_counter()
        found = laid(sizes, sheet)
        times.append(time.perf_counter() - began)
        over[found.new - found.fewest] += 1
        few += found.fewest <= 6 and found.new > found.fewest + 1
    spread = ", ".join(f"{n} over: {count}" for n, count in sorted(over.items()))
    print(
        f"sheets of stock            {spread}; over by more than one up to six sheets: {few} (bar 0); "
        f"median {1000 * statistics.median(times):.0f} ms, most {max(times):.1f} s (bar 2 s for 100 pieces)"
    )
