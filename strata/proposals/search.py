"""The best choice of one candidate for every element: exact, by eliminating one element after another.

Costs are tables over one element or over two that lie side by side. To
eliminate an element is to keep, for every choice of those it touches, its own
best choice (U. Bertele and F. Brioschi, "Nonserial Dynamic Programming",
1972; R. Dechter, "Bucket elimination", Artificial Intelligence 113, 1999).
Elements on a panel touch few others, so the tables stay small.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

Table = NDArray[np.floating]
MOST_CELLS = 3_000_000
# of one table; domains are cut to fit


def order_of(count: int, touching: Sequence[tuple[int, int]]) -> tuple[list[int], int]:
    """An order of elimination by fewest neighbours, and the largest number of neighbours met."""
    near: dict[int, set[int]] = {i: set() for i in range(count)}
    for a, b in touching:
        near[a].add(b)
        near[b].add(a)
    order, width = [], 0
    while near:
        at = min(near, key=lambda i: (len(near[i]), i))
        order.append(at)
        width = max(width, len(near[at]))
        for a in near[at]:
            near[a] |= near[at] - {a}
            near[a].discard(at)
        del near[at]
    return order, width


def room(width: int) -> int:
    """How many candidates each element may have so that no table grows past what fits."""
    return max(2, int(MOST_CELLS ** (1 / (width + 1))))


def best(own: Sequence[Table], pairs: Mapping[tuple[int, int], Table]) -> tuple[list[int], float]:
    """The choice for each element with the least total cost, and that cost.

    ``own``: costs (n_i,) of each element's candidates; ``pairs``: costs
    (n_a, n_b) of elements a < b. Exact.
    """
    order, _ = order_of(len(own), list(pairs))
    factors: list[tuple[tuple[int, ...], Table]] = [((i,), np.asarray(t, float)) for i, t in enumerate(own)]
    factors += [(key, np.asarray(t, float)) for key, t in pairs.items()]
    kept: list[tuple[int, tuple[int, ...], NDArray[np.intp]]] = []
    for at in order:
        mine = [f for f in factors if at in f[0]]
        factors = [f for f in factors if at not in f[0]]
        scope = tuple(sorted({v for names, _ in mine for v in names} - {at}))
        total = np.zeros([len(own[v]) for v in scope] + [len(own[at])])
        for names, table in mine:
            axes = [scope.index(v) if v != at else len(scope) for v in names]
            spread = np.moveaxis(
                table.reshape(table.shape + (1,) * (total.ndim - table.ndim)), range(len(axes)), axes
            )
            total = total + spread
        kept.append((at, scope, np.argmin(total, axis=-1)))
        factors.append((scope, total.min(axis=-1)))
    cost = float(sum(float(t) for _, t in factors))
    chosen = [0] * len(own)
    for at, scope, choice in reversed(kept):
        chosen[at] = int(choice[tuple(chosen[v] for v in scope)])
    return chosen, cost


def bettered(
    own: Sequence[Table], pairs: Mapping[tuple[int, int], Table], start: Sequence[int]
) -> tuple[list[int], float]:
    """A choice no element of which can be exchanged for a cheaper one while the others stay, from ``start``; its cost."""
    chosen = list(start)
    moved = True
    while moved:
        moved = False
        for at, costs in enumerate(own):
            total = costs.astype(float)
            for (a, b), table in pairs.items():
                if at in (a, b):
                    total += table[:, chosen[b]] if at == a else table[chosen[a], :]
            least = int(np.argmin(total))
            if total[least] < total[chosen[at]] - 1e-9:
                chosen[at], moved = least, True
    together = sum(float(table[chosen[a], chosen[b]]) for (a, b), table in pairs.items())
    return chosen, together + sum(float(c[n]) for c, n in zip(own, chosen, strict=True))
