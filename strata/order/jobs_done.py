"""Other work of a plan as its checker goes through it: what comes first, what waits for dry cards, what is left."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from typing import Any

from strata.order.demands import EASE

NEVER = float("inf")


class JobsDone:
    """``asked``: other work as in the facts; of each that is done, when it was over (minutes)."""

    def __init__(self, asked: Sequence[Mapping[str, Any]]) -> None:
        self.asked = {job["key"]: job for job in asked}
        self.over: dict[str, float] = {}

    def done(self, step: Mapping[str, Any], all_dry: Callable[[float], bool]) -> Iterator[str]:
        """What is wrong with doing a piece of it now; it is done."""
        key, at = step["job"], step["starts"]
        job = self.asked.get(key)
        if job is None or key in self.over:
            yield "other work that nobody asked for, or done twice"
        after = None if job is None else job.get("after")
        if after is not None and self.over.get(after, NEVER) > at + EASE:
            yield f"{after} comes first"
        if job is not None and job.get("last") and not all_dry(at):
            yield "a card is not dry"
        self.over[key] = at + step["minutes"]

    def wanted_before(self, key: str, at: float) -> Iterator[str]:
        """What a pass cannot do without and is not done when it is inked."""
        for job in self.asked.values():
            if job.get("before") == key and self.over.get(job["key"], NEVER) > at + EASE:
                yield f"{job['key']} comes first"

    @property
    def left(self) -> bool:
        """Whether any of it is left undone."""
        return set(self.over) != set(self.asked)
