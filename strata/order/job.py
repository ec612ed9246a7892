"""A piece of other work: something to cut, fold, print or clean beside the inking."""

from __future__ import annotations

from dataclasses import dataclass

from strata.errors import BadValue, finite

MOST_JOBS = 200
MOST_MINUTES = 120.0


@dataclass(frozen=True)
class Job:
    """One thing to do once, minutes without a break; ``before``: the pass that it must be done for, if any."""

    key: str
    name: str
    minutes: float
    before: str | None = None

    def __post_init__(self) -> None:
        if not self.key or not self.name or max(len(self.key), len(self.name)) > 120:
            raise BadValue("Other work needs a name of at most 120 letters.", "jobs")
        finite(self.minutes, "minutes", 0.1, MOST_MINUTES)
