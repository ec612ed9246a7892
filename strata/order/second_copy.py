"""A sheet that a maker owns twice: what is clean of the one is laid on while the other carries its ink."""

from __future__ import annotations

from dataclasses import replace

from strata.order.instance import Instance

SECOND = 1_000_000
# added to a sheet's number for its second copy


def copied(sheet: int, copy: int) -> int:
    """The number by which a copy (1 or 2) of a sheet goes among things done."""
    return sheet + SECOND * (copy - 1)


def told_apart(number: int) -> tuple[int, int]:
    """(sheet, which copy of it) of a number among things done; the reverse of ``copied``."""
    return number % SECOND, number // SECOND + 1


def never_dirty(instance: Instance) -> Instance:
    """The work as if a sheet that is owned twice never wanted cleaning: no way of using its copies is shorter.

    What must not meet is still not done in one seating.
    """
    twice = {t.key for t in instance.tasks if t.sheet in instance.twice}
    clashes = {key: frozenset[str]() if key in twice else met for key, met in instance.clashes.items()}
    met = {key: instance.clashes[key] | instance.apart.get(key, frozenset()) for key in twice}
    return replace(instance, clashes=clashes, apart={**instance.apart, **met}, twice=frozenset())
