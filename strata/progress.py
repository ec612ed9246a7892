"""How long work says how far it is: the share that is done (0..1), and what is being done, in words."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Protocol, TypeVar

Given = TypeVar("Given")
Found = TypeVar("Found")
STEPS = 25
# things of a row from one saying to the next
Progress = Callable[[float, str], None]


def quiet(share: float, doing: str) -> None:
    """For work that nobody follows."""
    del share, doing


class Each(Protocol):
    """A way to do a ``work`` on each of a row of things: its answers in their order; ``say`` is told the share done."""

    def __call__(
        self, work: Callable[[Given], Found], given: Sequence[Given], say: Callable[[float], None]
    ) -> list[Found]: ...


def one_by_one(
    work: Callable[[Given], Found], given: Sequence[Given], say: Callable[[float], None]
) -> list[Found]:
    """Each after the other, here."""
    found = []
    for number, one in enumerate(given):
        if number % STEPS == 0:
            say(number / len(given))
        found.append(work(one))
    return found
