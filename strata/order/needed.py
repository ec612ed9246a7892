"""What no order can do without: seatings, washes and masks of each sheet, and the minutes that they cost."""

from __future__ import annotations

from collections.abc import Sequence

import networkx as nx

from strata.order.ticks import Work


def together(work: Work, i: int, j: int) -> bool:
    """Whether two passes can be done behind one mask."""
    return work.element[i] not in work.needs[j] and work.element[j] not in work.needs[i]


def parted(work: Work, j: int, i: int) -> bool:
    """Whether a sheet must be taken off between two of its passes, j before i: to be washed, for another sheet, or as is wished."""
    if work.split[i] >> j & 1:
        return True
    return any(
        work.below[i] >> k & 1 and work.below[k] >> j & 1 and work.sheet[k] != work.sheet[i]
        for k in range(work.count)
    )


def depths(work: Work, own: Sequence[int]) -> tuple[dict[int, int], dict[int, int]]:
    """For each pass of a sheet, its earliest seating counted from the first, and from the last."""
    ordered = sorted(own, key=lambda i: work.below[i].bit_count())
    earlier = {i: [j for j in own if work.below[i] >> j & 1] for i in own}
    apart = {(j, i): parted(work, j, i) for i in own for j in earlier[i]}
    first: dict[int, int] = {}
    last: dict[int, int] = {}
    for i in ordered:
        first[i] = max((first[j] + apart[j, i] for j in earlier[i]), default=1)
    for j in reversed(ordered):
        last[j] = max((last[i] + apart[j, i] for i in own if j in earlier[i]), default=1)
    return first, last


def unlike_masks(work: Work, own: Sequence[int]) -> list[int]:
    """The most passes of a sheet no two of which can go behind one mask: so many must be laid at the least."""
    needy = [i for i in own if work.needs[i]]
    graph: nx.Graph[int] = nx.Graph()
    graph.add_nodes_from(needy)
    graph.add_edges_from((i, j) for i in needy for j in needy if i < j and not together(work, i, j))
    clique, _ = nx.max_weight_clique(graph, weight=None)
    return sorted(clique)


def least_ticks(work: Work) -> int:
    """Ticks that one pair of hands needs at the least for all cards, whatever the order; the last drying included.

    Every pass is done, every sheet seated as often as its work needs it, every
    mask laid that it cannot do without; where masks stay from card to card,
    once for all cards, and a card goes under the next one by being seated
    again or by changing the mask, whichever is quicker.
    """
    if not work.count:
        return 0
    minutes, total = work.minutes, 0
    seat = minutes.place + minutes.lift
    cover = minutes.mask + minutes.unmask
    for make, own in work.of_make.items():
        cards = work.instance.cards.count(make)
        total += cards * sum(work.length[i] for i in own)
        for sheet in {work.sheet[i] for i in own}:
            here = [i for i in own if work.sheet[i] == sheet]
            seatings = max(depths(work, here)[0].values())
            masks = len(unlike_masks(work, here))
            total += cards * seatings * seat
            if work.instance.rules.masks_stay:
                total += cards * max(0, masks - seatings) * min(seat, cover)
            else:
                total += cards * masks * cover
        if work.instance.rules.hands == 1:
            total += cards * ((make in work.sealed) * minutes.seal)
            total += cards * minutes.glue * sum(p.make == make for p in work.instance.pieces)
    if work.instance.rules.masks_stay:
        sheets = set(work.sheet)
        total += cover * sum(
            len(unlike_masks(work, [i for i in range(work.count) if work.sheet[i] == s])) for s in sheets
        )
    return total + _last_drying(work)


def _last_drying(work: Work) -> int:
    """Ticks after the last inking in which nothing is left to do that was not counted yet."""
    minutes, rules = work.minutes, work.instance.rules
    if len(work.instance.cards) > 1 and (work.sealed or work.instance.pieces):
        return 0  # other cards are finished meanwhile
    # a mask off, the sheet lifted
    beside = minutes.lift + (minutes.unmask if any(work.needs) else 0)
    own = zip(work.dry, work.heated, strict=True)
    dry = [min(d, h) if rules.heat and h is not None else d for d, h in own]
    return max(0, min(dry) - beside) + bool(work.sealed) * minutes.seal_dry
