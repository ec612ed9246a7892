"""Rules and pins that contradict one another: the shortest chain that shows it."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable, Mapping, Sequence
from graphlib import CycleError, TopologicalSorter

from strata.errors import BadValue
from strata.order.precedence import Rule


def refuse_circles(precedences: Sequence[Rule], called: Callable[[str], str]) -> None:
    """Raise BadValue naming the shortest chain of rules that contradicts itself, if there is one.

    ``called``: what a pass is called in a sentence, by its key.
    """
    after: dict[str, list[Rule]] = {}
    needs: dict[str, set[str]] = {}
    for rule in precedences:
        after.setdefault(rule.before, []).append(rule)
        needs.setdefault(rule.after, set()).add(rule.before)
    try:
        TopologicalSorter(needs).prepare()
    except CycleError:
        chains = (_chain_back(after, start) for start in after)
        raise BadValue(_said(min((c for c in chains if c), key=len), called), "pins") from None


def possible(precedences: Sequence[Rule], pins: Sequence[Rule]) -> list[Rule]:
    """The pins that can be kept together with the rules, the earlier ones first."""
    needs: dict[str, set[str]] = {}
    for rule in precedences:
        needs.setdefault(rule.after, set()).add(rule.before)
    kept: list[Rule] = []
    for pin in pins:
        tried = {k: set(v) for k, v in needs.items()}
        tried.setdefault(pin.after, set()).add(pin.before)
        try:
            TopologicalSorter(tried).prepare()
        except CycleError:
            continue
        needs, kept = tried, [*kept, pin]
    return kept


def _chain_back(after: Mapping[str, Sequence[Rule]], start: str) -> tuple[Rule, ...]:
    """The shortest chain of rules from a pass to itself, empty where there is none."""
    reached: dict[str, tuple[Rule, ...]] = {start: ()}
    queue = deque([start])
    while queue:
        here = queue.popleft()
        for rule in after.get(here, ()):
            if rule.after == start:
                return (*reached[here], rule)
            if rule.after not in reached:
                reached[rule.after] = (*reached[here], rule)
                queue.append(rule.after)
    return ()


def _said(chain: Sequence[Rule], called: Callable[[str], str]) -> str:
    steps = [f"{called(r.before)} must come before {called(r.after)} ({r.reason.rstrip('.')})" for r in chain]
    return f"This order is impossible: {'; and '.join(steps)}."
