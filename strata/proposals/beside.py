"""Which elements lie side by side on a panel, and which lies over which."""

from __future__ import annotations

from functools import lru_cache

from strata.panel.laid import FREE, Laid
from strata.proposals.costs import COUNTS
from strata.sheets import measures


@lru_cache(maxsize=16)
def beside(laid: Laid) -> tuple[dict[frozenset[str], float], dict[tuple[str, str], float]]:
    """Neighbours with the mm between them, and (under, over) with the share of the upper one."""
    near = {k: d for k, d in measures.elements_apart(laid).items() if d < measures.SIDE_BY_SIDE}
    over: dict[tuple[str, str], float] = {}
    groups = list(laid.groups.values())
    for upper in groups:
        for lower in groups:
            if lower.sheet >= upper.sheet or lower.element == upper.element or lower.sheet == FREE:
                continue
            if laid.origin(lower.sheet).surface != laid.origin(upper.sheet).surface:
                continue
            if frozenset((lower.element, upper.element)) not in near:
                continue
            share = upper.shape.intersection(lower.shape).area / max(upper.area, 1e-9)
            if share >= COUNTS:
                pair = (lower.element, upper.element)
                over[pair] = max(share, over.get(pair, 0.0))
    return near, over
