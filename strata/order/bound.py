"""What no order of the same work can beat: a floor under its minutes, never a guess at them."""

from __future__ import annotations

from strata.order import times
from strata.order.instance import Instance


def least_minutes(work: Instance) -> float:
    """Minutes that one pair of hands needs at the least, the last drying included.

    Every pass is done, every sheet in use is seated and lifted once on every
    card; after the last ink only that sheet's lift may run beside its drying,
    then the card is sealed and its pieces glued. Masks, washes, care of
    brushes and all drying but the last are taken to cost nothing.
    """
    if not work.tasks:
        return 0.0
    seatings = work.cards * len({t.sheet for t in work.tasks})
    inking = work.cards * sum(t.minutes for t in work.tasks)
    hands = inking + seatings * work.place_minutes + (seatings - 1) * times.LIFT
    seal = times.SEAL + times.SEAL_DRY if any(t.seal for t in work.tasks) else 0.0
    tail = min(t.dry for t in work.tasks) + seal + times.GLUE * len(work.pieces)
    return hands + max(tail, times.LIFT)
